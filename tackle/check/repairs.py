"""Cheap repairs: what can be done to a lure at home, as a change of its card, and what to mind while doing it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Final

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.vocabulary import CATEGORIES, Accent, Brightness, Finish, Flake, Group, Opacity

__all__ = ["REPAIRS", "Repair", "repaired"]

_DUST: Final = "Sanding dust: mask and glasses, outdoors; take the hooks off first. Old paint may hold lead."
_FUMES: Final = "Paint and solvent: fresh air, gloves, no flame, away from children; take the hooks off first."
_DYE: Final = "Dye stains and its fumes sting: gloves, fresh air, no flame; let it dry before it meets other baits."
_HOOKS: Final = "Cover or take off the hooks before you handle it."


@dataclass(frozen=True, slots=True)
class Repair:
    """One thing to do: for which groups, what it makes of a card (None: nothing new), and the caution to show."""

    id: str
    words: str
    caution: str
    groups: frozenset[Group]
    change: Callable[[Card], Card | None]


def _sanded(card: Card) -> Card | None:
    if card.finish is Finish.MATTE:
        return None
    calm = Brightness.NATURAL if card.brightness is Brightness.BRIGHT else card.brightness
    return replace(card, finish=Finish.MATTE, brightness=calm)


def _pearled(card: Card) -> Card | None:
    if card.finish is Finish.PEARL:
        return None
    calm = Brightness.NATURAL if card.brightness is Brightness.BRIGHT else card.brightness
    side, belly = _towards_white(card.side), _towards_white(card.belly)
    return replace(card, finish=Finish.PEARL, brightness=calm, side=side, belly=belly)


def _with(accent: Accent, *instead_of: Accent) -> Callable[[Card], Card | None]:
    def change(card: Card) -> Card | None:
        if accent in card.accents:
            return None
        kept = tuple(one for one in card.accents if one not in instead_of)
        return replace(card, accents=(*kept, accent))

    return change


def _thinned(card: Card) -> Card | None:
    return replace(card, opacity=Opacity.SEMI) if card.opacity is Opacity.OPAQUE else None


def _plain(card: Card) -> Card | None:
    if card.flake is Flake.NONE:
        return None
    return replace(card, flake=Flake.NONE, flake_hues=(), flake_srgb=())


def _towards_white(srgb: str) -> str:
    return "#" + "".join(f"{round(int(srgb[i : i + 2], 16) * 0.55 + 255 * 0.45):02x}" for i in (1, 3, 5))


_HARD: Final = frozenset({Group.HARD})
_SOFT: Final = frozenset({Group.SOFT})
_SKIRTED: Final = frozenset({Group.SKIRTED})

REPAIRS: Final = (
    Repair("sand", "Sand it dull", _DUST, _HARD, _sanded),
    Repair("pearl-coat", "Spray a thin pearl coat", _FUMES, _HARD, _pearled),
    Repair(
        "marker-belly", "Orange marker on the belly", _HOOKS, _HARD,
        _with(Accent.ORANGE_BELLY, Accent.PALE_BELLY, Accent.CHARTREUSE_BELLY),
    ),
    Repair("marker-throat", "Red marker on the throat", _HOOKS, _HARD, _with(Accent.RED_THROAT)),
    Repair("dye-tail", "Dye the tail chartreuse", _DYE, _SOFT, _with(Accent.CHARTREUSE_TAIL, Accent.ORANGE_TIPS)),
    Repair("dye-tips", "Dye the tips orange", _DYE, _SOFT, _with(Accent.ORANGE_TIPS, Accent.CHARTREUSE_TAIL)),
    Repair("thin-skirt", "Thin the skirt by a third", _HOOKS, _SKIRTED, _thinned),
    Repair("pull-flash", "Pull the flash out of the skirt", _HOOKS, _SKIRTED, _plain),
    Repair("orange-trailer", "Thread a trailer with orange tips", _HOOKS, _SKIRTED, _with(Accent.ORANGE_TIPS)),
)  # fmt: skip
_TURN: Final = Repair("turn", "Turn it: the other face up", "", frozenset(Group), lambda card: None)


def repaired(card: Card, category: str, palette: Palette) -> Iterator[tuple[Repair, Card]]:
    """What a lure of a category could be made into."""
    group = CATEGORIES[category].group
    for repair in REPAIRS:
        if group in repair.groups and (made := repair.change(card)) is not None:
            yield repair, made
    if card.other_face and card.other_face in palette.by_id:
        yield _TURN, palette.by_id[card.other_face]
