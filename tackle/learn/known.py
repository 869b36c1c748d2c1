"""What a log makes known, corrected for all that was compared; and which colours are tangled with when they were used.

A colour that is thrown at dawn alone has dawn's bites: no pair with it is known while that may explain it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Final

from tackle.learn.apart import told_apart
from tackle.learn.assumed import assumed
from tackle.learn.log import Turn
from tackle.learn.model import Belief
from tackle.situations.clarity import HOUSE_LADDER

__all__ = ["Tangled", "known_pairs", "sure_best", "tangled_in"]

_MOST_OF_ITS_OWN: Final = 0.7
_FEW_OF_THE_OTHERS: Final = 0.2
_WRONG: Final = 0.05  # how often any pair at all may be named where there is no difference


@dataclass(frozen=True, slots=True)
class Tangled:
    """A colour with most of its turns where the others have few: what these turns share ("hour:6", which stands for two
    hours in a row where one does not do; "light:low"; "water:fair"), and what share of its own they are."""

    colour: str
    shares: str
    share: float


def known_pairs(belief: Belief, tangled: Iterable[Tangled]) -> list[tuple[str, str]]:
    """The pairs of which the first is known to be the better: so likely that among all pairs none would be by luck."""
    pairs = len(list(combinations(belief.colours, 2)))
    out = {one.colour for one in tangled}
    return [
        (first, second)
        for first, second, better, _ in told_apart(belief)
        if better >= 1 - _WRONG / max(pairs, 1) and not {first, second} & out
    ]


def sure_best(belief: Belief, tangled: Iterable[Tangled]) -> str | None:
    """The colour that is the best of all, as surely as `assumed` asks, and known to be better than one other at least;
    None where there is none."""
    first = {pair[0] for pair in known_pairs(belief, tangled)}
    best, colour = max(zip(belief.best(), belief.colours, strict=True), default=(0.0, ""))
    return colour if best >= assumed().known and colour in first else None


def tangled_in(turns: Sequence[Turn]) -> list[Tangled]:
    """The colours that are tangled, each with what most of its turns share."""
    found = []
    for colour in dict.fromkeys(turn.colour for turn in turns):
        mine = _shares([turn for turn in turns if turn.colour == colour])
        others = _shares([turn for turn in turns if turn.colour != colour])
        able = [
            (share, -span, label)
            for (label, span), share in mine.items()
            if share >= _MOST_OF_ITS_OWN and others.get((label, span), 0.0) <= _FEW_OF_THE_OTHERS
        ]
        if able and others:
            share, _, label = max(able)
            found.append(Tangled(colour, label, round(share, 4)))
    return found


def _shares(turns: Sequence[Turn]) -> dict[tuple[str, int], float]:
    """By what turns may share, an hour, two in a row (a span of 2), a light, a band of clarity: how many of them do."""
    counts: Counter[tuple[str, int]] = Counter()
    for turn in turns:
        if turn.at is not None:
            hour = int(turn.at)
            counts.update(((f"hour:{hour}", 1), (f"hour:{hour}", 2), (f"hour:{hour - 1}", 2)))
        if turn.situation is not None:
            counts[f"light:{turn.situation.light}", 1] += 1
            counts[f"water:{HOUSE_LADDER.band_at(turn.situation.visibility_in)}", 1] += 1
    return {what: count / len(turns) for what, count in counts.items()}
