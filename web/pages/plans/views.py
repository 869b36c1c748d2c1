"""The Plan step."""

from typing import Any

from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.html import escape
from django.utils.safestring import SafeString
from django.views.decorators.http import require_POST

from tackle.base.vocabulary import CATEGORIES, TRAILER, Light, ids
from tackle.cover.missed import find_missed
from tackle.situations.clarity import BANDS
from web.common.accounts.bodies import render_body
from web.common.accounts.request import OwnRequest
from web.common.ui.drawn import drawn
from web.common.work.heavy import begin, waited_for
from web.common.work.services import begin as new_job
from web.common.work.services import job_for
from web.domain.plans import selectors, services
from web.domain.plans.models import Choice, Plan
from web.domain.plans.tasks import draw_other_years
from web.domain.waters.services import MONTH_NAMES
from web.pages.plans import board, cell
from web.pages.plans.wording import missed_in_words, split_said, why_open

PAGE, BODY = "plans/plan.html", "plans/body.html"
SETTINGS = ("school", "water", "agree", "crossover", "first_month", "last_month")


def plan(request: OwnRequest) -> HttpResponse:
    return _page(request, request.GET.get("category", ""))


@require_POST
def settings(request: OwnRequest) -> HttpResponse:
    """Changes one thing of the plan: a water or a school in or out, or how their words count."""
    what, value = request.POST.get("what", ""), request.POST.get("value", "")
    wrong = ""
    try:
        if what in ("water", "school", "category"):
            services.take(request.user, what, value, into=request.POST.get("to") != "out")
        else:
            services.choose(request.user, what, value)
    except ValidationError as error:
        wrong = " ".join(error.messages)
    return _page(request, value if what == "category" else request.POST.get("category", ""), wrong)


@require_POST
def settle(request: OwnRequest, category: str) -> HttpResponse:
    """Locks, bans or swaps a colour of one category, or says how many there may be."""
    wrong = ""
    try:
        data = request.POST
        services.settle(request.user, category, data.get("what", ""), data.get("value", ""), data.get("shown"))
    except ValidationError as error:
        wrong = " ".join(error.messages)
    return _page(request, category, wrong)


def why(request: OwnRequest, category: str, band: str, light: str) -> HttpResponse:
    """Why one cell of the board is answered as it is, school by school."""
    if band not in BANDS or light not in ids(Light):
        raise Http404
    basis = selectors.get_basis(request.user)
    if category not in basis.categories:
        raise Http404
    found = cell.reasons(basis, category, band, light)
    ids_in_set = {piece.card.id for piece in selectors.answer(basis, category).answer.pieces}
    context = {"band": band, "light": light, "category": category, "reasons": found, "in_set": ids_in_set}
    return render(request, "plans/why.html", context)


def sure(request: OwnRequest, category: str) -> HttpResponse:
    """How sure the plan for one category is."""
    basis = selectors.get_basis(request.user)
    if category not in basis.categories:
        raise Http404
    answered, found = selectors.answer(basis, category), selectors.sureness(basis, category)
    context = {
        "sure": found,
        "one_school": [(book, hangs.days, board.where(answered, hangs.indexes)) for book, hangs in found.one_school],
        "made_do_where": board.where(answered, found.will_do.indexes),
        "several": len(basis.books) > 1,
        "schools": len(basis.every_book),
        "expected": answered.answer.expected_days,
        "category": category,
    }
    return render(request, "plans/sure.html", context)


@require_POST
def other_years(request: OwnRequest, category: str) -> HttpResponse:
    """How often each colour of a plan stays in other years; or how far that is worked out."""
    owner = request.user
    if category not in selectors.get_basis(owner).categories:
        raise Http404
    asked = {"version": owner.version, "category": category}
    job = job_for(owner, "sure", asked)
    if job is None or job.wrong:
        try:
            job = begin(draw_other_years, new_job(owner, "sure", reverse("plan"), asked=asked))
        except ValidationError as error:
            return HttpResponse(escape(" ".join(error.messages)), status=422)
    return waited_for(request, job)


def travel(request: OwnRequest) -> HttpResponse:
    """The travel box; posted, with another number of pieces."""
    wrong = ""
    if request.method == "POST":
        try:
            services.choose(request.user, "travel_most", request.POST.get("value", ""))
            return redirect("plan-travel")
        except ValidationError as error:
            wrong = " ".join(error.messages)
    basis = selectors.get_basis(request.user)
    context = {"plan": basis.plan, "box": selectors.travel(basis), "wrong": wrong}
    return render(request, "plans/travel.html", context, status=422 if wrong else 200)


def _page(request: OwnRequest, category: str, wrong: str = "") -> HttpResponse:
    settings_open = request.POST.get("what") in SETTINGS
    if wrong or settings_open:
        context = _context(request, category) | {"wrong": wrong, "open_settings": settings_open}
        return render(request, BODY if request.htmx else PAGE, context, status=422 if wrong else 200)
    return _with(
        request, render_body(request, BODY, lambda: _context(request, category), _stands_at(request, category))
    )


def _stands_at(request: OwnRequest, category: str) -> list[str]:
    """Where the page after a change is found."""
    if request.method == "GET":
        return []
    plan, first = reverse("plan"), selectors.get_owned(request.user).basis.categories[:1]
    return [f"{plan}?category={category}", *([plan] if first == [category] else [])]


def _with(request: OwnRequest, body: SafeString) -> HttpResponse:
    return HttpResponse(body) if request.htmx else render(request, PAGE, {"body": body})


def _context(request: OwnRequest, category: str) -> dict[str, Any]:
    basis = selectors.get_basis(request.user)
    every = selectors.answers(basis)
    chosen = next((a for a in every if a.category == category), every[0] if every else None)
    if chosen is None or not basis.days.kept:
        return {"waters": basis.every_water}
    choice = basis.choices.get(chosen.category) or Choice()
    more = [category for category in CATEGORIES if category not in (*basis.categories, TRAILER)]
    foods, food, not_thrown = chosen.expected.by_food(), request.GET.get("food", ""), chosen.not_thrown_days
    food = food if any(one == food for one, _ in foods) else ""
    return {
        "plan": basis.plan,
        "every": every,
        "chosen": chosen,
        "foods": foods,
        "food": food,
        "answer": chosen.answer,
        "paired": chosen.paired,
        "jigs": sum(piece.category != TRAILER for piece in chosen.answer.pieces),
        "trailers": sum(piece.category == TRAILER for piece in chosen.answer.pieces),
        "drawn": _drawn(request, basis, chosen, choice, food),
        "unanswered": board.unanswered_in_words(chosen) if chosen.answer.unanswered else "",
        "books": basis.every_book.values(),
        "settings": render_to_string("plans/settings.html", _settings(basis, chosen)),
        "more": render_to_string("plans/more.html", {"more": more}),
        "following": {book.id for book in basis.books},
        "waters": basis.every_water,
        "water_ids": basis.water_ids,
        "left_out": basis.left_out(chosen.category),
        "thrown": chosen.terms.thrown,
        "not_thrown": not_thrown,
        "all_days": chosen.answer.expected_days + not_thrown,
        "units": request.user.units,
        "aside_days": sum(one.days for one in basis.days.aside),
        "split": (split := split_said(chosen)),
        "covered": int(split[0]) + int(split[1]),
    }


def _settings(basis: selectors.Basis, chosen: selectors.Answered) -> dict[str, Any]:
    """What the plan follows, where and when, to be pressed."""
    plan, category = basis.plan, chosen.category
    books = tuple((book.id, book.name, book.short, book in basis.books) for book in basis.every_book.values())
    waters = tuple((water.pk, water.name, water.pk in basis.water_ids) for water in basis.every_water)
    return {
        "category": category,
        "books": books,
        "several": len(basis.books) > 1,
        "agree": plan.agree,
        "waters": waters,
        "mixed": basis.mixed,
        "crossover": plan.crossover,
        "first_month": plan.first_month,
        "last_month": plan.last_month,
        "skirted": CATEGORIES[category].takes_trailer,
        "paired": chosen.paired,
        "agrees": Plan.Agree.choices,
        "month_names": list(enumerate(MONTH_NAMES, 1)),
    }


def _drawn(
    request: OwnRequest, basis: selectors.Basis, chosen: selectors.Answered, choice: Choice, food: str
) -> SafeString:
    """The board, the set, the curve and the order."""
    answer = chosen.answer
    shown = {
        "owned": {
            category: {piece.card.id: counts[piece.card.id] for piece in answer.pieces if piece.card.id in counts}
            for category in (chosen.category, TRAILER)
            for counts in (basis.owned.get(category, {}),)
        },
        "choice": {
            "lock": tuple(choice.lock),
            "ban": tuple(choice.ban),
            "settled": bool(choice.lock or choice.ban or choice.at_most or choice.right is not None),
        },
        "share": int(basis.plan.right * 100),
        "units": request.user.units,
        "show": request.GET.get("show", ""),
        "food": food,
    }

    def draw() -> SafeString:
        dots = board.curve_dots(selectors.curve(basis, chosen.category), chosen)
        here = next((index for index, dot in enumerate(dots) if dot.here), None)
        covered = board.cover_board(chosen, food)
        found = {
            "chosen": chosen,
            "answer": answer,
            "nothing": why_open(gone[0], chosen.request) if (gone := answer.unanswered) else "",
            "paired": chosen.paired,
            "banned": [basis.palette.by_id[card_id] for card_id in sorted(chosen.terms.ban)],
            "board": covered,
            "rows": board.told_rows(covered, chosen.category, request.GET.get("show", "")),
            "lights": ids(Light),
            "dots": dots,
            "missed": [missed_in_words(one) for one in find_missed(chosen.request, answer, basis.palette)],
            "dot": dots[here] if here is not None else None,
            "next_dot": dots[here + 1] if here is not None and here + 1 < len(dots) else None,
        }
        return render_to_string("plans/drawn.html", shown | found)

    return drawn("board", (chosen.terms, shown), draw)
