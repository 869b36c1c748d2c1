"""Answers kept by what they were asked with, bounded by what they weigh rather than by how many they are."""

from __future__ import annotations

import sys
from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from threading import Lock
from typing import Any, ParamSpec, TypeVar

import numpy as np

__all__ = ["kept", "weight_of"]

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")

_DEEP = 4  # how far into an answer its weight is counted: what lies deeper is shared, or small
_SAMPLE = 4  # of a long row so many parts are weighed, and stand for the others: weighing must cost next to nothing


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
            weight = weight_of(answer) + weight_of(key, _DEEP - 1)
            with lock:
                if key not in answers and weight * 4 <= bound:
                    answers[key] = answer, weight
                    held[0] += weight
                    while held[0] > bound:
                        held[0] -= answers.popitem(last=False)[1][1]
            return answer

        return ask

    return decorate


def weight_of(thing: Any, deep: int = _DEEP) -> int:
    """About how many bytes a thing holds: its arrays whole, its parts to some depth, of long rows by a sample."""
    if isinstance(thing, np.ndarray):
        return int(thing.nbytes)
    weight = sys.getsizeof(thing, 64)
    if not deep:
        return weight
    if isinstance(thing, dict):
        parts: list[Any] = [*thing.keys(), *thing.values()]
    elif isinstance(thing, tuple | list | set | frozenset):
        parts = list(thing)
    elif hasattr(thing, "__dataclass_fields__"):
        return weight + sum(weight_of(getattr(thing, name), deep - 1) for name in thing.__dataclass_fields__)
    else:
        return weight
    sample = parts[:: max(len(parts) // _SAMPLE, 1)]
    return weight + sum(weight_of(part, deep - 1) for part in sample) * len(parts) // max(len(sample), 1)
