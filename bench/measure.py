"""How a thing is timed and weighed."""

import re
import time
import tracemalloc
from collections.abc import Callable
from pathlib import Path


def best_of(times: int, work: Callable[[], object]) -> float:
    """The shortest of some runs, in seconds: what is left when other programs disturb least."""
    return min(_taken(work) for _ in range(times))


def best_of_both(times: int, work: Callable[[], object], baseline: Callable[[], object]) -> tuple[float, float]:
    """The shortest of some runs of each, in turns: a machine that slows down for a while slows both."""
    taken = [(_taken(work), _taken(baseline)) for _ in range(times)]
    return min(one for one, _ in taken), min(other for _, other in taken)


def _taken(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def peak_mb(work: Callable[[], object]) -> float:
    """The most memory that a run takes at once, in megabytes."""
    tracemalloc.start()
    work()
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return peak / 1e6


def resident_mb(process: int | str = "self", of: str = "VmRSS") -> float:
    """What a process holds of the machine's memory, in megabytes; `VmHWM`: the most that it has held so far."""
    told = Path(f"/proc/{process}/status").read_text(encoding="ascii")
    return int(re.search(rf"{of}:\s+(\d+)", told)[1]) / 1024


def report(what: str, seconds: float, against: str, baseline: float, most: float, limit_s: float) -> bool:
    """Prints one line; returns whether the ratio and the time are within their limits."""
    ratio = seconds / baseline
    good = ratio <= most and seconds <= limit_s
    print(
        f"{'ok  ' if good else 'SLOW'} {what}: {seconds * 1000:.1f} ms (at most {limit_s * 1000:.0f}), "
        f"{ratio:.2f} times {against} ({baseline * 1000:.1f} ms; at most {most:g})"
    )
    return good
