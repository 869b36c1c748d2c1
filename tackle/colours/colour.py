"""A colour card: one lure colour, told by the traits an angler sees and the colours a stick is drawn in."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from tackle.base.hashing import content_hash, to_plain
from tackle.base.vocabulary import (
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
from tackle.data.entry import ID, Entry

__all__ = ["Colour", "Fluorescent", "gone_card", "read_card"]

_HEX: Final = re.compile(r"#[0-9a-f]{6}")


@dataclass(frozen=True, slots=True)
class Fluorescent:
    """Paint that takes in light of some wavelengths and gives it out around another (nm): of a hundred photons taken in
    `quantum_yield` times as many."""

    excites: tuple[float, float]
    emits: float
    quantum_yield: float


@dataclass(frozen=True)
class Colour:
    """One colour. `back`, `side`, `belly` and `flake_srgb` are sRGB hexes (#rrggbb). `solid`: how opaque back, side and
    belly are, 0 to 1, where that is told part by part; `fluorescent`: where it is told of the colour itself."""

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
    read_as: str = ""  # the name with its traits behind commas, as typed lines are held against it; else the name
    other_face: str | None = None  # of a two-faced laminate, the card whose colour the other side carries
    solid: tuple[float, float, float] | None = None
    fluorescent: Fluorescent | None = None

    def __hash__(self) -> int:
        return hash(self.id)  # as good as all the fields together, and asked for a hundred thousand times in a check

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash(to_plain(self))

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


def gone_card(card_id: str) -> Colour:
    """Stands for a card that is not there any more, where a lure still has it."""
    grey = "#8b989b"
    return Colour(
        card_id, "A colour that is gone", "--", Tone.SMOKE, Opacity.SEMI, Finish.MATTE, Flake.NONE, Brightness.MUTED,
        grey, grey, grey,
    )  # fmt: skip


def read_card(raw: Mapping[str, Any], file: str) -> Colour:
    """A card from one entry of a palette file. Raises DataError naming file, entry and field."""
    read = Entry(raw, file, fields=Colour.__dataclass_fields__, kind="card")
    card = Colour(
        id=read.text("id", ID),
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
        flake_srgb=read.texts("flake_srgb"),
        accents=read.some("accents", Accent),
        imitates=read.some("imitates", Forage),
        sold_in=_sold_in(read),
        also=read.texts("also"),
        read_as=read.text("read_as") if "read_as" in raw else "",
        other_face=read.text("other_face", ID) if "other_face" in raw else None,
        solid=_solid(read) if "solid" in raw else None,
        fluorescent=_fluorescent(read) if "fluorescent" in raw else None,
    )
    if (card.flake is Flake.NONE) != (not card.flake_hues):
        raise read.error("flake_hues", "go with a flake, and a flake with its hues")
    if len(card.flake_srgb) != len(card.flake_hues) or not all(map(_HEX.fullmatch, card.flake_srgb)):
        raise read.error("flake_srgb", "needs one sRGB hex for each of flake_hues")
    return card


def _solid(read: Entry) -> tuple[float, float, float]:
    back, side, belly = read.numbers("solid", 3)
    if not all(0 <= one <= 1 for one in (back, side, belly)):
        raise read.error("solid", "is the share of back, side and belly that is opaque, 0 to 1 each")
    return back, side, belly


def _fluorescent(read: Entry) -> Fluorescent:
    """From [excites from, excites to, emits, yield]."""
    low, high, emits, share = read.numbers("fluorescent", 4)
    if not (300 <= low < high < emits <= 720 and 0 < share <= 1):
        raise read.error(
            "fluorescent", "is from and to which wavelength it excites, around which it emits, and a yield"
        )
    return Fluorescent((low, high), emits, share)


def _sold_in(read: Entry) -> tuple[str, ...]:
    """Category ids; a group's id stands for its categories."""
    named: set[str] = set()
    for value in read.texts("sold_in"):
        if value in ids(Group):
            named.update(category.id for category in CATEGORIES.values() if category.group == value)
        elif value in CATEGORIES:
            named.add(value)
        else:
            raise read.error("sold_in", f"{value!r} is not a category or a group")
    return tuple(category for category in CATEGORIES if category in named)
