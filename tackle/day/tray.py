"""The tray for one day: of what is owned the few pieces that answer its hours, and which of them to begin with when.

Each hour counts once for each category. A trailer is part of its jig: where some are owned, a jig is answered and
right together with one, as in the plan.
"""

from __future__ import annotations

from collections.abc import Collection, Container, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Final

from tackle.base.vocabulary import CATEGORIES, TRAILER, Grade
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.palette import Palette
from tackle.cover.instance import bits
from tackle.cover.opinions import gather_opinions
from tackle.cover.pairs import Pairs, make_pairs
from tackle.cover.plan import Request
from tackle.cover.problem import make_colours
from tackle.day.choosing import Part, choose
from tackle.day.rods import RodRow, tie_on
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import MILLION
from tackle.situations.situation import Situation, in_category
from tackle.situations.thrown import Thrown, thrown_by_default

__all__ = ["Begin", "DayTray", "Have", "Hour", "RodPiece", "TrayChange", "TrayPiece", "kinds_thrown",
           "pack"]  # fmt: skip

MOST_PIECES: Final = 3  # of one colour: one is none, and a third lies in the other tray
_SERVES_MUCH: Final = 2.0  # hours: what serves more comes in two pieces


@dataclass(frozen=True, slots=True)
class Hour:
    """A part of the day: when it begins, how many hours it is, and its situation; `own`: what is other for some
    categories, such as how deep they work."""

    at: str
    hours: float
    situation: Situation
    own: Mapping[str, Situation] = field(default_factory=dict)

    def of(self, category: str) -> Situation:
        """What the schools are asked of a category then."""
        return self.own.get(category) or in_category(self.situation, category)

    @property
    def millionths(self) -> int:
        return round(self.hours * MILLION)


@dataclass(frozen=True, slots=True)
class Have:
    """What is owned of one colour in one category."""

    category: str
    card: Colour
    count: int


@dataclass(frozen=True, slots=True)
class TrayPiece:
    """A colour in the tray: pieces of it, the hours it serves, and those on which it is a first choice, as shares.
    `is_fallback`: it is there for when the others fail."""

    category: str
    card: Colour
    count: int
    hours: float
    right_hours: float
    is_fallback: bool = False


@dataclass(frozen=True, slots=True)
class RodPiece:
    """What is tied on a rod, with the hours in which it is the best of those tied on."""

    category: str
    card: Colour
    trailer: Colour | None
    hours: float
    right_hours: float
    rod: int  # by its place among the rods told; past them where it is none of those


@dataclass(frozen=True, slots=True)
class Begin:
    """What to begin an hour with in one category, who says so, and the trailer on a jig."""

    card: Colour
    book: Rulebook
    call: Rule
    trailer: Colour | None = None

    @property
    def grade(self) -> Grade:
        return self.call.grade

    @property
    def why(self) -> str:
        return self.call.why


@dataclass(frozen=True, slots=True)
class TrayChange:
    """At one of the hours, by its index, the colour to begin with becomes another, or the trailer on the same jig."""

    index: int
    category: str
    was: Begin
    now: Begin


@dataclass(frozen=True, slots=True)
class DayTray:
    """The day's tray. `firsts` goes with the hours: for each category what to begin with, None where nothing fits."""

    pieces: tuple[TrayPiece, ...]
    expected_hours: float
    answered_hours: float
    right_hours: float
    first_choice_hours: float
    proved: bool
    firsts: tuple[dict[str, Begin | None], ...]
    drawn: tuple[dict[str, Begin | None], ...]  # the same, but what is as right as the first word stays on the rod
    changes: tuple[TrayChange, ...]
    idle: tuple[str, ...]  # kinds that are not thrown in any of the hours
    rods: tuple[RodPiece, ...]
    fallbacks: Mapping[str, Colour]  # by category what to fall back on: in the tray where there was room


def kinds_thrown(categories: Sequence[str], have: Sequence[Have]) -> list[str]:
    """The categories of a day, without trailers where they are threaded on its jigs."""
    jigs = any(CATEGORIES[category].takes_trailer for category in categories)
    trailers = any(one.category == TRAILER and one.count for one in have)
    return [category for category in categories if category != TRAILER or not (jigs and trailers)]


def pack(
    hours: Sequence[Hour],
    categories: Sequence[str],
    have: Sequence[Have],
    books: tuple[Rulebook, ...],
    palette: Palette,
    room: int,
    rods: int = 0,
    rules: Mapping[str, Thrown] | None = None,
    lock: Container[tuple[str, str]] = (),
    own_rods: Sequence[Collection[str]] = (),
    with_fallbacks: bool = True,
) -> DayTray:
    """The tray of at most `room` pieces: most category-hours answered, then most right, then the fewest colours, then
    suitability, then the order of the categories and the palette's. Exact where it says so.

    Room left over goes to what each category falls back on, then to second and third pieces. `rods`: for how many
    something is tied on. `rules`: when each category is thrown, where the angler says otherwise than is usual. `lock`:
    what goes in whatever it costs, by category and card id. `own_rods`: the categories that each rod told takes, none:
    any.
    """
    data, listed = rules or {}, kinds_thrown(categories, have)
    days, trailers, proved = _packed(hours, listed, have, books, palette, room, data, lock)
    pieces, drawn = _pieces(days, trailers, lock)
    fallbacks = _fallbacks(pieces, hours, listed, have, books, palette, data) if with_fallbacks else {}
    added = _with_room(pieces, fallbacks, room)
    for kind in days:
        kind.add(added.get(kind.category))
    if added:
        pieces, drawn = _pieces(days, trailers, {*_locked(pieces, lock), *((w, c.id) for w, c in added.items())})
    pieces = [
        replace(piece, is_fallback=not piece.hours and added.get(piece.category) is piece.card) for piece in pieces
    ]
    expected = [hour.millionths for kind in days for hour, is_it in zip(hours, kind.thrown, strict=True) if is_it]
    return DayTray(
        pieces=tuple(_with_spares(pieces, have, room)),
        expected_hours=sum(expected) / MILLION,
        answered_hours=sum(kind.part.reach(kind.packed) for kind in days) / MILLION,
        right_hours=float(sum((kind.right_hours(kind.packed) for kind in days), Fraction(0))),
        first_choice_hours=sum(kind.part.first_choice(kind.packed) for kind in days) / MILLION,
        proved=proved,
        firsts=tuple(_firsts(days)),
        drawn=tuple(drawn),
        changes=tuple(_changes(drawn, listed)),
        idle=tuple(kind.category for kind in days if not any(kind.thrown)),
        rods=tuple(_tied(days, [piece for piece in pieces if not piece.is_fallback], rods, own_rods)),
        fallbacks=fallbacks,
    )


def _packed(
    hours: Sequence[Hour], listed: Sequence[str], have: Sequence[Have], books: tuple[Rulebook, ...], palette: Palette,
    room: int, data: Mapping[str, Thrown], lock: Container[tuple[str, str]],
) -> tuple[list[_Kind], int, bool]:  # fmt: skip
    """The kinds of lure with what is packed of each, the trailers packed, and whether it is proved to be the best."""
    days = [
        _Kind(category, hours, have, books, palette, data.get(category) or thrown_by_default(category), lock)
        for category in listed
    ]
    chosen, trailers, proved = choose([kind.part for kind in days], room)
    for kind, mask in zip(days, chosen, strict=True):
        kind.packed = mask
    return days, trailers, proved


def _firsts(days: Sequence[_Kind]) -> list[dict[str, Begin | None]]:
    count = len(days[0].hours) if days else 0
    return [{kind.category: kind.first(index) for kind in days} for index in range(count)]


def _pieces(
    days: Sequence[_Kind], trailers: int, lock: Container[tuple[str, str]]
) -> tuple[list[TrayPiece], list[dict[str, Begin | None]]]:
    """One piece of each colour packed that serves an hour, is right on one or is locked; and what is drawn when."""
    drawn = _drawn(days, _firsts(days))
    pieces = [piece for kind in days for piece in kind.pieces(drawn)]
    pieces += _trailer_pieces([kind for kind in days if isinstance(kind.part, Pairs)], trailers, drawn)
    kept = [one for one in pieces if one.hours or one.right_hours or (one.category, one.card.id) in lock]
    return kept, drawn


def _locked(pieces: Sequence[TrayPiece], lock: Container[tuple[str, str]]) -> Iterator[tuple[str, str]]:
    return ((piece.category, piece.card.id) for piece in pieces if (piece.category, piece.card.id) in lock)


def _fallbacks(
    pieces: Sequence[TrayPiece], hours: Sequence[Hour], listed: Sequence[str], have: Sequence[Have],
    books: tuple[Rulebook, ...], palette: Palette, data: Mapping[str, Thrown],
) -> dict[str, Colour]:  # fmt: skip
    """For each category the colour of another family that serves most hours of a tray of the rest; that of which most
    hours are in the tray first."""
    taken = {(piece.category, family(piece.card, piece.category)) for piece in pieces}
    rest = [
        one for one in have
        if (one.category, family(one.card, one.category)) not in taken or (one.category == TRAILER not in listed)
    ]  # fmt: skip
    days, trailers, _ = _packed(hours, listed, rest, books, palette, 2 * len(listed), data, ())
    served = dict.fromkeys(listed, 0.0)
    for piece in pieces:
        served[piece.category] = served.get(piece.category, 0.0) + piece.hours
    best: dict[str, TrayPiece] = {}
    for piece in _pieces(days, trailers, ())[0]:
        known = best.get(piece.category)
        if piece.category in listed and piece.hours and (known is None or piece.hours > known.hours):
            best[piece.category] = piece
    return {category: best[category].card for category in sorted(best, key=lambda one: -served[one])}


def _with_room(pieces: Sequence[TrayPiece], fallbacks: Mapping[str, Colour], room: int) -> dict[str, Colour]:
    """The fallbacks that there is room for beside some pieces."""
    return dict(list(fallbacks.items())[: max(room - len(pieces), 0)])


class _Kind:
    """One kind of lure on the day: what is owned of it and what the schools say, hour by hour."""

    def __init__(
        self, category: str, hours: Sequence[Hour], have: Sequence[Have], books: tuple[Rulebook, ...], palette: Palette,
        rule: Thrown, lock: Container[tuple[str, str]],
    ) -> None:  # fmt: skip
        self.category, self.hours = category, hours
        self.situations = tuple(hour.of(category) for hour in hours)
        self.thrown = tuple(rule.on(situation) for situation in self.situations)
        mine, trailers = (
            frozenset(one.card.id for one in have if one.category == place and one.count)
            for place in (category, TRAILER)
        )
        request = Request(
            category,
            books,
            self.situations,
            tuple(hour.hours if is_it else 0.0 for hour, is_it in zip(hours, self.thrown, strict=True)),
            owned=mine,
            ban=palette.ids_in(category) - mine,
            lock=frozenset(card for card in mine if (category, card) in lock),
            lock_trailers=frozenset(card for card in trailers if (TRAILER, card) in lock),
            owned_trailers=trailers,
            ban_trailers=palette.ids_in(TRAILER) - trailers,
        )
        self.part: Part
        if CATEGORIES[category].takes_trailer and trailers:
            self.part = make_pairs(request, palette)
        else:
            self.part = make_colours(
                request, gather_opinions(category, books, self.situations, False, Grade.WORKS, palette)
            )
        self.packed = 0

    @property
    def trailers(self) -> int:
        """The trailers packed, by their places among the trailers."""
        return self.packed >> len(self.part.jigs) if isinstance(self.part, Pairs) else 0

    @property
    def cards(self) -> list[tuple[int, Colour]]:
        """The colours packed of the kind itself, by their places among the pieces."""
        return [
            (place, card)
            for place in bits(self.packed)
            for category, card in (self.part.pieces[place],)
            if category == self.category
        ]

    def add(self, card: Colour | None) -> None:
        """Packs a colour of the kind beside what is packed."""
        for index, (category, one) in enumerate(self.part.pieces):
            if one is card and category == self.category:
                self.packed |= 1 << index

    def first(self, index: int) -> Begin | None:
        """What to begin an hour with: the first word over what is packed."""
        return self._begun(index, [card for _, card in self.cards]) if self.thrown[index] else None

    def _begun(self, index: int, cards: Sequence[Colour]) -> Begin | None:
        lead, kind = self.part.lead, self.part.lead_kind(int(self.part.kind_indices[index]))
        place = lead.leader(kind, [lead.cards.index(card) for card in cards])
        if place is None:
            return None
        return Begin(lead.cards[place], *lead.advice_for(kind, place), self.trailer_on(index, lead.cards[place]))

    def trailer_on(self, index: int, jig: Colour) -> Colour | None:
        """What leads of the trailers packed, to be threaded on a jig in an hour."""
        if not isinstance(self.part, Pairs) or not self.trailers:
            return None
        return self.part.trailer_on(jig, int(self.part.kind_indices[index]), self.trailers)

    def kept(self, index: int, before: Begin | None, first: Begin | None) -> Begin | None:
        """What stays on the rod: where the hour before's is as right as the first word, it is kept."""
        if before is None or first is None or before.card is first.card:
            return first
        kind = int(self.part.kind_indices[index])
        places = {card: place for place, card in self.cards}

        def right(card: Colour) -> tuple[int, int]:
            data = self.part.firsts_at(kind, self.packed)
            return sum(mask >> places[card] & 1 for _, mask in data), self.part.suit(kind, places[card], self.packed)

        if right(before.card) < right(first.card):
            return first
        return self._begun(index, [before.card])

    def right_hours(self, chosen: int, part_of: int = -1) -> Fraction:
        """The hours on which a set is right, by shares of the schools: those of some of its pieces."""
        total = Fraction(0)
        for index, hour in enumerate(self.hours):
            data = self.part.firsts_at(int(self.part.kind_indices[index]), chosen) if self.thrown[index] else []
            if data:
                total += Fraction(hour.millionths * sum(bool(mask & part_of) for _, mask in data), len(data) * MILLION)
        return total

    def pieces(self, drawn: Sequence[Mapping[str, Begin | None]]) -> Iterator[TrayPiece]:
        """The colours packed of the kind itself, with the hours in which each is drawn."""
        for place, card in self.cards:
            serves = _hours(self.hours, [(one := row[self.category]) is not None and one.card is card for row in drawn])
            yield TrayPiece(self.category, card, 1, serves, float(self.right_hours(self.packed, 1 << place)))

    def rods(self, pieces: Sequence[TrayPiece]) -> Iterator[RodRow]:
        """What of it can be tied on: each colour packed, or each jig with each trailer."""
        counts = {piece.card: piece.count for piece in pieces if piece.category == self.category}
        jigs = len(self.part.jigs) if isinstance(self.part, Pairs) else 0
        for place, card in self.cards:
            for trailer in bits(self.trailers) if self.trailers else (None,):
                chosen = 1 << place if trailer is None else 1 << place | 1 << jigs + trailer
                done = self.part.answers(chosen)
                right, answered = [], []
                for index, hour in enumerate(self.hours):
                    kind, length = int(self.part.kind_indices[index]), hour.millionths if self.thrown[index] else 0
                    hit, asked = self.part.hit(kind, chosen)
                    right.append(length * self.part.lead.shares * hit // asked if asked else 0)
                    answered.append(length if done[kind] else 0)
                with_it = self.part.pieces[jigs + trailer][1] if trailer is not None else None
                if card in counts:
                    yield RodRow(self.category, card, with_it, counts[card], tuple(right), tuple(answered))


def _hours(hours: Sequence[Hour], which: Sequence[bool]) -> float:
    return sum(hour.millionths for hour, is_it in zip(hours, which, strict=True) if is_it) / MILLION


def _drawn(days: Sequence[_Kind], firsts: Sequence[dict[str, Begin | None]]) -> list[dict[str, Begin | None]]:
    rows: list[dict[str, Begin | None]] = []
    for index, row in enumerate(firsts):
        before = rows[-1] if rows else {}
        rows.append({kind.category: kind.kept(index, before.get(kind.category), row[kind.category]) for kind in days})
    return rows


def _trailer_pieces(
    days: Sequence[_Kind], trailers: int, drawn: Sequence[Mapping[str, Begin | None]]
) -> Iterator[TrayPiece]:
    """The trailers packed: the hours, of all jigs together, in which each is threaded on, and on which it is right."""
    for place in bits(trailers):
        serves, right, card = 0.0, Fraction(0), None
        for kind in days:
            assert isinstance(kind.part, Pairs)
            card = kind.part.trailers[place]
            rows = [row[kind.category] for row in drawn]
            serves += _hours(kind.hours, [one is not None and one.trailer is card for one in rows])
            right += kind.right_hours(kind.packed, 1 << len(kind.part.jigs) + place)
        assert card is not None
        yield TrayPiece(TRAILER, card, 1, serves, float(right))


def _tied(
    days: Sequence[_Kind], pieces: Sequence[TrayPiece], rods: int, own: Sequence[Collection[str]]
) -> Iterator[RodPiece]:
    """The lures of the tray to tie on: what makes most hours right, then what serves most."""
    rows = [row for kind in days for row in kind.rods(pieces)]
    share = MILLION * days[0].part.lead.shares if days else MILLION
    hours = {(piece.category, piece.card): piece.hours for piece in pieces}
    for one in tie_on(rows, rods, [hours[row.category, row.card] for row in rows], own):
        row = rows[one.place]
        yield RodPiece(row.category, row.card, row.trailer, one.answered / MILLION, one.right / share, one.rod)


def _with_spares(pieces: list[TrayPiece], have: Sequence[Have], room: int) -> list[TrayPiece]:
    """Room left over: a second piece of what serves much, then one at a time to what has the most hours a piece."""
    owned = {(one.category, one.card.id): one.count for one in have}
    for second in (True, False):
        while sum(piece.count for piece in pieces) < room:
            able = [
                (piece.hours / piece.count, -at) for at, piece in enumerate(pieces)
                if piece.hours and piece.count < min(MOST_PIECES, owned[piece.category, piece.card.id])
                and (not second or (piece.count == 1 and piece.hours > _SERVES_MUCH))
            ]  # fmt: skip
            if not able:
                break
            at = -max(able)[1]
            pieces[at] = replace(pieces[at], count=pieces[at].count + 1)
    return pieces


def _changes(rows: Sequence[Mapping[str, Begin | None]], categories: Sequence[str]) -> Iterator[TrayChange]:
    for index in range(1, len(rows)):
        for category in categories:
            was, now = rows[index - 1][category], rows[index][category]
            if was and now and (was.card is not now.card or was.trailer is not now.trailer):
                yield TrayChange(index, category, was, now)
