"""A plan for one category: the fewest colours for the days to expect, and what each is for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.curve import curve_of
from tackle.cover.instance import Instance, bits, by_needs, reduced, row_masks
from tackle.cover.opinions import Opinions, mask_of, opinions_of
from tackle.cover.pairs import make_pair_plan, pair_curve
from tackle.cover.plan import Bought, Open, Piece, Plan, Point, Request, Unanswered, refuse_unsound
from tackle.cover.served import ServedDays, Way
from tackle.cover.solution import buying_order, solve, stand_ins, target_of
from tackle.data import reason as said
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import MILLION, millionths_of

__all__ = ["goes_between", "make_plan", "opinions_for", "plan_curve", "problem_of"]

_FAR = 1_000  # more than any suitability


@dataclass(frozen=True, slots=True)
class Problem:
    """A request read: what the schools say, the days of each situation and of each kind, which kinds can be answered,
    and the instance made of them."""

    opinions: Opinions
    banned: int
    millionths: NDArray[np.int64]
    days: NDArray[np.int64]
    able: tuple[int, ...]
    instance: Instance

    @property
    def share(self) -> int:
        """How many of the instance's weights are a day."""
        return MILLION * self.opinions.shares


def problem_of(request: Request, palette: Palette) -> Problem:
    """A request read. Raises Refused where it contradicts itself."""
    refuse_unsound(request, palette, (request.category,))
    # However many there may be, and however right they have to be, it is one problem.
    return _problem(replace(request, at_most=None, right=Fraction(0)), palette)


@lru_cache(maxsize=2)  # the plan and its curve ask for the same one after the other
def _problem(request: Request, palette: Palette) -> Problem:
    opinions = opinions_for(request, palette)
    cards = opinions.cards
    banned = mask_of(cards, request.ban)
    allowed = ((1 << len(cards)) - 1) & ~banned
    needs = [tuple(mask & allowed for mask in masks) for masks in opinions.needs]
    millionths = millionths_of(request.days)
    by_kind = opinions.by_kind(millionths)
    able = tuple(kind for kind, masks in enumerate(needs) if masks and all(masks) and by_kind[kind])
    suits = opinions.best[list(able)].astype(np.int64)
    suits[:, list(bits(banned))] = 0
    firsts: dict[int, int] = {}
    for masks, days in opinions.days_by_choice(by_kind):
        asked = sum(map(bool, masks))
        for mask in masks if days else ():
            if within := mask & allowed:
                firsts[within] = firsts.get(within, 0) + days * opinions.shares // asked
    instance = Instance(
        days=by_kind[list(able)],
        needs=tuple(needs[kind] for kind in able),
        suits=suits,
        owned=mask_of(cards, request.owned),
        locked=mask_of(cards, request.lock),
        prized=goes_between(request, opinions),
        costs=_costs(request, cards),
        firsts=tuple(firsts),
        weights=tuple(firsts.values()),
    )
    return Problem(opinions, banned, millionths, by_kind, able, instance)


def make_plan(request: Request, palette: Palette) -> Plan:
    """The exact plan for a request. Raises Refused where locks, bans and at_most contradict each other.

    >>> from tackle.colours.palette import house_palette
    >>> from tackle.schools.rulebook import house_rulebooks
    >>> from tackle.situations.situation import make_situation
    >>> from tackle.vocabulary import Light
    >>> clear = make_situation("worm", visibility_in=48.0, light=Light.BRIGHT)
    >>> mud = make_situation("worm", visibility_in=8.0, light=Light.OVERCAST)
    >>> request = Request("worm", (house_rulebooks()["ladder"],), (clear, mud), (5.0, 2.0))
    >>> [(piece.card.id, piece.days) for piece in make_plan(request, house_palette()).pieces]
    [('green-pumpkin-black', 5.0), ('black-plain', 2.0)]
    """
    if request.with_trailers:
        return make_pair_plan(request, palette)
    problem = problem_of(request, palette)
    opinions, instance = problem.opinions, problem.instance
    if not request.right:
        instance = replace(instance, firsts=(), weights=())
    solution = solve(instance, request.at_most, request.right)
    chosen = solution.chosen
    answered = [kind for kind, done in zip(problem.able, instance.answered(chosen), strict=True) if done]
    served = _serve(problem, chosen, answered, bool(request.right))
    small = by_needs(instance)
    return Plan(
        proved=solution.proved,
        at_least=solution.at_least,
        pieces=tuple(_pieces(problem, small, chosen, served, request)),
        served=served,
        unanswered=_unanswered(problem, answered),
        expected_days=int(problem.days.sum()) / MILLION,
        answered_days=int(problem.days[answered].sum()) / MILLION,
        order=tuple(
            Bought(request.category, opinions.cards[step.place], step.adds / MILLION, step.adds_right / problem.share)
            for step in buying_order(small, chosen, bool(request.right))
        ),
        right_days=problem.instance.right(chosen) / problem.share,
        most_right_days=sum(problem.instance.weights) / problem.share,
    )


def plan_curve(request: Request, palette: Palette) -> tuple[Point, ...]:
    """The most that each number of colours can do, with the request's locks and bans; worked out apart from the plan.

    Where the plan need not be right, it goes as far as the size that answers everything.
    """
    if request.with_trailers:
        return pair_curve(request, palette)
    problem = problem_of(request, palette)
    instance = problem.instance if request.right else replace(problem.instance, firsts=(), weights=())
    small, _ = reduced(instance)
    return tuple(
        Point(most.size, most.days / MILLION, most.right / problem.share, most.proved)
        for most in curve_of(small if request.right else by_needs(small))
    )


def goes_between(request: Request, opinions: Opinions) -> int:
    """The bit set of the cards that serve a day or more in fresh water and in salt; none where `salt` is not told."""
    if not request.salt:
        return 0
    days, salt = millionths_of(request.days) / MILLION, np.array(request.salt)
    met = opinions.best[opinions.kind_of] > 0
    both = (days[~salt] @ met[~salt] >= 1) & (days[salt] @ met[salt] >= 1)
    return row_masks(both[None, :])[0]


def _costs(request: Request, cards: Sequence[Card]) -> tuple[int, ...]:
    cents = dict(request.cents)
    return tuple(cents.get(card.id, 0) for card in cards) if cents else ()


def opinions_for(request: Request, palette: Palette) -> Opinions:
    """What the schools of a request say of every card."""
    return opinions_of(request.category, request.books, request.situations, request.agree_all, request.accept, palette)


def _serve(problem: Problem, chosen: int, answered: list[int], by_first: bool) -> ServedDays:
    """Each answered kind of day served by the card that most schools have as a first choice, where that counts, then by
    the one that suits best, then by the first."""
    opinions = problem.opinions
    picked = list(bits(chosen))
    way_of = np.full(opinions.kinds, -1, dtype=np.int16)
    ways: dict[Way, int] = {}
    standing = opinions.best[answered][:, picked].astype(np.int64)
    choices = opinions.choice_of[answered]
    if by_first and picked:
        firsts = [[sum(mask >> place & 1 for mask in masks) for place in picked] for masks in opinions.choices]
        standing = standing + _FAR * np.array(firsts, dtype=np.int64)[choices] * (standing > 0)
    for kind, choice, of_kind in zip(answered, choices.tolist(), standing, strict=True):
        card, masks = picked[int(of_kind.argmax())], opinions.choices[choice]
        book, call = opinions.deciding(kind, card)
        hit, asked = sum(1 for mask in masks if mask & chosen), sum(map(bool, masks))
        way = Way((opinions.cards[card],), hit, asked, call.grade, book, call)
        way_of[kind] = ways.setdefault(way, len(ways))
    return ServedDays(np.where(problem.millionths > 0, way_of[opinions.kind_of], -1), problem.millionths, ways)


def _unanswered(problem: Problem, answered: list[int]) -> tuple[Unanswered, ...]:
    """The situations of the kinds of day that are not answered, and why."""
    opinions = problem.opinions
    why = {
        kind: (Open.AT_MOST, ()) if kind in problem.able else opinions.why_none(kind, problem.banned)
        for kind in {*range(opinions.kinds)}.difference(answered)
    }
    gone = np.isin(opinions.kind_of, list(why)) & (problem.millionths > 0)
    return tuple(
        Unanswered(place, int(problem.millionths[place]) / MILLION, *why[int(opinions.kind_of[place])])
        for place in np.flatnonzero(gone).tolist()
    )


def _pieces(problem: Problem, instance: Instance, chosen: int, served: ServedDays, request: Request) -> list[Piece]:
    cards = problem.opinions.cards
    whole = instance.answered(chosen)
    target = target_of(problem.instance, request.right) if request.right else 0
    counted = replace(instance, firsts=problem.instance.firsts, weights=problem.instance.weights)
    rights = _rights(problem, chosen)
    days_of = instance.days.tolist()
    by_way = served.by_way()
    pieces = []
    for place in bits(chosen):
        card = cards[place]
        without = instance.answered(chosen & ~(1 << place))
        alone = sum(d for d, now, then in zip(days_of, whole, without, strict=True) if now and not then)
        by_reason: dict[str, int] = {}
        for way, days in by_way:
            if way.cards[0] is card and way.call:
                by_reason[way.call.why] = by_reason.get(way.call.why, 0) + days
        right, firsts = rights[place]
        silent = said("every-school")
        if instance.locked >> place & 1:
            silent = said("locked")
        elif firsts:
            silent = said("first-of", school=firsts[0][0].name)
        reason = max(by_reason, key=lambda why: by_reason[why]) if by_reason else silent
        serves = sum(by_reason.values()) / MILLION
        others = tuple(cards[other] for other in bits(stand_ins(counted, chosen, place, target) & ~problem.banned))
        owned = card.id in request.owned
        pieces.append(
            Piece(request.category, card, serves, alone / MILLION, owned, reason, right / problem.share, others, firsts)
        )
    return sorted(pieces, key=lambda piece: (-piece.days, -piece.right))


def _rights(problem: Problem, chosen: int) -> dict[int, tuple[int, tuple[tuple[Rulebook, float], ...]]]:
    """For each chosen card its right days in weights, and by school, most first, the days it is a first choice on."""
    opinions = problem.opinions
    weights = dict.fromkeys(bits(chosen), 0)
    schools: dict[int, dict[Rulebook, int]] = {place: {} for place in bits(chosen)}
    for masks, days in opinions.days_by_choice(problem.days):
        asked = sum(map(bool, masks))
        for book, mask in zip(opinions.books, masks, strict=True):
            for place in bits(mask & chosen) if days else ():
                weights[place] += days * opinions.shares // asked
                schools[place][book] = schools[place].get(book, 0) + days
    return {
        place: (
            weights[place],
            tuple((book, days / MILLION) for book, days in sorted(schools[place].items(), key=lambda entry: -entry[1])),
        )
        for place in weights
    }
