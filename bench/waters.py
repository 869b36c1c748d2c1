"""The list of days for two waters over twelve months, against the products of shares it cannot do without."""

import numpy as np

from bench.measure import best_of, report
from tackle.situations.expected import expected_days
from tackle.situations.sky import Climate
from tackle.situations.starting import kinds
from tackle.situations.water import FOOD_WEIGHT, Month, Water
from tackle.vocabulary import Cover, Forage


def water(kind_id: str, latitude: float) -> Water:
    kind = kinds()[kind_id]
    months = {}
    for number in range(1, 13):
        guess = kind.month(number, latitude)
        food = {one: FOOD_WEIGHT[amount] for one, amount in guess.food.items()}
        months[number] = Month(guess.spread, guess.stain, guess.temp_f, food, guess.days, frozenset(guess.hours))
    return Water(kind_id, kind.salinity, latitude, -84.0, months, Climate(latitude), kind.cover, kind.depth_ft)


def bare_products() -> None:
    """For each month of each water, every band x light x food x wind x cover, and an order of their remainders."""
    for _ in range(24):
        parts = [np.full(count, 1 / count) for count in (6, 5, len(Forage), 3, 1 + len(Cover))]
        split = np.einsum("b,l,f,w,c->blfwc", *parts)
        np.argsort(split.ravel(), kind="stable")


def run() -> bool:
    waters = [water("upland-reservoir", 38.0), water("tidal-creek", 31.0)]
    return report(
        f"days to expect, two waters x twelve months ({len(expected_days(waters))} situations)",
        best_of(5, lambda: expected_days(waters)),
        "the bare products of shares",
        best_of(5, bare_products),
        most=12,
        limit_s=0.1,
    )
