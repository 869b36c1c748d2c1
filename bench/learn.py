"""What following the log is worth over simulated seasons, and how long a long log takes to be read."""

import time
from collections.abc import Callable, Sequence

import numpy as np

from tackle.colours.palette import house_palette
from tackle.learn.assumed import assumed
from tackle.learn.factors import log_factors
from tackle.learn.log import Turn
from tackle.learn.model import Belief, believed

COLOURS = ("black-plain", "green-pumpkin-black", "watermelon-red", "dark-purple-green", "red-bug")
SEASONS, DAYS, TURNS, MINUTES = 60, 40, 24, 10.0
BOOK_RIGHT = 0.3  # how the book's word goes with the truth (correlation): a middling book
Pick = Callable[[Sequence[Turn], np.random.Generator, dict[str, float], int], str]


def run() -> bool:
    cards = [house_palette().by_id[colour] for colour in COLOURS]
    told = assumed()

    def believed_of(turns: Sequence[Turn], book: dict[str, float]) -> Belief:
        return believed(turns, cards, book, told)

    bites = {name: np.array([season(seed, way, believed_of) for seed in range(SEASONS)]) for name, way in WAYS.items()}
    advice = bites["book and log"]
    for name, counts in bites.items():
        if name != "book and log":
            gains = advice.sum() / counts.sum() - 1
            drawn = np.random.default_rng(3).integers(0, SEASONS, (2000, SEASONS))
            ratios = advice[drawn].sum(axis=1) / counts[drawn].sum(axis=1) - 1
            low, high = np.quantile(ratios, [0.05, 0.95])
            print(f"     book and log against {name}: {gains:+.0%} bites ({low:+.0%} to {high:+.0%})")
    return _long_log(cards)


def season(seed: int, way: str, believed_of: Callable[..., Belief]) -> float:
    """All bites of a season in which colours are chosen in one way; effects of sd 0.35, a middling book."""
    rng = np.random.default_rng(seed)
    effects = rng.normal(0, 0.35, len(COLOURS))
    words = BOOK_RIGHT * effects + rng.normal(0, 0.35 * (1 - BOOK_RIGHT**2) ** 0.5, len(COLOURS))
    book = dict(zip(COLOURS, words * 0.5, strict=True))
    luck, turns, total = np.random.default_rng(seed + 10_000), [], 0.0
    for day in range(DAYS):
        rate, drift = np.exp(rng.normal(np.log(1.2), 0.7)) / 60, rng.normal(0, 0.3, 2)
        belief = believed_of(turns, book) if way == "log" else None
        for turn in range(TURNS):
            which = _which(way, turn, day, luck, words, effects, belief)
            bites = float(luck.poisson(MINUTES * rate * np.exp(effects[which] + drift[turn * 2 // TURNS])))
            turns.append(Turn(f"2026-{day:03}", COLOURS[which], MINUTES, bites, 6 + turn / 6))
            total += bites
    return total


def _which(way, turn, day, rng, words, effects, belief) -> int:
    if way == "random":
        return int(rng.integers(len(COLOURS)))
    if way == "fixed":
        return turn % len(COLOURS)
    if way == "truth":
        return int(effects.argmax())
    if way == "book":
        return int(words.argmax())
    return max(range(len(COLOURS)), key=belief.mean)


WAYS = {
    "at random": "random",
    "round and round": "fixed",
    "the book alone": "book",
    "the truth": "truth",
    "book and log": "log",
}


def _long_log(cards) -> bool:
    """300 trips of 40 turns, one category in fifteen: what Learned reads, and the next colour."""
    rng = np.random.default_rng(5)
    turns = [
        Turn(f"2026-{day:03}", COLOURS[int(rng.integers(5))], 8.0, float(rng.poisson(0.2)), 6 + turn / 8)
        for day in range(300) for turn in range(40)
    ]  # fmt: skip
    began = time.perf_counter()
    believed(turns, cards, dict.fromkeys(COLOURS, 0.0), assumed())
    read = time.perf_counter() - began
    began = time.perf_counter()
    log_factors(cards, turns)
    factors = time.perf_counter() - began
    good = read < 1.0 and factors < 6.0
    said = f"300 trips of 40 turns in one category {read:.2f} s, its factors for the phone {factors:.2f} s"
    print(f"{'ok  ' if good else 'SLOW'} {said}")
    return good
