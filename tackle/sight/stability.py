"""How much hangs on what is assumed: the same pairs under other plausible constants."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.sight.look import View, apart, points
from tackle.sight.spectra import Assumptions, assumptions

__all__ = ["SAME_JND", "Steadiness", "steadiness"]

SAME_JND = 1.0  # just noticeable differences: what is nearer is called the same
MOVED_NM = 10.0


@dataclass(frozen=True, slots=True)
class Steadiness:
    """Under one other assumption: the rank correlation of all pair distances with those as they are (Spearman 1904),
    and the share of the pairs called the same, or not, that are called otherwise."""

    what: str
    ranks: float
    flips: float


def steadiness(cards: Sequence[Colour], views: Sequence[View]) -> list[Steadiness]:
    """The least rank correlation and the largest share of flips over some views, for each other assumption."""
    data = assumptions()
    pairs = np.triu_indices(len(cards), 1)

    def distances(view: View, assumed: Assumptions) -> NDArray[np.float64]:
        return apart(points(cards, view, assumed))[pairs]

    plain = [distances(view, data) for view in views]
    found = []
    for what, assumed, nearer in _others(data, views[0].eye):
        others = [distances(replace(view, range_ft=view.distance_ft * nearer), assumed) for view in views]
        ranks = [_spearman(one, other) for one, other in zip(plain, others, strict=True)]
        flips = [
            float(((one < SAME_JND) != (other < SAME_JND)).mean()) for one, other in zip(plain, others, strict=True)
        ]
        found.append(Steadiness(what, min(ranks), max(flips)))
    return found


def _others(data: Assumptions, eye: str) -> list[tuple[str, Assumptions, float]]:
    short, long = data.told["eye"][eye]["cones"]
    weber, back, side = data.number("weber"), data.number("background"), data.number("side_light")
    return [
        ("cones half as noisy", data.with_values(weber=weber / 2), 1.0),
        ("cones twice as noisy", data.with_values(weber=weber * 2), 1.0),
        ("cones 10 nm further out", data.with_cones(eye, (short - MOVED_NM, long + MOVED_NM)), 1.0),
        ("cones 10 nm further in", data.with_cones(eye, (short + MOVED_NM, long - MOVED_NM)), 1.0),
        ("seen from half as far", data, 0.5),
        ("seen from twice as far", data, 2.0),
        ("water behind half as bright", data.with_values(background=back / 2), 1.0),
        ("less light from the side", data.with_values(side_light=side * 0.6), 1.0),
    ]


def _spearman(one: NDArray[np.float64], other: NDArray[np.float64]) -> float:
    return float(np.corrcoef(one.argsort().argsort(), other.argsort().argsort())[0, 1])
