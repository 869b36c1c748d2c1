"""A trip: one day on one water, what it was planned with, and the sky it will have."""

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from tackle.vocabulary import Stain
from web.ui.words import choices
from web.waters.models import Water

FIRST_HOUR, LAST_HOUR = 6, 14


class Trip(models.Model):
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="trips")
    water = models.ForeignKey(Water, on_delete=models.CASCADE, related_name="trips")
    date = models.DateField()
    first_hour = models.PositiveSmallIntegerField(default=FIRST_HOUR, validators=[MaxValueValidator(23)])
    last_hour = models.PositiveSmallIntegerField(default=LAST_HOUR, validators=[MaxValueValidator(23)])
    afoot = models.BooleanField("from the bank, or wading", default=False)
    rods = models.PositiveSmallIntegerField(default=4, validators=[MinValueValidator(1), MaxValueValidator(16)])
    room = models.PositiveSmallIntegerField(default=12, validators=[MinValueValidator(1), MaxValueValidator(60)])
    categories = models.JSONField(default=list, blank=True)
    # How clear the angler says it will be, and what clouds it; None: as the month, the readings and the rain tell.
    visibility_in = models.FloatField(null=True, blank=True)
    stain = models.CharField(max_length=8, choices=choices(Stain), blank=True)
    # One entry an hour: hour, light, wind, and the forecast's numbers; `typed`: the angler's own light.
    skies = models.JSONField(default=list, blank=True)
    rain_in = models.FloatField("rain in the two days before", null=True, blank=True)
    forecast_at = models.DateTimeField(null=True, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["date", "pk"]
        indexes = [models.Index(fields=["owner", "date"], name="trips_by_day")]

    def __str__(self) -> str:
        return f"{self.date} {self.water_id}"

    @property
    def hours(self) -> list[int]:
        """The hours of the trip, each told by when it begins."""
        return list(range(self.first_hour, self.last_hour + 1))
