"""Short marks of what a plan was computed from: two are the same only where the contents are."""

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import fields, is_dataclass
from functools import lru_cache
from typing import Any

from tackle.colours.palette import Palette
from tackle.cover.written import FORM
from tackle.schools.rulebook import Rulebook
from web.waters.reads import Days


@lru_cache(maxsize=64)
def mark_of_book(book: Rulebook) -> str:
    return _mark(book.calls)


@lru_cache(maxsize=64)
def mark_of_palette(palette: Palette) -> str:
    return _mark(palette.cards)


def mark_of_rules(palette: Palette, books: Sequence[Rulebook]) -> str:
    """One mark of a palette and some rulebooks, for plans as they are told in this release."""
    return _mark([FORM, mark_of_palette(palette), *map(mark_of_book, books)])


@lru_cache(maxsize=8)
def marks_of_waters(days: Days) -> dict[str, str]:
    """For each water of some days what is expected there, and what of the water itself bears on the answers."""
    rows: dict[str, list[Any]] = {}
    for e in days.kept:
        water = e.water
        told = rows.setdefault(
            water.name, [(water.salinity, water.depth_ft, water.norm_in, water.relative, water.forbidden)]
        )
        told.append(
            (e.band, e.light, e.food, e.season, e.stain, e.wind, e.cover, e.visibility_in, e.temp_f, e.millionths)
        )
    return {name: _mark(told) for name, told in rows.items()}


def _mark(content: Any) -> str:
    return hashlib.sha256(json.dumps(_plain(content)).encode()).hexdigest()[:16]


def _plain(value: Any) -> Any:
    """The same in every process: sets have no order of their own, so they are sorted."""
    if is_dataclass(value) and not isinstance(value, type):
        return [_plain(getattr(value, field.name)) for field in fields(value)]
    if isinstance(value, Mapping):
        return sorted((str(key), _plain(one)) for key, one in value.items())
    if isinstance(value, set | frozenset):
        return sorted(str(one) for one in value)
    return [_plain(one) for one in value] if isinstance(value, tuple | list) else value
