"""A plan: the fewest colours of a category, or jigs with trailers, for the days to expect, and what each is for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import numpy as np

from tackle.base.errors import InvalidInput
from tackle.base.store import STORE
from tackle.base.vocabulary import CATEGORIES, TRAILER
from tackle.colours.palette import Palette
from tackle.cover.instance import bits
from tackle.cover.opinions import Opinions, gather_opinions
from tackle.cover.pairs import make_pairs
from tackle.cover.plan import Bought, Piece, Plan, Point, Request, Unanswered, refuse_unsound
from tackle.cover.problem import Problem, make_colours
from tackle.cover.served import ServedDays, Way
from tackle.data import reason as said
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import MILLION

__all__ = ["make_unlimited", "make_plan", "opinions_for", "plan_curve", "make_problem"]


def make_problem(request: Request, palette: Palette) -> Problem:
    """A request read. Raises InvalidInput where it contradicts itself."""
    places = (request.category, TRAILER) if request.with_trailers else (request.category,)
    if request.with_trailers and not CATEGORIES[request.category].takes_trailer:
        raise InvalidInput(
            "with", f"{request.category} takes no trailer", [c.id for c in CATEGORIES.values() if c.takes_trailer]
        )
    refuse_unsound(request, palette, places)
    # However many there may be, and however right they have to be, it is one problem.
    return _problem(replace(request, at_most=None, right=Fraction(bool(request.right))), palette)


def make_unlimited(request: Request, palette: Palette) -> Problem:
    """A request read as if everything that is sold could be chosen: what any set at all does on its days."""
    none = frozenset[str]()
    bare = replace(
        request, owned=none, lock=none, ban=none, cents=frozenset(), reworkable=none, salt=(),
        owned_trailers=none, lock_trailers=none, ban_trailers=none, at_most=None, right=Fraction(0),
    )  # fmt: skip
    return _problem(bare, palette)


def _problem(request: Request, palette: Palette) -> Problem:
    def read() -> Problem:
        return (
            make_pairs(request, palette)
            if request.with_trailers
            else make_colours(request, opinions_for(request, palette))
        )

    return STORE.once("problem", (request, palette), read)


def opinions_for(request: Request, palette: Palette) -> Opinions:
    """What the schools of a request say of every card of its category."""
    return gather_opinions(
        request.category, request.books, request.situations, request.agree_all, request.accept, palette
    )


def make_plan(request: Request, palette: Palette) -> Plan:
    """The exact plan for a request. Raises InvalidInput where locks, bans and at_most contradict each other.

    With trailers `owned`, `lock` and `ban` name colours of either; a colour sold as both counts for both. A pair suits
    as well as the lesser of its halves; the order of what is best is that of a single category, in pieces.

    >>> from tackle.colours.palette import house_palette
    >>> from tackle.schools.rulebook import house_rulebooks
    >>> from tackle.situations.situation import make_situation
    >>> from tackle.base.vocabulary import Light
    >>> clear = make_situation("worm", visibility_in=48.0, light=Light.BRIGHT)
    >>> mud = make_situation("worm", visibility_in=8.0, light=Light.OVERCAST)
    >>> request = Request("worm", (house_rulebooks()["ladder"],), (clear, mud), (5.0, 2.0))
    >>> [(piece.card.id, piece.days) for piece in make_plan(request, house_palette()).pieces]
    [('green-pumpkin-black', 5.0), ('black-plain', 2.0)]
    """
    problem, asks_right = make_problem(request, palette), bool(request.right)
    solution = problem.solved(request.at_most, request.right)
    chosen = solution.chosen
    done = problem.answers(chosen)
    served = _serve(problem, chosen, np.flatnonzero(done).tolist(), asks_right)
    return Plan(
        proved=solution.proved,
        at_least=solution.at_least,
        pieces=tuple(_pieces(problem, chosen, served, request)),
        served=served,
        unanswered=_unanswered(problem, np.flatnonzero(~done).tolist()),
        expected_days=int(problem.days.sum()) / MILLION,
        answered_days=int(problem.days[done].sum()) / MILLION,
        order=tuple(
            Bought(
                *problem.pieces[step.place], step.adds / MILLION, step.adds_right / problem.share,
                step.adds_first / MILLION,
            )
            for step in problem.order(chosen, asks_right)
        ),
        right_days=problem.right(chosen) / problem.share,
        most_right_days=problem.most_right / problem.share,
        first_choice_days=problem.first_choice(chosen) / MILLION,
        same_family=tuple(problem.same_family(chosen)),
    )  # fmt: skip


def plan_curve(request: Request, palette: Palette) -> tuple[Point, ...]:
    """The most that each number of colours can do, with the request's locks and bans; worked out apart from the plan.

    Where the plan need not be right, it goes as far as the size that answers everything.
    """
    problem = make_problem(request, palette)
    return tuple(
        Point(most.size, most.days / MILLION, most.right / problem.share, most.proved)
        for most in problem.curve(bool(request.right))
    )


def _serve(problem: Problem, chosen: int, answered: Sequence[int], asks_right: bool) -> ServedDays:
    group_ways = np.full(len(problem.days), -1, dtype=np.int16)
    ways: dict[Way, int] = {}
    for kind, way in problem.ways(chosen, answered, asks_right):
        group_ways[kind] = ways.setdefault(way, len(ways))
    return ServedDays(np.where(problem.millionths > 0, group_ways[problem.kind_indices], -1), problem.millionths, ways)


def _unanswered(problem: Problem, kinds: Sequence[int]) -> tuple[Unanswered, ...]:
    """The situations of the kinds of day that are not answered, and why."""
    why = {kind: problem.why_none(kind) for kind in kinds}
    gone = np.isin(problem.kind_indices, kinds) & (problem.millionths > 0)
    return tuple(
        Unanswered(place, int(problem.millionths[place]) / MILLION, *why[int(problem.kind_indices[place])])
        for place in np.flatnonzero(gone).tolist()
    )


def _pieces(problem: Problem, chosen: int, served: ServedDays, request: Request) -> list[Piece]:
    whole = problem.reach(chosen)
    target = -(-problem.most_right * request.right.numerator // request.right.denominator)
    rights, by_way = _rights(problem, chosen), served.by_way()
    all_first, all_right = problem.first_choice(chosen), problem.right(chosen)
    pieces = []
    for place in bits(chosen):
        category, card = problem.pieces[place]
        side = int(category != request.category)
        by_reason: dict[str, int] = {}
        for way, days in by_way:
            if way.cards[side] is card and way.calls:
                why = way.calls[side].why
                by_reason[why] = by_reason.get(why, 0) + days
        right, firsts = rights[place]
        silent = said("every-school")
        if card.id in request.lock:
            silent = said("locked")
        elif firsts:
            silent = said("first-of", school=firsts[0][0].name)
        pieces.append(
            Piece(
                category,
                card,
                sum(by_reason.values()) / MILLION,
                (whole - problem.reach(chosen & ~(1 << place))) / MILLION,
                card.id in request.owned_in(category),
                max(by_reason, key=lambda why: by_reason[why]) if by_reason else silent,
                right / problem.share,
                tuple(problem.pieces[other][1] for other in bits(problem.stand_ins(chosen, place, target))),
                firsts,
                (all_first - problem.first_choice(chosen & ~(1 << place))) / MILLION,
                (all_right - problem.right(chosen & ~(1 << place))) / problem.share,
            )
        )
    return sorted(pieces, key=lambda piece: (piece.category != request.category, -piece.days, -piece.right))


def _rights(problem: Problem, chosen: int) -> dict[int, tuple[int, tuple[tuple[Rulebook, float], ...]]]:
    """For each chosen piece its right days in weights, and by school, most first, the days it is a first choice on."""
    weights = dict.fromkeys(bits(chosen), 0)
    schools: dict[int, dict[Rulebook, int]] = {place: {} for place in bits(chosen)}
    for first in problem.first_choices(chosen):
        for book, mask in first.pieces:
            for place in bits(mask):
                weights[place] += first.days * problem.lead.shares // len(first.pieces)
                schools[place][book] = schools[place].get(book, 0) + first.days
    return {
        place: (
            weights[place],
            tuple((book, days / MILLION) for book, days in sorted(schools[place].items(), key=lambda entry: -entry[1])),
        )
        for place in weights
    }
