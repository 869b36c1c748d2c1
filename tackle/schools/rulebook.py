"""A rulebook: one school's calls, read from a TOML file and checked word by word."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path
from typing import Any, Final

import numpy as np
import tomli_w
from numpy.typing import NDArray

from tackle.base.errors import DataError
from tackle.base.hashing import content_hash
from tackle.base.typed import Number, Table, Word
from tackle.base.vocabulary import CATEGORIES, Grade, Group, ids
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.rule import TRAITS, Conditions, Range, Rule
from tackle.situations.conditions import CHOICES, NUMBERS

__all__ = [
    "Rulebook", "to_entry", "house_rulebooks", "load_rulebook", "on_top", "read_calls", "read_conditions",
    "read_rulebook", "write_rulebook",
]  # fmt: skip

EATEN: Final = "eaten"  # as a value of want.imitates: whatever of when.forage is there
_LONGEST_ID: Final = 80
_CALL_FIELDS: Final = ("id", "for", "when", "want", "wish", "grade", "why", "counts", "off")
_SCHOOL_FIELDS: Final = ("id", "name", "question", "short", "order", "asks")


@dataclass(frozen=True, eq=False)
class Rulebook:
    """One school: what it first asks, and its calls in the order of its file.

    Two rulebooks are the same where their marks are.
    """

    id: str
    name: str
    question: str
    short: str
    order: int
    calls: tuple[Rule, ...]
    asks: frozenset[str] = frozenset()

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash((self.id, self.name, self.question, self.short, self.order, self.calls, self.asks))

    @cached_property
    def from_narrow(self) -> NDArray[np.int64]:
        """For each call its place among all, the narrowest first; calls written as one share a place.

        Shape (len(calls) + 1,): the last is that of silence, behind all others.
        """
        first: dict[str, int] = {}
        for index, call in enumerate(self.calls):
            first.setdefault(call.written, index)
        narrow = sorted(first, key=lambda one: tuple(map(int.__neg__, map(int, self.calls[first[one]].narrowness))))
        places = {written: index for index, written in enumerate(narrow)}
        return np.array([places[call.written] for call in self.calls] + [len(places)], dtype=np.int64)

    def __eq__(self, other: object) -> bool:
        return self is other or (isinstance(other, Rulebook) and self.mark == other.mark)

    def __hash__(self) -> int:
        return hash(self.mark)


def load_rulebook(path: Path) -> Rulebook:
    """The rulebook in a TOML file. Raises DataError naming file, entry and field."""
    return read_rulebook(read_toml(path), path.name)


def read_rulebook(raw: Mapping[str, Any], file: str) -> Rulebook:
    """A rulebook from parsed TOML: a [school] table and [[call]] entries. Raises DataError."""
    school = Entry(raw.get("school"), file, "school", _SCHOOL_FIELDS, "school")
    order = school.whole("order", -1_000_000, 1_000_000)
    asks: frozenset[str] = frozenset()
    if "asks" in school.raw:
        asks = school.words("asks", school.raw["asks"], (*NUMBERS, *CHOICES, *TRAITS))
    calls = read_calls(raw.get("call", []), file, asks=asks)
    return Rulebook(
        school.text("id", most=_LONGEST_ID),
        school.text("name", most=60),
        school.text("question", most=200),
        school.text("short", most=300),
        order,
        calls,
        asks,
    )


def read_calls(
    entries: Any, file: str, *, lifted: bool = False, asks: frozenset[str] = frozenset()
) -> tuple[Rule, ...]:
    """The calls of some [[call]] entries; `lifted` ones outrank a book's own. Raises DataError.

    `asks`: the conditions and traits that are the school's own first question.
    """
    if not isinstance(entries, list) or not entries:
        raise DataError(file, "file", "call", "has no [[call]] entries")
    calls = [call for index, entry in enumerate(entries, 1) for call in _read_entry(entry, file, index)]
    seen: set[str] = set()
    for call in calls:
        if call.id in seen:
            raise DataError(file, call.id, "id", "stands twice")
        seen.add(call.id)
    return tuple(replace(call, lifted=lifted, on_question=_names(call, asks)) for call in calls)


def _names(call: Rule, asks: frozenset[str]) -> bool:
    return any(name in asks for name, _ in (*call.ranges, *call.among, *call.want))


def on_top(book: Rulebook, calls: tuple[Rule, ...]) -> Rulebook:
    """A school with an angler's own calls laid on top of it: one with the id of a call of the book takes its place."""
    if not calls:
        return book
    replaced = {call.written for call in calls}
    kept = [call for call in book.calls if call.written not in replaced]
    return replace(book, calls=(*kept, *(call for call in calls if not call.off)))


def to_entry(calls: Sequence[Rule]) -> dict[str, Any]:
    """The entry of a rulebook file that reads back as some calls, which were written as one."""
    first = calls[0]
    entry: dict[str, Any] = {"id": first.written, "for": sorted(first.categories)}
    when: dict[str, Any] = {name: _range_entry(span) for name, span in first.ranges}
    when |= {name: sorted(values) for name, values in first.among}
    want = {name: sorted(values) for name, values in first.want}
    if first.id != first.written:  # written once for each food eaten
        when["forage"] = sorted(
            food for call in calls for name, values in call.among if name == "forage" for food in values
        )
        entry_want: dict[str, Any] = {**want, "imitates": EATEN}
    else:
        entry_want = dict(want)
    if when:
        entry["when"] = when
    entry["want"] = entry_want
    if first.wish:
        entry["wish"] = {name: sorted(values) for name, values in first.wish}
    entry |= {"grade": first.grade.value, "why": first.why}
    if first.counts:
        entry["counts"] = first.counts
    return entry


def _range_entry(span: Range) -> dict[str, float]:
    edges = (("from", span.low), ("below", span.below))
    return {name: edge for name, edge in edges if math.isfinite(edge)}


def write_rulebook(school: Mapping[str, Any], entries: Sequence[Mapping[str, Any]]) -> str:
    """A rulebook file that `read_rulebook` reads back."""
    return tomli_w.dumps({"school": dict(school), "call": [dict(entry) for entry in entries]})


def _read_entry(raw: Any, file: str, index: int) -> list[Rule]:
    """The calls of one entry: one, or where it wants what is eaten, one for each food it names."""
    want = raw.get("want") if isinstance(raw, Mapping) else None
    if not isinstance(want, Mapping) or want.get("imitates") != EATEN:
        return [_read_call(raw, file, index)]
    when = raw.get("when")
    foods = when.get("forage") if isinstance(when, Mapping) else None
    if (
        not isinstance(foods, list)
        or not all(isinstance(food, str) and food != "unknown" for food in foods)
        or not foods
    ):
        raise DataError(file, str(raw.get("id")), "want.imitates", f'"{EATEN}" needs the foods in when.forage')
    written = Entry(raw, file, kind="call").text("id", most=_LONGEST_ID)
    return [
        _read_call(
            {
                **raw,
                "id": f"{written}/{food}",
                "when": {**when, "forage": food},
                "want": {**want, "imitates": food},
            },
            file,
            index,
            written,
        )
        for food in foods
    ]


def _read_call(raw: Any, file: str, index: int, written: str = "") -> Rule:
    named = raw.get("id") if isinstance(raw, Mapping) else None
    entry = Entry(raw, file, named if isinstance(named, str) else f"call {index}", _CALL_FIELDS, "call")
    categories, names_category = _categories(entry)
    ranges, among = _conditions(entry)
    want, wish = _traits(entry, "want"), _traits(entry, "wish")
    if not want:
        raise entry.error("want", "names no trait")
    return Rule(
        id=entry.text("id", most=_LONGEST_ID),
        categories=categories,
        names_category=names_category,
        ranges=ranges,
        among=among,
        want=want,
        wish=wish,
        grade=entry.one("grade", Grade),
        why=entry.text("why"),
        written=written or entry.text("id", most=_LONGEST_ID),
        # How many conditions more the call counts as.
        counts=entry.whole("counts", 0, 9, 0),
        off=entry.flag("off"),
    )


def read_conditions(raw: Any, file: str, name: str) -> Conditions:
    """What a table of conditions says, as of a call's `when`. Raises DataError."""
    return _conditions(Entry({"when": raw}, file, name, ("when",)))


def _conditions(entry: Entry) -> Conditions:
    ranges, among = [], []
    for condition, value in entry.table("when").items():
        field = f"when.{condition}"
        if condition in NUMBERS:
            ranges.append((condition, _range(entry, field, value)))
        elif condition in CHOICES:
            among.append((condition, entry.words(field, value, dict.fromkeys((*CHOICES[condition], "unknown")))))
        else:
            raise entry.error(field, "is not a condition: " + ", ".join((*NUMBERS, *CHOICES)))
    return tuple(ranges), tuple(among)


def _categories(entry: Entry) -> tuple[frozenset[str], bool]:
    """What the call is for, and whether it names categories rather than groups or everything."""
    words = entry.words("for", entry.raw.get("for"), ("all", *ids(Group), *CATEGORIES))
    named: set[str] = set()
    for word in words:
        named.update(c.id for c in CATEGORIES.values() if word in ("all", c.group, c.id))
    return frozenset(named), words.isdisjoint(("all", *ids(Group)))


def _range(entry: Entry, field: str, value: Any) -> Range:
    edges = entry.read(field, value, Table(Word(("from", "below")), Number()))
    if not edges:
        raise entry.error(field, "is not a range such as { from = 24, below = 36 }")
    found = Range(edges.get("from", -math.inf), edges.get("below", math.inf))
    wraps = field == "when.month"  # months go round: from 11 below 3 is November to February
    if found.low >= found.below and not wraps:
        raise entry.error(field, "is an empty range")
    return found


def _traits(entry: Entry, field: str) -> tuple[tuple[str, frozenset[str]], ...]:
    pairs = []
    for trait, value in entry.table(field).items():
        if trait not in TRAITS:
            raise entry.error(f"{field}.{trait}", "is not a trait: " + ", ".join(TRAITS))
        pairs.append((trait, entry.words(f"{field}.{trait}", value, TRAITS[trait])))
    return tuple(pairs)


def house_rulebooks() -> Mapping[str, Rulebook]:
    """The schools that ship with the app, by id in their own order, loaded once."""
    return loaded(load_rulebooks, FOLDER / "schools")


def load_rulebooks(folder: Path) -> Mapping[str, Rulebook]:
    """The rulebooks of a folder, by id in their own order. Raises DataError naming file, entry and field."""
    books = map(load_rulebook, sorted(folder.glob("*.toml")))
    return {book.id: book for book in sorted(books, key=lambda book: book.order)}
