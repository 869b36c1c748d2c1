"""The tray for one day: of what is owned the few pieces that answer its hours, and which of them to begin with when.

Each hour counts once for each category. A category's hours hang on its own colours alone, so that the best of each
size is found for each category by itself, and the room is shared out among them: what is compared (hours answered,
hours right, colours, suitability, order) adds up over categories, term by term.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Final

import numpy as np

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.curve import best_of_size
from tackle.cover.instance import Instance, bits, reduced
from tackle.cover.opinions import Opinions, opinions_of
from tackle.cover.solution import solve
from tackle.day.rods import RodRow, tie_on
from tackle.schools.call import Call
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import MILLION
from tackle.situations.situation import Situation
from tackle.situations.thrown import Thrown, thrown_by_default
from tackle.vocabulary import Grade

__all__ = ["Begin", "TrayChange", "Have", "Hour", "DayTray", "TrayPiece", "if_that_fails", "pack"]

MOST_PIECES: Final = 3  # of one colour: one is none, and a third lies in the other tray


@dataclass(frozen=True, slots=True)
class Hour:
    """A part of the day: when it begins, how many hours it is, and its situation in any category."""

    at: str
    hours: float
    situation: Situation


@dataclass(frozen=True, slots=True)
class Have:
    """What is owned of one colour in one category."""

    category: str
    card: Card
    count: int


@dataclass(frozen=True, slots=True)
class TrayPiece:
    """A colour in the tray: pieces of it, the hours it serves, and those on which it is a first choice, as shares."""

    category: str
    card: Card
    count: int
    hours: float
    right_hours: float


@dataclass(frozen=True, slots=True)
class Begin:
    """What to begin an hour with in one category, and who says so."""

    card: Card
    book: Rulebook
    call: Call
    grade: Grade


@dataclass(frozen=True, slots=True)
class TrayChange:
    """At one of the hours, by its index, the colour to begin with becomes another."""

    index: int
    category: str
    was: Card
    now: Begin


@dataclass(frozen=True, slots=True)
class DayTray:
    """The day's tray. `firsts` goes with the hours: for each category what to begin with, None where nothing fits."""

    pieces: tuple[TrayPiece, ...]
    expected_hours: float
    answered_hours: float
    right_hours: float
    proved: bool
    firsts: tuple[dict[str, Begin | None], ...]
    drawn: tuple[dict[str, Begin | None], ...]  # the same, but what is as right as the first word stays on the rod
    changes: tuple[TrayChange, ...]
    rods: tuple[TrayPiece, ...]  # what to tie on, each with the hours in which it is the best of them


@dataclass(frozen=True, slots=True)
class _Part:
    """One category of the day: what is owned of it, in the palette's order, what the schools say, and its instance."""

    category: str
    owned: tuple[Have, ...]
    places: tuple[int, ...]  # of the owned cards among the opinions'
    opinions: Opinions
    instance: Instance
    thrown: tuple[bool, ...]  # by hour

    @property
    def share(self) -> int:
        return MILLION * self.opinions.shares

    def first(self, index: int) -> list[int]:
        """The first choices in an hour of each school that has any, among what is owned; 0: none of them is."""
        if not self.thrown[index]:
            return []
        return [_squeezed(mask, self.places) for mask in self.opinions.firsts(self.kind_of(index))]

    def kind_of(self, index: int) -> int:
        """The kind of day that an hour is, among those of the opinions."""
        return int(self.opinions.kind_of[index])


# Hours answered, right, colours (fewer is better, so below 0), suitability, order: the greater is the better.
_Worth = tuple[int, int, int, int, tuple[int, ...]]


@dataclass(frozen=True, slots=True)
class _Best:
    chosen: int
    worth: _Worth


def pack(
    hours: Sequence[Hour],
    categories: Sequence[str],
    have: Sequence[Have],
    books: tuple[Rulebook, ...],
    palette: Palette,
    room: int,
    rods: int = 0,
    rules: Mapping[str, Thrown] | None = None,
) -> DayTray:
    """The tray of at most `room` pieces: most category-hours answered, then most right, then the fewest colours, then
    suitability, then the order of the categories and the palette's. Exact where it says so.

    Room left over goes to second and third pieces, each to the colour with the most hours a piece. `rods`: for how many
    something is tied on. `rules`: when each category is thrown, where the angler says otherwise than is usual.
    """
    told = rules or {}
    parts = [
        _part(category, hours, have, books, palette, told.get(category) or thrown_by_default(category))
        for category in categories
    ]
    chosen, proved = _chosen(parts, room)
    firsts = _begun(parts, chosen, hours)
    thrown = _thrown_on(parts, firsts)
    pieces = _with_spares(_pieces(parts, chosen, thrown, hours), have, room)
    answered = sum(
        int(part.instance.days[np.array(part.instance.answered(mask), dtype=np.bool_)].sum())
        for part, mask in zip(parts, chosen, strict=True)
    )
    right = sum(Fraction(part.instance.right(mask), part.share) for part, mask in zip(parts, chosen, strict=True))
    return DayTray(
        pieces=tuple(pieces),
        expected_hours=sum(
            _millionths(hour) for part in parts for hour, is_it in zip(hours, part.thrown, strict=True) if is_it
        )
        / MILLION,
        answered_hours=answered / MILLION,
        right_hours=float(right),
        proved=proved,
        firsts=tuple(firsts),
        drawn=tuple(thrown),
        changes=tuple(_changes(thrown, categories)),
        rods=tuple(_tied(parts, chosen, hours, rods)),
    )


def _part(
    category: str, hours: Sequence[Hour], have: Sequence[Have], books: tuple[Rulebook, ...], palette: Palette,
    rule: Thrown,
) -> _Part:  # fmt: skip
    situations = tuple(replace(hour.situation, category=category) for hour in hours)
    opinions = opinions_of(category, books, situations, False, Grade.WORKS, palette)
    mine = {one.card.id: one for one in have if one.category == category and one.count}
    places = tuple(place for place, card in enumerate(opinions.cards) if card.id in mine)
    owned = tuple(mine[opinions.cards[place].id] for place in places)
    kinds = opinions.kind_of.tolist()
    needs = [tuple(_squeezed(mask, places) for mask in opinions.needs[kind]) for kind in kinds]
    thrown = tuple(rule.on(one) for one in situations)
    able = [
        index for index, masks in enumerate(needs)
        if thrown[index] and masks and all(masks) and _millionths(hours[index])
    ]  # fmt: skip
    firsts: dict[int, int] = {}
    for kind, hour, is_thrown in zip(kinds, hours, thrown, strict=True):
        asked = opinions.firsts(kind) if is_thrown else []
        for mask in asked:
            if within := _squeezed(mask, places):
                firsts[within] = firsts.get(within, 0) + _millionths(hour) * opinions.shares // len(asked)
    suits = np.zeros((len(able), len(places)), dtype=np.int64)
    if able and places:
        suits[:] = opinions.best[np.ix_([kinds[index] for index in able], places)]
    instance = Instance(
        days=np.array([_millionths(hours[index]) for index in able], dtype=np.int64),
        needs=tuple(needs[index] for index in able),
        suits=suits,
        owned=(1 << len(places)) - 1,
        firsts=tuple(firsts),
        weights=tuple(firsts.values()),
    )
    return _Part(category, owned, places, opinions, instance, thrown)


def _millionths(hour: Hour) -> int:
    return round(hour.hours * MILLION)


def _squeezed(mask: int, places: Sequence[int]) -> int:
    return sum(1 << at for at, place in enumerate(places) if mask >> place & 1)


def _chosen(parts: Sequence[_Part], room: int) -> tuple[list[int], bool]:
    """For each part the colours of it that go in, and whether all of that was proved."""
    whole = [solve(part.instance, None, Fraction(1)) for part in parts]
    if sum(one.chosen.bit_count() for one in whole) <= room:
        return [one.chosen for one in whole], all(one.proved for one in whole)
    proved = True
    tables: list[list[_Best]] = []
    for part, one in zip(parts, whole, strict=True):
        table, sure = _table(part, min(one.chosen.bit_count(), room))
        tables.append(table)
        proved &= sure
    # The best of the parts so far, by how many pieces they take together.
    best: dict[int, tuple[_Worth, list[int]]] = {0: ((0, 0, 0, 0, ()), [])}
    before = 0
    for part, table in zip(parts, tables, strict=True):
        then: dict[int, tuple[_Worth, list[int]]] = {}
        for taken, (worth, picked) in best.items():
            for size, entry in enumerate(table):
                if taken + size > room:
                    break
                total = _added(worth, entry.worth, before)
                if taken + size not in then or total > then[taken + size][0]:
                    then[taken + size] = (total, [*picked, entry.chosen])
        best, before = then, before + len(part.owned)
    return max(best.values(), key=lambda entry: entry[0])[1], proved


def _table(part: _Part, most: int) -> tuple[list[_Best], bool]:
    """For each size from none on, the best colours of a part."""
    small, kept = reduced(part.instance)
    table, proved = [_Best(0, (0, 0, 0, 0, ()))], True
    for size in range(1, most + 1):
        found, sure = best_of_size(small, size)
        proved &= sure
        chosen = sum(1 << kept[place] for place in bits(found))
        days = int(part.instance.days[np.array(part.instance.answered(chosen), dtype=np.bool_)].sum())
        right = part.instance.right(chosen)
        order = tuple(-place for place in bits(chosen))
        table.append(_Best(chosen, (days, right, -chosen.bit_count(), part.instance.value(chosen), order)))
    return table, proved


def _added(one: _Worth, other: _Worth, before: int) -> _Worth:
    order = (*one[4], *(place - before for place in other[4]))
    return one[0] + other[0], one[1] + other[1], one[2] + other[2], one[3] + other[3], order


def _begun(parts: Sequence[_Part], chosen: Sequence[int], hours: Sequence[Hour]) -> list[dict[str, Begin | None]]:
    """For each hour and category what to begin with: the first word over what is in the tray."""
    return [
        {part.category: _first(part, index, mask, hour) for part, mask in zip(parts, chosen, strict=True)}
        for index, hour in enumerate(hours)
    ]


def _first(part: _Part, index: int, mask: int, hour: Hour) -> Begin | None:
    """The first word; where no school reaches for anything there, what suits best."""
    if not part.thrown[index]:
        return None
    kind, inside = part.kind_of(index), list(bits(mask))
    places = [part.places[at] for at in inside]
    start = part.opinions.first_word(kind, replace(hour.situation, category=part.category), places)
    if start is not None:
        return Begin(start.card, start.book, start.verdict.call, start.verdict.grade)
    fit = [
        (int(part.opinions.best[kind, part.places[at]]), -at)
        for at in inside
        if part.opinions.best[kind, part.places[at]]
    ]
    if not fit:
        return None
    at = -max(fit)[1]
    book, call = part.opinions.deciding(kind, part.places[at])
    return Begin(part.owned[at].card, book, call, call.grade)


def _thrown_on(parts: Sequence[_Part], firsts: Sequence[dict[str, Begin | None]]) -> list[dict[str, Begin | None]]:
    """What stays on the rod: where the hour before's is as right as the first word, it is kept."""
    rows: list[dict[str, Begin | None]] = []
    for index, row in enumerate(firsts):
        rows.append(
            {
                part.category: _kept(part, index, rows[-1][part.category] if rows else None, row[part.category])
                for part in parts
            }
        )
    return rows


def _kept(part: _Part, index: int, before: Begin | None, first: Begin | None) -> Begin | None:
    if before is None or first is None or before.card is first.card:
        return first
    kind = part.kind_of(index)
    places = {have.card.id: at for at, have in enumerate(part.owned)}
    was, now = places[before.card.id], places[first.card.id]

    def right(at: int) -> tuple[int, int]:
        return sum(mask >> at & 1 for mask in part.first(index)), int(part.opinions.best[kind, part.places[at]])

    if right(was) < right(now):
        return first
    book, call = part.opinions.deciding(kind, part.places[was])
    return Begin(before.card, book, call, call.grade)


def _pieces(
    parts: Sequence[_Part], chosen: Sequence[int], firsts: Sequence[dict[str, Begin | None]], hours: Sequence[Hour]
) -> list[TrayPiece]:
    pieces = []
    for part, mask in zip(parts, chosen, strict=True):
        for at in bits(mask):
            card = part.owned[at].card
            serves = [
                _millionths(hour) for hour, row in zip(hours, firsts, strict=True)
                if (begin := row[part.category]) and begin.card is card
            ]  # fmt: skip
            right = sum(
                Fraction(_millionths(hour) * sum(first >> at & 1 for first in asked), len(asked) * MILLION)
                for index, hour in enumerate(hours) if (asked := part.first(index))
            )  # fmt: skip
            pieces.append(TrayPiece(part.category, card, 1, sum(serves) / MILLION, float(right)))
    return pieces


def _tied(parts: Sequence[_Part], chosen: Sequence[int], hours: Sequence[Hour], rods: int) -> list[TrayPiece]:
    """The lures of the tray to tie on."""
    packed = [(part, at) for part, mask in zip(parts, chosen, strict=True) for at in bits(mask)]
    rows = [_rod_row(part, part.places[at], at, hours) for part, at in packed]
    share = MILLION * parts[0].opinions.shares if parts else MILLION
    return [
        TrayPiece(rows[one.place].category, rows[one.place].card, 1, one.answered / MILLION, one.right / share)
        for one in tie_on(rows, rods)
    ]


def _rod_row(part: _Part, place: int, at: int, hours: Sequence[Hour]) -> RodRow:
    right, answered = [], []
    for index, hour in enumerate(hours):
        asked, length = part.first(index), _millionths(hour)
        first = sum(mask >> at & 1 for mask in asked)
        right.append(length * part.opinions.shares * first // len(asked) if asked else 0)
        fits = part.thrown[index] and part.opinions.best[part.kind_of(index), place]
        answered.append(length if fits else 0)
    return RodRow(part.category, part.owned[at].card, tuple(right), tuple(answered))


def _with_spares(pieces: list[TrayPiece], have: Sequence[Have], room: int) -> list[TrayPiece]:
    owned = {(one.category, one.card.id): one.count for one in have}
    left = room - len(pieces)
    while left > 0:
        able = [
            (piece.hours / piece.count, -at) for at, piece in enumerate(pieces)
            if piece.hours and piece.count < min(MOST_PIECES, owned[piece.category, piece.card.id])
        ]  # fmt: skip
        if not able:
            break
        at = -max(able)[1]
        pieces[at] = replace(pieces[at], count=pieces[at].count + 1)
        left -= 1
    return pieces


def _changes(firsts: Sequence[dict[str, Begin | None]], categories: Sequence[str]) -> list[TrayChange]:
    found = []
    for index in range(1, len(firsts)):
        for category in categories:
            was, now = firsts[index - 1][category], firsts[index][category]
            if was and now and was.card is not now.card:
                found.append(TrayChange(index, category, was.card, now))
    return found


def if_that_fails(
    tray: DayTray,
    hours: Sequence[Hour],
    categories: Sequence[str],
    have: Sequence[Have],
    books: tuple[Rulebook, ...],
    palette: Palette,
    rules: Mapping[str, Thrown] | None = None,
) -> dict[str, Card]:
    """For each category the colour to fall back on: what a tray would begin with of all that is not in this one."""
    taken = {(piece.category, piece.card.id) for piece in tray.pieces}
    rest = [one for one in have if (one.category, one.card.id) not in taken]
    second = pack(hours, categories, rest, books, palette, len(categories), rules=rules)
    return {piece.category: piece.card for piece in reversed(second.pieces) if piece.hours}
