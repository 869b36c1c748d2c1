"""A plan: which waters it answers, which schools it follows, for which categories."""

from dataclasses import replace
from decimal import Decimal

from django.conf import settings
from django.db import models

from tackle.situations.thrown import Thrown, thrown_by_default
from web.domain.waters.models import Water


def month_range(first: int, last: int) -> list[int]:
    """The months from one to another; from November to February goes round the turn of the year."""
    return list(range(first, last + 1)) if first <= last else [*range(first, 13), *range(1, last + 1)]


class Plan(models.Model):
    class Agree(models.TextChoices):
        ANY = "any", "one rulebook is enough"
        ALL = "all", "all must agree"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="plans")
    name = models.CharField(max_length=80, default="My plan")
    waters = models.ManyToManyField(Water, related_name="plans", blank=True)
    schools = models.JSONField(default=list)
    categories = models.JSONField(default=list)
    agree = models.CharField(max_length=3, choices=Agree, default=Agree.ANY)
    first_month = models.PositiveSmallIntegerField(default=1)
    last_month = models.PositiveSmallIntegerField(default=12)
    # The share of days to be right on, of the most there can be; 0: whatever is said to work will do.
    right = models.DecimalField(max_digits=3, decimal_places=2, default=Decimal("0.90"))
    crossover = models.BooleanField("prefer what goes between fresh water and salt", default=False)
    travel_most = models.PositiveSmallIntegerField("lures in the travel box", default=8)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["made_at", "pk"]
        constraints = [models.UniqueConstraint(fields=["owner"], name="one_plan_an_owner")]

    def __str__(self) -> str:
        return self.name

    @property
    def months(self) -> list[int]:
        """The months planned for; from November to February goes round the turn of the year."""
        return month_range(self.first_month, self.last_month)


class Choice(models.Model):
    """What the angler has settled for one category: colours that must be in the set, colours that may not, how many."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="choices")
    category = models.CharField(max_length=20)
    lock = models.JSONField(default=list)
    ban = models.JSONField(default=list)
    at_most = models.PositiveSmallIntegerField(null=True)
    right = models.DecimalField("another goal here", max_digits=5, decimal_places=4, null=True)
    from_f = models.FloatField("thrown from this water temperature; 0: all year", null=True)
    # None: not said, so where jigs and trailers are owned.
    trailers = models.BooleanField("planned together with trailers", null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["plan", "category"], name="one_choice_a_category")]

    def __str__(self) -> str:
        return f"{self.plan_id}: {self.category}"

    @property
    def thrown(self) -> Thrown:
        """When the kind is thrown: as settled, else as it mostly is."""
        usual = thrown_by_default(self.category)
        return usual if self.from_f is None else replace(usual, from_f=self.from_f or None)


class KeptPlan(models.Model):
    """A plan as it was on a day: its answers, and what they were computed from."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="kept_plans")
    name = models.CharField(max_length=80)
    made_at = models.DateTimeField(auto_now_add=True)
    content = models.JSONField()
    checked = models.BooleanField("the tackle box is checked against it too", default=False)

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return self.name
