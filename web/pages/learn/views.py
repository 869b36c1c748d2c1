"""The Teach step: what there is to learn, the plan as a story, the bite, and where people differ."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from tackle.base.store import STORE
from tackle.base.vocabulary import CATEGORIES, TRAILER
from tackle.situations.situation import Situation
from tackle.teach.bites import Next, house_cases
from tackle.teach.debates import Debate, about, house_debates, of_side, voices
from tackle.teach.recall import is_sure
from tackle.teach.story import Story, tell
from web.common.accounts.request import OwnRequest
from web.common.work.papers import paper
from web.domain.plans.selectors import Answered, Basis, answer, get_basis, select_situations
from web.domain.trips.evidence import Logged, categories_logged, logs_of
from web.pages.learn import selectors
from web.pages.learn.scene import make_scene
from web.pages.learn.wording import eye

NEXT_WORDS = {
    Next.STAY: "Stay with it", Next.NEAREST: "Nearest step: finish, opacity or belly", Next.ROLE: "Another look",
    Next.PLACE: "Another spot",
}  # fmt: skip


def home(request: OwnRequest) -> HttpResponse:
    """What is due, and what else there is to learn."""
    owner, basis, now = request.user, get_basis(request.user), timezone.now()
    knowing, places = selectors.list_known(owner), selectors.every_place(basis)
    mine = {cell: one for cell, one in knowing.items() if cell in places}
    asked = selectors.to_ask(basis, knowing, now, timezone.localdate())
    context = {
        "due": len(asked),
        "places": len(places),
        "sure": sum(is_sure(one.state, now) for one in mine.values()),
        "categories": [category for category in basis.categories if category in CATEGORIES],
        "eye": eye(selectors.compute_biases(owner), owner.units),
        "guesses": owner.depth_guesses.count(),
        "cases": len(house_cases()),
        "debates": len(house_debates()),
    }
    return render(request, "teach/home.html", context)


def _story(answered: Answered) -> Story:
    tale = partial(tell, answered.request, answered.answer, answered.terms.palette)
    return STORE.once("story", answered.terms, tale)


def story(request: OwnRequest, category: str) -> HttpResponse:
    """One, two, three: the plan of a category, one colour at a time."""
    return render(request, "teach/story.html", _told(request, category))


def story_pdf(request: OwnRequest, category: str) -> HttpResponse:
    """The same on one printed page."""
    return paper(request, "teach/story_paper.html", _told(request, category), f"{category}.pdf")


def _told(request: OwnRequest, category: str) -> dict[str, Any]:
    basis = get_basis(request.user)
    if category not in basis.categories or category not in CATEGORIES or category == TRAILER:
        raise Http404
    answered = answer(basis, category)
    if answered.paired:  # a jig and its trailer are one thing there: the story is of the jigs alone
        basis = _alone(basis, category)
        answered = answer(basis, category)
    data = _story(answered) if answered.answer.pieces else None
    colours = [
        {
            "step": step,
            "scene": make_scene(answered.request.situations[step.example], request.user.units),
            "where": answered.expected[step.example].water.name,
            "price": _price(basis, category, step.card.id),
            "before": step.before.cards[0] if step.before else None,
        }
        for step in (data.steps if data else ())
    ]
    return {
        "category": category, "told": data, "colours": colours, "units": request.user.units,
        "categories": [one for one in basis.categories if one in CATEGORIES and one != TRAILER],
    }  # fmt: skip


def _alone(basis: Basis, category: str) -> Basis:
    choices = {where: one for where, one in basis.choices.items() if where != category}
    return replace(basis, choices=choices)


def _price(basis: Basis, category: str, card: str) -> Any:
    return basis.prices.get((category, card), basis.prices.get((category, "")))


def bites(request: OwnRequest) -> HttpResponse:
    """Reading the bite: one case at a time; posted, what it comes to."""
    cases = house_cases()
    data = (
        request.POST.get("case") or request.GET.get("case") or cases[timezone.localdate().toordinal() % len(cases)].id
    )
    place = next((index for index, case in enumerate(cases) if case.id == data), None)
    if place is None:
        raise Http404
    case, picked = cases[place], request.POST.get("pick", "")
    if picked and picked not in NEXT_WORDS:
        return redirect("teach-bites")
    right = "right" if picked in case.right else "also" if picked in case.also else "wrong" if picked else ""
    context = {
        "case": case, "number": place + 1, "of": len(cases), "next": cases[(place + 1) % len(cases)].id,
        "choices": [(one.value, words, one in case.right) for one, words in NEXT_WORDS.items()], "picked": picked,
        "came": right,
    }  # fmt: skip
    template = "teach/bite.html" if request.htmx else "teach/bites.html"
    return render(request, template, context)


def debates(request: OwnRequest) -> HttpResponse:
    """Where people differ: each side in its own reasons, the days that hang on it, and what the log says."""
    basis = get_basis(request.user)
    books = tuple(basis.every_book.values())
    expected = {category: _days(basis, category) for category in basis.categories if category in CATEGORIES}
    thrown = {category for debate in house_debates() for category in debate.categories}
    thrown &= set(categories_logged(request.user))
    log_of = logs_of(request.user, thrown, basis.palette)
    data = []
    for debate in house_debates():
        hangs, found = voices(debate, expected, books, basis.palette)
        log = _log_by_side(debate, log_of, basis)
        sides = [{"side": side, "voices": found[side.id], "log": log.get(side.id)} for side in debate.sides]
        scene = make_scene(debate.example, request.user.units)
        disputed = sum(map(bool, found.values())) > 1
        data.append(
            ((disputed and hangs > 0, hangs), {"debate": debate, "days": hangs, "sides": sides, "scene": scene})
        )
    data.sort(key=lambda one: one[0], reverse=True)
    return render(request, "teach/debates.html", {"debates": [one for _, one in data]})


def _days(basis: Basis, category: str) -> list[tuple[Situation, float]]:
    rows, situations = select_situations(basis, category)
    return [(situation, row.days) for row, situation in zip(rows, situations, strict=True)]


def _log_by_side(debate: Debate, logged: Mapping[str, Logged], basis: Basis) -> dict[str, dict[str, float]]:
    """For each side of a debate, the hours and bites of its colours in such water."""
    data: dict[str, dict[str, float]] = defaultdict(lambda: {"hours": 0.0, "bites": 0.0})
    for category in debate.categories:
        turns = (
            [(turn.situation, turn) for turn in logged[category].turns if turn.situation] if category in logged else []
        )
        for place in about(debate, category, [situation for situation, _ in turns], basis.palette):
            turn = turns[place][1]
            if side := of_side(debate, basis.palette.by_id[turn.colour]):
                data[side.id]["hours"] += (turn.minutes or 0.0) / 60
                data[side.id]["bites"] += turn.bites
    return dict(data)
