"""Learned: what the log says of the colours of a category, how sure that is, and what it cannot say."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour
from tackle.learn.apart import told_apart
from tackle.learn.assumed import assumed
from tackle.learn.fair_test import bites_needed
from tackle.learn.known import known_pairs, sure_best, tangled_in
from tackle.learn.log import merged, silent, telling, where_thrown
from tackle.learn.model import Belief
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.ui.words import sky
from web.domain.crate.selectors import list_marks
from web.domain.crate.services import mark_finding
from web.domain.plans.selectors import Basis, get_basis
from web.domain.rulebooks.services import make_rule
from web.domain.trips.evidence import Logged, categories_logged, compute_belief, logged

CLARITIES = {"murky": "murky water", "middling": "middling water", "clear": "clear water"}
LIGHTS = {"bright": "sun", "dim": "cloud or dim light"}
LEFT, WIDE, TALL = 16.0, 300.0, 30.0
LEAST, MOST = 0.25, 4.0  # times the average: the ends of the scale
STEPS = 6
MOST_SAID, MOST_UNSAID = 5, 3  # pairs of colours


@dataclass(frozen=True, slots=True)
class ColourBelief:
    """One colour: how many bites for each one of the average, between what, what the book said, minutes and bites."""

    card: Colour
    times: float
    low: float
    high: float
    book: float
    minutes: float
    bites: float
    best: float
    x: float
    x_low: float
    x_high: float
    x_book: float


@dataclass(frozen=True, slots=True)
class PairBelief:
    """What can be said of two colours: which is likelier better, how likely, and how many bites would settle it."""

    first: Colour
    second: Colour
    better: float
    times: float
    needed: int | None
    known: bool


def learned(request: OwnRequest) -> HttpResponse:
    owner = request.user
    categories = categories_logged(owner)
    category = request.GET.get("category", "")
    category = category if category in categories else (categories[0] if categories else "")
    cell = _cell(request.GET)
    basis = get_basis(owner)
    context: dict[str, object] = {
        "categories": categories,
        "category": category,
        "cell": cell,
        "clarities": CLARITIES,
        "lights": LIGHTS,
        "clarity": cell[0] if cell else "",
        "light": cell[1] if cell else "",
        "assumed": assumed(),
        "factors": {name: math.exp(word) for name, word in {**assumed().book, "spread": assumed().spread}.items()},
    }
    if category:
        context |= _context(owner, basis, category, cell)
    return render(request, "learned/body.html" if request.htmx else "learned/learned.html", context)


def _cell(data: QueryDict) -> tuple[str, str] | None:
    clarity, light = data.get("clarity", ""), data.get("light", "")
    return (clarity, light) if clarity in CLARITIES and light in LIGHTS else None


def _context(owner: User, basis: Basis, category: str, cell: tuple[str, str] | None) -> dict[str, object]:
    log = logged(owner, category, basis.palette)
    belief, book = compute_belief(category, log.turns, log.cards, basis.books, cell)
    rows = _rows(log, belief, book)
    said = _said(log, belief)
    blank, alone = silent(log.turns)
    noes = {mark.finding for mark in list_marks(owner) if mark.state == "no"}
    best = sure_best(belief, tangled_in(merged(log.turns, assumed())))
    offer = next(
        (row for row in rows if cell and row.card.id == best and _key(category, row.card, cell) not in noes), None
    )
    return {
        "log": log,
        "rows": sorted(rows, key=lambda row: -row.times),
        "said": [one for one in said if one.known][:MOST_SAID],
        "unsaid": [one for one in said if not one.known][:MOST_UNSAID],
        "offer": offer,
        "untangle": _untangle(log),
        "telling": len(telling(log.turns)),
        "blank": len(blank),
        "alone": len(alone),
        "marks": [(scale_x(times), f"{times:g}") for times in (0.25, 0.5, 1.0, 2.0, 4.0)],
        "wide": LEFT * 2 + WIDE,
        "schools": basis.books,
    }


def moved(request: OwnRequest) -> HttpResponse:
    """How the picture moved as trips were added; asked for by the page itself, for it takes as long as six pages."""
    owner, category, cell = request.user, request.GET.get("category", ""), _cell(request.GET)
    drawn: list[dict[str, object]] = []
    if category in CATEGORIES:
        basis = get_basis(owner)
        log = logged(owner, category, basis.palette)
        belief, _ = compute_belief(category, log.turns, log.cards, basis.books, cell)
        likeliest = sorted(zip(belief.best(), log.cards, strict=True), key=lambda data: -data[0])
        drawn = _moved(category, log, basis, cell, [card for _, card in likeliest[:4]])
    return render(request, "learned/moved.html", {"moved": drawn})


def scale_x(times: float) -> float:
    """Where so many times the average stands on the scale."""
    share = math.log(min(max(times, LEAST), MOST) / LEAST) / math.log(MOST / LEAST)
    return round(LEFT + share * WIDE, 1)


def _rows(log: Logged, belief: Belief, book: dict[str, float]) -> list[ColourBelief]:
    rows = []
    mean = sum(book.values()) / max(len(book), 1)
    for index, (card, best) in enumerate(zip(log.cards, belief.best(), strict=True)):
        low, high = (math.exp(edge) for edge in belief.interval(0.05, 0.95, index))
        times, word = math.exp(belief.mean(index)), math.exp(book[card.id] - mean)
        mine = [turn for turn in log.turns if turn.colour == card.id]
        minutes, bites = sum(turn.minutes for turn in mine), sum(turn.bites for turn in mine)
        rows.append(
            ColourBelief(
                card,
                times,
                low,
                high,
                word,
                minutes,
                bites,
                best,
                scale_x(times),
                scale_x(low),
                scale_x(high),
                scale_x(word),
            )
        )
    return rows


@dataclass(frozen=True, slots=True)
class Untangle:
    """A colour that was thrown mostly at one hour, in one light or clarity; where, and what to throw there instead."""

    card: Colour
    share: float
    where: str
    instead: Colour


def _untangle(log: Logged) -> list[Untangle]:
    """What to throw on the next day so that what is tangled comes apart: another colour where one was always thrown,
    and that one elsewhere."""
    by_id = {card.id: card for card in log.cards}
    minutes = {card.id: sum(t.minutes for t in log.turns if t.colour == card.id) for card in log.cards}
    found: list[Untangle] = []
    for one in tangled_in(merged(log.turns, assumed())):
        others = [by_id[card] for card in sorted(minutes, key=lambda card: -minutes[card]) if card != one.colour]
        what, _, value = one.shares.partition(":")
        where = {"hour": f"at {value} o’clock", "light": f"under {sky(value).lower()}" if what == "light" else ""}
        if one.colour in by_id and others:
            place_said = where.get(what) or f"in {value} water"
            found.append(Untangle(by_id[one.colour], one.share, place_said, others[len(found) % len(others)]))
    return found


def _said(log: Logged, belief: Belief) -> list[PairBelief]:
    by_id = {card.id: card for card in log.cards}
    found = []
    sure = known_pairs(belief, tangled_in(merged(log.turns, assumed())))
    for first, second, better, times in sorted(told_apart(belief), key=lambda pair: -pair[2]):
        known = (first, second) in sure
        needed = None if known else bites_needed(round(times, 2))
        found.append(PairBelief(by_id[first], by_id[second], better, times, needed, known))
    return found


def _moved(
    category: str, log: Logged, basis: Basis, cell: tuple[str, str] | None, cards: Sequence[Colour]
) -> list[dict[str, object]]:
    """How the picture moved as days were added: for some colours their place after so many days."""
    days = sorted({turn.day for turn in log.turns})
    if len(days) < STEPS or not cards:
        return []
    ends = [days[len(days) * step // STEPS - 1] for step in range(1, STEPS + 1)]
    effects: dict[str, list[float]] = {card.id: [] for card in cards}
    for end in ends:
        turns = tuple(turn for turn in log.turns if turn.day <= end)
        belief, _ = compute_belief(category, turns, log.cards, basis.books, cell)
        for card in cards:
            effects[card.id].append(belief.mean(belief.colours.index(card.id)))
    reach = max(max(map(abs, listed)) for listed in effects.values()) or 1.0
    ranked = sorted(cards, key=lambda card: -effects[card.id][-1])
    drawn, label = [], -math.inf
    for card in ranked:
        heights = [round(80 - effect / reach * 62, 1) for effect in effects[card.id]]
        label = max(label + 14, heights[-1] + 4)
        points = " ".join(f"{30 + step * 48},{y:g}" for step, y in enumerate(heights))
        drawn.append({"card": card, "points": points, "label": label})
    return drawn


def _key(category: str, card: Colour, cell: tuple[str, str]) -> str:
    return f"learned:{category}:{card.id}:{':'.join(cell)}"


@require_POST
def rule(request: OwnRequest) -> HttpResponse:
    """What the log says made a house rule, with its evidence; or told no."""
    owner, cell = request.user, _cell(request.POST)
    category, back = request.POST.get("category", ""), reverse("learned")
    basis = get_basis(owner)
    if cell is None or category not in categories_logged(owner):
        messages.error(request, "Choose a clarity and a light first: a rule holds for some water.")
        return redirect(back)
    query = f"?category={category}&clarity={cell[0]}&light={cell[1]}"
    log = logged(owner, category, basis.palette)
    belief, _ = compute_belief(category, log.turns, log.cards, basis.books, cell)
    by_id = dict(zip(belief.colours, range(len(belief.colours)), strict=True))
    card = basis.palette.by_id.get(request.POST.get("card", ""))
    try:
        if card is None or card.id not in by_id:
            raise ValidationError("That colour is not in the log.")
        if request.POST.get("no"):
            mark_finding(owner, _key(category, card, cell), f"{card.name}: the log", "no", "The book stays.")
            messages.success(request, "The book stays. It will not be offered again.")
        else:
            low, high = (math.exp(edge) for edge in belief.interval(0.05, 0.95, by_id[card.id]))
            days = len(telling(log.turns))
            best = belief.best()[by_id[card.id]]
            why = (
                f"My log to {date.today().isoformat()}: {math.exp(belief.mean(by_id[card.id])):.1f} times the bites "
                f"of the average ({low:.1f} to {high:.1f}), over {days} telling days; the best with {best:.0%}."
            )
            school = request.POST.get("school", basis.books[0].id)
            for situation in where_thrown(log.turns, card.id, cell, assumed()):
                make_rule(owner, school, situation, card, "go-to", why, "made from the log")
            messages.success(request, f"{card.name} is one of your rules now. My rules can take it back.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect(back + query)
