"""Where people differ: each debate with its sides, who of the schools is on which, and in whose words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np

from tackle.base.errors import DataError, InvalidInput
from tackle.base.vocabulary import CATEGORIES, Grade
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.evaluation import evaluate, first_choices
from tackle.schools.rulebook import Rulebook, read_calls
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation, read_situation

__all__ = ["Debate", "Side", "Voice", "about", "house_debates", "load_debates", "of_side", "voices"]

_FILE: Final = "debates.toml"
_FIELDS: Final = ("id", "title", "about", "for", "when", "example", "sides")
_SIDE: Final = ("id", "name", "want")
ON_A_SIDE: Final = 0.4  # of the days: a school whose first choices are one side's less often takes none


@dataclass(frozen=True, slots=True)
class Side:
    """One side of a debate: what its colours are, in words."""

    id: str
    name: str


@dataclass(frozen=True, slots=True)
class Debate:
    """What people differ about, where, and a situation to show it by.

    `book`: the sides as the calls of a rulebook, in their order; each wants the colours that its side reaches for.
    """

    id: str
    title: str
    about: str
    categories: tuple[str, ...]
    example: Situation
    sides: tuple[Side, ...]
    book: Rulebook


@dataclass(frozen=True, slots=True)
class Voice:
    """A school on one side: on which share of the days its first choice is that side's, one of those, and why."""

    book: Rulebook
    share: float
    card: Colour
    why: str


def load_debates(path: Path) -> tuple[Debate, ...]:
    """The debates in a TOML file. Raises DataError naming file, entry and field."""
    entries = read_toml(path).get("debate")
    if not isinstance(entries, list) or not entries:
        raise DataError(path.name, "file", "debate", "has no [[debate]] entries")
    return tuple(_debate(Entry(raw, path.name, fields=_FIELDS, kind="debate")) for raw in entries)


def _debate(entry: Entry) -> Debate:
    id_ = entry.text("id", most=40)
    listed = entry.raw.get("sides")
    if not isinstance(listed, list) or len(listed) < 2:
        raise entry.error("sides", "are not two or more")
    sides, calls = [], []
    for raw in listed:
        side = Entry(raw, entry.file, f"{id_}, a side", _SIDE, "side")
        sides.append(Side(side.text("id", most=40), side.text("name", most=60)))
        where = {"for": entry.raw.get("for"), "when": entry.raw.get("when", {})}
        data = {"id": sides[-1].id, "want": side.table("want"), "grade": Grade.GO_TO.value, "why": sides[-1].name}
        calls.append({**where, **data})
    title, about = entry.text("title", most=80), entry.text("about", most=300)
    try:
        example = read_situation(entry.table("example"))
    except InvalidInput as refused:
        raise entry.error("example", str(refused)) from refused
    book = Rulebook(id_, title, title, about, 0, read_calls(calls, entry.file))
    named = book.calls[0].categories
    return Debate(id_, title, about, tuple(c for c in CATEGORIES if c in named), example, tuple(sides), book)


def house_debates() -> tuple[Debate, ...]:
    """The debates that ship."""
    return loaded(load_debates, FOLDER / _FILE)


def voices(
    debate: Debate, days: Mapping[str, Sequence[tuple[Situation, float]]], books: Sequence[Rulebook], palette: Palette
) -> tuple[float, dict[str, list[Voice]]]:
    """How many days hang on a debate, and for each side the schools that take it, the surest first.

    `days`: by category, the situations to expect with their days. Where none of them is of this debate, its example
    is told of, and no day hangs on it.
    """
    met = {}
    for category in debate.categories:
        rows = days.get(category, ())
        if places := about(debate, category, [situation for situation, _ in rows], palette):
            met[category] = [rows[place] for place in places]
    hangs = max((sum(share for _, share in hit) for hit in met.values()), default=0.0)
    data = met or {debate.example.category: [(debate.example, 1.0)]}
    found: dict[str, list[Voice]] = {side.id: [] for side in debate.sides}
    for book in books:
        voice = _voice(debate, data, book, palette)
        if voice:
            found[voice[0]].append(voice[1])
    for each in found.values():
        each.sort(key=lambda one: -one.share)
    return hangs, found


def about(debate: Debate, category: str, situations: Sequence[Situation], palette: Palette) -> list[int]:
    """The places of those situations that the debate is about."""
    if not situations:
        return []
    sides = evaluate(debate.book, category, palette.sold_in(category), tabulate(situations))
    return [int(place) for place in np.flatnonzero((sides >= 0).any(axis=0))]


def _voice(
    debate: Debate, data: Mapping[str, Sequence[tuple[Situation, float]]], book: Rulebook, palette: Palette
) -> tuple[str, Voice] | None:
    """The side that a school takes on most of the days on which it reaches for anything; None where it takes none."""
    by_side: Counter[int] = Counter()
    words: dict[int, Counter[tuple[str, str]]] = {}
    spoken = 0.0
    for category, rows in data.items():
        cards = palette.sold_in(category)
        columns, days = tabulate([one for one, _ in rows]), np.array([share for _, share in rows])
        deciding_rules = evaluate(book, category, cards, columns)
        first = first_choices(book, deciding_rules)
        sides = evaluate(debate.book, category, cards, columns)
        spoken += float(days[first.any(axis=0)].sum())
        for side in range(len(debate.sides)):
            on_it = first & (sides == side)
            mostly = on_it.sum(axis=0) * 2 >= np.maximum(first.sum(axis=0), 1)
            by_side[side] += float(days[mostly].sum())  # type: ignore[assignment]
            for place in np.flatnonzero(mostly & (days > 0)):
                card = int(on_it[:, place].argmax())
                why = book.calls[deciding_rules[card, place]].why
                words.setdefault(side, Counter())[cards[card].id, why] += float(days[place])  # type: ignore[assignment]
    side, most = max(by_side.items(), key=lambda entry: entry[1], default=(0, 0.0))
    if not spoken or most < ON_A_SIDE * spoken:
        return None
    card_id, why = words[side].most_common(1)[0][0]
    return debate.sides[side].id, Voice(book, most / spoken, palette.by_id[card_id], why)


def of_side(debate: Debate, card: Colour) -> Side | None:
    """The side whose colours a card is of, whatever the water; None where it is of none."""
    traits = card.traits()
    return next((side for side, call in zip(debate.sides, debate.book.calls, strict=True) if call.wants(traits)), None)
