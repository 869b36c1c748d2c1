"""Marks: short, the same in every process wherever the content is the same, and other wherever it is not."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import fields
from datetime import date
from decimal import Decimal
from fractions import Fraction
from functools import cache
from hashlib import blake2b
from operator import attrgetter
from typing import Any, Final

__all__ = ["content_hash", "to_plain"]

_WORDED: Final = (date, Decimal, Fraction)


def content_hash(content: Any) -> str:
    """The mark of plain values, dates, sequences, mappings, sets, and dataclasses of such. Raises TypeError for others.

    What has a `mark` of its own stands by that. Keys of a dict are words: JSON writes 1 as it does "1".
    """
    return blake2b(_written(content).encode(), digest_size=16).hexdigest()


# One canonical form: JSON, whose C encoder walks through all that is plain and asks for what is not.
_written: Final = json.JSONEncoder(default=lambda value: _plain(value), check_circular=False).encode


def _plain(value: Any) -> Any:
    own = getattr(value, "mark", None)
    if own is not None:
        return {"mark": own}
    if isinstance(value, set | frozenset):
        words = all(isinstance(one, str) for one in value)
        return {"set of words": sorted(value)} if words else {"set": sorted(map(_written, value))}
    if isinstance(value, _WORDED):
        return {"words": [type(value).__name__, str(value)]}
    if isinstance(value, Mapping):
        return {"mapping": [[key, one] for key, one in value.items()]}
    return to_plain(value)


def to_plain(whole: Any) -> dict[str, list[Any]]:
    """What a dataclass holds, by its name, to be marked: of its fields those by which two are told apart."""
    return {type(whole).__qualname__: [read(whole) for read in _reads(whole.__class__)]}


@cache
def _reads(kind: Any) -> tuple[Callable[[Any], Any], ...]:
    return tuple(attrgetter(field.name) for field in fields(kind) if field.compare)
