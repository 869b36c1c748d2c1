"""The one store of what is costly and follows from nothing but what it is asked with: in memory, and beyond it on disk.

What is kept is shared: nobody may change it. Its name is a kind and a mark; so it is never stale, only forgotten.
"""

from __future__ import annotations

import gc
import sys
from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum
from functools import wraps
from threading import Lock
from types import FunctionType, ModuleType
from typing import Any, Final, Generic, ParamSpec, Protocol, TypeVar

import numpy as np
from cachetools import LRUCache

from tackle.base.hashing import content_hash

__all__ = ["STORE", "Serializer", "Store", "kept"]

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")

MEGABYTES: Final = 80
_EVERYWHERE = (type, Enum, FunctionType, ModuleType, type(None), bool)
_WITHOUT_PARTS = (str, bytes, int, float)
_FIRST, _SAMPLE = 16, 24


class Disk(Protocol):
    """A place for bytes that outlasts a process, and that several share."""

    def get(self, name: str, version: str) -> bytes | None: ...
    def put(self, name: str, version: str, content: bytes) -> None: ...
    def clear(self) -> None: ...


@dataclass(frozen=True)
class Serializer(Generic[Answer]):
    """How an answer becomes bytes, and one again."""

    pack: Callable[[Answer], bytes]
    unpack: Callable[[bytes], Answer]


@dataclass(frozen=True, slots=True)
class _Held:
    answer: Any
    version: str
    weight: int


class Store:
    """Answers by their names, those longest unasked going first once all together weigh too much.

    An answer that alone weighs more than a quarter of the bound is not kept in memory. It may say itself what it
    `weighs`, in bytes.
    """

    def __init__(self, megabytes: float, disk: Disk | None = None) -> None:
        self._held: LRUCache[str, _Held] = LRUCache(int(megabytes * 2**20), getsizeof=lambda held: held.weight)
        self._lock = Lock()
        self.disk = disk

    def once(
        self,
        kind: str,
        of: Any,
        make: Callable[[], Answer],
        packing: Serializer[Answer] | None = None,
        version: Any = None,
    ) -> Answer:
        """What is kept of this kind for this content (see `content_hash`); where nothing is, what is made of it, to be
        kept.

        With a `packing` it is kept on the disk too, where there is one. `version`: what it follows from is named by
        `of`, and changes: of all its versions that which was made last is kept.
        """
        name, now = f"{kind} {content_hash(of)}", content_hash(version)
        with self._lock:
            held = self._held.get(name)
        if held is not None and held.version == now:
            return held.answer  # type: ignore[no-any-return]
        disk = self.disk if packing else None
        answer = make() if packing is None or disk is None else self._packed(name, now, make, packing, disk)
        self._put(name, now, answer)
        return answer

    def has(self, kind: str, of: Any, version: Any = None) -> bool:
        """Whether it is kept."""
        name, now = f"{kind} {content_hash(of)}", content_hash(version)
        with self._lock:
            held = self._held.get(name)
        here = held is not None and held.version == now
        return here or (self.disk is not None and self.disk.get(name, now) is not None)

    def clear(self) -> None:
        """Forgets what this process holds, and what lies on the disk."""
        with self._lock:
            self._held.clear()
        if self.disk is not None:
            self.disk.clear()

    @staticmethod
    def _packed(name: str, version: str, make: Callable[[], Answer], packing: Serializer[Answer], disk: Disk) -> Answer:
        there = disk.get(name, version)
        if there is not None:
            return packing.unpack(there)
        answer = make()
        disk.put(name, version, packing.pack(answer))
        return answer

    def _put(self, name: str, version: str, answer: Any) -> None:
        most = int(self._held.maxsize) // 4
        weight = answer.weighs if hasattr(answer, "weighs") else _estimate_bytes(answer, most)
        if weight <= most:
            with self._lock:
                self._held[name] = _Held(answer, version, weight)


STORE: Final = Store(MEGABYTES)


def kept(kind: str) -> Callable[[Callable[Asked, Answer]], Callable[Asked, Answer]]:
    """Keeps a function's answers by the content of its arguments."""

    def decorate(function: Callable[Asked, Answer]) -> Callable[Asked, Answer]:
        @wraps(function)
        def ask(*args: Asked.args, **named: Asked.kwargs) -> Answer:
            return STORE.once(kind, (args, named), lambda: function(*args, **named))

        return ask

    return decorate


def _estimate_bytes(thing: Any, enough: int) -> int:
    """About how many bytes a thing holds, all its parts counted once; counting stops where it is more than `enough`.

    Of a thing with many parts some are weighed, and the others taken to weigh the same. What has a `mark` of its own is
    held elsewhere too, and counts nothing as a part.
    """
    return _weighed([thing], enough, set())


def _weighed(things: list[Any], enough: int, seen: set[int]) -> int:
    weight, left, parts_only = 0, things, bool(seen)
    while left and weight <= enough:
        one = left.pop()
        if id(one) in seen or isinstance(one, _EVERYWHERE) or (parts_only and hasattr(type(one), "mark")):
            continue
        parts_only = True
        seen.add(id(one))
        weight += sys.getsizeof(one, 64)
        if isinstance(one, np.ndarray):
            left.append(one.base)
        elif not isinstance(one, _WITHOUT_PARTS):
            parts = gc.get_referents(one)
            if len(parts) > _FIRST + _SAMPLE:
                left += parts[:_FIRST]
                weight += _of_many(parts[_FIRST:], enough - weight, seen)
            else:
                left += parts
    return weight


def _of_many(parts: list[Any], enough: int, seen: set[int]) -> int:
    """What many parts of one thing weigh, judged by some of them spread over all: to weigh an answer must not take
    longer than to find it. What they share with one another counts with the first that has it."""
    step = len(parts) // _SAMPLE
    judged = parts[::step]
    weight = _weighed(judged[:_FIRST], enough, seen)
    rest = _weighed(judged[_FIRST:], enough, seen)
    return weight + rest * (len(parts) - _FIRST) // max(len(judged) - _FIRST, 1)
