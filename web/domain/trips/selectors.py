"""Trips, and what the core says of one."""

import json
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db.models import CharField, Count, F, QuerySet, Sum, Value
from django.db.models.functions import Concat
from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from tackle.base.vocabulary import TRAILER, Forage, Light, Stain, Tide, Wind
from tackle.colours.colour import Colour
from tackle.day.beside import Sleeved, left_aboard, second_from_home, sleeved
from tackle.day.forecast import Caution, Clarity, Sky, cautions, clarity_after, fished, make_hour_situation, usual_sky
from tackle.day.log import dropped_in
from tackle.day.now import begin_hours, log_of
from tackle.day.tray import DayTray, Have, Hour, RodPiece, TrayPiece, pack
from tackle.intake.rods import OwnRod, read_rods
from tackle.learn.factors import Factors
from tackle.situations.water import Water as CoreWater
from web.common.accounts.models import User
from web.domain.crate.selectors import Stock
from web.domain.history.record import undone_among
from web.domain.plans.selectors import Basis, get_basis, get_owned, thrown_in
from web.domain.trips.evidence import logs_of
from web.domain.trips.models import MOST_HOURS, NUMBERS, Trip, Turn
from web.domain.trips.packed import Began, Packed, Rows, packed_from, shown_as
from web.domain.trips.turns import as_read
from web.domain.waters.tide import flows_on

LEAST_TRIPS = 3  # that tell how fast a kind is used up


def list_trips(owner: User) -> QuerySet[Trip]:
    """The owner's trips, by their day; those taken away are left out."""
    return Trip.objects.filter(owner=owner, deleted_at=None).select_related("water")


def taken_away(owner: User) -> QuerySet[Trip]:
    """The trips that were taken away and can be brought back, the last first."""
    return Trip.objects.filter(owner=owner, deleted_at__isnull=False).select_related("water").order_by("-deleted_at")


def list_turns(owner: User) -> QuerySet[Turn]:
    """All turns of the owner's log, by their day, with their trip and water."""
    mine = Turn.objects.filter(trip__owner=owner, trip__deleted_at=None)
    return mine.select_related("trip__water").order_by("trip__date", "pk")


def get_trip(owner: User, pk: int) -> Trip:
    return get_object_or_404(list_trips(owner), pk=pk)


def last_beside(owner: User, trip: Trip, most: int) -> list[Trip]:
    """The last of the owner's other trips, by their day, with their water's name."""
    last = list_trips(owner).exclude(pk=trip.pk).only("date", "water__name").reverse()[:most]
    return list(last)[::-1]


def find_last_planned(owner: User) -> int | None:
    """The water of the trip that was planned last, by its key."""
    return list_trips(owner).order_by("-pk").values_list("water_id", flat=True).first()


def next_trip(owner: User, now: datetime) -> Trip | None:
    """The trip that goes on, by the clock of its water; else the next one to come, else the last there was."""
    trips = list_trips(owner)
    near = list(trips.filter(date__gte=now.date() - timedelta(days=MOST_HOURS // 24 + 1)))
    on = [trip for trip in near if trip.begins <= now < trip.ends]
    to_come = [trip for trip in near if now < trip.begins]
    if on:
        return max(on, key=lambda trip: trip.begins)
    return min(to_come, key=lambda trip: trip.begins) if to_come else trips.last()


def named(response: HttpResponse, trip: Trip) -> HttpResponse:
    """A page of a trip that tells a phone which keeps it of which trip it is, and from when until when that is."""
    data = {
        "from": trip.begins.timestamp() * 1000,
        "until": trip.ends.timestamp() * 1000,
        "name": f"{trip.water.name}, {trip.date:%a %-d %b}",
    }
    response.headers["X-Wax-Trip"] = json.dumps(data)
    return response


def rods_told(owner: User) -> str:
    """Which rods the angler has, as told with the last trip."""
    return next(iter(list_trips(owner).reverse().values_list("own_rods", flat=True)[:1]), "")


@dataclass(frozen=True, slots=True)
class Measured:
    """What was told last of the water on a trip: inches of visibility, and the minute since its first midnight; what
    clouds it, empty where that was not told."""

    visibility_in: float
    at: float
    stain: str

    @property
    def clock(self) -> str:
        return f"{int(self.at // 60) % 24:02}:{int(self.at % 60):02}"


@dataclass(frozen=True, slots=True)
class ByHand:
    """A lure that goes in, or stays out, because the angler says so; what that costs in hours covered, and in hours
    with a first choice."""

    what: str  # lock, out
    category: str
    card: Colour
    answered: float
    first: float


@dataclass(frozen=True, slots=True)
class Evening:
    """What is known of a trip the evening before."""

    skies: tuple[Sky, ...]
    clarity: Clarity
    measured: Measured | None
    visibility_in: float
    stain: Stain
    tray: DayTray
    fallbacks: dict[str, Colour]
    from_home: tuple[TrayPiece, ...]
    rods: tuple[RodPiece, ...]
    cautions: tuple[Caution, ...]
    hours: tuple[Hour, ...]
    packed: Packed | None  # as it was packed
    sleeved: tuple[Sleeved, ...]
    by_hand: tuple[ByHand, ...]
    aboard: tuple[Have, ...]  # of the kinds that are thrown, trailers on their jigs among them
    idle: tuple[tuple[str, float | None], ...]  # kinds not thrown in water like that, and from how warm a water
    own_rods: Mapping[int, OwnRod]
    partner: DayTray | None  # of what the tray leaves aboard, for whoever fishes along
    foods: tuple[list[Forage], list[Forage]]  # to ask about on the water, and the others that live there
    flows: Mapping[int, Tide]  # how the tide runs by hour, where it is known
    logs: Mapping[str, Factors]  # by category what the log says of what lies aboard
    now: Packed  # the tray as it is known now
    rows: Rows  # of what is shown, what each hour begins with as it is known now

    @property
    def shown(self) -> Packed:
        """The tray that was promised: as it was packed, else as it is known now."""
        return self.packed or self.now

    @property
    def changes(self) -> list[tuple[str, str, Colour]]:
        """What is known now beside what was packed: what would come "in", and what "out", with its category."""
        if self.packed is None:
            return []
        was, now = ({(p.category, p.card): p for p in one.pieces} for one in (self.packed, self.now))
        came = [("in", *where) for where in now if where not in was]
        return [*came, *(("out", *where) for where in was if where not in now)]


def get_evening(owner: User, trip: Trip) -> Evening:
    """The tray and all around it, from what is on board, and what would come from home."""
    basis = get_basis(owner)
    return evening_from(basis, get_owned(owner).stock, trip)


def evening_from(basis: Basis, stock: tuple[Stock, ...], trip: Trip) -> Evening:
    """The same from what is read already."""
    water = next(one for one in basis.every_water if one.pk == trip.water_id)
    core = basis.core[trip.water_id]
    month = core.months[trip.date.month]
    clarity = clarity_after(month.spread, trip.rain_in)
    measured = measured_on(trip)
    visibility = measured.visibility_in if measured else trip.visibility_in or clarity.likely_in
    stain = Stain((measured and measured.stain) or trip.stain or month.stain)
    skies = fished([_sky(trip, core, hour) for hour in trip.hours])
    thrown = [one for one in trip.categories if core.throws(one) and not core.forbidden.forbids(one)]
    flows = flows_on(water, trip.date, trip.hours)
    hours = tuple(_hour(trip, sky, thrown, visibility, stain, core, flows.get(sky.hour)) for sky in skies)
    aboard = _have(one for one in stock if one.aboard)
    rules = {one: thrown_in(basis, one) for one in thrown}
    own_rods = read_rods(trip.own_rods)
    settled = [(what, *one) for what in ("lock", "out") for one in trip.by_hand.get(what, [])]

    def packed(data: Sequence[tuple[str, str, str]], with_fallbacks: bool = False) -> DayTray:
        out = {(category, card) for what, category, card in data if what == "out"}
        lock = {(category, card) for what, category, card in data if what == "lock"}
        have = [one for one in aboard if (one.category, one.card.id) not in out]
        return pack(
            hours,
            thrown,
            have,
            basis.books,
            basis.palette,
            trip.room,
            rods=trip.rods,
            rules=rules,
            lock=lock,
            own_rods=[rod.categories for rod in own_rods],
            with_fallbacks=with_fallbacks,
        )

    tray = packed(settled, with_fallbacks=True)
    whole = pack(
        hours, thrown, _have(stock), basis.books, basis.palette, trip.room, rules=rules, with_fallbacks=False
    )  # fmt: skip
    carried = {(one.category, one.card.id) for one in aboard}
    kept = packed_from(trip.packed, basis.palette) if trip.packed else None
    listed = [one for one in (tray.drawn[0] if tray.drawn else ()) if one not in tray.idle]
    said = logs_of(trip.owner, listed, basis.palette, trip.date)
    along = {one: [each.card for each in aboard if each.category == one] for one in listed}
    logs = {one: log_of(one, along[one], said[one].turns, basis.palette) for one in listed}

    def rows_of(pieces: Sequence[TrayPiece]) -> Rows:
        """What each hour begins with, of some pieces: as the phone will say it."""
        found: dict[str, Sequence[Began | None]] = {}
        trailers = [piece.card for piece in pieces if piece.category == TRAILER]
        for one in listed:
            cards = [piece.card for piece in pieces if piece.category == one]
            asked = [hour.of(one) for hour in hours]
            begins = begin_hours(asked, cards, along[one], trailers, basis.books, logs[one], basis.palette)
            found[one] = [
                Began(each.card, each.trailer, each.grade.value, each.why) if each and rules[one].on(there) else None
                for each, there in zip(begins, asked, strict=True)
            ]
        return found

    known_now = shown_as(tray, rows_of(tray.pieces), [hour.at for hour in hours], visibility)
    mine = (kept or known_now).pieces
    left = left_aboard(aboard, {(piece.category, piece.card): piece.count for piece in mine})
    return Evening(
        skies=skies,
        clarity=clarity,
        measured=measured,
        visibility_in=visibility,
        stain=stain,
        tray=tray,
        fallbacks=dict(tray.fallbacks),
        from_home=(
            *(one for one in whole.pieces if (one.category, one.card.id) not in carried),
            *second_from_home(tray, aboard, _have(one for one in stock if not one.aboard)),
        ),
        sleeved=tuple(sleeved(tray, hours, trip.sleeved)),
        rods=tray.rods,
        cautions=tuple(cautions(skies, month, trip.afoot)),
        hours=hours,
        idle=tuple((one, rules[one].from_f) for one in tray.idle),
        aboard=tuple(one for one in aboard if one.category in (*thrown, TRAILER)),
        by_hand=tuple(_cost(one, tray, packed([each for each in settled if each != one]), basis) for one in settled),
        packed=kept,
        flows=flows,
        logs=logs,
        now=known_now,
        rows=known_now.rows if kept is None else rows_of(kept.pieces),
        own_rods=dict(enumerate(own_rods)),
        partner=pack(hours, thrown, left, basis.books, basis.palette, trip.room, rules=rules) if trip.partner else None,
        foods=core.foods(trip.date.month, hours[0].situation.forage),
    )


def measured_on(trip: Trip) -> Measured | None:
    """The last word on the water that was told on a trip, by whichever phone; None where there is none."""
    taps = [as_read(tap) for tap in trip.taps.filter(kind__in=("water", "drop"))]
    dropped = dropped_in(taps)
    told = [tap for tap in taps if "visibility_in" in tap.data and tap.id not in dropped]
    last = max(told, key=lambda tap: tap.at, default=None)
    return None if last is None else Measured(last.data["visibility_in"], last.at, last.data.get("stain", ""))


def _cost(one: tuple[str, str, str], with_it: DayTray, without: DayTray, basis: Basis) -> ByHand:
    what, category, card = one
    answered = without.answered_hours - with_it.answered_hours
    first = without.first_choice_hours - with_it.first_choice_hours
    return ByHand(what, category, basis.palette.known(card), round(answered, 2), round(first, 2))


def _hour(
    trip: Trip, sky: Sky, thrown: Sequence[str], visibility_in: float, stain: Stain, water: CoreWater, tide: Tide | None
) -> Hour:
    """What the schools are asked of an hour, each kind of lure as deep as it works there."""
    day = trip.day_of(sky.hour)
    kinds = (*thrown, trip.categories[0])
    own = {one: make_hour_situation(one, sky, visibility_in, stain, water, day, tide) for one in kinds}
    return Hour(f"{sky.hour % 24:02}:00", 1.0, own[trip.categories[0]], own)


def _sky(trip: Trip, water: CoreWater, hour: int) -> Sky:
    """An hour as the forecast or the angler tells it, else as it mostly is there."""
    data: dict[str, Any] = next((sky for sky in trip.skies if sky["hour"] == hour), {})
    usual = usual_sky(water, trip.day_of(hour), hour % 24)
    number = {name: data.get(name) for name in NUMBERS}
    return Sky(hour, Light(data.get("light", usual.light)), Wind(str(data.get("wind") or usual.wind)), **number)


def _have(stock: Iterable[Stock]) -> list[Have]:
    counts: dict[tuple[str, Colour], int] = {}
    for one in stock:
        lure = one.lure
        if lure.is_usable:
            counts[lure.category, lure.card] = counts.get((lure.category, lure.card), 0) + lure.count
    return [Have(category, card, count) for (category, card), count in counts.items()]


def count_missing(trip: Trip) -> dict[str, int]:
    """What was lost and torn and has not left the counts: how many of each "category card"."""
    undone = undone_among([one["change"] for one in trip.counted])
    gone = _told_gone(trip, [one["what"] for one in trip.counted if one["change"] not in undone])
    return {where: count for where, count in gone.items() if count > 0}


def newly_gone(trip: Trip) -> dict[str, int]:
    """What was lost and torn beyond what was counted ever, be it undone since; below nothing where a loss was taken
    back."""
    gone = _told_gone(trip, [one["what"] for one in trip.counted])
    return {where: count for where, count in gone.items() if count}


def all_gone(trip: Trip) -> dict[str, int]:
    """What was lost and torn on a trip, whether it has left the counts or not."""
    return dict(_told_gone(trip, []))


def eaten_a_trip(owner: User) -> dict[str, float]:
    """How many of a colour of each category are lost or torn a trip on which it was thrown, where at least so many
    trips tell."""
    rows = (
        Turn.objects.filter(trip__owner=owner)
        .values("category")
        .annotate(
            gone=Sum(F("gone_lost") + F("gone_torn")),
            trips=Count("trip", distinct=True),
            thrown=Count(Concat("trip", Value(" "), "card", output_field=CharField()), distinct=True),
        )
    )
    return {row["category"]: row["gone"] / row["thrown"] for row in rows if row["trips"] >= LEAST_TRIPS}


def _told_gone(trip: Trip, counted: Sequence[Mapping[str, int]]) -> Counter[str]:
    gone: Counter[str] = Counter()
    for category, card, lost, torn in trip.turns.values_list("category", "card", "gone_lost", "gone_torn"):
        gone[f"{category} {card}"] += lost + torn
    for what in counted:
        gone.subtract(what)
    return gone
