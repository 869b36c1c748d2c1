"""Marks: short, and the same in every process wherever the content is the same."""

import json
from collections.abc import Callable, Mapping
from dataclasses import fields
from functools import lru_cache
from hashlib import blake2b
from operator import attrgetter
from typing import Any, Final

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.schools.rulebook import Rulebook

_PLAIN: Final = (str, int, float, type(None))


def mark_of(content: Any) -> str:
    """The mark of plain values, sequences, mappings, sets and dataclasses of such. Raises TypeError for others."""
    return blake2b(json.dumps(_plain(content)).encode(), digest_size=16).hexdigest()


def _plain(value: Any) -> Any:
    if isinstance(value, _PLAIN):
        return value
    if isinstance(value, tuple | list):
        return [_plain(one) for one in value]
    if isinstance(value, Card):
        return _mark_of_card(value)
    if isinstance(value, Palette | Rulebook):
        return _mark_of_many(value)
    if isinstance(value, Mapping):
        return {"mapping": [[_plain(key), _plain(one)] for key, one in value.items()]}
    if isinstance(value, set | frozenset):
        return {"set": sorted(f"={one}" if isinstance(one, str) else json.dumps(_plain(one)) for one in value)}
    return _told(value)


def _told(whole: Any) -> dict[str, list[Any]]:
    """What a dataclass holds, by its name: of its fields those by which two are told apart."""
    return {type(whole).__qualname__: [_plain(read(whole)) for read in _reads(whole.__class__)]}


@lru_cache(maxsize=256)
def _reads(kind: Any) -> tuple[Callable[[Any], Any], ...]:
    return tuple(attrgetter(one.name) for one in fields(kind) if one.compare)


@lru_cache(maxsize=4096)
def _mark_of_card(card: Card) -> str:
    return mark_of(_told(card))


@lru_cache(maxsize=64)
def _mark_of_many(whole: Palette | Rulebook) -> str:
    return mark_of(tuple(whole.by_id.values()) if isinstance(whole, Palette) else _told(whole))
