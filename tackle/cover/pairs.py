"""Jigs and the trailers threaded on them, planned together: the fewest pieces in all.

A day is answered by a pair: a jig that a school accepts there, with a trailer that the same school accepts on that
jig. A two-faced trailer is one piece that may show either of its faces.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import reduce
from operator import or_
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import TRAILER, Grade, Tone
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.curve import Most
from tackle.cover.instance import Instance, bits
from tackle.cover.opinions import Opinions, gather_opinions, to_mask
from tackle.cover.pair_search import (
    Need,
    PairProblem,
    answered_by,
    compute_pair_curve,
    reduced_pairs,
    right_by,
    solve_pairs,
)
from tackle.cover.plan import Open, Request
from tackle.cover.problem import FirstChoices, Problem, leading
from tackle.cover.representatives import pairs_of_one_family, representatives, summed
from tackle.cover.served import Way
from tackle.cover.solution import Solution
from tackle.schools.evaluation import evaluate_kinds, kinds_beside, suitability
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import are_as_good
from tackle.schools.votes import family_indices, quotients
from tackle.situations.columns import tabulate
from tackle.situations.rows import MILLION, to_millionths
from tackle.situations.situation import Situation

__all__ = ["Pairs", "make_pairs"]


@dataclass(frozen=True, slots=True)
class _On:
    """What schools say on a jig of one tone: `opinions` of the trailers sold, with the kind among them of each of the m
    kinds; of all that trailers may show `deciding_rules` (schools, shown, m) and `suits` (schools, m, shown);
    `choices`: by kind each school's first choices among the trailers sold, as bit sets; `family`, `own` (m, shown) and
    `most` (m,): the votes, none for what is not sold."""

    opinions: Opinions
    kinds: Sequence[int]
    deciding_rules: NDArray[np.int16]
    suits: NDArray[np.int8]
    choices: Sequence[tuple[int, ...]]
    family: NDArray[np.int64]
    own: NDArray[np.int64]
    most: NDArray[np.int64]


class _OnDays(NamedTuple):
    """For each card of one side, in millionths of days: what it answers, and what it is voted for."""

    answered: Sequence[int]
    votes: Sequence[int]


class Pairs(Problem):
    """The jigs of one category, then the trailers."""

    halves = True

    def __init__(self, request: Request, palette: Palette) -> None:
        books, category = request.books, request.category
        kind_indices, first = kinds_beside(books, category, TRAILER, tabulate(request.situations))
        asked = tuple(request.situations[place] for place in first.tolist())
        self.kind_indices, self.books = kind_indices, books
        self.lead = gather_opinions(category, books, asked, request.agree_all, request.accept, palette)
        self._kinds: list[int] = self.lead.kind_indices.tolist()
        self.millionths = to_millionths(request.days)
        self.days = np.zeros(len(asked), dtype=np.int64)
        np.add.at(self.days, kind_indices, self.millionths)
        cards = self.lead.cards
        self._at = list(bits(self._may_be(request, category, cards, self._days_of_jigs(), self.lead.votes.kin)))
        self.jigs = tuple(cards[place] for place in self._at)
        self._needs: dict[tuple[int, tuple[int, ...]], Need] = {}
        sold = palette.sold_in(TRAILER)
        shown = tuple(dict.fromkeys((*sold, *(palette.by_id[card.other_face] for card in sold if card.other_face))))
        tones = {card.tone for card in self.lead.cards}
        self._on = {tone: _on(request, asked, tone, shown[len(sold) :], palette) for tone in tones}
        places = {card.id: index for index, card in enumerate(shown)}
        self._faces = {card: [places[one] for one in (card.id, card.other_face) if one] for card in sold}
        self._kin = family_indices(sold, TRAILER)
        of_trailers = self._may_be(request, TRAILER, sold, self._days_of_trailers(sold), self._kin)
        self.trailers = tuple(sold[place] for place in bits(of_trailers))
        self._kin = self._kin[list(bits(of_trailers))]
        self.pieces = (*((category, card) for card in self.jigs), *((TRAILER, card) for card in self.trailers))
        self.open_to = (1 << len(self.pieces)) - 1
        suits = self._suits()
        self._best = suits.max(axis=0) if len(books) else suits.reshape(len(asked), len(self.jigs), len(self.trailers))
        self.choices = [self._firsts(kind) for kind in range(len(asked))]
        firsts: dict[Need, int] = {}
        for days, needs in zip(self.days.tolist(), self.choices, strict=True):
            data = [need for need in needs if need is not None]
            for need in data:
                if any(need) and days:
                    firsts[need] = firsts.get(need, 0) + days * self.lead.shares // len(data)
        jig_votes, with_it, self._good = self._voted()
        worth = self._best.astype(np.int64)
        if request.right:
            close = quotients(jig_votes, self.lead.votes.most[self._kinds, None])[:, :, None] * with_it
            worth = (close + MILLION // 2) // MILLION * (worth > 0)
        self.problem = PairProblem(
            suits=suits,
            worth=worth,
            speaks=np.any(self.lead.deciding_rules >= 0, axis=1)[:, self._kinds],
            days=self.days,
            agree_all=request.agree_all,
            owned_jigs=to_mask(self.jigs, request.owned),
            owned_trailers=to_mask(self.trailers, request.owned_in(TRAILER)),
            locked_jigs=to_mask(self.jigs, request.lock),
            locked_trailers=to_mask(self.trailers, request.locked_in(TRAILER)),
            firsts=tuple(firsts),
            weights=tuple(firsts.values()),
        )
        self._needs_of = self.problem.needs()

    def lead_kind(self, kind: int) -> int:
        return self._kinds[kind]

    @property
    def lead_days(self) -> NDArray[np.int64]:
        return self.lead.by_kind(self.days)

    @property
    def most_right(self) -> int:
        return sum(self.problem.weights)

    def solved(self, at_most: int | None, right: Fraction) -> Solution:
        small, kept_jigs, kept_trailers = reduced_pairs(self.problem)
        found = solve_pairs(small, at_most, right)
        chosen = sum(1 << kept_jigs[jig] for jig in bits(found.jigs))
        chosen |= sum(1 << len(self.jigs) + kept_trailers[trailer] for trailer in bits(found.trailers))
        return Solution(chosen, found.at_least, found.proved)

    def curve(self, asks_right: bool) -> Sequence[Most]:
        return compute_pair_curve(reduced_pairs(self.problem)[0], asks_right)

    def answers(self, chosen: int) -> NDArray[np.bool_]:
        return answered_by(self.problem, *self._split(chosen))

    def suit(self, kind: int, place: int, chosen: int) -> int:
        jigs, trailers = self._split(chosen)
        if place < len(self.jigs):
            return int(self._best[kind, place, trailers].max(initial=0))
        return int(self._best[kind, jigs, place - len(self.jigs)].max(initial=0))

    def right(self, chosen: int) -> int:
        return right_by(self.problem, *self._split(chosen))

    def first_choice(self, chosen: int) -> int:
        jigs, trailers = self._split(chosen)
        met = self._good[:, jigs][:, :, trailers].any(axis=(1, 2))
        return int(self.days[met].sum())

    def same_family(self, chosen: int) -> list[tuple[Colour, Colour]]:
        jigs, trailers = self._split(chosen)
        kin = self.lead.votes.kin[self._at]
        twice = [(self.jigs[a], self.jigs[b]) for a, b in pairs_of_one_family(kin, sum(1 << jig for jig in jigs))]
        of_trailers = pairs_of_one_family(self._kin, sum(1 << trailer for trailer in trailers))
        return twice + [(self.trailers[one], self.trailers[other]) for one, other in of_trailers]

    def firsts_at(self, kind: int, chosen: int) -> list[tuple[Rulebook, int]]:
        data = zip(self.books, self.choices[kind], strict=True)
        return [(book, self._part(need, chosen)) for book, need in data if need is not None]

    def ways(self, chosen: int, answered: Sequence[int], asks_right: bool) -> Iterator[tuple[int, Way]]:
        jigs, trailers = self._split(chosen)
        for kind in answered:
            suits = self._best[kind][np.ix_(jigs, trailers)].astype(np.int64)
            jig, trailer = divmod(int(suits.argmax()), len(trailers))
            if asks_right:
                jig = self._leading_jig(kind, jigs, suits)
                trailer = self._leading_trailer(kind, self.jigs[jigs[jig]], trailers, suits[jig])
            one, other = jigs[jig], trailers[trailer]
            school = self._school_for(kind, one, other)
            calls = self._calls(school, kind, self.jigs[one], self.trailers[other])
            grade = Grade.WORKS if any(call.grade is Grade.WORKS for call in calls) else Grade.GO_TO
            hit, asked = self.hit(kind, chosen)
            is_first = bool(self._good[kind][np.ix_(jigs, trailers)].any())
            cards = self.jigs[one], self.trailers[other]
            yield kind, Way(cards, hit, asked, is_first, grade, self.books[school], calls)

    def _leading_jig(self, kind: int, jigs: list[int], suits: NDArray[np.int64]) -> int:
        """Of some jigs the place of the one that leads, of those that a trailer goes with."""
        votes, at, there = self.lead.votes, [self._at[jig] for jig in jigs], self._kinds[kind]
        able = suits.max(axis=1)
        data = [np.where(able > 0, one[there, at], -1) for one in (votes.family, votes.own)]
        return int(leading([one[None, :] for one in (*data, able)])[0])

    def _leading_trailer(self, kind: int, jig: Colour, trailers: list[int], suits: NDArray[np.int64]) -> int:
        """Of some trailers the place of the one that leads on a jig, of those that go with it."""
        on_it = self._on[jig.tone]
        data = [
            np.array([of_it[kind, self._faces[self.trailers[place]]].max() for place in trailers])
            for of_it in (on_it.family, on_it.own)
        ]
        return int(leading([np.where(suits > 0, one, -1)[None, :] for one in (*data, suits)])[0])

    def _school_for(self, kind: int, jig: int, trailer: int) -> int:
        """The school that thinks most of a pair, by its place; the one that speaks first of the jig before others."""
        suits = self.problem.suits[:, kind, jig, trailer]
        loudest = int(self.lead.votes.voice[self._kinds[kind], self._at[jig]])
        return loudest if loudest >= 0 and suits[loudest] == suits.max() else int(suits.argmax())

    def first_choices(self, chosen: int) -> Iterator[FirstChoices]:
        days: dict[tuple[Need | None, ...], int] = {}
        for needs, of_it in zip(self.choices, self.days.tolist(), strict=True):
            days[needs] = days.get(needs, 0) + of_it
        for needs, of_it in days.items():
            data = zip(self.books, needs, strict=True)
            listed = [(book, self._part(need, chosen)) for book, need in data if need is not None]
            if of_it and listed:
                yield FirstChoices(of_it, tuple(listed))

    def why_none(self, kind: int) -> tuple[Open, tuple[Rulebook, ...]]:
        if self._needs_of[kind]:
            return Open.AT_MOST, ()
        banned = to_mask(self.lead.cards, frozenset(card.id for card in self.lead.cards if card not in self.jigs))
        of_jigs = self.lead.why_none(self._kinds[kind], banned)
        needs = self.lead.needs[self._kinds[kind]]
        return (Open.NO_PAIR, ()) if needs and all(need & ~banned for need in needs) else of_jigs

    def stand_ins(self, chosen: int, place: int, target: int) -> int:
        whole, rest, found = self.answers(chosen), chosen & ~(1 << place), 0
        side = range(len(self.jigs)) if place < len(self.jigs) else range(len(self.jigs), len(self.pieces))
        for other in side:
            tried = rest | 1 << other
            if not chosen >> other & 1 and not (whole & ~self.answers(tried)).any() and self.right(tried) >= target:
                found |= 1 << other
        return found

    def given(self, trailers: int) -> Instance:
        """The problem of the jigs alone, where these trailers are there to be threaded on them."""
        kept, needs = [], []
        for kind, of_kind in enumerate(self._needs_of):
            masks = tuple(_which(need, trailers) for need in of_kind)
            if masks and all(masks):
                kept.append(kind)
                needs.append(masks)
        firsts: dict[int, int] = {}
        for first, weight in zip(self.problem.firsts, self.problem.weights, strict=True):
            if mask := _which(first, trailers | 1 << len(self.trailers)):
                firsts[mask] = firsts.get(mask, 0) + weight
        suits = self._best[kept][:, :, list(bits(trailers))].max(axis=2, initial=0)
        return Instance(
            days=self.days[kept],
            needs=tuple(needs),
            suits=suits.astype(np.int64),
            owned=self.problem.owned_jigs,
            locked=self.problem.locked_jigs,
            firsts=tuple(firsts),
            weights=tuple(firsts.values()),
        )

    def answering(self) -> Iterator[tuple[int, int]]:
        """The days, in millionths, that hang on trailers: of which, by the bit set, one is needed on whatever jig."""
        for needs, days in zip(self._needs_of, self.days.tolist(), strict=True):
            if needs:
                yield min((reduce(or_, need) for need in needs), key=int.bit_count), days

    def reached_for(self) -> Iterator[tuple[int, int]]:
        """The right days, in weights, that hang on trailers: of which, by the bit set, one is enough on some jig; below
        0: any trailer is, or none."""
        for need, weight in zip(self.problem.firsts, self.problem.weights, strict=True):
            mask = reduce(or_, need)
            yield -1 if mask >> len(self.trailers) & 1 else mask, weight

    def trailer_on(self, jig: Colour, kind: int, trailers: int) -> Colour | None:
        """What leads on a jig of some trailers on a kind of day; None where no school accepts one of them."""
        on_it = self._on[jig.tone]
        cards = on_it.opinions.cards
        places = [cards.index(self.trailers[place]) for place in bits(trailers)]
        place = on_it.opinions.leader(on_it.kinds[kind], places)
        return None if place is None else cards[place]

    def does(self, trailer: int) -> bool:
        """Whether a trailer answers any day, or is part of a first choice."""
        return bool(self._best[:, :, trailer].any()) or any(
            of_jig >> trailer & 1 for first in self.problem.firsts for of_jig in first
        )

    def covers_all(self, one: int, other: int) -> bool:
        """Whether a trailer does whatever another does, and as well."""
        return bool((self._best[:, :, one] >= self._best[:, :, other]).all()) and all(
            of_jig >> one & 1 for first in self.problem.firsts for of_jig in first if of_jig >> other & 1
        )

    def schools_for(self, chosen: int) -> list[list[Rulebook]]:
        jigs, trailers = self._split(chosen)
        met = np.asarray(self.problem.suits[:, :, jigs][:, :, :, trailers].any(axis=(2, 3)))
        return [[book for index, book in enumerate(self.books) if met[index, kind]] for kind in range(len(self.days))]

    def _split(self, chosen: int) -> tuple[list[int], list[int]]:
        jigs = (1 << len(self.jigs)) - 1
        return list(bits(chosen & jigs)), list(bits(chosen >> len(self.jigs)))

    def _part(self, need: Need, chosen: int) -> int:
        """The pieces of a set that are part of a first choice in it."""
        trailers, found = chosen >> len(self.jigs), 0
        for jig in bits(chosen & (1 << len(self.jigs)) - 1):
            with_it = need[jig] & trailers
            if with_it or need[jig] >> len(self.trailers) & 1:
                found |= 1 << jig | with_it << len(self.jigs)
        return found

    def _may_be(
        self, request: Request, category: str, cards: Sequence[Colour], on: _OnDays, kin: NDArray[np.intp]
    ) -> int:
        """The cards of one side that a set may hold, as a bit set: where it has to be right, one of each family."""
        allowed = ((1 << len(cards)) - 1) & ~to_mask(cards, request.banned_in(category))
        if not request.right:
            return allowed
        owned, locked = (to_mask(cards, of_it(category)) for of_it in (request.owned_in, request.locked_in))
        return representatives(kin, allowed, owned, locked, on.answered, on.votes)

    def _days_of_jigs(self) -> _OnDays:
        met = self.lead.best[self._kinds] > 0
        return _OnDays((self.days @ met).tolist(), summed(self.days, self.lead.votes.own[self._kinds]))

    def _days_of_trailers(self, sold: Sequence[Colour]) -> _OnDays:
        """What trailers answer and are voted for, on jigs of all tones together."""
        answered, votes = [0] * len(sold), [0] * len(sold)
        for on_it in self._on.values():
            met = (on_it.suits > 0).any(axis=0)
            of_all = (self.days @ met).tolist(), summed(self.days, on_it.own)
            for index, card in enumerate(sold):
                faces = self._faces[card]
                answered[index] += max(of_all[0][face] for face in faces)
                votes[index] += max(of_all[1][face] for face in faces)
        return _OnDays(answered, votes)

    def _voted(self) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.bool_]]:
        """The votes of the jigs' families, (m, jigs); of the trailers on them as a share of the most, in millionths,
        (m, jigs, trailers); and which pairs are as good as the first, (m, jigs, trailers)."""
        votes = self.lead.votes
        jigs = votes.family[self._kinds][:, self._at]
        shares = np.zeros((len(self.days), len(self.jigs), len(self.trailers)), dtype=np.int64)
        good = np.zeros(shares.shape, dtype=np.bool_)
        for tone, on_it in self._on.items():
            here = [index for index, card in enumerate(self.jigs) if card.tone is tone]
            for index, card in enumerate(self.trailers):
                family = on_it.family[:, self._faces[card]].max(axis=1)
                shares[:, here, index] = quotients(family, on_it.most)[:, None]
                good[:, here, index] = are_as_good(family, on_it.most)[:, None]
        good &= are_as_good(jigs, votes.most[self._kinds, None])[:, :, None] & (self._best > 0)
        return jigs, shares, good

    def _suits(self) -> NDArray[np.int8]:
        """How well each pair suits: as well as the lesser of its halves; (schools, m, jigs, trailers)."""
        of_jigs = self.lead.suits[:, self._kinds][:, :, self._at]
        suits = np.zeros((*of_jigs.shape, len(self.trailers)), dtype=np.int8)
        for tone, on_it in self._on.items():
            here = [index for index, card in enumerate(self.jigs) if card.tone is tone]
            for index, card in enumerate(self.trailers):
                showing = on_it.suits[:, :, self._faces[card]].max(axis=2)
                suits[:, :, here, index] = np.minimum(of_jigs[:, :, here], showing[:, :, None])
        return suits

    def _firsts(self, kind: int) -> tuple[Need | None, ...]:
        """Each school's first choices on a kind of day as a need; None where it has none.

        A jig of its first choices with a trailer of its first choices on that jig's tone; where it speaks of one half
        alone, that half is enough. The bit after the last trailer stands for any trailer.
        """
        lead = self.lead
        of_jigs = lead.choices[lead.choice_of[self._kinds[kind]]]
        return tuple(
            self._need(of_jigs[school], tuple(on_it.choices[kind][school] for on_it in self._on.values()))
            for school in range(len(self.books))
        )

    def _need(self, first_jigs: int, first_trailers: tuple[int, ...]) -> Need | None:
        if not first_jigs and not any(first_trailers):
            return None
        if (first_jigs, first_trailers) not in self._needs:
            on_tone = dict(zip(self._on, first_trailers, strict=True))
            self._needs[first_jigs, first_trailers] = tuple(
                self._with(on_tone[card.tone], bool(first_jigs)) if not first_jigs or first_jigs >> place & 1 else 0
                for place, card in zip(self._at, self.jigs, strict=True)
            )
        return self._needs[first_jigs, first_trailers]

    def _with(self, wanted: int, any_will_do: bool) -> int:
        """The trailers that go with a jig of first choices, where some are wanted on it."""
        if any_will_do and not wanted:
            return 1 << len(self.trailers)
        showing = (any(wanted >> face & 1 for face in self._faces[card]) for card in self.trailers)
        return sum(1 << index for index, shows in enumerate(showing) if shows)

    def _calls(self, school: int, kind: int, jig: Colour, trailer: Colour) -> tuple[Rule, ...]:
        book, on_it = self.books[school], self._on[jig.tone]
        of_jig = int(self.lead.deciding_rules[school, self.lead.cards.index(jig), self._kinds[kind]])
        face = max(self._faces[trailer], key=lambda one: int(on_it.suits[school, kind, one]))
        return book.calls[of_jig], book.calls[int(on_it.deciding_rules[school, face, kind])]


def make_pairs(request: Request, palette: Palette) -> Pairs:
    """The problem of the jigs of a category and their trailers."""
    return Pairs(request, palette)


def _on(request: Request, asked: Sequence[Situation], tone: Tone, unsold: Sequence[Colour], palette: Palette) -> _On:
    on_it = tuple(replace(one, category=TRAILER, with_tone=tone) for one in asked)
    opinions = gather_opinions(TRAILER, request.books, on_it, False, request.accept, palette)
    kinds = opinions.kind_indices.tolist()
    deciding_rules, suits = [opinions.deciding_rules], [opinions.suits]
    votes = opinions.votes
    none = np.zeros((len(kinds), len(unsold)), dtype=np.int64)
    if unsold:
        of_faces = [evaluate_kinds(opinions.day_kinds, school, unsold) for school in range(len(request.books))]
        suits.append(
            np.stack([
                suitability(book, of_it, request.accept).T
                for book, of_it in zip(request.books, of_faces, strict=True)
            ])
        )  # fmt: skip
        deciding_rules.append(np.stack(of_faces))
    return _On(
        opinions,
        kinds,
        np.concatenate(deciding_rules, axis=1)[:, :, kinds],
        np.concatenate(suits, axis=2)[:, kinds],
        [opinions.choices[place] for place in opinions.choice_of[kinds].tolist()],
        np.concatenate([votes.family[kinds], none], axis=1),
        np.concatenate([votes.own[kinds], none], axis=1),
        votes.most[kinds],
    )


def _which(need: Need, trailers: int) -> int:
    """The jigs that meet a need with some trailers."""
    return sum(1 << jig for jig, of_jig in enumerate(need) if of_jig & trailers)
