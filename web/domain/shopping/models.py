"""What lures cost, as the angler says, and what they mean to spend."""

from django.conf import settings
from django.db import models


class Price(models.Model):
    """The price of one lure, or pack, of a category, or of one colour of it; with an empty category, the budget."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="prices")
    category = models.CharField(max_length=20, blank=True)
    card = models.CharField(max_length=60, blank=True, db_collation="utf8mb4_bin")
    amount = models.DecimalField(max_digits=8, decimal_places=2)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "category", "card"], name="one_price_a_colour")]

    def __str__(self) -> str:
        return f"{self.category or 'budget'}: {self.amount}"
