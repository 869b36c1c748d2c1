"""Counts and timings for whoever runs this: kept by prometheus-client, over all worker processes."""

from collections.abc import Callable
from functools import wraps
from time import perf_counter
from typing import ParamSpec, TypeVar

from prometheus_client import Counter, Histogram

P = ParamSpec("P")
R = TypeVar("R")

WORK = Histogram(
    "wax_work_seconds", "What takes time, when it is not known already: plans, curves, checks, files, pictures.",
    ["what"], buckets=(0.005, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 15),
)  # fmt: skip
REQUESTS = Histogram(
    "wax_request_seconds", "Requests answered, by the first part of their address.", ["part", "status"],
    buckets=(0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5),
)  # fmt: skip
SLOW_QUERIES = Counter("wax_slow_queries_total", "Queries that took longer than they should.")


def timed(what: str) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Counts and times a piece of work under a name; one that fails is counted as well."""

    def decorate(work: Callable[P, R]) -> Callable[P, R]:
        @wraps(work)
        def whole(*args: P.args, **named: P.kwargs) -> R:
            begun = perf_counter()
            try:
                return work(*args, **named)
            finally:
                WORK.labels(what).observe(perf_counter() - begun)

        return whole

    return decorate
