"""Cheap repairs: what can be done to a lure at home, as a change of its card, and what to mind while doing it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import CATEGORIES, Accent, Brightness, Finish, Flake, Group, Opacity
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.data import FOLDER, read_toml
from tackle.data.entry import Entry

_FIELDS: Final = ("id", "words", "caution", "groups", "minutes", "steps")

__all__ = ["REPAIRS", "Repair", "load_repairs", "repaired"]


@dataclass(frozen=True, slots=True)
class Repair:
    """One thing to do: for which groups, in which steps, how long for one, the caution to show, and what it makes of a
    card (None: nothing new)."""

    id: str
    words: str
    caution: str
    groups: frozenset[Group]
    minutes: int
    steps: tuple[str, ...]
    change: Callable[[Colour], Colour | None] = field(compare=False)  # its id tells it


# What paper takes off with the last of the paint.
_PAINTED: Final = frozenset((
    Accent.DARK_BACK, Accent.BARS, Accent.ORANGE_BELLY, Accent.YELLOW_BELLY, Accent.CHARTREUSE_BELLY, Accent.RED_THROAT,
))  # fmt: skip
_CALMER: Final = {Brightness.BRIGHT: Brightness.NATURAL, Brightness.NATURAL: Brightness.MUTED}


def _sanded(card: Colour) -> Colour | None:
    """Matte; what is matte already, a step calmer: a solid one half-solid where the paint thins, and what was painted
    over it gone, the belly pale."""
    if card.finish is not Finish.MATTE:
        return replace(card, finish=Finish.MATTE, brightness=_calm(card, Brightness.BRIGHT))
    if card.brightness is not Brightness.NATURAL:
        return None
    worn = Opacity.SEMI if card.opacity is Opacity.OPAQUE else card.opacity
    accents = tuple(accent for accent in card.accents if accent not in _PAINTED)
    if Accent.PALE_BELLY not in accents:
        accents = (*accents, Accent.PALE_BELLY)
    belly = _towards_white(card.belly)
    return replace(card, brightness=Brightness.MUTED, opacity=worn, accents=accents, belly=belly)


def _pearled(card: Colour) -> Colour | None:
    if card.finish is Finish.PEARL:
        return None
    side, belly = _towards_white(card.side), _towards_white(card.belly)
    calm = _calm(card, Brightness.BRIGHT, *([Brightness.NATURAL] if card.finish is Finish.MATTE else []))
    return replace(card, finish=Finish.PEARL, brightness=calm, side=side, belly=belly)


def _inked(card: Colour) -> Colour | None:
    """Dulled with a marker: a step calmer, as solid as it was. What flashes shines through."""
    if card.finish is Finish.METALLIC or card.flake is not Flake.NONE or card.brightness is not Brightness.NATURAL:
        return None
    return replace(card, brightness=Brightness.MUTED)


def _calm(card: Colour, *those: Brightness) -> Brightness:
    """A step calmer, where it is one of those."""
    return _CALMER[card.brightness] if card.brightness in those else card.brightness


def _with(accent: Accent, *instead_of: Accent) -> Callable[[Colour], Colour | None]:
    def change(card: Colour) -> Colour | None:
        if accent in card.accents:
            return None
        kept = tuple(one for one in card.accents if one not in instead_of)
        return replace(card, accents=(*kept, accent))

    return change


def _thinned(card: Colour) -> Colour | None:
    return replace(card, opacity=Opacity.SEMI) if card.opacity is Opacity.OPAQUE else None


def _plain(card: Colour) -> Colour | None:
    if card.flake is Flake.NONE:
        return None
    return replace(card, flake=Flake.NONE, flake_hues=(), flake_srgb=())


def _towards_white(srgb: str) -> str:
    return "#" + "".join(f"{round(int(srgb[i : i + 2], 16) * 0.55 + 255 * 0.45):02x}" for i in (1, 3, 5))


_CHANGES: Final[Mapping[str, Callable[[Colour], Colour | None]]] = {
    "sand": _sanded,
    "pearl-coat": _pearled,
    "dull-marker": _inked,
    "marker-belly": _with(Accent.ORANGE_BELLY, Accent.PALE_BELLY, Accent.CHARTREUSE_BELLY),
    "marker-throat": _with(Accent.RED_THROAT),
    "dye-tail": _with(Accent.CHARTREUSE_TAIL, Accent.ORANGE_TIPS),
    "dye-tips": _with(Accent.ORANGE_TIPS, Accent.CHARTREUSE_TAIL),
    "thin-skirt": _thinned,
    "pull-flash": _plain,
    "orange-trailer": _with(Accent.ORANGE_TIPS),
    "turn": lambda card: None,  # what lies on its other face is a card of the palette
}


def load_repairs(path: Path) -> tuple[Repair, ...]:
    """The repairs in a TOML file. Raises DataError naming file, entry and field."""
    entries = read_toml(path).get("repair", [])
    return tuple(_read(Entry(raw, path.name, fields=_FIELDS, kind="repair")) for raw in entries)


def _read(entry: Entry) -> Repair:
    name = entry.word("id", tuple(_CHANGES))
    caution = entry.text("caution") if entry.raw.get("caution") else ""
    groups = frozenset(entry.some("groups", Group))
    minutes = entry.whole("minutes", 0, 600)
    return Repair(name, entry.text("words"), caution, groups, minutes, entry.texts("steps"), _CHANGES[name])


REPAIRS: Final = load_repairs(FOLDER / "repairs.toml")


def repaired(card: Colour, category: str, palette: Palette) -> Iterator[tuple[Repair, Colour]]:
    """What a lure of a category could be made into."""
    group = CATEGORIES[category].group
    for repair in REPAIRS:
        if group in repair.groups and (made := repair.change(card)) is not None:
            yield repair, made
    if card.other_face and card.other_face in palette.by_id:
        turn = next(repair for repair in REPAIRS if repair.id == "turn")
        yield turn, palette.by_id[card.other_face]
