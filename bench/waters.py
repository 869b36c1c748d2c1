"""The list of days for two waters over twelve months, against the products of shares it cannot do without."""

import numpy as np

from bench.measure import best_of, report
from tackle.base.vocabulary import Cover, Forage
from tackle.situations.expected import expected_days
from tackle.situations.regions import region_at
from tackle.situations.starting import first_guess, kinds


def bare_products() -> None:
    """For each month of each water, every band x light x food x wind x cover, and an order of their remainders."""
    for _ in range(24):
        parts = [np.full(count, 1 / count) for count in (6, 5, len(Forage), 3, 1 + len(Cover))]
        split = np.einsum("b,l,f,w,c->blfwc", *parts)
        np.argsort(split.ravel(), kind="stable")


def run() -> bool:
    places = (("upland-reservoir", 38.0), ("tidal-creek", 31.0))
    waters = [first_guess(kinds()[kind], region_at(latitude)) for kind, latitude in places]
    return report(
        f"days to expect, two waters x twelve months ({len(expected_days(waters))} situations)",
        best_of(5, lambda: expected_days(waters)),
        "the bare products of shares",
        best_of(5, bare_products),
        most=12,
        limit_s=0.1,
    )
