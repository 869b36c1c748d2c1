"""A water, its twelve months, what was measured on it, and the history of changes that makes undo possible."""

from calendar import month_name
from zoneinfo import ZoneInfo, available_timezones

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils import timezone

from tackle.base.vocabulary import Forage, Stain
from tackle.records.numbers import AT_LEAST, AT_MOST
from tackle.situations.sky import SKIES, WINDS
from tackle.situations.starting import kinds
from web.common.ui.fields import A_DAY
from web.common.ui.words import choices, label

BOTTOMS = ("rock", "gravel", "sand", "clay", "mud", "oyster", "weed")


def is_zone(name: str) -> None:
    """Raises ValidationError where a name is no time zone's."""
    if name not in available_timezones():
        raise ValidationError(f"“{name[:40]}” is no time zone: write it like Europe/Paris.")


class Water(models.Model):
    class Salinity(models.TextChoices):
        FRESH = "fresh"
        BRACKISH = "brackish"
        SALT = "salt"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="waters")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=20, choices=choices(kinds()))
    salinity = models.CharField(max_length=8, choices=Salinity)
    latitude = models.FloatField(default=38.0)
    longitude = models.FloatField(null=True, blank=True, default=None)  # none: nobody told
    # As the zones of the world are named; empty: what the clock of the phone in hand shows.
    time_zone = models.CharField(max_length=40, blank=True, default="", validators=[is_zone])
    dryness = models.FloatField(default=0.5)
    norm_in = models.FloatField(null=True, blank=True)
    relative = models.BooleanField(default=False)
    depth_ft = models.FloatField(null=True, blank=True)
    cover = models.JSONField(default=dict, blank=True)
    bottom = models.JSONField(default=dict, blank=True)
    target = models.CharField(max_length=80, blank=True)
    observations = models.JSONField(default=dict, blank=True)
    # After so many years a reading weighs half; none until a record was taken in.
    half_life_y = models.FloatField(null=True, blank=True, validators=[MinValueValidator(0.5), MaxValueValidator(100)])
    # If it has one: harmonic constants ("constants": name -> feet, degrees) and the waves they make by year ("waves").
    tide = models.JSONField(null=True, blank=True, default=None)

    forbids_categories = models.JSONField(default=list, blank=True)
    forbids_trebles = models.BooleanField(default=False)
    forbids_barbs = models.BooleanField(default=False)
    forbids_lead = models.BooleanField(default=False)
    forbids_night = models.BooleanField(default=False)
    closed_months = models.JSONField(default=list, blank=True)
    rules_note = models.CharField(max_length=300, blank=True)
    rules_checked = models.DateField(null=True, blank=True, validators=A_DAY)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_water_a_name")]

    def __str__(self) -> str:
        return self.name

    @property
    def zone(self) -> ZoneInfo:
        """The zone that its clock is in; where none is told, the server's own."""
        return ZoneInfo(self.time_zone or timezone.get_current_timezone_name())

    @property
    def position(self) -> tuple[float, float] | None:
        """Degrees north and east; None while its longitude is not told."""
        return None if self.longitude is None else (self.latitude, self.longitude)

    @property
    def solar_place(self) -> tuple[float, float]:
        """Degrees north and east for what goes by the sun's own clock, where one longitude is as good as another."""
        return self.position or (self.latitude, 0.0)

    @property
    def bottom_words(self) -> str:
        """What is on the bottom, most of it first."""
        return " and ".join(sorted(self.bottom, key=lambda kind: -self.bottom[kind])[:3])

    @property
    def has_rules(self) -> bool:
        """Whether anything that local rules say is written down."""
        return bool(self.rules_note or self.forbidden_words)

    @property
    def forbidden_words(self) -> list[str]:
        """What local rules forbid here, in words."""
        flags = {
            "treble hooks": self.forbids_trebles,
            "barbs": self.forbids_barbs,
            "lead": self.forbids_lead,
            "night fishing": self.forbids_night,
        }
        words = [word for word, forbidden in flags.items() if forbidden]
        words += [label(category).lower() for category in self.forbids_categories]
        return words + [f"all of {month_name[month]}" for month in sorted(self.closed_months)]


class WaterMonth(models.Model):
    """One month of a water, as its angler says it is; `guess` until changed. `sky` holds six typed shares, or none."""

    water = models.ForeignKey(Water, on_delete=models.CASCADE, related_name="year")
    month = models.PositiveSmallIntegerField()
    low_in = models.FloatField()
    usual_in = models.FloatField()
    high_in = models.FloatField()
    stain = models.CharField(max_length=6, choices=choices(Stain))
    temp_f = models.FloatField()
    food = models.JSONField(default=dict, blank=True)
    days = models.FloatField()
    hours = models.JSONField(default=list, blank=True)
    sky = models.JSONField(null=True, blank=True)
    guess = models.BooleanField(default=True)

    class Meta:
        ordering = ["month"]
        constraints = [models.UniqueConstraint(fields=["water", "month"], name="one_row_a_month")]

    def __str__(self) -> str:
        return f"{self.water_id}: {self.month}"


class Reading(models.Model):
    """A measured visibility."""

    class Source(models.TextChoices):
        TYPED = "typed"
        FILE = "file"
        METER = "meter"

    water = models.ForeignKey(Water, on_delete=models.CASCADE, related_name="readings")
    date = models.DateField(validators=A_DAY)
    visibility_in = models.FloatField()
    stain = models.CharField(max_length=6, choices=choices(Stain), blank=True)
    spot = models.CharField(max_length=60, blank=True)
    note = models.CharField(max_length=200, blank=True)
    # The tap on the water that told it, which may take it back.
    tap = models.CharField(max_length=40, blank=True, db_index=True, db_collation="utf8mb4_bin")
    source = models.CharField(max_length=5, choices=Source, default=Source.TYPED)
    # What a record tells of the day: sky and surface by daylight, and the rain of the two days before, in inches.
    sky = models.CharField(max_length=8, blank=True, choices=choices(SKIES))
    wind = models.CharField(max_length=6, blank=True, choices=choices(WINDS))
    rain_in = models.FloatField(null=True, blank=True, validators=[MinValueValidator(0), MaxValueValidator(60)])
    # Whether it is a bound: of a disk that was still seen on the bottom, at least.
    bound = models.CharField(max_length=8, blank=True, choices=[(AT_LEAST, AT_LEAST), (AT_MOST, AT_MOST)])
    # Of one that was worked out from turbidity: what the curve may be off by, as a logarithm.
    off_by = models.FloatField(default=0.0, validators=[MinValueValidator(0), MaxValueValidator(3)])

    class Meta:
        ordering = ["-date", "-pk"]

    def __str__(self) -> str:
        return f"{self.date}: {self.visibility_in:g} in"


class SettledRecord(models.Model):
    """What somebody settled of records of one shape: of the same headings in the same order."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="settled_records")
    shape = models.CharField(max_length=64)
    settled = models.JSONField(default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "shape"], name="one_settlement_a_shape")]

    def __str__(self) -> str:
        return f"{self.owner_id}: {self.shape[:8]}"


class Sighting(models.Model):
    """What was seen to be eaten on a day."""

    water = models.ForeignKey(Water, on_delete=models.CASCADE, related_name="sightings")
    date = models.DateField(validators=A_DAY)
    food = models.CharField(max_length=16, choices=choices(Forage))
    spot = models.CharField(max_length=60, blank=True)
    tap = models.CharField(max_length=40, blank=True, db_index=True, db_collation="utf8mb4_bin")

    class Meta:
        ordering = ["-date", "-pk"]

    def __str__(self) -> str:
        return f"{self.date}: {self.food}"
