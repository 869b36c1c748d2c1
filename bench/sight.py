"""The fish's eye: many lures in many waters, and all pairs of one; against plain colour differences of the same."""

import numpy as np

from bench.measure import best_of_both, report
from tackle.colours.likeness import to_lab
from tackle.colours.palette import house_palette
from tackle.sight.look import View, apart, points
from tackle.sight.stability import steadiness
from tackle.sight.water import fitted

LURES = 2000


def run() -> bool:
    palette = house_palette().cards
    cards = [palette[place % len(palette)] for place in range(LURES)]
    views = [
        View(eye, visibility, stain, depth, "bright")
        for eye in ("bass", "drum") for visibility in (8, 24, 60, 150)
        for stain in ("none", "algae", "tannic", "silt") for depth in (1, 4, 9)
    ]  # fmt: skip
    light = np.random.default_rng(1).random((LURES, 3, 3))
    seen, plain = best_of_both(
        3, lambda: _all_points(cards, views), lambda: [to_lab(light * (1 - place / 200)) for place in range(len(views))]
    )
    good = report(f"{LURES} lures in {len(views)} waters", seen, "as many L*a*b*", plain, 6, 1.0)
    places = points(cards, views[0])
    flat = places.reshape(LURES, -1)
    pairs, squares = best_of_both(5, lambda: apart(places), lambda: np.sqrt(np.abs(flat @ flat.T)))
    good &= report("all pairs of one", pairs, "one matrix product", squares, 12, 0.15)
    anew = getattr(fitted, "__wrapped__")  # noqa: B009 - without what is kept
    fit, _ = best_of_both(3, lambda: [anew(v, "tannic") for v in (8, 24, 60)], lambda: None)
    print(f"     a water fitted: {fit / 3 * 1000:.1f} ms, then kept")
    for one in steadiness(palette, [View("bass", v, s, 3, "bright") for v in (12, 30, 80) for s in ("none", "tannic")]):
        print(f"     {one.what}: order kept {one.ranks:.2f}, calls that flip {one.flips:.0%}")
    return good


def _all_points(cards, views):
    return [points(cards, view) for view in views]
