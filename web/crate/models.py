"""Trays, the lures in them, and the history of changes that makes undo possible."""

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from tackle.vocabulary import CATEGORIES
from web.ui.words import label


class Tray(models.Model):
    class Label(models.TextChoices):
        TEAL = "teal"
        PLUM = "plum"
        RUST = "rust"
        MOSS = "moss"
        SLATE = "slate"
        NAVY = "navy"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="trays")
    letter = models.CharField(max_length=3)
    name = models.CharField(max_length=60)
    label = models.CharField("label colour", max_length=6, choices=Label, default=Label.TEAL)

    class Meta:
        ordering = ["letter"]
        constraints = [models.UniqueConstraint(fields=["owner", "letter"], name="one_tray_a_letter")]

    def __str__(self) -> str:
        return f"{self.letter} · {self.name}"


class Lure(models.Model):
    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="lures")
    category = models.CharField(max_length=20, choices=[(c, label(c)) for c in CATEGORIES], db_index=True)
    card = models.CharField("colour", max_length=60)
    name = models.CharField("name as printed", max_length=80, blank=True)
    count = models.PositiveSmallIntegerField(default=1, validators=[MinValueValidator(1), MaxValueValidator(999)])
    size_in = models.FloatField(null=True, blank=True)
    position = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["tray__letter", "position", "pk"]

    def __str__(self) -> str:
        return f"{self.count} {self.category} {self.card}"


class Change(models.Model):
    """One change to a lure: what it was before and after; either is empty where there was no such lure."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="crate_changes")
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    words = models.CharField(max_length=200)
    lure_pk = models.PositiveBigIntegerField()
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.words
