"""The plan told one colour at a time: what each adds, the day it is for, what those before it could not do there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from tackle.base.vocabulary import Forage
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.plan import Plan, Request
from tackle.cover.planner import make_plan
from tackle.cover.served import Served, Way
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.situation import Situation

__all__ = ["StoryStep", "Story", "tell"]

LITTLE: Final = 0.02  # of the days expected: a colour that adds less than that many with a first choice ends the story


@dataclass(frozen=True, slots=True)
class StoryStep:
    """One more colour. `first`, `answered`: first-choice days and days of the set so far; `adds_first`, `adds`: what
    came with this one.

    `example`: the place of the situation that shows best what it is for; `before`: how the colours before it served
    that day, None where nothing of theirs answered.
    """

    card: Colour
    first: float
    answered: float
    adds_first: float
    adds: float
    example: int
    example_days: float
    before: Way | None


@dataclass(frozen=True, slots=True)
class Story:
    """The steps in their order, and the colours of the plan that are left for later since each adds little."""

    steps: tuple[StoryStep, ...]
    later: tuple[Colour, ...]
    expected_days: float


def tell(request: Request, plan: Plan, palette: Palette) -> Story:
    """The colours of a plan for one category in the order in which they do most, as if none were owned yet."""
    chosen = [piece.card for piece in plan.pieces if piece.category == request.category]
    sold = palette.ids_in(request.category)
    bare = replace(request, owned=frozenset(), lock=frozenset(), at_most=None)

    def of(cards: Sequence[Colour]) -> Plan:
        kept = frozenset(card.id for card in cards)
        return make_plan(replace(bare, ban=frozenset(sold - kept), lock=kept), palette)

    steps: list[StoryStep] = []
    taken: list[Colour] = []
    before = of(())
    left = list(chosen)
    while left:
        card, now = max(((one, of([*taken, one])) for one in left), key=lambda data: _standing(data[1]))
        adds_first = now.first_choice_days - before.first_choice_days
        adds = now.answered_days - before.answered_days
        if not now.served or (steps and max(adds_first, adds) < LITTLE * plan.expected_days):
            break
        place, days, was = _example(request.situations, before, now)
        steps.append(StoryStep(card, now.first_choice_days, now.answered_days, adds_first, adds, place, days, was))
        taken.append(card)
        left.remove(card)
        before = now
    return Story(tuple(steps), tuple(left), plan.expected_days)


def _standing(plan: Plan) -> tuple[float, float]:
    return plan.first_choice_days + plan.answered_days, plan.first_choice_days


def _example(situations: Sequence[Situation], before: Plan, now: Plan) -> tuple[int, float, Way | None]:
    """Of the clarity, light and food with the most days that one more colour gave a first choice or covered at all,
    the situation with the most of them; and those days."""
    was = {one.index: one.way for one in before.served}

    def gain(one: Served) -> float:
        earlier = was.get(one.index)
        return one.days * (one.way.is_first - (earlier.is_first if earlier else -0.5))

    alike: dict[tuple[str, str, Forage], list[Served]] = {}
    for one in now.served:
        situation = situations[one.index]
        where = HOUSE_LADDER.band_at(situation.visibility_in), situation.light, situation.forage[0]
        alike.setdefault(where, []).append(one)
    gained = max(alike.values(), key=lambda ones: sum(map(gain, ones)))
    best = max(gained, key=gain)
    return best.index, sum(one.days for one in gained if gain(one) > 0), was.get(best.index)
