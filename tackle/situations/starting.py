"""Starting points: what a water of some kind and region is usually like, until its angler says otherwise."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import CATEGORIES, Cover, Current, Forage, Stain, ids
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import ID, Entry
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.situations.hashable import HashedTable
from tackle.situations.regions import Region
from tackle.situations.sky import Climate
from tackle.situations.visibility import Spread
from tackle.situations.water import FOOD_WEIGHT, SALINITIES, Month, Water

__all__ = ["WaterKind", "MonthGuess", "first_guess", "kinds", "load_kinds", "seen_as"]

KINDS_FILE: Final = FOLDER / "waters.toml"
_FIELDS: Final = ("id", "salinity", "depth_ft", "visibility", "stain", "food", "cover", "throws", "current")
_LEAST_IN: Final = 1.0
_DAYS_WARM, _DAYS_COLD = 4.0, 1.0  # days a month that somebody who fishes gets out


@dataclass(frozen=True, slots=True)
class MonthGuess:
    """A guess at one month. `food` gives each food as "main" or "some"."""

    spread: Spread
    stain: Stain
    temp_f: float
    food: Mapping[Forage, str]
    days: float
    hours: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class WaterKind:
    """A kind of water: what it is usually like, by quarter of the northern year from winter on.

    `throws`: the categories that a newcomer there begins with."""

    id: str
    salinity: str
    depth_ft: float
    spreads: tuple[Spread, ...]
    stains: tuple[Stain, ...]
    foods: tuple[Mapping[Forage, str], ...]
    cover: Mapping[Cover, float]
    throws: tuple[str, ...]
    current: Current | None = None

    def month(self, number: int, region: Region) -> MonthGuess:
        """A guess at a month, 1 to 12, in a region: what is out in numbers there is a main food of its months."""
        quarter = region.quarter(number)
        temp = region.temp_f(number)
        out = region.out(number, self.salinity)
        return MonthGuess(
            spread=self.spreads[quarter],
            stain=self.stains[quarter],
            temp_f=temp,
            food={**self.foods[quarter], **dict.fromkeys(out, "main")},
            days=_DAYS_WARM if 50 <= temp <= 88 else _DAYS_COLD,
            hours=("dawn", "day"),
        )


def first_guess(kind: WaterKind, region: Region) -> Water:
    """A water of a kind in a region, of which nothing else is known yet: a guess from end to end."""
    months = {}
    for number in range(1, 13):
        guess = kind.month(number, region)
        food = HashedTable({what: FOOD_WEIGHT[amount] for what, amount in guess.food.items()})
        hours = frozenset(guess.hours)
        months[number] = Month(guess.spread, guess.stain, guess.temp_f, food, guess.days, hours)
    cover = HashedTable({what: float(weight) for what, weight in kind.cover.items()})
    sky = Climate(region.latitude, region.dryness)
    return Water(
        kind.id,
        kind.salinity,
        region.latitude,
        0.0,
        HashedTable(months),
        sky,
        cover,
        kind.depth_ft,
        current=kind.current,
    )


def seen_as(water: Water, usual_in: float) -> Water:
    """The same water, as clear that one usually sees so far in it, in inches, the year round: its months keep how they
    stand to one another."""
    spreads = [month.spread for month in water.months.values()]
    times = usual_in / (sum(spread.usual_in for spread in spreads) / len(spreads))
    months = {
        number: replace(
            month,
            spread=Spread(
                *(
                    min(max(inches * times, _LEAST_IN), MAX_VISIBILITY_IN)
                    for inches in (month.spread.low_in, month.spread.usual_in, month.spread.high_in)
                )
            ),
        )
        for number, month in water.months.items()
    }
    return replace(water, months=HashedTable(months))


def load_kinds(path: Path) -> dict[str, WaterKind]:
    """The kinds of water in a TOML file. Raises DataError naming file, entry and field."""
    found: dict[str, WaterKind] = {}
    for raw in read_toml(path).get("kind", []):
        entry = Entry(raw, path.name, fields=_FIELDS, kind="kind of water")
        kind = _read(entry)
        if kind.id in found:
            raise entry.error("id", "stands twice")
        found[kind.id] = kind
    return found


def _read(entry: Entry) -> WaterKind:
    foods = entry.list("food", 4)
    for food in foods:
        for word, amount in food.items() if isinstance(food, dict) else [(food, None)]:
            if word not in ids(Forage) or amount not in FOOD_WEIGHT:
                raise entry.error("food", f"{word} = {amount!r} is not a food that is main or some")
    try:
        spreads = tuple(Spread(*map(float, numbers)) for numbers in entry.list("visibility", 4))
    except (TypeError, ValueError) as error:
        raise entry.error("visibility", str(error)) from error
    throws = tuple(entry.among("throws", entry.texts("throws"), tuple(CATEGORIES)))
    if not 3 <= len(throws) <= 5:
        raise entry.error("throws", "is not a list of three to five categories")
    return WaterKind(
        id=entry.text("id", ID),
        salinity=entry.word("salinity", SALINITIES),
        depth_ft=entry.number("depth_ft", 0, 200),
        spreads=spreads,
        stains=tuple(map(Stain, entry.among("stain", entry.list("stain", 4), ids(Stain)))),
        foods=tuple({Forage(word): amount for word, amount in food.items()} for food in foods),
        cover={Cover(word): weight for word, weight in entry.weights("cover", ids(Cover)).items()},
        throws=throws,
        current=entry.one("current", Current) if "current" in entry.raw else None,
    )


def kinds() -> Mapping[str, WaterKind]:
    """The kinds of water that ship with the app, loaded once."""
    return loaded(load_kinds, KINDS_FILE)
