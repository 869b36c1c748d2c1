"""The Plan step."""

from functools import lru_cache

from django.core.exceptions import ValidationError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.views.decorators.http import require_POST

from tackle.colours.palette import Palette
from tackle.situations.clarity import BANDS
from tackle.vocabulary import CATEGORIES, Group, Light, ids
from web.plans import board, cell, changes, reads
from web.plans.models import Choice, Plan
from web.waters.changes import MONTH_NAMES


def plan(request: HttpRequest) -> HttpResponse:
    return _page(request, request.GET.get("category", ""))


@require_POST
def settings(request: HttpRequest) -> HttpResponse:
    """Changes one thing of the plan: a water or a school in or out, or how their words count."""
    what, value = request.POST.get("what", ""), request.POST.get("value", "")
    wrong = ""
    try:
        if what in ("water", "school", "category"):
            changes.take(request.user, what, value, into=request.POST.get("to") != "out")
        else:
            changes.choose(request.user, what, value)
    except ValidationError as error:
        wrong = " ".join(error.messages)
    return _page(request, value if what == "category" else request.POST.get("category", ""), wrong)


@require_POST
def settle(request: HttpRequest, category: str) -> HttpResponse:
    """Locks, bans or swaps a colour of one category, or says how many there may be."""
    wrong = ""
    try:
        changes.settle(request.user, category, request.POST.get("what", ""), request.POST.get("value", ""))
    except ValidationError as error:
        wrong = " ".join(error.messages)
    return _page(request, category, wrong)


def why(request: HttpRequest, category: str, band: str, light: str) -> HttpResponse:
    """Why one cell of the board is answered as it is, school by school."""
    if band not in BANDS or light not in ids(Light):
        raise Http404
    basis = reads.basis_of(request.user)
    if category not in basis.plan.categories:
        raise Http404
    choice = basis.choices.get(category)
    paired = bool(choice and choice.trailers)
    found = cell.pair_reasons(basis, category, band, light) if paired else cell.reasons(basis, category, band, light)
    context = {"band": band, "light": light, "category": category, "reasons": found}
    return render(request, "plans/why_pairs.html" if paired else "plans/why.html", context)


def sure(request: HttpRequest, category: str) -> HttpResponse:
    """How sure the plan for one category is."""
    basis = reads.basis_of(request.user)
    if category not in basis.plan.categories:
        raise Http404
    answered, found = reads.answer(basis, category), reads.sureness(basis, category)
    context = {
        "sure": found,
        "one_school": [(book, hangs.days, board.where(answered, hangs.indexes)) for book, hangs in found.one_school],
        "works_where": board.where(answered, found.works_only.indexes),
        "several": len(basis.books) > 1,
        "schools": len(basis.every_book),
        "expected": answered.answer.expected_days,
    }
    return render(request, "plans/sure.html", context)


def travel(request: HttpRequest) -> HttpResponse:
    """The travel box; posted, with another number of pieces."""
    wrong = ""
    if request.method == "POST":
        try:
            changes.choose(request.user, "travel_most", request.POST.get("value", ""))
            return redirect("plan-travel")
        except ValidationError as error:
            wrong = " ".join(error.messages)
    basis = reads.basis_of(request.user)
    context = {"plan": basis.plan, "box": reads.travel(basis), "wrong": wrong}
    return render(request, "plans/travel.html", context, status=422 if wrong else 200)


@lru_cache(maxsize=256)
def _drawn(
    chosen: reads.Answered,
    pairs: reads.AnsweredPairs | None,
    palette: Palette,
    owned: frozenset[tuple[str, int]],
    lock: tuple[str, ...],
    ban: tuple[str, ...],
    at_most: int | None,
    units: str,
    show: str,
) -> str:
    """The board, the set, the curve and the order: drawn once for all that they depend on."""
    shown = pairs or chosen
    context = {
        "chosen": chosen,
        "pairs": pairs,
        "pieces": pairs.answer.pieces if pairs else (),
        "answer": shown.answer,
        "owned": dict(owned),
        "choice": {"lock": lock, "ban": ban, "at_most": at_most},
        "banned": [palette.by_id[card_id] for card_id in sorted(shown.request.ban)],
        "rows": board.cover_board(shown),
        "lights": ids(Light),
        "curve": board.curve_points(shown),
        "order": board.in_order(shown),
        "units": units,
        "show": show,
    }
    return render_to_string("plans/pairs.html" if pairs else "plans/colours.html", context)


def _page(request: HttpRequest, category: str, wrong: str = "") -> HttpResponse:
    basis = reads.basis_of(request.user)
    every = reads.answers(basis)
    chosen = next((a for a in every if a.category == category), every[0] if every else None)
    if chosen is None or not basis.days.kept:
        return render(request, "plans/empty.html", {"waters": basis.every_water})
    choice = basis.choices.get(chosen.category) or Choice()
    pairs = reads.pairs(basis, chosen.category) if choice.trailers else None
    shown = pairs or chosen
    context = {
        "plan": basis.plan,
        "every": every,
        "chosen": chosen,
        "pairs": pairs,
        "skirted": CATEGORIES[chosen.category].group is Group.SKIRTED,
        "mixed": basis.mixed,
        "answer": shown.answer,
        "drawn": _drawn(
            chosen,
            pairs,
            basis.palette,
            frozenset(basis.owned.get(chosen.category, {}).items()),
            tuple(choice.lock),
            tuple(choice.ban),
            choice.at_most,
            request.user.units,
            request.GET.get("show", ""),
        ),
        "unanswered": board.unanswered_in_words(shown) if shown.answer.unanswered else "",
        "books": basis.every_book.values(),
        "more": [category for category in CATEGORIES if category not in basis.plan.categories],
        "following": {book.id for book in basis.books},
        "waters": basis.every_water,
        "water_ids": basis.water_ids,
        "agrees": Plan.Agree.choices,
        "accepts": Plan.Accept.choices,
        "left_out": basis.left_out(chosen.category),
        "aside_days": sum(one.days for one in basis.days.aside),
        "month_names": list(enumerate(MONTH_NAMES, 1)),
        "wrong": wrong,
    }
    template = "plans/body.html" if request.htmx else "plans/plan.html"
    return render(request, template, context, status=422 if wrong else 200)
