"""Typing lures in, one line each: a whole list at once, each line a row that can be put right before it goes in."""

import json
from collections import Counter, defaultdict, deque
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.strict import read_json
from tackle.base.units import System, write_depth, write_exact, write_weight_exact
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette, house_palette
from tackle.intake.limits import MOST_COUNT
from tackle.intake.line import MOST_LINE, LineRead, read_line
from tackle.intake.sheet_rows import Draft, read_row
from tackle.intake.words import normal
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors, services
from web.domain.crate.models import Tray
from web.domain.crate.services.entered import put_right_on
from web.domain.history.models import Change

MOST_LINES = 200
NONE = "none"  # the answer that it is none of those that are offered
MOST_ASKED = 40  # words that are asked about at once for all lines
_FIELDS = ("category", "card", "count", "size", "weight", "depth", "tray", "onto")
_WRITTEN: dict[str, tuple[str, Callable[[float, System], str]]] = {
    "size": ("size_in", write_exact),
    "weight": ("weight_oz", write_weight_exact),
    "depth": ("depth_ft", write_depth),
}


@dataclass(frozen=True, slots=True)
class Once:
    """A word that some lines have and that is asked about once: what it is; or, of a category, which colour."""

    text: str
    category: str
    lines: int
    choices: tuple[Colour, ...]


@dataclass(slots=True)
class EnteredRow:
    """One line as it would go in: `shown` is what its controls hold, `told` what the angler put right in them.

    `there`: the like of it that lies in that tray already; `onto`: whether it is added to that. `asked`: the fields
    that are not sure; `wrong`: those that cannot be used, and why.
    """

    number: int
    guess: LineRead
    told: dict[str, str]
    tray: Tray | None
    there: selectors.Stock | None = None
    onto: bool = True
    wrong: dict[str, str] = field(default_factory=dict)
    shown: dict[str, str] = field(default_factory=dict)
    choices: tuple[Colour, ...] = ()

    @property
    def asked(self) -> tuple[str, ...]:
        names = {"colour": "card", "size_in": "size", "weight_oz": "weight", "depth_ft": "depth"}
        return tuple(names.get(name, name) for name in self.guess.unsure)

    @property
    def ready(self) -> bool:
        return not self.asked and not self.wrong

    @property
    def told_json(self) -> str:
        return json.dumps(self.told)

    @property
    def shown_json(self) -> str:
        return json.dumps(self.shown)

    @property
    def question(self) -> str:
        """What is asked, in words."""
        asked, guess = set(self.asked), self.guess
        if {"count", "size"} <= asked:
            return "Is the number how many, or how long?"
        if {"count", "depth"} <= asked:
            return "Is the number how many, or how deep it runs?"
        words = []
        if "category" in asked:
            words.append(f"Which category is “{guess.kind}”?" if guess.kind else "What is it?")
        if "card" in asked:
            words.append(f"Which colour is “{guess.colour}”? It is remembered." if guess.colour else "Which colour?")
        if "count" in asked:
            words.append("How many are there?")
        words += [f"Check the {name}." for name in ("size", "weight", "depth") if name in asked]
        return " ".join(words).replace("the size", "the length")


def enter(request: OwnRequest) -> HttpResponse:
    """The page to type on, with what was left on it; posted, the rows that are ready go in and the others stay."""
    if request.method != "POST":
        rows, waiting = _rows(request.user, held := _held(request.user)), _waiting(held)
        context = {"lines": held["lines"], "tray_for_all": held["tray"], **_context(request.user, rows, waiting)}
        return render(request, "intake/enter.html", context)
    data = _once_told(request.user, request.POST)
    rows = _rows(request.user, _with_nones(request.user, request.POST))
    ready = [row for row in rows if row.ready]
    change, wrong = None, data
    if ready:
        try:
            change = _put_all_in(request.user, ready)
        except ValidationError as error:
            wrong, ready = " ".join(error.messages), []
        for row in ready:
            if "card" in row.told and row.guess.category and row.guess.card:
                services.remember_name(request.user, row.guess.category, row.guess.colour, row.guess.card.id)
    left = [row for row in rows if row not in ready]
    for number, row in enumerate(left):
        row.number = number
    waiting = _waiting(request.POST)
    wrong = wrong or _keep(request.user, left, waiting, request.POST.get("tray", ""))
    context = {"change": change, "entered": ready, "wrong": wrong, **_context(request.user, left, waiting)}
    context |= {"lines": "\n".join([*(row.guess.line for row in left), *waiting])}
    context |= {"tray_for_all": request.POST.get("tray", "")}
    return render(request, "intake/entered.html", context, status=422 if wrong or not change else 200)


def read(request: OwnRequest) -> HttpResponse:
    """The rows that the lines make so far, what was put right in them kept."""
    wrong = _once_told(request.user, request.POST)
    rows, waiting = _rows(request.user, _with_nones(request.user, request.POST)), _waiting(request.POST)
    if request.method == "POST":
        wrong = _keep(request.user, rows, waiting, request.POST.get("tray", "")) or wrong
    return render(request, "intake/rows.html", {"wrong": wrong, **_context(request.user, rows, waiting)})


@require_POST
def answer(request: OwnRequest) -> HttpResponse:
    """What was put right in one line, kept for that line alone: whatever was chosen in others meanwhile stays."""
    owner, post = request.user, request.POST
    number = read_whole(post.get("number", ""), 0, MOST_LINES - 1) or 0
    line, wrong = str(post.get(f"line-{number}", ""))[:MOST_LINE], ""
    data = _put_right_in(post, number)
    try:
        services.answer_line(owner, number, line, data)
    except ValidationError as error:
        wrong = " ".join(error.messages)
    held = _held(owner)
    rows, waiting = _rows(owner, held), _waiting(held)
    following = number + 1
    while following < len(rows) and rows[following].guess.carried:  # they go on with what this one says
        following += 1
    context = _context(owner, rows, waiting) | {"wrong": wrong, "answered": rows[number:following]}
    return render(request, "intake/answered.html", context, status=422 if wrong else 200)


@require_POST
def forget(request: OwnRequest) -> HttpResponse:
    """A word that was remembered is asked about again."""
    services.forget_word(request.user, request.POST.get("category", "")[:20], request.POST.get("text", "")[:80])
    return redirect("crate-enter")


def _held(owner: User) -> dict[str, str]:
    """The lines that were left on the page, as its form sends them."""
    heap = selectors.get_heap(owner)
    lines = [line for line, _ in heap.rows]
    rows = {f"line-{number}": line for number, line in enumerate(lines)}
    rows |= {f"told-{number}": json.dumps(data) for number, (_, data) in enumerate(heap.rows)}
    return {"lines": "\n".join([*lines, *filter(None, [heap.waiting])]), "tray": heap.tray, **rows}


def _keep(owner: User, rows: Sequence[EnteredRow], waiting: Sequence[str], tray: str) -> str:
    """Keeps what is on the page for later, and on another device; says what is wrong where it cannot."""
    try:
        services.keep_heap(owner, [(row.guess.line, row.told) for row in rows], waiting, tray)
    except ValidationError as error:
        return " ".join(error.messages)
    return ""


def _once_told(owner: User, post: Mapping[str, str]) -> str:
    """Remembers what was answered for all lines with a word; says what is wrong where that cannot be."""
    try:
        for number in range(MOST_ASKED):
            text, answer = post.get(f"once-{number}", "")[:80], post.get(f"once-is-{number}", "")
            category = post.get(f"once-of-{number}", "")
            if answer == NONE:
                continue  # said of these lines alone: see `_with_nones`
            if text and answer and category:
                if answer in get_palette(owner).by_id:
                    services.remember_name(owner, category[:20], text, answer)
            elif text and answer:
                services.remember_kind(owner, text, answer)
    except ValidationError as error:
        return " ".join(error.messages)
    return ""


def _with_nones(owner: User, post: Mapping[str, str]) -> Mapping[str, str]:
    """What was sent, with "none of these" said in every line that a question asked for all of them at once is about."""
    numbers = range(MOST_ASKED)
    asked = {
        (post.get(f"once-{number}", ""), post.get(f"once-of-{number}", ""))
        for number in numbers if post.get(f"once-is-{number}") == NONE
    }  # fmt: skip
    if not asked:
        return post
    found = dict(post.items())
    for row in _rows(owner, post):
        kind = row.guess.unknown and (row.guess.unknown, "") in asked
        if kind or (row.guess.colour, row.guess.category) in asked:
            data = {**row.told, "category" if kind else "card": NONE}
            found |= {f"line-{row.number}": row.guess.line, f"told-{row.number}": json.dumps(data)}
    return found


def _context(owner: User, rows: Sequence[EnteredRow], waiting: Sequence[str]) -> dict[str, Any]:
    names = {**get_palette(owner).by_id}
    return {
        "rows": rows,
        "fields": ("line", "told", "was", *_FIELDS),
        "ready": sum(row.ready for row in rows),
        "waiting": len(waiting),
        "once": _once(rows),
        "trays": list(selectors.list_trays_with_places(owner)),
        "categories": list(CATEGORIES),
        "words": sorted(selectors.kind_words(owner).items()),
        "names": [
            (category, text, names[card].name)
            for (category, text), card in sorted(selectors.printed_names(owner).items())
            if card in names
        ],
    }


def _once(rows: Sequence[EnteredRow]) -> list[Once]:
    """The words that are asked about once for all lines that have them: what they are, or which colour."""
    kinds, colours = Counter[str](), Counter[tuple[str, str]]()
    for row in rows:
        if row.guess.unknown and "category" in row.asked:
            kinds[row.guess.unknown] += 1
        elif row.guess.colour and row.guess.category and row.asked == ("card",) and "card" not in row.told:
            colours[row.guess.category, row.guess.colour] += 1
    found = [Once(text, "", lines, ()) for text, lines in kinds.items()]
    for (category, colour), lines in colours.items():
        if lines > 1:
            mine = next(row for row in rows if (row.guess.category, row.guess.colour) == (category, colour))
            found.append(Once(colour, category, lines, mine.choices))
    return found[:MOST_ASKED]


def entered(owner: User, lines: Sequence[str]) -> Change:
    """Lures of lines that leave nothing to ask, all or none. Raises ValidationError that says what is unsure."""
    rows = _rows(owner, {"lines": "\n".join(" ".join(line.splitlines()) for line in lines)})
    for row in rows:
        if not row.ready:
            raise ValidationError({f"lines[{row.number}]": row.question or "; ".join(row.wrong.values())})
    if len(rows) != len(lines):
        raise ValidationError({"lines": "A line is empty, or there are too many."})
    return _put_all_in(owner, rows)


def _put_all_in(owner: User, rows: Sequence[EnteredRow]) -> Change:
    lures = [row for row in rows if not row.guess.thing]
    onto = [int(row.there.lure.ref) if row.there and row.onto else None for row in lures]
    things = [(row.guess, row.tray) for row in rows if row.guess.thing]
    drafts = [_draft(row.guess) for row in lures]
    return services.enter_lures(owner, drafts, [row.tray for row in lures], onto, things)


def _draft(guess: LineRead) -> Draft:
    assert guess.category
    assert guess.card
    return Draft(
        category=guess.category, card=guess.card.id, name=_entered_name(guess), condition=guess.condition,
        count=guess.count,
        size_in=guess.size_in,
        weight_oz=guess.weight_oz, depth_ft=guess.depth_ft, sound=guess.sound,
    )  # fmt: skip


def _rows(owner: User, post: Mapping[str, str]) -> list[EnteredRow]:
    palette, remembered, kinds = get_palette(owner), selectors.printed_names(owner), selectors.kind_words(owner)
    stock = selectors.list_stock(owner, palette)
    trays = list(selectors.list_trays_with_places(owner))
    homes = selectors.list_homes(stock, trays)
    by_key = {str(tray.pk): tray for tray in trays}
    there = _likes(stock)
    put_right = _put_right(post, selectors.get_heap(owner).rows)
    rows: list[EnteredRow] = []
    before, tray = None, by_key.get(post.get("tray", ""))
    for number, line in enumerate(_lines(post)[:MOST_LINES]):
        data = put_right[line.strip()[:MOST_LINE]]
        fixed = data.popleft() if data else {}
        category = fixed.get("category") if fixed.get("category") in CATEGORIES else None
        if fixed.get("category") == NONE:
            rows.append(_no_lure(number, line, fixed, tray or (trays[0] if trays else None)))
            continue
        guess = read_line(line, palette, owner.units, remembered, before, category, kinds)
        row = EnteredRow(number, guess, fixed, tray)
        _put_in(row, palette, owner.units)
        before = row.guess
        tray = row.tray = by_key.get(fixed.get("tray", ""), tray)
        row.tray = tray or homes.get(row.guess.category or "") or (trays[0] if trays else None)
        like = there.get(_likeness_key(row), []) if row.tray and row.guess.card else []
        same = next((one for one in like if _same_otherwise(row.guess, one)), None)
        row.there = same or next(iter(like), None)
        row.onto = fixed.get("onto", "yes" if same else "no") == "yes"
        row.choices = _colours(row.guess, palette)
        row.shown = _shown(row, owner.units)
        rows.append(row)
    return rows


def _no_lure(number: int, line: str, data: dict[str, str], tray: Tray | None) -> EnteredRow:
    """A line whose angler says that it is no kind of lure: it goes in as a thing, in its own words."""
    text = line.strip()[:MOST_LINE]
    row = EnteredRow(number, read_line(text, house_palette()), data, tray)
    count = read_whole(data.get("count", ""), 1, MOST_COUNT) or row.guess.count
    row.guess = replace(row.guess, thing=text[:80], count=count, category=None, card=None, unsure=(), carried=())
    row.shown = {"category": NONE, "card": "", "count": str(count), "tray": str(tray.pk) if tray else ""}
    return row


def _waiting(post: Mapping[str, str]) -> list[str]:
    return _lines(post)[MOST_LINES:]


def _lines(post: Mapping[str, str]) -> list[str]:
    return [line for line in post.get("lines", "").splitlines() if line.strip()]


def _put_right(
    post: Mapping[str, str], kept: Iterable[tuple[str, dict[str, str]]]
) -> defaultdict[str, deque[dict[str, str]]]:
    """What the angler put right, by the line that it was put right in, in their order: as it is kept, and what the page
    has beyond that."""
    before = defaultdict[str, deque[dict[str, str]]](deque)
    for line, data in kept:
        before[line].append(data)
    found: defaultdict[str, deque[dict[str, str]]] = defaultdict(deque)
    for number in range(MOST_LINES):
        if (text := post.get(f"line-{number}")) is None:
            break
        held = before[text].popleft() if before[text] else {}
        found[text].append(put_right_on(held, _table(post.get(f"told-{number}", "")) | _put_right_in(post, number)))
    return found


def _put_right_in(post: Mapping[str, str], number: int) -> dict[str, str]:
    """What the controls of one row hold that was not shown in them."""
    was, data = _table(post.get(f"was-{number}", "")), dict[str, str]()
    for name in _FIELDS:
        value = post.get(f"{name}-{number}")
        if name == "onto" and "onto" in was:
            value = value or "no"
        if value is not None and value[:80] != was.get(name, ""):
            data[name] = value[:80]
    return data


def _table(text: str) -> dict[str, str]:
    try:
        data = read_json(text, "row")
    except InvalidInput:
        return {}
    if not isinstance(data, dict):
        return {}
    return {str(name): str(value)[:80] for name, value in data.items() if name in _FIELDS}


def _put_in(row: EnteredRow, palette: Palette, units: System) -> None:
    """Writes what was put right into the row's guess; what cannot be used is said, and asked again."""
    values: dict[str, Any] = {}
    if card := palette.by_id.get(row.told.get("card", "")):
        if row.guess.category in card.sold_in:
            values["card"] = card
        else:
            row.told.pop("card")
    names = [name for name in ("count", *_WRITTEN) if name in row.told]
    draft = read_row([row.told[name] for name in names], names, palette, units)
    row.wrong = {name: draft.wrong[name] for name in names if name in draft.wrong}
    for name in names:
        attribute = _WRITTEN[name][0] if name in _WRITTEN else name
        if name not in row.wrong and (name != "count" or row.told[name].strip()):
            values[attribute] = getattr(draft, attribute)
    if row.told.get("card") == NONE and "colour" not in row.guess.unsure:
        row.guess = replace(row.guess, unsure=(*row.guess.unsure, "colour"))
    sure = {"card": "colour"}
    settled = {sure.get(name, name) for name in values} | ({"category"} if "category" in row.told else set())
    left = tuple(name for name in row.guess.unsure if name not in settled)
    row.guess = replace(row.guess, **values, unsure=left)


def _colours(guess: LineRead, palette: Palette) -> tuple[Colour, ...]:
    """The cards to choose from: those that may be meant first, then all others of the category."""
    if guess.category is None:
        return ()
    sold = palette.sold_in(guess.category)
    first = [card for card in guess.offers if card in sold]
    return tuple(dict.fromkeys((*first, *sold)))


def _shown(row: EnteredRow, units: System) -> dict[str, str]:
    """What the row's controls hold: nothing where one must ask."""
    guess, asked = row.guess, row.asked
    held = {
        "category": "" if "category" in asked else guess.category or "",
        "card": "" if "card" in asked or not guess.card else guess.card.id,
        "count": "" if "count" in asked else str(guess.count),
        "tray": str(row.tray.pk) if row.tray else "",
    }
    for name, (attribute, writer) in _WRITTEN.items():
        value = getattr(guess, attribute)
        held[name] = "" if value is None or name in asked else writer(value, units)
    if row.there:
        held["onto"] = "yes" if row.onto else "no"
    return held | {name: row.told[name] for name in row.wrong}


def _likes(stock: Iterable[selectors.Stock]) -> dict[tuple[object, ...], list[selectors.Stock]]:
    """The stacks there are, by their tray and what they are."""
    found = defaultdict[tuple[object, ...], list[selectors.Stock]](list)
    for one in stock:
        of = one.lure
        key = (one.letter, of.category, of.card.id, of.size_in, of.weight_oz, of.depth_ft, of.sound)
        found[key].append(one)
    return found


def _same_otherwise(guess: LineRead, there: selectors.Stock) -> bool:
    """Whether a lure of the same form is the same in what else is told of it, so that the two make one stack."""
    called = normal(_entered_name(guess)), normal(there.lure.name)
    return guess.condition == there.lure.condition and (not all(called) or called[0] == called[1])


def _entered_name(guess: LineRead) -> str:
    """What a lure goes in under: its words for the colour, and its kind's own word where that is none of ours."""
    return (f"{guess.stands_for}, {guess.colour}" if guess.stands_for else guess.colour)[:80]


def _likeness_key(row: EnteredRow) -> tuple[object, ...]:
    guess = row.guess
    assert row.tray
    assert guess.card
    form = (guess.size_in, guess.weight_oz, guess.depth_ft, guess.sound)
    return row.tray.letter, guess.category, guess.card.id, *form
