"""The sight command: how alike colours are to the fish, in some water."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from tackle.colours.card import Card
from tackle.colours.light import hex_of
from tackle.colours.palette import Palette, house_palette
from tackle.commands.fields import known_fields, list_of, number
from tackle.errors import Refused
from tackle.sight.look import View, light_left, nearest_first, points, screen
from tackle.sight.lure import PARTS
from tackle.sight.spectra import EYES, assumptions
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.vocabulary import Brightness, Finish, Flake, Light, Opacity, Stain, Tone, ids

__all__ = ["sight"]

_FIELDS: Final = ("id", "eye", "water", "depth_ft", "light", "range_ft", "colours")
_MOST: Final = 400


def sight(request: Mapping[str, Any]) -> dict[str, Any]:
    """Points, pair distances and screen colours. Raises Refused."""
    known_fields(request, _FIELDS)
    view = _view(request)
    named = list_of(request, "colours")
    if not 1 <= len(named) <= _MOST:
        raise Refused("colours", f"has {len(named)} entries", f"1 to {_MOST} colours")
    palette = house_palette()
    cards = [_card(colour, f"colours[{place}]", palette) for place, colour in enumerate(named)]
    names = [colour if isinstance(colour, str) else place for place, colour in enumerate(named)]
    shown, water = screen(cards, view)
    return {
        "range_ft": round(view.distance_ft, 4),
        "light_left": round(light_left(view), 6),
        "points": [
            {"colour": name, "part": part, "hue": round(float(hue), 3), "bright": round(float(bright), 3)}
            for name, places in zip(names, points(cards, view), strict=True)
            for part, (hue, bright) in zip(PARTS, places, strict=True)
        ],
        "pairs": [
            {"first": names[one], "second": names[other], "apart": round(distance, 3)}
            for one, other, distance in nearest_first(cards, view)
        ],
        "screen": [
            {
                "colour": name,
                **{part: hex_of(rgb) for part, rgb in zip(PARTS, parts, strict=True)},
                "water": hex_of(water),
            }
            for name, parts in zip(names, shown, strict=True)
        ],
    }


def _view(request: Mapping[str, Any]) -> View:
    water = request.get("water")
    if not isinstance(water, Mapping):
        raise Refused("water", "is not an object", "an object with visibility_in and stain")
    known_fields(water, ("visibility_in", "stain"))
    visibility = number(water, "visibility_in", None, MAX_VISIBILITY_IN, "water")
    if not visibility:
        raise Refused("water.visibility_in", "is missing or 0", f"a number above 0, to {MAX_VISIBILITY_IN:g}")
    return View(
        eye=_one(request, "eye", EYES, "bass"),
        visibility_in=visibility,
        stain=_one(water, "stain", ids(Stain), "none", "water."),
        depth_ft=number(request, "depth_ft", 0.0, 200),
        light=_one(request, "light", ids(Light), "bright"),
        range_ft=number(request, "range_ft", None, 100),
    )


def _one(raw: Mapping[str, Any], name: str, allowed: tuple[str, ...], otherwise: str, before: str = "") -> str:
    value = raw.get(name, otherwise)
    if value not in allowed:
        raise Refused(f"{before}{name}", f"{str(value)[:60]!r} is not known", allowed)
    return str(value)


def _card(colour: Any, field: str, palette: Palette) -> Card:
    """A card by its id, or one painted plainly in the hexes of its parts; a side or belly left out is made up."""
    if isinstance(colour, str):
        return palette.card(colour, field)
    if not isinstance(colour, Mapping):
        raise Refused(field, "is not a colour", "an id, or an object with back, side and belly as #rrggbb")
    known_fields(colour, PARTS)
    told = {part: _checked(colour[part], f"{field}.{part}") for part in PARTS if colour.get(part) is not None}
    if not told:
        raise Refused(field, "has no part", "back, side and belly as #rrggbb")
    side = told.get("side") or told.get("back") or told["belly"]
    belly = told.get("belly") or _lighter(side, assumptions().number("lure", "no_belly"))
    return Card(
        field, field, "AT", Tone.WHITE, Opacity.OPAQUE, Finish.MATTE, Flake.NONE, Brightness.NATURAL,
        told.get("back", side), side, belly,
    )  # fmt: skip


def _checked(value: Any, field: str) -> str:
    text = value.lower() if isinstance(value, str) else ""
    if len(text) != 7 or text[0] != "#" or any(digit not in "0123456789abcdef" for digit in text[1:]):
        raise Refused(field, f"{str(value)[:20]!r} is no colour", "#rrggbb")
    return text


def _lighter(side: str, share: float) -> str:
    parts = (int(side[at : at + 2], 16) for at in (1, 3, 5))
    return "#" + "".join(f"{round(part + (255 - part) * share):02x}" for part in parts)
