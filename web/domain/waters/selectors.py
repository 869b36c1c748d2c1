"""Reading waters, always from their owner, and what the core makes of them."""

import json
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property
from types import MappingProxyType
from typing import Final

from django.db.models import Count, Max, Q, QuerySet, Sum
from django.shortcuts import get_object_or_404
from django.utils import timezone

from tackle.base.hashing import content_hash, to_plain
from tackle.base.store import kept
from tackle.base.vocabulary import Cover, Forage, Stain
from tackle.records.months import pairs_noted
from tackle.records.posterior import HALF_LIFE_Y, KnownYear, Seen, known_year
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.expected import SetAside, expected_days, without_rare
from tackle.situations.expected_rows import ExpectedDays
from tackle.situations.hashable import HashedTable
from tackle.situations.seen_food import food_with_seen
from tackle.situations.sky import SKIES, WINDS, Climate, Observed, SkyShares, SkySource, Typed
from tackle.situations.starting import kinds
from tackle.situations.visibility import Spread, pulled
from tackle.situations.water import FOOD_WEIGHT, Forbidden, Month, target_said
from tackle.situations.water import Water as CoreWater
from web.common.accounts.models import User
from web.domain.history.kinds import MONTH
from web.domain.history.models import Change
from web.domain.history.record import list_changes
from web.domain.history.states import State, as_json
from web.domain.waters.models import Reading, SettledRecord, Sighting, Water


def list_whole_waters(owner: User) -> QuerySet[Water]:
    """The owner's waters with all that is known of them, by name."""
    return Water.objects.filter(owner=owner).prefetch_related("year", "readings", "sightings")


def list_waters(owner: User) -> QuerySet[Water]:
    """The owner's waters with the days fished on each (`.total`), by name."""
    return Water.objects.filter(owner=owner).annotate(total=Sum("year__days", default=0.0))


def get_water(owner: User, pk: int) -> Water:
    return get_object_or_404(list_waters(owner).prefetch_related("year", "readings", "sightings"), pk=pk)


@dataclass(frozen=True)
class Days:
    """The situations to plan for, and those too rare."""

    kept: ExpectedDays
    aside: tuple[SetAside, ...]

    @property
    def weighs(self) -> int:
        """See tackle.base.store: what has a mark counts nothing as a part."""
        return 2_000 + 40 * len(self.kept) + 200 * len(self.aside)

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash(to_plain(self))


@kept("days to expect")
def expected_on(waters: tuple[CoreWater, ...], months: tuple[int, ...], rare_days: float) -> Days:
    """The situations to expect on some waters in some months."""
    often, rare = without_rare(expected_days(waters, months), rare_days)
    return Days(often, tuple(rare))


def changes_so_far(owner: User, pk: int) -> str:
    """A mark of all changes of a water, and of what was taken back of them."""
    mine = list_changes(owner, Change.Area.WATER).filter(water=pk)
    counts = mine.aggregate(last=Max("pk"), undone=Count("pk", filter=Q(undone=True)))
    return f"{counts['last'] or 0} {counts['undone']}"


def told_by(owner: User, pk: int, taps: Collection[str]) -> set[str]:
    """Which of some taps have a reading of a water."""
    found = Reading.objects.filter(water__owner=owner, water=pk, tap__in=taps)
    return set(found.values_list("tap", flat=True))


def today_at(water: Water) -> date:
    """The day that it is on a water."""
    return timezone.now().astimezone(water.zone).date()


def latest_today() -> date:
    """The day that it is where it is latest in the day: nothing was seen or caught after it."""
    return (timezone.now() + timedelta(hours=14)).date()


def months_as_shown(water: Water) -> str:
    """What is stored of each month of a water, for its forms to send along: see web.domain.history.shown."""
    data: dict[int, State] = {
        row.month: as_json({name: getattr(row, name) for name in MONTH.fields if name not in ("month", "guess")})
        for row in water.year.all()
    }
    return json.dumps({"months_shown": json.dumps(data)})


def list_turbidity_pairs(owner: User, pk: int) -> list[tuple[float, float]]:
    """A water's own pairs of turbidity (NTU) and visibility (in)."""
    data = Reading.objects.filter(water__owner=owner, water=pk).exclude(note="")
    return pairs_noted(data.values_list("note", "visibility_in"))


def settled_by_shape(owner: User) -> dict[str, dict[str, str]]:
    """What somebody settled of the records that were taken in before, by their shape."""
    return dict(SettledRecord.objects.filter(owner=owner).values_list("shape", "settled"))


def seen_on(owner: User, pk: int) -> set[tuple[date, str]]:
    """What was seen to be eaten on a water, with its day."""
    found = Sighting.objects.filter(water__owner=owner, water=pk)
    return set(found.values_list("date", "food"))


@dataclass(frozen=True, slots=True)
class Taken:
    """What a record brings to a water: readings, the warmth of months (F), and how often each sky and surface was seen
    by month."""

    readings: Sequence[Reading] = ()
    warmth: Mapping[int, float] = field(default_factory=dict)
    sky: Mapping[str, Mapping[str, int]] = field(default_factory=dict)


NOTHING_TAKEN: Final = Taken()


def new_of(water: Water, taken: Taken) -> Taken:
    """What a record brings without the readings that are here from a file already."""
    here = {
        (reading.date, round(reading.visibility_in, 1))
        for reading in water.readings.all()
        if reading.source == Reading.Source.FILE
    }
    return replace(
        taken,
        readings=[one for one in taken.readings if (one.date, round(one.visibility_in, 1)) not in here],
    )


def observed(water: Water, sky: Mapping[str, Mapping[str, int]]) -> dict[str, dict[str, int]]:
    """What was seen of sky and surface by month, with more of it."""
    before: dict[str, dict[str, int]] = water.observations
    return before | {month: {**before.get(month, {}), **seen} for month, seen in sky.items()}


def get_known_year(water: Water, taken: Taken = NOTHING_TAKEN) -> KnownYear | None:
    """The year as it is guessed and as records tell it, together, with what another record would bring; None where no
    record was taken in. Ages are counted from the newest reading, so that a plan does not change by the day."""
    readings = [*water.readings.all(), *taken.readings]
    half_life_y = water.half_life_y or (HALF_LIFE_Y if taken.readings else None)
    if half_life_y is None or not readings:
        return None
    year = {row.month: row for row in water.year.all()}
    wet = {
        int(month): data.get("wet", 0) / days
        for month, data in observed(water, taken.sky).items()
        if (days := data.get("wet", 0) + data.get("dry", 0))
    }
    seen = (
        Seen(reading.date, reading.visibility_in, reading.rain_in, reading.off_by, reading.bound)
        for reading in readings
    )
    return known_year(
        {month: Spread(row.low_in, row.usual_in, row.high_in) for month, row in year.items()},
        frozenset(month for month, row in year.items() if not row.guess),
        sorted(seen, key=lambda one: (one.day, one.inches)),
        max(reading.date for reading in readings),
        half_life_y,
        wet,
    )


def weekly_readings(water: Water, known: KnownYear) -> list[Reading]:
    """One reading a week for the year after the newest one, in turn the usual, a poor and a good one of its month: as
    far apart as its readings are."""
    newest = max(reading.date for reading in water.readings.all())
    found = []
    for week in range(1, 53):
        day = newest + timedelta(weeks=week)
        spread = known.months[day.month]
        found.append(Reading(date=day, visibility_in=(spread.usual_in, spread.low_in, spread.high_in)[week % 3]))
    return found


def visibility_spreads(water: Water, known: KnownYear | None) -> Mapping[int, Spread]:
    """How far one sees, month by month, as said and as measured together; `known`: by `get_known_year`."""
    if known:
        return known.months
    return {
        month.month: pulled(
            Spread(month.low_in, month.usual_in, month.high_in),
            [reading.visibility_in for reading in water.readings.all() if reading.date.month == month.month],
        )
        for month in water.year.all()
    }


def joint_days(water: Water, taken: Taken = NOTHING_TAKEN) -> dict[int, tuple[int, ...]]:
    """By month, on how many days clarity, sky and surface were seen at once."""
    counts: dict[int, list[int]] = {}
    for reading in (*water.readings.all(), *taken.readings):
        if reading.sky and reading.wind:
            seen = counts.setdefault(reading.date.month, [0] * (len(BANDS) * len(SKIES) * len(WINDS)))
            band = BANDS.index(HOUSE_LADDER.band_at(reading.visibility_in))
            seen[(band * len(SKIES) + SKIES.index(reading.sky)) * len(WINDS) + WINDS.index(reading.wind)] += 1
    return {month: tuple(seen) for month, seen in counts.items()}


def core_water(water: Water, taken: Taken = NOTHING_TAKEN) -> CoreWater:
    """A water as the core reads it, with what a record would bring. Needs `year`, `readings` and `sightings`,
    prefetched where there are several."""
    seen: dict[int, Counter[Forage]] = {}
    for sighting in water.sightings.all():
        seen.setdefault(sighting.date.month, Counter())[Forage(sighting.food)] += 1
    spreads, together = visibility_spreads(water, get_known_year(water, taken)), joint_days(water, taken)
    return CoreWater(
        name=water.name,
        salinity=water.salinity,
        latitude=water.latitude,
        longitude=water.solar_place[1],
        months=HashedTable(
            {
                month.month: Month(
                    spread=spreads[month.month],
                    stain=Stain(month.stain),
                    temp_f=taken.warmth.get(month.month, month.temp_f),
                    food=HashedTable(
                        food_with_seen(
                            {Forage(food): FOOD_WEIGHT[amount] for food, amount in month.food.items()},
                            seen,
                            month.month,
                        )
                    ),
                    days=month.days,
                    hours=frozenset(month.hours),
                    together=together.get(month.month, ()),
                )
                for month in water.year.all()
            }
        ),
        sky=sky_source(water, taken.sky),
        cover=HashedTable({Cover(kind): float(weight) for kind, weight in water.cover.items()}),
        depth_ft=water.depth_ft,
        norm_in=water.norm_in,
        relative=water.relative,
        target=target_said(water.target),
        current=kinds()[water.kind].current if water.kind in kinds() else None,
        forbidden=Forbidden(
            categories=frozenset(water.forbids_categories),
            trebles=water.forbids_trebles,
            barbs=water.forbids_barbs,
            lead=water.forbids_lead,
            night=water.forbids_night,
            months=frozenset(water.closed_months),
        ),
    )


def sky_source(water: Water, more: Mapping[str, Mapping[str, int]] = MappingProxyType({})) -> SkySource:
    """Typed shares where there are any, else observations, `more` of them too, else the climate's rule of thumb."""
    climate = Climate(water.latitude, water.dryness)
    seen = Observed(
        HashedTable({int(month): HashedTable(counts) for month, counts in observed(water, more).items()}), climate
    )
    typed = {m.month: SkyShares.of(tuple(m.sky[:3]), tuple(m.sky[3:])) for m in water.year.all() if m.sky}
    return Typed(HashedTable(typed), seen)
