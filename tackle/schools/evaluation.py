"""What a school says: every card of a category in many situations at once, and one situation's ranking."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Forage, Grade, Tone
from tackle.colours.colour import Colour
from tackle.schools.rule import Range, Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import Columns, tabulate
from tackle.situations.conditions import CHOICES, CONDITIONS
from tackle.situations.depth import on_top
from tackle.situations.situation import Situation

__all__ = [
    "DayKinds", "Rating", "evaluate", "evaluate_kinds", "first_choices", "food_likeness", "kinds_beside", "group_days",
    "first_choice_ratings", "rank", "ranked", "reaching", "suitability", "worth",
]  # fmt: skip

_RANK: Final = (Grade.GO_TO, Grade.WORKS, Grade.AVOID)
_SUITABILITY: Final = {Grade.GO_TO: 100, Grade.WORKS: 60}
_WIDE: Final = 2**31  # beyond it a number is made smaller, so that the next column's still fits into 63 bits


@dataclass(frozen=True, slots=True)
class Rating:
    """What a school says of one card in one situation, the call that decided, and that call's place `from_narrow`."""

    card: Colour
    grade: Grade
    call: Rule
    place: int


def evaluate(book: Rulebook, category: str, cards: Sequence[Colour], columns: Columns) -> NDArray[np.int16]:
    """The deciding call for every card and situation.

    Shape (len(cards), columns.count): the place in book.calls, or -1 where the school is silent. All the
    situations are taken to be of `category`. Of the calls that apply, the most specific decides, then the
    grade, then the earlier in the file.
    """
    return _decided(book, category, cards, columns.count, lambda sieve: sieve.holds(columns))


def evaluate_kinds(kinds: DayKinds, school: int, cards: Sequence[Colour]) -> NDArray[np.int16]:
    """The same of a school, by its place among those of the kinds, on each kind of day; shape (len(cards), m)."""
    holds = kinds.holds(school)
    book = kinds.books[school]
    return _decided(book, kinds.category, cards, len(kinds.patterns), lambda sieve: holds[sieve.place])


def _decided(
    book: Rulebook, category: str, cards: Sequence[Colour], count: int, holds: Callable[[_Sieve], NDArray[np.bool_]]
) -> NDArray[np.int16]:
    deciding_rules = np.full((len(cards), count), -1, dtype=np.int16)
    for sieve in _sieves(book, category, tuple(cards)):
        where = holds(sieve)
        for row in sieve.rows:
            np.copyto(deciding_rules[row], sieve.place, where=where)
    return deciding_rules


@dataclass(frozen=True, slots=True, eq=False)
class DayKinds:
    """Situations of a category in which the same calls of some schools hold and name as much of what was told, so that
    these say the same of any card at all, with the same weight: m kinds of day, in the order in which they come first.

    `kind_indices` (n,): the place of each situation's kind; `patterns`: for each kind, as bits, which calls hold;
    `first` (m,): the first situation of each.
    """

    books: tuple[Rulebook, ...]
    category: str
    kind_indices: NDArray[np.integer]
    patterns: tuple[bytes, ...]
    first: NDArray[np.intp]

    def holds(self, school: int) -> dict[int, NDArray[np.bool_]]:
        """For each call of a school for the category, by its place in the book, on which kinds it holds; (m,)."""
        places = [_places(book, self.category) for book in self.books]
        wide = -(-sum(map(len, places)) // 8)  # bytes
        bits = np.frombuffer(b"".join(self.patterns), dtype=np.uint8).reshape(len(self.patterns), wide)
        before, mine = sum(map(len, places[:school])), places[school]
        rows = np.unpackbits(bits, axis=1).T[before : before + len(mine)].astype(np.bool_)
        return dict(zip(mine, rows, strict=True))


@dataclass(frozen=True, slots=True)
class _Sieve:
    """A call made ready: its place in the book, the rows of cards it wants, and its conditions as arrays.

    `allowed` holds for each condition of words a table over the vocabulary's places, its last for "unknown".
    """

    place: int
    rows: tuple[int, ...]
    ranges: tuple[tuple[str, Range], ...]
    allowed: tuple[tuple[str, NDArray[np.bool_]], ...]
    food: int | None

    def holds(self, columns: Columns) -> NDArray[np.bool_]:
        """Whether the call's conditions hold in each situation; shape (columns.count,)."""
        mask = np.ones(columns.count, dtype=np.bool_)
        for name, span in self.ranges:
            mask &= _inside(span, columns.numbers[name])
        for name, allowed in self.allowed:
            mask &= allowed[columns.choices[name]]
        if self.food is not None:
            mask &= (columns.forage & self.food) != 0
        return mask


def group_days(books: tuple[Rulebook, ...], category: str, columns: Columns) -> DayKinds:
    """The kinds of day that some situations of a category are."""
    numbered = _numbered([sieve for book in books for sieve in _spoken(book, category)], columns)
    return DayKinds(books, category, *numbered)


def kinds_beside(
    books: tuple[Rulebook, ...], category: str, other: str, columns: Columns
) -> tuple[NDArray[np.integer], NDArray[np.intp]]:
    """The kinds of day that some situations are in two categories at once, whatever the one is threaded on: each
    situation's, shape (n,), and for each kind the first situation of it, (m,)."""
    sieves = [sieve for book in books for sieve in _spoken(book, category)]
    for book in books:
        for sieve in _spoken(book, other):
            sieves.append(replace(sieve, allowed=tuple(one for one in sieve.allowed if one[0] != "with")))
    kind_indices, _, first = _numbered(sieves, columns)
    return kind_indices, first


def _numbered(
    sieves: Sequence[_Sieve], columns: Columns
) -> tuple[NDArray[np.integer], tuple[bytes, ...], NDArray[np.intp]]:
    """The kinds of day by which of some calls hold and how much of what was told they name: each situation's, (n,), in
    the order in which they come first; each kind's calls as bits, and the first situation of it."""
    _, first, met_of = np.unique(_conditions_met(sieves, columns), return_index=True, return_inverse=True)
    some = columns.at(first)
    holds = np.array([sieve.holds(some) for sieve in sieves], dtype=np.bool_).reshape(len(sieves), some.count)
    patterns = [row.tobytes() for row in np.packbits(holds, axis=0).T]
    data = [row.tobytes() for row in _told(sieves, some)]
    kinds: dict[tuple[bytes, bytes], int] = {}
    firsts: list[int] = []
    kind_indices = np.zeros(some.count, dtype=np.int64)
    for place in np.argsort(first).tolist():
        kind_indices[place] = kinds.setdefault((patterns[place], data[place]), len(kinds))
        if len(kinds) > len(firsts):
            firsts.append(int(first[place]))
    narrow = kind_indices.astype(np.min_scalar_type(-1 - len(kinds)))
    return narrow[met_of.reshape(-1)], tuple(pattern for pattern, _ in kinds), np.array(firsts, dtype=np.intp)


def _told(sieves: Sequence[_Sieve], columns: Columns) -> NDArray[np.int64]:
    """What the weight of a call hangs on, beside the call: the food and the season, and which of the conditions that
    calls name were told; (columns.count, k)."""
    ranges = {name for sieve in sieves for name, _ in sieve.ranges}
    words = {name for sieve in sieves for name, _ in sieve.allowed}
    known = [~np.isnan(columns.numbers[name]) for name in sorted(ranges)]
    for name in sorted(words):
        unsaid = CONDITIONS[name].unsaid
        known.append(columns.choices[name] != (-1 if unsaid is None else CHOICES[name].index(unsaid)))
    return np.stack([columns.forage, columns.choices["season"].astype(np.int64), *known], axis=1).astype(np.int64)


def _conditions_met(sieves: Sequence[_Sieve], columns: Columns) -> NDArray[np.int64]:
    """A number for each situation: of one number are none but those that meet the same of all calls' conditions.

    There are many more calls than columns: so situations are told apart by these first, numbers by the marks that calls
    set between them.
    """
    marks: dict[str, set[float]] = {}
    for sieve in sieves:
        for name, span in sieve.ranges:
            marks.setdefault(name, set()).update((span.low, span.below))
    data = [columns.forage, columns.choices["season"].astype(np.int64)]
    for name, of_it in marks.items():
        values = columns.numbers[name]
        data.append(np.where(np.isnan(values), -1, np.searchsorted(sorted(of_it), values, side="right")))
    data += [columns.choices[name].astype(np.int64) for name in {name for sieve in sieves for name, _ in sieve.allowed}]
    number = np.zeros(columns.count, dtype=np.int64)
    for column in data:
        wide = int(column.max(initial=0)) + 2
        number = number * wide + column + 1
        if int(number.max(initial=0)) > _WIDE:
            number = np.unique(number, return_inverse=True)[1].reshape(-1)
    return number


@lru_cache(maxsize=4096)
def _sieves(book: Rulebook, category: str, cards: tuple[Colour, ...]) -> tuple[_Sieve, ...]:
    """The calls for a category that want any of some cards, lowest precedence first, so that later ones overwrite."""
    places = _places(book, category)
    places.sort(key=lambda place: (book.calls[place].precedence, -place))
    traits = [card.traits() for card in cards]
    sieves = []
    for place in places:
        rows = tuple(row for row, has in enumerate(traits) if book.calls[place].wants(has))
        if rows:
            sieves.append(_sieve(book, place, rows))
    return tuple(sieves)


@lru_cache(maxsize=512)
def _spoken(book: Rulebook, category: str) -> tuple[_Sieve, ...]:
    """The calls for a category, whatever cards they want."""
    return tuple(_sieve(book, place, ()) for place in _places(book, category))


def _places(book: Rulebook, category: str) -> list[int]:
    return [index for index, call in enumerate(book.calls) if category in call.categories]


def _sieve(book: Rulebook, place: int, rows: tuple[int, ...]) -> _Sieve:
    call = book.calls[place]
    words = dict(call.among)
    food = words.pop("forage", None)
    allowed = tuple((name, _table(name, values)) for name, values in words.items())
    return _Sieve(place, rows, call.ranges, allowed, None if food is None else _bits(food))


def _table(name: str, values: frozenset[str]) -> NDArray[np.bool_]:
    return np.array([word in values for word in (*CHOICES[name], "unknown")], dtype=np.bool_)


def rank(book: Rulebook, cards: Sequence[Colour], situation: Situation) -> list[Rating]:
    """The cards a school speaks of in one situation, best first, those to avoid last.

    Inside a grade the cards of the narrowest call come first; of one call, those with most of its wanted and wished
    traits, then those that imitate the food most exactly (first of all in water of a fair sight or more), then in the
    order in which they were given.
    """
    return ranked(book, cards, evaluate(book, situation.category, cards, tabulate([situation]))[:, 0], situation)


def ranked(
    book: Rulebook, cards: Sequence[Colour], deciding_rules: NDArray[np.int16], situation: Situation
) -> list[Rating]:
    """The same from what was evaluated already: `deciding_rules` (cards,) of that situation."""
    verdicts = [
        Rating(card, book.calls[place].grade, book.calls[place], int(book.from_narrow[place]))
        for card, place in zip(cards, deciding_rules, strict=True)
        if place >= 0
    ]

    def standing(verdict: Rating) -> tuple[int, int, float, float]:
        matched = float(verdict.call.matched(verdict.card.traits()))
        alike = food_likeness(verdict.card, situation.forage)
        return _RANK.index(verdict.grade), verdict.place, -alike, -matched

    return _by_tone(sorted(verdicts, key=standing), on_top(situation.category))


def _by_tone(verdicts: list[Rating], pale_is_one: bool) -> list[Rating]:
    """Inside a grade the best card of each tone first, then further versions; on the surface white and bone are one."""
    seen: set[tuple[Grade, Tone]] = set()
    rows: dict[tuple[Grade, bool], list[Rating]] = {}
    for verdict in verdicts:
        tone = Tone.WHITE if pale_is_one and verdict.card.tone is Tone.BONE else verdict.card.tone
        version = (verdict.grade, tone) in seen
        seen.add((verdict.grade, tone))
        rows.setdefault((verdict.grade, version), []).append(verdict)
    return [verdict for grade in _RANK for version in (False, True) for verdict in rows.get((grade, version), ())]


def reaching(book: Rulebook, deciding_rules: NDArray[np.int16]) -> NDArray[np.int64]:
    """How narrow the call is by which a school reaches for each card: its place `from_narrow`; past all calls where it
    does not reach for it. `deciding_rules` as `evaluate` gives it; so is the shape."""
    go_to = np.array([call.grade is Grade.GO_TO for call in book.calls] + [False])
    return np.asarray(
        np.where(go_to[deciding_rules], book.from_narrow[deciding_rules], len(book.calls) + 1), dtype=np.int64
    )


def first_choices(book: Rulebook, deciding_rules: NDArray[np.int16]) -> NDArray[np.bool_]:
    """A school's first choices: the go-to cards of the call that decides its best-ranked go-to card.

    `deciding_rules` as `evaluate` gives it, shape (cards, n); so is the result, all False where there is no go-to card.
    """
    behind = len(book.calls) + 1
    places = reaching(book, deciding_rules)
    best = places.min(axis=0, initial=behind)
    return np.asarray((places == best) & (best < behind), dtype=np.bool_)


def worth(grade: Grade, accept: Grade) -> int:
    """The suitability of a grade, in hundredths; 0 where it does not cover."""
    if grade is Grade.WORKS and accept is Grade.GO_TO:
        return 0
    return _SUITABILITY.get(grade, 0)


def suitability(book: Rulebook, deciding_rules: NDArray[np.int16], accept: Grade) -> NDArray[np.int8]:
    """How well each card suits, in hundredths, where a grade of at least `accept` covers; 0 where it does not, and
    where the school is silent. `deciding_rules` as `evaluate` gives it; so is the shape."""
    grades = np.array([worth(call.grade, accept) for call in book.calls] + [0], dtype=np.int8)
    return np.asarray(grades[deciding_rules], dtype=np.int8)


def food_likeness(card: Colour, forage: Sequence[Forage]) -> float:
    """How exactly a card imitates what is eaten: 1 for the first food on its list, 1/2 for the second, and so on."""
    return max((1 / (1 + index) for index, food in enumerate(card.imitates) if food in forage), default=0.0)


def _inside(span: Range, values: NDArray[np.float64]) -> NDArray[np.bool_]:
    if span.low >= span.below:  # a range of months that goes round the turn of the year
        return (values >= span.low) | (values < span.below)
    return (values >= span.low) & (values < span.below)


def _bits(values: frozenset[str]) -> int:
    return sum(1 << CHOICES["forage"].index(value) for value in values)


def first_choice_ratings(verdicts: Sequence[Rating]) -> list[Rating]:
    """What a school reaches for first, of all that `rank` says of it: the go-to cards of its leading call."""
    reached = [verdict for verdict in verdicts if verdict.grade is Grade.GO_TO]
    return [verdict for verdict in reached if verdict.place == reached[0].place]
