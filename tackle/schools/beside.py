"""Size, weight, sound and pace, said beside the colour: advice, never a reason against it."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

from tackle.base.errors import DataError
from tackle.base.units import System, write_length, write_weight
from tackle.colours.colour import Colour
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import Rulebook, read_rulebook
from tackle.situations.situation import Situation

__all__ = ["Beside", "beside", "load_advice"]

_MEASURE: Final = re.compile(r"\{([\d.]+) (in|oz)\}")
_MOST: Final = 3
_ANY_CARD: Final = {"opacity": ["opaque", "semi", "translucent"]}
_FIELDS: Final = ("id", "for", "when", "card", "words")


@dataclass(frozen=True, slots=True)
class Beside:
    """One thing that is said, where its rule, a book of one call, speaks of a card."""

    rule: Rulebook
    words: str
    own: bool  # of some kinds or colours, not of everything

    def said(self, units: System) -> str:
        """The words, with their measures in the reader's units."""
        writers: Mapping[str, Callable[[float, System], str]] = {"in": write_length, "oz": write_weight}
        return _MEASURE.sub(lambda found: writers[found[2]](float(found[1]), units), self.words)


def beside(card: Colour, situation: Situation, units: System, own: bool = False) -> list[str]:
    """What is said of size, weight, sound and pace beside a colour in a situation, what names the day or the colour
    first; three things at most. With `own` only what is said of this kind or this colour, not of everything."""
    data = [one for one in _house() if (one.own or not own) and rank(one.rule, (card,), situation)]
    data.sort(key=lambda one: -one.rule.calls[0].specificity)
    return [one.said(units) for one in data[:_MOST]]


def load_advice(path: Path) -> tuple[Beside, ...]:
    """The advice in a TOML file. Raises DataError naming file, entry and field."""
    entries = read_toml(path).get("advice")
    if not isinstance(entries, list) or not entries:
        raise DataError(path.name, "file", "advice", "has no [[advice]] entries")
    return tuple(_read(Entry(raw, path.name, fields=_FIELDS, kind="advice")) for raw in entries)


def _read(entry: Entry) -> Beside:
    words = entry.text("words")
    call: dict[str, Any] = {"id": entry.text("id"), "for": entry.raw.get("for"), "grade": "works", "why": words}
    call |= {"want": entry.raw.get("card") or _ANY_CARD}
    if "when" in entry.raw:
        call["when"] = entry.raw["when"]
    head = {"id": call["id"], "name": "Beside", "question": "What beside the colour?", "short": "Advice.", "order": 0}
    rule = read_rulebook({"school": head, "call": [call]}, entry.file)
    return Beside(rule, words, rule.calls[0].names_category or "card" in entry.raw)


def _house() -> tuple[Beside, ...]:
    return loaded(load_advice, FOLDER / "size-and-sound.toml")
