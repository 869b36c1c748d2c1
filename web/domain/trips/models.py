"""A trip: a span of time on one water, what it was planned with, and the sky it will have."""

import datetime
import uuid
from datetime import timedelta

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from tackle.base.vocabulary import Stain
from web.common.ui.fields import A_DAY
from web.common.ui.words import choices
from web.domain.waters.models import Water

FIRST_HOUR, LAST_HOUR = 6, 14
TURN_MINUTES = 8
MOST_ROOM = 60
NUMBERS = ("wind_mph", "gust_mph", "air_f", "water_f", "rain_in", "thunder")  # that a forecast tells of an hour
MOST_HOURS = 24 * 6  # of a trip, from the midnight before its first day


def new_key() -> str:
    """What a trip is known by wherever its log goes."""
    return uuid.uuid4().hex


class Trip(models.Model):
    key = models.CharField(max_length=32, default=new_key, db_collation="utf8mb4_bin")
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="trips")
    water = models.ForeignKey(Water, on_delete=models.CASCADE, related_name="trips")
    date = models.DateField(validators=A_DAY)
    first_hour = models.PositiveSmallIntegerField(default=FIRST_HOUR, validators=[MaxValueValidator(23)])
    # Counted on from the first day's midnight: 25 is one o'clock in the night after it.
    last_hour = models.PositiveSmallIntegerField(default=LAST_HOUR, validators=[MaxValueValidator(MOST_HOURS)])
    afoot = models.BooleanField("from the bank, or wading", default=False)
    rods = models.PositiveSmallIntegerField(default=4, validators=[MinValueValidator(1), MaxValueValidator(16)])
    # So many more lie tied but sleeved.
    sleeved = models.PositiveSmallIntegerField("more rods in the boat", default=0, validators=[MaxValueValidator(30)])
    # Which rods these are, one a line, in the angler's words; none told: each carries anything.
    own_rods = models.TextField("which rods", blank=True, default="", max_length=4_000)
    partner = models.BooleanField("somebody fishes with you", default=False)
    room = models.PositiveSmallIntegerField(default=12, validators=[MinValueValidator(1), MaxValueValidator(MOST_ROOM)])
    categories = models.JSONField(default=list, blank=True)
    # How clear the angler says it will be, and what clouds it; None: as the month, the readings and the rain tell.
    visibility_in = models.FloatField(null=True, blank=True)
    stain = models.CharField(max_length=8, choices=choices(Stain), blank=True)
    # One entry an hour: hour, light, wind, and the forecast's numbers; `typed`: the angler's own light.
    skies = models.JSONField(default=list, blank=True)
    # On the water: how long a turn lasts, in minutes.
    turn_minutes = models.PositiveSmallIntegerField(
        default=TURN_MINUTES, validators=[MinValueValidator(5), MaxValueValidator(10)]
    )
    rain_in = models.FloatField("rain in the two days before", null=True, blank=True)
    forecast_at = models.DateTimeField(null=True, blank=True)
    # The tray as it was packed, kept whatever is told since; None: not packed yet.
    packed = models.JSONField(null=True, blank=True)
    # What the angler settles of the tray: "lock" and "out", each a list of [category, card].
    by_hand = models.JSONField(default=dict, blank=True)
    # What left the crate's counts: one entry a change of the crate, with how many of each "category card".
    counted = models.JSONField(default=list, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    # Taken away, and kept so that it can be brought back.
    deleted_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["date", "pk"]
        indexes = [models.Index(fields=["owner", "date"], name="trips_by_day")]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_trip_a_key")]

    def __str__(self) -> str:
        return f"{self.date} {self.water_id}"

    @property
    def stamp(self) -> str:
        """What tells whether the trip is still as somebody saw it."""
        data = [
            self.water_id,
            self.date,
            self.first_hour,
            self.last_hour,
            self.afoot,
            self.rods,
            self.sleeved,
            self.own_rods,
            self.partner,
            self.room,
        ]
        return repr([*data, self.categories, self.visibility_in, self.stain, self.turn_minutes])

    @property
    def hours(self) -> list[int]:
        """The hours of the trip, each told by when it begins, counted on from the first day's midnight."""
        return list(range(self.first_hour, self.last_hour + 1))

    @property
    def begins(self) -> datetime.datetime:
        """When the first hour begins, where the water is."""
        return self._moment(self.first_hour)

    @property
    def ends(self) -> datetime.datetime:
        """When the last hour is over, where the water is."""
        return self._moment(self.last_hour + 1)

    def _moment(self, hour: int) -> datetime.datetime:
        midnight = datetime.datetime.combine(self.date, datetime.time(), self.water.zone)
        return midnight + timedelta(hours=hour)

    @property
    def last_day(self) -> datetime.date:
        """The day on which the last hour ends."""
        return self.date + timedelta(days=self.last_hour // 24)

    def day_of(self, hour: int) -> datetime.date:
        """The day that an hour is of."""
        return self.date + timedelta(days=hour // 24)

    def minute_at(self, clock: float, before: float | None, forward: bool = False) -> float:
        """The minute of the trip that a clock's minute of the day stands for: on the day of `before` (else the first),
        unless only another day has it within the trip; `forward`: and not before it."""
        day = int(before // 1440) if before is not None else 0
        first, last = self.first_hour * 60, (self.last_hour + 1) * 60

        def unlikely(at: float) -> tuple[bool, bool]:
            return bool(forward and before is not None and at < before), not first <= at <= last

        days = (day, *range(self.last_hour // 24 + 1))
        return min((float(one * 1440 + clock) for one in days), key=unlikely)

    @property
    def end_hour(self) -> int:
        """When the last hour ends, by the clock."""
        return (self.last_hour + 1) % 24 or 24


class Tap(models.Model):
    """One tap on the water, as a phone sent it; never changed. `key` is the phone's own, so that it is taken once."""

    trip = models.ForeignKey(Trip, on_delete=models.CASCADE, related_name="taps")
    key = models.CharField(max_length=40, db_collation="utf8mb4_bin")
    device = models.CharField(max_length=40, db_collation="utf8mb4_bin")
    place = models.PositiveIntegerField()
    angler = models.PositiveSmallIntegerField(default=0)
    kind = models.CharField(max_length=8)
    at = models.FloatField()  # minutes since the trip's first midnight, where the water is
    time = models.FloatField(null=True)  # milliseconds since 1970, where the phone told it; its clock set right
    data = models.JSONField(default=dict)
    taken_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["device", "place", "pk"]
        constraints = [models.UniqueConstraint(fields=["trip", "key"], name="one_tap_a_key")]

    def __str__(self) -> str:
        return f"{self.kind} {self.key}"


class Turn(models.Model):
    """A turn, as the taps of a trip make it; made anew whenever one of them comes in."""

    trip = models.ForeignKey(Trip, on_delete=models.CASCADE, related_name="turns")
    key = models.CharField(max_length=44, db_collation="utf8mb4_bin")
    device = models.CharField(max_length=40, db_collation="utf8mb4_bin")
    angler = models.PositiveSmallIntegerField(default=0)
    category = models.CharField(max_length=20, db_index=True)
    card = models.CharField(max_length=60, db_collation="utf8mb4_bin")
    at = models.FloatField(null=True)
    minutes = models.FloatField(null=True)
    whole = models.PositiveSmallIntegerField(default=0)
    lost = models.PositiveSmallIntegerField(default=0)
    outside = models.PositiveSmallIntegerField(default=0)
    missed = models.PositiveSmallIntegerField(default=0)
    follow = models.PositiveSmallIntegerField(default=0)
    gone_lost = models.PositiveSmallIntegerField(default=0)
    gone_torn = models.PositiveSmallIntegerField(default=0)
    sizes = models.JSONField(default=list)
    visibility_in = models.FloatField(null=True)
    light = models.CharField(max_length=10, blank=True)
    wind = models.CharField(max_length=10, blank=True)
    stain = models.CharField(max_length=10, blank=True)
    food = models.CharField(max_length=16, blank=True)
    spot = models.CharField(max_length=60, blank=True)
    trailer = models.CharField(max_length=60, blank=True, db_collation="utf8mb4_bin")
    depth_ft = models.FloatField(null=True)
    cover = models.CharField(max_length=10, blank=True)
    density = models.CharField(max_length=10, blank=True)
    pace = models.CharField(max_length=10, blank=True)
    mood = models.CharField(max_length=10, blank=True)
    current = models.CharField(max_length=10, blank=True)
    tide = models.CharField(max_length=10, blank=True)
    # Its minutes by light, clarity and day: at, minutes, bites by how they came, and what was known of the water.
    parts = models.JSONField(default=list)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.card}, {self.minutes} min"
