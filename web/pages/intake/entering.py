"""Typing lures in, one line each: a whole list at once, each lure a row that can be put right before it goes in."""

from collections.abc import Mapping, Sequence
from typing import Any

from django.core.exceptions import ValidationError
from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.strict import read_json
from tackle.base.vocabulary import CATEGORIES
from tackle.intake.line import MOST_LINE
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors, services
from web.domain.history.models import Change
from web.pages.intake.heap_rows import (
    FIELDS,
    MOST_LINES,
    MOST_PARTS,
    PART,
    EnteredRow,
    draft_of,
    learned_in,
    list_lines,
    make_rows,
    put_right_in,
    read_told,
)
from web.pages.intake.questions import list_questions

MOST_ANSWER_BYTES = 200_000


def enter(request: OwnRequest) -> HttpResponse:
    """The page to type on, with what was left on it; posted, the lines that are ready go in and the others stay."""
    if request.method != "POST":
        rows, waiting = make_rows(request.user, held := _held(request.user)), _waiting(held)
        context = {"lines": held["lines"], "tray_for_all": held["tray"], **_context(request.user, rows, waiting)}
        return render(request, "intake/enter.html", context)
    rows = make_rows(request.user, request.POST)
    asked = {row.line_at for row in rows if not row.ready}
    ready = [row for row in rows if row.line_at not in asked]
    change, wrong = None, ""
    if ready:
        try:
            change = _put_all_in(request.user, ready)
        except ValidationError as error:
            wrong, ready = " ".join(error.messages), []
    left = [row for row in rows if row not in ready]
    for number, row in enumerate(left):
        row.number = number
    waiting = _waiting(request.POST)
    wrong = wrong or _keep(request.user, left, waiting, request.POST.get("tray", ""))
    context = {"change": change, "entered": ready, "wrong": wrong, **_context(request.user, left, waiting)}
    context |= {"lines": "\n".join([*(row.key for row in left if PART not in row.key), *waiting])}
    context |= {"tray_for_all": request.POST.get("tray", "")}
    return render(request, "intake/entered.html", context, status=422 if wrong or not (change or ready) else 200)


def read(request: OwnRequest) -> HttpResponse:
    """The rows that the lines make so far, what was put right in them kept."""
    rows, waiting = make_rows(request.user, request.POST), _waiting(request.POST)
    wrong = _keep(request.user, rows, waiting, request.POST.get("tray", "")) if request.method == "POST" else ""
    return render(request, "intake/rows.html", {"wrong": wrong, **_context(request.user, rows, waiting)})


@require_POST
def answer(request: OwnRequest) -> HttpResponse:
    """What was put right in one row, kept for that row alone: whatever was chosen in others meanwhile stays."""
    owner, post = request.user, request.POST
    number = read_whole(post.get("number", ""), 0, MOST_LINES * MOST_PARTS - 1) or 0
    line, data = str(post.get(f"line-{number}", ""))[: MOST_LINE + 4], put_right_in(post, number)
    gone = services.answer_lines(owner, [(number, line, data)])
    wrong = "That line is gone: it was put in or changed elsewhere." if gone else ""
    held = _held(owner)
    rows, waiting = make_rows(owner, held), _waiting(held)
    following = number + 1
    while following < len(rows) and (rows[following].guess.carried or PART in rows[following].key):
        following += 1  # they go on with what this one says
    context = _context(owner, rows, waiting) | {"wrong": wrong, "answered": rows[number:following]}
    return render(request, "intake/answered.html", context, status=422 if wrong else 200)


@takes(MOST_ANSWER_BYTES)
@require_POST
def answers(request: OwnRequest) -> JsonResponse:
    """What one press put right in the rows of a question: [{"number", "line", "told"}]. Nothing is read anew."""
    if request.content_type != "application/json":
        return JsonResponse({"wrong": "is not sent as application/json"}, status=415)
    try:
        data = read_json(request.body, "answers")
        rows = [
            (int(one["number"]), str(one["line"])[: MOST_LINE + 4], read_told(one["told"]))
            for one in data[: MOST_LINES * MOST_PARTS]
        ]
    except (InvalidInput, TypeError, KeyError, ValueError):
        return JsonResponse({"wrong": "a list of rows, each with number, line and told"}, status=400)
    return JsonResponse({"gone": services.answer_lines(request.user, rows)})


@require_POST
def forget(request: OwnRequest) -> HttpResponse:
    """A word that was remembered is asked about again."""
    services.forget_word(request.user, request.POST.get("category", "")[:20], request.POST.get("text", "")[:80])
    return redirect("crate-enter")


def entered(owner: User, lines: Sequence[str]) -> Change:
    """Lures of lines that leave nothing to ask, all or none. Raises ValidationError that says what is unsure."""
    rows = make_rows(owner, {"lines": "\n".join(" ".join(line.splitlines()) for line in lines)}, with_kept=False)
    for row in rows:
        if not row.ready:
            raise ValidationError({f"lines[{row.number}]": row.question or "; ".join(row.wrong.values())})
    if len({row.line_at for row in rows}) != len(lines):
        raise ValidationError({"lines": "A line is empty, or there are too many."})
    change = _put_all_in(owner, rows)
    if change is None:
        raise ValidationError({"lines": "No line names a lure or a thing."})
    return change


def _held(owner: User) -> dict[str, str]:
    """The lines that were left on the page, as its form sends them."""
    heap = selectors.get_heap(owner)
    lines = [line for line, _ in heap.rows if PART not in line]
    return {"lines": "\n".join([*lines, *filter(None, [heap.waiting])]), "tray": heap.tray}


def _keep(owner: User, rows: Sequence[EnteredRow], waiting: Sequence[str], tray: str) -> str:
    """Keeps what is on the page for later, and on another device; says what is wrong where it cannot."""
    try:
        services.keep_heap(owner, [(row.key, row.told) for row in rows], waiting, tray)
    except ValidationError as error:
        return " ".join(error.messages)
    return ""


def _context(owner: User, rows: Sequence[EnteredRow], waiting: Sequence[str]) -> dict[str, Any]:
    names = get_palette(owner).by_id
    asked = {row.line_at for row in rows if not row.ready}
    lines = {row.line_at for row in rows}
    return {
        "rows": rows,
        "fields": ("line", "told", "was", *FIELDS),
        "typed_lines": len(lines),
        "ready": len(lines) - len(asked),
        "waiting": len(waiting),
        "questions": list_questions(rows, selectors.count_categories(owner), owner.units),
        "trays": list(selectors.list_trays_with_places(owner)),
        "categories": list(CATEGORIES),
        "words": sorted(selectors.kind_words(owner).items()),
        "names": [
            (category, text, names[card].name)
            for (category, text), card in sorted(selectors.printed_names(owner).items())
            if card in names
        ],
    }


def _put_all_in(owner: User, rows: Sequence[EnteredRow]) -> Change | None:
    """Puts rows in that are ready; None where none of them is anything."""
    rows = [row for row in rows if not row.is_nothing]
    if not rows:
        return None
    lures = [row for row in rows if not row.guess.thing]
    onto = [int(row.there.lure.ref) if row.there and row.onto else None for row in lures]
    things = [(row.guess, row.line, row.tray) for row in rows if row.guess.thing]
    learned = learned_in(_learning(row) for row in rows)
    return services.enter_lures(owner, list(map(draft_of, lures)), [row.tray for row in lures], onto, things, learned)


def _learning(row: EnteredRow) -> Mapping[str, str]:
    """What a row's angler chose for its words, whether by a question or in its own fields."""
    told = dict(row.told)
    if row.guess.card is None or told.get("card") != row.guess.card.id:
        told.pop("card", None)
    elif row.guess.category:
        told["name"] = f"{row.guess.category}:{row.guess.colour}"
    if "category" in told and row.guess.unknown:
        told.setdefault("word", row.guess.unknown)
    return told


def _waiting(post: Mapping[str, str]) -> list[str]:
    return list_lines(post)[MOST_LINES:]
