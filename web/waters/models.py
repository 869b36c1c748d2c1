"""A water, and the days its owner expects on it."""

from django.conf import settings
from django.db import models

from tackle.situations.clarity import BANDS
from tackle.vocabulary import Forage, Light, Salinity
from web.ui.words import choices, label


class Water(models.Model):
    class Kind(models.TextChoices):
        POND = "pond"
        CREEK = "creek"
        RIVER = "river"
        LAKE = "natural-lake", "Natural lake"
        LOWLAND = "lowland-reservoir", "Lowland reservoir"
        UPLAND = "upland-reservoir", "Upland reservoir"
        TIDAL = "tidal-creek", "Tidal creek"
        MARSH = "marsh"
        FLATS = "bay-flats", "Bay flats"
        SURF = "surf"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="waters")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=20, choices=Kind)
    salinity = models.CharField(max_length=5, choices=[(s.value, label(s.value)) for s in Salinity if s != "both"])
    norm_in = models.FloatField(null=True, blank=True)
    food = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_water_a_name")]

    def __str__(self) -> str:
        return self.name


class ExpectedDays(models.Model):
    """How many days a year one clarity and light are expected on a water."""

    water = models.ForeignKey(Water, on_delete=models.CASCADE, related_name="expected")
    band = models.CharField(max_length=8, choices=[(band, label(band)) for band in BANDS])
    light = models.CharField(max_length=8, choices=choices(Light))
    days = models.FloatField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["water", "band", "light"], name="one_number_a_cell")]

    def __str__(self) -> str:
        return f"{self.band} {self.light}: {self.days}"


FOODS = tuple(choices(Forage))
