"""A plan held against things: which of its days some colours answer, alone or as jigs with trailers."""

from __future__ import annotations

from collections.abc import Collection, Hashable, Sequence
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import TRAILER
from tackle.check.reach import Planned, Reach, Reached, make_reach
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.palette import Palette
from tackle.cover.plan import Request
from tackle.cover.planner import make_unlimited
from tackle.situations.rows import MILLION

__all__ = ["Held", "HeldAlone", "HeldInPairs", "Thing", "held", "is_among"]

Thing = tuple[str, Colour]  # a category, and a colour in it


class Held(Protocol):
    """What a plan's days are held against."""

    @property
    def days(self) -> NDArray[np.int64]:
        """The days of each kind, in whole millionths; (m,)."""

    def covered(self, things: Collection[Thing]) -> NDArray[np.bool_]:
        """Which kinds of day some things answer; (m,)."""

    def reached(self, things: Collection[Thing]) -> Reached:
        """The days that some things answer, are right on, and are as good as the first word on."""


class HeldAlone:
    """Colours of one category by themselves. What they reach of one request is kept; the schools are asked only where
    somebody asks for more."""

    def __init__(self, requests: Sequence[Request], palette: Palette) -> None:
        self._requests, self._palette = requests, palette
        self._kept = make_reach(requests[0], palette) if len(requests) == 1 else None

    @cached_property
    def reach(self) -> Reach:
        return Reach(self._requests, self._palette)

    @property
    def days(self) -> NDArray[np.int64]:
        return self.reach.days

    def _cards(self, things: Collection[Thing]) -> list[Colour]:
        return [card for category, card in things if category == self._requests[0].category]

    def covered(self, things: Collection[Thing]) -> NDArray[np.bool_]:
        return self.reach.answered(self.reach.met(self._cards(things)))

    def reached(self, things: Collection[Thing]) -> Reached:
        return (self._kept or self.reach.reached)(self._cards(things))


class HeldInPairs:
    """Jigs of one category, each with what is threaded on it."""

    def __init__(self, request: Request, palette: Palette) -> None:
        self._problem, self._right, self._palette = make_unlimited(request, palette), bool(request.right), palette
        self._kin: dict[tuple[str, Hashable], Colour] = {}
        for category, card in self._problem.pieces:
            self._kin.setdefault((category, family(card, category)), card)

    @property
    def days(self) -> NDArray[np.int64]:
        return self._problem.days

    def _mask(self, things: Collection[Thing]) -> int:
        """What is no card of the palette counts as the first of its family, which is one colour with it."""
        known = set()
        for category, card in things:
            if self._palette.by_id.get(card.id) != card:
                card = self._kin.get((category, family(card, category)), card)
            known.add((category, card.id))
        return self._problem.mask(known)

    def serves(self, trailer: Colour) -> bool:
        """Whether a trailer answers any day, on whatever jig."""
        jigs = {(category, card) for category, card in self._problem.pieces if category != TRAILER}
        return bool(self.days[self.covered({*jigs, (TRAILER, trailer)})].any())

    def covered(self, things: Collection[Thing]) -> NDArray[np.bool_]:
        return self._problem.answers(self._mask(things))

    def reached(self, things: Collection[Thing]) -> Reached:
        mask, problem = self._mask(things), self._problem
        days = problem.reach(mask) / MILLION
        if not self._right:
            return Reached(days, 0.0)
        return Reached(days, problem.right(mask) / problem.share, problem.first_choice(mask) / MILLION)


def held(planned: Planned, palette: Palette) -> Held:
    """A plan, to be held against things."""
    request = planned.request
    return HeldInPairs(request, palette) if request.with_trailers else HeldAlone([request], palette)


def is_among(thing: Thing, things: Collection[Thing]) -> bool:
    """Whether one of the family of a thing is among some."""
    category, card = thing
    mine = family(card, category)
    return any(where == category and family(one, category) == mine for where, one in things)
