"""A colour card: one lure colour, told by the traits an angler sees and the colours a stick is drawn in."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar, Final, TypeVar

from tackle.errors import DataError
from tackle.vocabulary import (
    CATEGORIES,
    Accent,
    Brightness,
    Finish,
    Flake,
    FlakeHue,
    Forage,
    Group,
    Opacity,
    Tone,
    ids,
)

__all__ = ["Card", "gone_card", "read_card"]

E = TypeVar("E", bound=StrEnum)

_ID: Final = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
_HEX: Final = re.compile(r"#[0-9a-f]{6}")


@dataclass(frozen=True, slots=True)
class Card:
    """One colour. `back`, `side`, `belly` and `flake_srgb` are sRGB hexes (#rrggbb)."""

    weighs: ClassVar[int] = 0  # see tackle.kept

    id: str
    name: str
    code: str
    tone: Tone
    opacity: Opacity
    finish: Finish
    flake: Flake
    brightness: Brightness
    back: str
    side: str
    belly: str
    flake_hues: tuple[FlakeHue, ...] = ()
    flake_srgb: tuple[str, ...] = ()
    accents: tuple[Accent, ...] = ()
    imitates: tuple[Forage, ...] = ()
    sold_in: tuple[str, ...] = ()
    also: tuple[str, ...] = ()
    other_face: str | None = None  # of a two-faced laminate, the card whose colour the other side carries

    def __hash__(self) -> int:
        return hash(self.id)  # as good as all the fields together, and asked for a hundred thousand times in a check

    def traits(self) -> dict[str, Any]:
        """The traits, by the names that calls and answers use."""
        return {
            "tone": self.tone.value,
            "opacity": self.opacity.value,
            "finish": self.finish.value,
            "flake": self.flake.value,
            "flake_hues": [hue.value for hue in self.flake_hues],
            "brightness": self.brightness.value,
            "accents": [accent.value for accent in self.accents],
            "imitates": [forage.value for forage in self.imitates],
        }


def gone_card(card_id: str) -> Card:
    """Stands for a card that is not there any more, where a lure still has it."""
    grey = "#8b989b"
    return Card(
        card_id, "A colour that is gone", "--", Tone.SMOKE, Opacity.SEMI, Finish.MATTE, Flake.NONE, Brightness.MUTED,
        grey, grey, grey,
    )  # fmt: skip


class _Reader:
    """Reads the fields of one entry, naming file and entry in every error."""

    def __init__(self, raw: Mapping[str, Any], file: str, entry: str) -> None:
        self.raw, self.file, self.entry = raw, file, entry

    def error(self, field: str, wrong: str) -> DataError:
        return DataError(self.file, self.entry, field, wrong)

    def text(self, field: str, pattern: re.Pattern[str] | None = None) -> str:
        value = self.raw.get(field)
        if not isinstance(value, str) or not value.strip():
            raise self.error(field, "is missing or not text")
        if pattern and not pattern.fullmatch(value):
            raise self.error(field, f"{value!r} is not of the form {pattern.pattern}")
        return value

    def one(self, field: str, kind: type[E]) -> E:
        value = self.text(field)
        if value not in ids(kind):
            raise self.error(field, f"{value!r} is not one of {', '.join(ids(kind))}")
        return kind(value)

    def many(self, field: str) -> tuple[str, ...]:
        value = self.raw.get(field, [])
        if not isinstance(value, list) or not all(isinstance(item, str) for item in value):
            raise self.error(field, "is not a list of texts")
        return tuple(value)

    def some(self, field: str, kind: type[E]) -> tuple[E, ...]:
        for value in self.many(field):
            if value not in ids(kind):
                raise self.error(field, f"{value!r} is not one of {', '.join(ids(kind))}")
        return tuple(kind(value) for value in self.many(field))


def read_card(raw: Mapping[str, Any], file: str) -> Card:
    """A card from one entry of a palette file. Raises DataError naming file, entry and field."""
    entry = raw.get("id")
    read = _Reader(raw, file, entry if isinstance(entry, str) else "a card with no id")
    for field in raw:
        if field not in Card.__dataclass_fields__:
            raise read.error(field, "is not a field of a card: " + ", ".join(Card.__dataclass_fields__))
    card = Card(
        id=read.text("id", _ID),
        name=read.text("name"),
        code=read.text("code", re.compile(r"[A-Z][A-Z0-9]")),
        tone=read.one("tone", Tone),
        opacity=read.one("opacity", Opacity),
        finish=read.one("finish", Finish),
        flake=read.one("flake", Flake),
        brightness=read.one("brightness", Brightness),
        back=read.text("back", _HEX),
        side=read.text("side", _HEX),
        belly=read.text("belly", _HEX),
        flake_hues=read.some("flake_hues", FlakeHue),
        flake_srgb=read.many("flake_srgb"),
        accents=read.some("accents", Accent),
        imitates=read.some("imitates", Forage),
        sold_in=_sold_in(read),
        also=read.many("also"),
        other_face=read.text("other_face", _ID) if "other_face" in raw else None,
    )
    if (card.flake is Flake.NONE) != (not card.flake_hues):
        raise read.error("flake_hues", "go with a flake, and a flake with its hues")
    if len(card.flake_srgb) != len(card.flake_hues) or not all(map(_HEX.fullmatch, card.flake_srgb)):
        raise read.error("flake_srgb", "needs one sRGB hex for each of flake_hues")
    return card


def _sold_in(read: _Reader) -> tuple[str, ...]:
    """Category ids; a group's id stands for its categories."""
    named: set[str] = set()
    for value in read.many("sold_in"):
        if value in ids(Group):
            named.update(category.id for category in CATEGORIES.values() if category.group == value)
        elif value in CATEGORIES:
            named.add(value)
        else:
            raise read.error("sold_in", f"{value!r} is not a category or a group")
    return tuple(category for category in CATEGORIES if category in named)
