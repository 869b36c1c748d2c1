"""Answers kept by what they were asked with, bounded by what they weigh rather than by how many they are."""

from __future__ import annotations

import gc
import sys
from collections import OrderedDict
from collections.abc import Callable, Hashable
from enum import Enum
from functools import wraps
from threading import Lock
from types import FunctionType, ModuleType
from typing import Any, Generic, ParamSpec, TypeVar

import numpy as np

__all__ = ["Cache", "cached", "weight_of"]

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")

_EVERYWHERE = (type, Enum, FunctionType, ModuleType, type(None), bool)
_WITHOUT_PARTS = (str, bytes, int, float)
_FIRST, _SAMPLE = 16, 24


class Cache(Generic[Answer]):
    """Answers by what they were asked with, the one longest unasked going first once they weigh too much.

    What is asked with must hash by its content, and answers are shared: nobody may change them. An answer that alone
    weighs more than a quarter of the bound is not kept.
    """

    def __init__(self, megabytes: float) -> None:
        self._bound = int(megabytes * 2**20)
        self._answers: OrderedDict[_Asked, tuple[Answer, int]] = OrderedDict()
        self._weight, self._lock = 0, Lock()

    def get(self, asked: Hashable) -> Answer | None:
        """What is kept of it; None where nothing is."""
        key = _once(asked)
        with self._lock:
            found = self._answers.get(key)
            if found is None:
                return None
            self._answers.move_to_end(key)
            return found[0]

    def once(self, asked: Hashable, make: Callable[[], Answer]) -> Answer:
        """What is kept of it; where nothing is, what is made of it, to be kept. An answer of None is made each time."""
        key = _once(asked)
        answer = self.get(key)
        if answer is None:
            answer = make()
            self.put(key, answer)
        return answer

    def put(self, asked: Hashable, answer: Answer) -> None:
        """Keeps an answer, in the place of what was kept before."""
        key = _once(asked)
        weight = weight_of((key.asked, answer), self._bound // 4)
        with self._lock:
            if known := self._answers.pop(key, None):
                self._weight -= known[1]
            if weight * 4 > self._bound:
                return
            self._answers[key] = answer, weight
            self._weight += weight
            while self._weight > self._bound:
                self._weight -= self._answers.popitem(last=False)[1][1]


class _Asked:
    """What is asked with, hashed once: many hundred situations take longer to hash than their answer to find."""

    __slots__ = ("_hash", "asked")

    def __init__(self, asked: Hashable) -> None:
        self.asked, self._hash = asked, hash(asked)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self.asked == other.asked


def _once(asked: Hashable) -> _Asked:
    return asked if isinstance(asked, _Asked) else _Asked(asked)


def cached(megabytes: float) -> Callable[[Callable[Asked, Answer]], Callable[Asked, Answer]]:
    """Keeps a function's answers by its arguments, as a Cache does; an answer of None is found anew each time."""

    def decorate(function: Callable[Asked, Answer]) -> Callable[Asked, Answer]:
        held = Cache[Answer](megabytes)

        @wraps(function)
        def ask(*args: Asked.args, **named: Asked.kwargs) -> Answer:
            return held.once((args, tuple(sorted(named.items()))), lambda: function(*args, **named))

        return ask

    return decorate


def weight_of(thing: Any, enough: int) -> int:
    """About how many bytes a thing holds, all its parts counted once; counting stops where it is more than `enough`.

    Of a thing with many parts some are weighed, and the others taken to weigh the same.
    A class may say itself what one of it `weighs`, all its parts included: nothing where it is one object for the whole
    process, such as a palette's cards; a share where many answers hold the same.
    """
    return _weighed([thing], enough, set())


def _weighed(things: list[Any], enough: int, seen: set[int]) -> int:
    weight, left = 0, things
    while left and weight <= enough:
        one = left.pop()
        if id(one) in seen or isinstance(one, _EVERYWHERE):
            continue
        seen.add(id(one))
        if hasattr(type(one), "weighs"):
            weight += one.weighs
            continue
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
