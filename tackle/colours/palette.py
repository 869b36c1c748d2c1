"""The palette: all colour cards, in an order that breaks ties."""

from __future__ import annotations

import string
from collections.abc import Collection, Iterable, Mapping
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from types import MappingProxyType
from typing import Final

from tackle.base.errors import DataError, InvalidInput
from tackle.base.hashing import content_hash
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour, gone_card, read_card
from tackle.data import FOLDER, loaded, read_toml

__all__ = ["PALETTE_FILE", "Palette", "coded_apart", "free_code", "house_palette", "load_palette"]

PALETTE_FILE: Final = FOLDER / "palette.toml"


class Palette:
    """Cards in the palette's own order, by id and by category. Immutable.

    Retired cards are known by id, for what still holds them, but no longer offered.
    """

    def __init__(self, cards: Iterable[Colour], retired: Iterable[Colour] = ()) -> None:
        self.cards: Final = tuple(cards)
        self._retired: Final = tuple(retired)
        self.by_id: Final[Mapping[str, Colour]] = MappingProxyType(
            {card.id: card for card in (*self._retired, *self.cards)}
        )
        self._by_category: Final = MappingProxyType(
            {category: tuple(card for card in self.cards if category in card.sold_in) for category in CATEGORIES}
        )
        self._ids: Final = {
            category: frozenset(card.id for card in cards) for category, cards in self._by_category.items()
        }

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash((self.cards, self._retired))

    def __eq__(self, other: object) -> bool:
        return self is other or (isinstance(other, Palette) and self.mark == other.mark)

    def __hash__(self) -> int:
        return hash(self.mark)

    def sold_in(self, category: str) -> tuple[Colour, ...]:
        """The cards of a category, in the palette's order."""
        return self._by_category[category]

    def ids_in(self, category: str) -> frozenset[str]:
        """The ids of a category's cards."""
        return self._ids[category]

    def known(self, card_id: str) -> Colour:
        """The card with this id, or one that stands for a card that is gone."""
        return self.by_id.get(card_id) or gone_card(card_id)

    def card(self, card_id: str, field: str, category: str | None = None) -> Colour:
        """The card with this id. Raises InvalidInput where there is none, or none in the category."""
        card = self.by_id.get(card_id) if isinstance(card_id, str) else None
        if card is None or (category is not None and category not in card.sold_in):
            where = f" in {category}" if category else ""
            allowed = self.sold_in(category) if category else self.cards
            raise InvalidInput(field, f"{card_id!r} is not a colour{where}", [known.id for known in allowed])
        return card


def load_palette(path: Path) -> Palette:
    """The palette in a TOML file of [[card]] entries. Raises DataError naming file, entry and field."""
    entries = read_toml(path).get("card")
    if not isinstance(entries, list) or not entries:
        raise DataError(path.name, "file", "card", "has no [[card]] entries")
    cards = [read_card(entry, path.name) for entry in entries]
    seen: set[str] = set()
    codes: dict[str, str] = {}
    for card in cards:
        if card.id in seen:
            raise DataError(path.name, card.id, "id", "stands twice")
        seen.add(card.id)
        if (other := codes.setdefault(card.code, card.id)) != card.id:
            raise DataError(path.name, card.id, "code", f"{card.code} is {other}'s")
    for card in cards:
        if card.other_face is not None and card.other_face not in seen - {card.id}:
            raise DataError(path.name, card.id, "other_face", f"{card.other_face!r} is not another card")
    return Palette(cards)


def free_code(taken: Collection[str]) -> str:
    """The first code from Z9 down that is not taken; empty where all are."""
    every = (f"{a}{b}" for a in string.ascii_uppercase[::-1] for b in string.digits[:0:-1] + string.ascii_uppercase)
    return next((one for one in every if one not in taken), "")


def coded_apart(cards: Iterable[Colour], beside: Iterable[Colour]) -> list[Colour]:
    """Cards, none with a code that one `beside` them or an earlier one has: such a card gets a free one."""
    taken = {card.code for card in beside}
    found = []
    for card in cards:
        found.append(replace(card, code=free_code(taken)) if card.code in taken else card)
        taken.add(found[-1].code)
    return found


def house_palette() -> Palette:
    """The palette that ships with the app, loaded once."""
    return loaded(load_palette, PALETTE_FILE)
