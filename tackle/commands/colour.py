"""A colour of a request: a card of the palette by its id, or one told by its traits."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tackle.base.errors import DataError, InvalidInput
from tackle.colours.colour import Colour, read_card
from tackle.colours.palette import Palette

__all__ = ["read_colour"]


def read_colour(colour: Any, field: str, category: str, palette: Palette, card_id: str = "as-told") -> Colour:
    """A card of the palette by its id, or one told by traits and sRGB hexes, then called `card_id`. Raises
    InvalidInput."""
    if not isinstance(colour, Mapping):
        return palette.card(colour, field, category)
    data = {"id": card_id, "name": "As told", "code": "AT", "sold_in": [category], "brightness": "natural", **colour}
    try:
        return read_card(data, field)
    except DataError as error:
        raise InvalidInput(
            field, str(error), "an id, or a card's traits with back, side and belly as #rrggbb"
        ) from error
