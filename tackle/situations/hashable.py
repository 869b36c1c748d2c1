"""A mapping that never changes, and can be a key."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TypeVar

__all__ = ["HashedTable"]

K = TypeVar("K")
V = TypeVar("V")


class HashedTable(Mapping[K, V]):
    """Equal to any mapping with the same content; its values can be hashed too."""

    __slots__ = ("_hash", "_items")

    def __init__(self, items: Mapping[K, V]) -> None:
        self._items = dict(items)
        self._hash = hash(frozenset(self._items.items()))

    def __getitem__(self, key: K) -> V:
        return self._items[key]

    def __iter__(self) -> Iterator[K]:
        return iter(self._items)

    def __len__(self) -> int:
        return len(self._items)

    def __eq__(self, other: object) -> bool:
        if isinstance(other, HashedTable):
            return self._hash == other._hash and self._items == other._items
        return isinstance(other, Mapping) and self._items == dict(other)

    def __hash__(self) -> int:
        return self._hash
