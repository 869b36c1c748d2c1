"""The day's tray: sixteen hours, eight categories, all that is sold in them; against what the schools say of it."""

import random

from bench.measure import best_of_both, report
from tackle.base.vocabulary import Grade
from tackle.colours.palette import house_palette
from tackle.cover.opinions import gather_opinions
from tackle.day.tray import Have, Hour, pack
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_situation

CATEGORIES = ("worm", "jerkbait", "shallow-crankbait", "spinnerbait", "casting-jig", "swimbait", "popper", "creature")


def run() -> bool:
    palette, scatter = house_palette(), random.Random(1)
    books = tuple(house_rulebooks()[school] for school in ("ladder", "menu", "sheen"))
    owned = [Have(one, card, 3) for one in CATEGORIES for card in palette.sold_in(one)]
    have = scatter.sample(owned, min(300, len(owned)))
    lights = ("low", "bright", "broken", "overcast")

    def hours(shift: float) -> list[Hour]:
        told = [
            {"visibility_in": 30 + at + shift, "light": lights[at // 4], "season": "prespawn", "forage": ["shad"]}
            for at in range(16)
        ]
        return [Hour(f"{5 + at:02}:00", 1, read_situation(one, "worm")) for at, one in enumerate(told)]

    shifts = iter(range(1, 10_000))  # a day that was not asked before, each time

    def asked() -> None:
        situations = tuple(hour.situation for hour in hours(next(shifts) / 1000))
        for category in CATEGORIES:
            gather_opinions(category, books, situations, False, Grade.WORKS, palette)

    day, opinions = best_of_both(
        5, lambda: pack(hours(next(shifts) / 1000), CATEGORIES, have, books, palette, 12), asked
    )
    return report(
        f"a day of 16 hours, 8 categories, {len(have)} kinds", day, "the schools' word on it", opinions, 12, 0.3
    )
