"""The history of an angler's crate and waters."""

from django.conf import settings
from django.core.serializers.json import DjangoJSONEncoder
from django.db import models


class Change(models.Model):
    """One change. Each step names a thing by its kind and key, with what it was before and after; null: it was not."""

    class Area(models.TextChoices):
        CRATE = "crate"
        WATER = "water"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="history")
    area = models.CharField(max_length=5, choices=Area, default=Area.CRATE)
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    words = models.CharField(max_length=200)
    steps = models.JSONField(default=list, encoder=DjangoJSONEncoder)
    undone = models.BooleanField(default=False)
    water = models.ForeignKey("waters.Water", on_delete=models.CASCADE, null=True, related_name="history")

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.words
