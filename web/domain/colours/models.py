"""An angler's own colour cards."""

from django.conf import settings
from django.db import models


class OwnCard(models.Model):
    """A card of the angler's own, stored as an entry of a palette file."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="cards")
    card = models.SlugField(max_length=60, db_collation="utf8mb4_bin")
    entry = models.JSONField()
    retired = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "card"], name="one_card_an_id")]

    def __str__(self) -> str:
        return self.card
