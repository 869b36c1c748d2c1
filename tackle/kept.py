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
from typing import Any, ParamSpec, TypeVar

import numpy as np

__all__ = ["kept", "weight_of"]

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")

_EVERYWHERE = (type, Enum, FunctionType, ModuleType, type(None), bool)
_WITHOUT_PARTS = (str, bytes, int, float)
_FIRST, _SAMPLE = 16, 24


def kept(megabytes: float) -> Callable[[Callable[Asked, Answer]], Callable[Asked, Answer]]:
    """Keeps a function's answers by its arguments, the one longest unasked going first once they weigh too much.

    Arguments must hash by their content, and answers are shared: nobody may change them. An answer that alone weighs
    more than a quarter of the bound is not kept.
    """
    bound = int(megabytes * 2**20)

    def decorate(function: Callable[Asked, Answer]) -> Callable[Asked, Answer]:
        answers: OrderedDict[Hashable, tuple[Answer, int]] = OrderedDict()
        lock, held = Lock(), [0]

        @wraps(function)
        def ask(*args: Asked.args, **named: Asked.kwargs) -> Answer:
            key = (args, tuple(sorted(named.items())))
            with lock:
                if key in answers:
                    answers.move_to_end(key)
                    return answers[key][0]
            answer = function(*args, **named)
            weight = weight_of((key, answer), bound // 4)
            with lock:
                if key not in answers and weight * 4 <= bound:
                    answers[key] = answer, weight
                    held[0] += weight
                    while held[0] > bound:
                        held[0] -= answers.popitem(last=False)[1][1]
            return answer

        return ask

    return decorate


def weight_of(thing: Any, enough: int) -> int:
    """About how many bytes a thing holds, all its parts counted once; counting stops where it is more than `enough`.

    Of a thing with many parts some are weighed, and the others taken to weigh the same.
    A class may say itself what one of it `weighs`, all its parts included: nothing where it is one object for the whole
    process, such as a palette's cards.
    """
    return _weighed([thing], enough, set())


def _weighed(things: list[Any], enough: int, seen: set[int]) -> int:
    weight, left = 0, things
    while left and weight <= enough:
        one = left.pop()
        if id(one) in seen or isinstance(one, _EVERYWHERE):
            continue
        seen.add(id(one))
        told = getattr(type(one), "weighs", None)
        if told is not None:
            weight += told
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
