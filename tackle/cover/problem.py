"""A request read: what can be chosen, what the schools say of it on each kind of day, and what a set of it does.

One form for the colours of a category and for jigs with their trailers: a set is a bit set of the places of pieces.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Container, Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.cover.curve import Most, compute_curve
from tackle.cover.instance import Instance, bits, by_needs, reduced, row_masks
from tackle.cover.opinions import Opinions, to_mask
from tackle.cover.plan import Open, Request
from tackle.cover.representatives import open_colours, pairs_of_one_family
from tackle.cover.served import Way
from tackle.cover.solution import Solution, Step, solve, stand_ins
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import are_as_good
from tackle.schools.votes import quotients
from tackle.situations.rows import MILLION, to_millionths

__all__ = ["Colours", "FirstChoices", "Problem", "make_colours", "leading"]


@dataclass(frozen=True, slots=True)
class FirstChoices:
    """Days, in millionths, on which schools have a first choice, and by school the pieces of a set that are part of
    one, as bit sets; 0: none is."""

    days: int
    pieces: tuple[tuple[Rulebook, int], ...]


class Problem(ABC):
    """m kinds of day, of n situations. `lead`: what the schools say of the colours, or of the jigs, on each kind;
    `days`: (m,) whole millionths."""

    lead: Opinions
    kind_indices: NDArray[np.integer]
    millionths: NDArray[np.int64]
    days: NDArray[np.int64]
    pieces: tuple[tuple[str, Colour], ...]
    open_to: int  # the pieces that may be chosen
    halves = False  # whether a piece may do nothing by itself

    @property
    def share(self) -> int:
        """How many of the weights of what is right are a day."""
        return MILLION * self.lead.shares

    def mask(self, some: Container[tuple[str, str]]) -> int:
        """The places of some pieces, told by category and card id."""
        return sum(1 << index for index, (where, card) in enumerate(self.pieces) if (where, card.id) in some)

    @property
    @abstractmethod
    def most_right(self) -> int:
        """The right days, in weights, that everything that may be chosen has together."""

    def lead_kind(self, kind: int) -> int:
        """The kind of day that one is for the colours, or the jigs, alone."""
        return kind

    @property
    def lead_days(self) -> NDArray[np.int64]:
        """The days of each kind that there is for the colours, or the jigs, alone."""
        return self.days

    @abstractmethod
    def solved(self, at_most: int | None, right: Fraction) -> Solution:
        """The best set."""

    @abstractmethod
    def curve(self, asks_right: bool) -> Sequence[Most]:
        """The most that each number of pieces can do."""

    @abstractmethod
    def answers(self, chosen: int) -> NDArray[np.bool_]:
        """Which kinds of day a set answers; shape (m,)."""

    @abstractmethod
    def suit(self, kind: int, place: int, chosen: int) -> int:
        """How well a piece suits, in hundredths, with the best of a set."""

    @abstractmethod
    def right(self, chosen: int) -> int:
        """The right days of a set, in weights."""

    @abstractmethod
    def first_choice(self, chosen: int) -> int:
        """The days, in millionths, on which a set holds something as good as the first word."""

    @abstractmethod
    def same_family(self, chosen: int) -> list[tuple[Colour, Colour]]:
        """The pieces of a set that are of one family, by two and two: what is locked alone is so."""

    @abstractmethod
    def firsts_at(self, kind: int, chosen: int) -> list[tuple[Rulebook, int]]:
        """The schools that have a first choice on a kind of day, and which pieces of a set are part of one."""

    def hit(self, kind: int, chosen: int) -> tuple[int, int]:
        """Of how many schools a set has a first choice on a kind of day, and how many have any."""
        data = self.firsts_at(kind, chosen)
        return sum(bool(mask) for _, mask in data), len(data)

    @abstractmethod
    def ways(self, chosen: int, answered: Sequence[int], asks_right: bool) -> Iterator[tuple[int, Way]]:
        """How each answered kind of day is: by what leads then (the votes of its family, its own), where it has to be
        right, then by what suits best, then by the first."""

    @abstractmethod
    def first_choices(self, chosen: int) -> Iterator[FirstChoices]:
        """The first choices in a set."""

    @abstractmethod
    def why_none(self, kind: int) -> tuple[Open, tuple[Rulebook, ...]]:
        """Why a kind of day is not answered, and the schools that it hangs on."""

    def order(self, chosen: int, asks_right: bool) -> list[Step]:
        """A set in the order to buy it: always the piece that adds most first-choice days and right days, where these
        are asked for, then most days, then the first; two together where one alone adds nothing."""

        def does(mask: int) -> tuple[int, int, int]:
            return (*((self.first_choice(mask), self.right(mask)) if asks_right else (0, 0)), self.reach(mask))

        left, bought, now, found = [1 << place for place in bits(chosen)], 0, does(0), []
        while left:
            best = max(left, key=lambda bit: does(bought | bit))
            step: tuple[int, ...] = (best,)
            if self.halves and len(left) > 1 and does(bought | best) == now:
                step = max(combinations(left, 2), key=lambda two: does(bought | two[0] | two[1]))
            for bit in step:
                bought |= bit
                left.remove(bit)
                then = does(bought)
                adds_first, adds_right, adds = (one - before for one, before in zip(then, now, strict=True))
                found.append(Step(bit.bit_length() - 1, adds, adds_right, adds_first))
                now = then
        return found

    @abstractmethod
    def stand_ins(self, chosen: int, place: int, target: int) -> int:
        """The pieces outside a set that could take one's place: no day goes unanswered, and it is right on as many days
        as `target` asks."""

    @abstractmethod
    def schools_for(self, chosen: int) -> list[list[Rulebook]]:
        """For each kind of day the schools that accept something of a set."""

    def reach(self, chosen: int) -> int:
        """The days, in millionths, that a set answers."""
        return int(self.days[self.answers(chosen)].sum())


class Colours(Problem):
    """The colours of one category."""

    def __init__(self, request: Request, opinions: Opinions, prized: int) -> None:
        cards = opinions.cards
        self.lead, self.kind_indices = opinions, opinions.kind_indices
        self.pieces = tuple((request.category, card) for card in cards)
        self.millionths = to_millionths(request.days)
        self.days = opinions.by_kind(self.millionths)
        self.open_to = open_colours(request, opinions, self.days)
        votes = opinions.votes
        self._good = row_masks(are_as_good(votes.family, votes.most[:, None]) & (opinions.best > 0))
        needs = [tuple(mask & self.open_to for mask in masks) for masks in opinions.needs]
        self.able = [kind for kind, masks in enumerate(needs) if masks and all(masks) and self.days[kind]]
        suits = opinions.best[self.able].astype(np.int64)
        if request.right:
            suits = quotients(votes.family[self.able], votes.most[self.able, None]) * (suits > 0)
        suits[:, [index for index in range(len(cards)) if not self.open_to >> index & 1]] = 0
        firsts: dict[int, int] = {}
        for masks, days in opinions.days_by_choice(self.days):
            asked = sum(map(bool, masks))
            for mask in masks if days else ():
                if within := mask & self.open_to:
                    firsts[within] = firsts.get(within, 0) + days * opinions.shares // asked
        self.instance = Instance(
            days=self.days[self.able],
            needs=tuple(needs[kind] for kind in self.able),
            suits=suits,
            owned=to_mask(cards, request.owned),
            locked=to_mask(cards, request.lock),
            prized=prized,
            costs=_costs(request, cards),
            firsts=tuple(firsts),
            weights=tuple(firsts.values()),
        )

    @property
    def most_right(self) -> int:
        return sum(self.instance.weights)

    def _asked(self, asks_right: bool) -> Instance:
        """What is to be solved: where it need not be right, nothing is a first choice."""
        return self.instance if asks_right else replace(self.instance, firsts=(), weights=())

    @cached_property
    def _small(self) -> Instance:
        return by_needs(self.instance)

    def solved(self, at_most: int | None, right: Fraction) -> Solution:
        return solve(self._asked(bool(right)), at_most, right)

    def curve(self, asks_right: bool) -> Sequence[Most]:
        small, _ = reduced(self._asked(asks_right))
        return compute_curve(small if asks_right else by_needs(small))

    def answers(self, chosen: int) -> NDArray[np.bool_]:
        done = np.zeros(len(self.days), dtype=np.bool_)
        done[self.able] = self.instance.answered(chosen)
        return done

    def reach(self, chosen: int) -> int:
        return int(self._small.days[np.array(self._small.answered(chosen), dtype=np.bool_)].sum())

    def suit(self, kind: int, place: int, chosen: int) -> int:
        return int(self.lead.best[kind, place])

    def right(self, chosen: int) -> int:
        return self.instance.right(chosen)

    @cached_property
    def _good_days(self) -> list[tuple[int, int]]:
        """The bit sets of what is as good on some days, and these in millionths."""
        days: dict[int, int] = {}
        for mask, of_kind in zip(self._good, self.days.tolist(), strict=True):
            days[mask] = days.get(mask, 0) + of_kind
        return list(days.items())

    def first_choice(self, chosen: int) -> int:
        return sum(days for mask, days in self._good_days if mask & chosen)

    def same_family(self, chosen: int) -> list[tuple[Colour, Colour]]:
        cards = self.lead.cards
        return [(cards[one], cards[other]) for one, other in pairs_of_one_family(self.lead.votes.kin, chosen)]

    def firsts_at(self, kind: int, chosen: int) -> list[tuple[Rulebook, int]]:
        masks = self.lead.choices[self.lead.choice_of[kind]]
        return [(book, mask & chosen) for book, mask in zip(self.lead.books, masks, strict=True) if mask]

    def ways(self, chosen: int, answered: Sequence[int], asks_right: bool) -> Iterator[tuple[int, Way]]:
        opinions, picked, kinds = self.lead, list(bits(chosen)), list(answered)
        suits = opinions.best[kinds][:, picked].astype(np.int64)
        standing = [suits]
        if asks_right:
            votes = (opinions.votes.family, opinions.votes.own)
            standing = [*(np.where(suits > 0, vote[kinds][:, picked], -1) for vote in votes), suits]
        for kind, at in zip(kinds, leading(standing), strict=True):
            card, masks = picked[int(at)], opinions.choices[opinions.choice_of[kind]]
            book, call = opinions.advice_for(kind, card)
            hit, asked = sum(1 for mask in masks if mask & chosen), sum(map(bool, masks))
            is_first = bool(self._good[kind] & chosen)
            yield kind, Way((opinions.cards[card],), hit, asked, is_first, call.grade, book, (call,))

    def first_choices(self, chosen: int) -> Iterator[FirstChoices]:
        for masks, days in self.lead.days_by_choice(self.days):
            listed = [(book, mask & chosen) for book, mask in zip(self.lead.books, masks, strict=True) if mask]
            if days and listed:
                yield FirstChoices(days, tuple(listed))

    def why_none(self, kind: int) -> tuple[Open, tuple[Rulebook, ...]]:
        if kind in self.able:
            return Open.AT_MOST, ()
        return self.lead.why_none(kind, ((1 << len(self.pieces)) - 1) & ~self.open_to)

    def stand_ins(self, chosen: int, place: int, target: int) -> int:
        return stand_ins(self._small, chosen, place, target) & self.open_to

    def schools_for(self, chosen: int) -> list[list[Rulebook]]:
        return self.lead.schools_for(chosen)


def leading(standing: Sequence[NDArray[np.int64]]) -> NDArray[np.intp]:
    """In each row the place of what is greatest by the first table, of these by the next, and so on; else the first.
    Tables (m, k), k above 0."""
    left = np.ones(standing[0].shape, dtype=np.bool_)
    for table in standing:
        here = np.where(left, table, -1)
        left &= here == here.max(axis=1, keepdims=True, initial=-1)
    return np.asarray(left.argmax(axis=1) if left.size else np.zeros(len(left), dtype=np.intp), dtype=np.intp)


def _costs(request: Request, cards: Sequence[Colour]) -> tuple[int, ...]:
    cents = dict(request.cents)
    return tuple(cents.get(card.id, 0) for card in cards) if cents else ()


def make_colours(request: Request, opinions: Opinions) -> Colours:
    """The problem of the colours of one category.

    Cards that can be made of what is owned are preferred, and, where `salt` is told, those that serve a day or more in
    fresh water and in salt.
    """
    prized = to_mask(opinions.cards, request.reworkable - request.owned)
    if request.salt:
        days, salt = to_millionths(request.days) / MILLION, np.array(request.salt)
        met = opinions.best[opinions.kind_indices] > 0
        both = (days[~salt] @ met[~salt] >= 1) & (days[salt] @ met[salt] >= 1)
        prized |= row_masks(both[None, :])[0]
    return Colours(request, opinions, prized)
