"""The sight command: how alike colours are to the fish, in some water."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, ListOf, Number, OptionalKind, Record, Text, Word
from tackle.base.vocabulary import Brightness, Finish, Flake, Light, Opacity, Tone, ids
from tackle.colours.colour import Colour, Fluorescent
from tackle.colours.light import to_hex
from tackle.colours.palette import Palette, house_palette
from tackle.sight.below import SKIES, outlines, points_below, sky_above
from tackle.sight.flash import find_flashes
from tackle.sight.look import View, light_left, nearest_first, points, screen
from tackle.sight.lure import PARTS
from tackle.sight.parted import IN_DOUBT, call_pairs
from tackle.sight.spectra import EYES, assumptions
from tackle.situations.conditions import CONDITIONS

__all__ = ["sight"]

_MOST: Final = 400
_REQUEST: Final = Record({
    "id": ANYTHING, "eye": OptionalKind(Word(EYES), "bass"),
    "water": Record({name: CONDITIONS[name] for name in ("visibility_in", "stain")}),
    "depth_ft": OptionalKind(Number(0, 200), 0.0), "light": OptionalKind(CONDITIONS["light"].kind, Light.BRIGHT),
    "range_ft": OptionalKind(Number(0, 100)), "colours": ListOf(ANYTHING, _MOST, 1),
    "view": OptionalKind(Word(("side", "below")), "side"), "sky": OptionalKind(Word(SKIES)),
})  # fmt: skip
_HEX: Final = Text(7, 7, re.compile("#[0-9a-fA-F]{6}"), "#rrggbb")
_SHARE: Final = Number(0, 1)
_GLOW: Final = Record({"excites": ListOf(Number(300, 720), 2, 2), "emits": Number(300, 720), "yield": _SHARE})
_PAINTED: Final = Record({
    **{part: OptionalKind(_HEX) for part in PARTS},
    "opacity": OptionalKind(Record({part: OptionalKind(_SHARE, 1.0) for part in PARTS})),
    "finish": OptionalKind(Word(ids(Finish)), Finish.MATTE), "fluorescent": OptionalKind(_GLOW),
})  # fmt: skip
_BELOW_PARTS: Final = ("belly",)
_ONE: Final = {"one": "yes", "two": "no", IN_DOUBT: IN_DOUBT}


def sight(request: Mapping[str, Any]) -> dict[str, Any]:
    """Points, pair distances and screen colours. Raises InvalidInput."""
    asked = _REQUEST.read(request)
    view, named = _view(asked), asked["colours"]
    palette = house_palette()
    cards = [_card(colour, f"colours[{index}]", palette) for index, colour in enumerate(named)]
    names = [colour if isinstance(colour, str) else index for index, colour in enumerate(named)]
    shown, water = screen(cards, view)
    below = asked["view"] == "below"
    sky = asked["sky"] or sky_above(view.light)
    places = points_below(cards, view, sky) if below else points(cards, view)
    called = call_pairs(cards, replace(view, light=sky) if below else view, below)
    parts_seen = _BELOW_PARTS if below else PARTS
    return {
        "range_ft": round(view.distance_ft, 4),
        "light_left": round(light_left(view), 6),
        "points": [
            {"colour": name, "part": part, "hue": round(float(hue), 3), "bright": round(float(bright), 3)}
            for name, seen in zip(names, places, strict=True)
            for part, (hue, bright) in zip(parts_seen, seen, strict=True)
        ],
        "pairs": [
            {
                "first": names[one],
                "second": names[other],
                "apart": round(distance, 3),
                "most": round(float(called.far[one, other]), 3),
                "one": _ONE[called.said(one, other)],
            }
            for one, other, distance in nearest_first(places)
        ],
        "outline": [
            {"colour": name, "contrast": round(float(contrast), 4)}
            for name, contrast in zip(names, outlines(cards, view, sky), strict=True)
        ],
        "flash": [
            {"colour": name, "share": round(flash.share, 4), "bright": round(flash.bright, 2)}
            for name, flash in zip(names, find_flashes(cards, view), strict=True)
        ],
        "screen": [
            {
                "colour": name,
                **{part: to_hex(rgb) for part, rgb in zip(PARTS, parts, strict=True)},
                "water": to_hex(water),
            }
            for name, parts in zip(names, shown, strict=True)
        ],
    }


def _view(asked: Mapping[str, Any]) -> View:
    return View(
        eye=asked["eye"],
        visibility_in=asked["water"]["visibility_in"],
        stain=asked["water"]["stain"],
        depth_ft=asked["depth_ft"],
        light=asked["light"],
        range_ft=asked["range_ft"],
    )


def _card(colour: Any, field: str, palette: Palette) -> Colour:
    """A card by its id, or one painted plainly in the hexes of its parts; a side or belly left out is made up."""
    if isinstance(colour, str):
        return palette.card(colour, field)
    told = _PAINTED.read(colour, field)
    data = {part: told[part].lower() for part in PARTS if told[part]}
    if not data:
        raise _PAINTED.refused(None, field)
    side = data.get("side") or data.get("back") or data["belly"]
    belly = data.get("belly") or _lighter(side, assumptions().number("lure", "no_belly"))
    return Colour(
        field, field, "AT", Tone.WHITE, Opacity.OPAQUE, Finish(told["finish"]), Flake.NONE, Brightness.NATURAL,
        data.get("back", side), side, belly, fluorescent=_glow(told["fluorescent"], f"{field}.fluorescent"),
        solid=tuple(told["opacity"][part] for part in PARTS) if told["opacity"] else None,
    )  # fmt: skip


def _glow(told: Mapping[str, Any] | None, field: str) -> Fluorescent | None:
    if told is None:
        return None
    low, high = told["excites"]
    if not low < high < told["emits"]:
        raise InvalidInput(field, "gives out at no longer wavelength than it takes in", "excites from < to < emits")
    return Fluorescent((low, high), told["emits"], told["yield"])


def _lighter(side: str, share: float) -> str:
    parts = (int(side[at : at + 2], 16) for at in (1, 3, 5))
    return "#" + "".join(f"{round(part + (255 - part) * share):02x}" for part in parts)
