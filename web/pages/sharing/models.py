"""What is shown to others by a link, and what one follows of theirs."""

from django.conf import settings
from django.db import models

from web.domain.plans.models import KeptPlan
from web.domain.trips.models import Trip
from web.domain.waters.models import Water

OWNER = settings.AUTH_USER_MODEL


class Share(models.Model):
    """A link to one thing, to be read and nothing else; who has it sees the thing as it is now."""

    class What(models.TextChoices):
        PLAN = "plan", "a plan"
        WATER = "water", "a water"
        RULES = "rules", "a rulebook"
        DAY = "day", "a day's sheet"

    owner = models.ForeignKey(OWNER, on_delete=models.CASCADE, related_name="shares")
    key = models.CharField(max_length=32, unique=True, db_collation="utf8mb4_bin")
    what = models.CharField(max_length=5, choices=What)
    plan = models.ForeignKey(KeptPlan, on_delete=models.CASCADE, null=True, related_name="shares")
    water = models.ForeignKey(Water, on_delete=models.CASCADE, null=True, related_name="shares")
    trip = models.ForeignKey(Trip, on_delete=models.CASCADE, null=True, related_name="shares")
    school = models.CharField(max_length=40, blank=True)
    readings = models.BooleanField(default=False)
    place = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.get_what_display()}: {self.plan or self.water or self.trip or self.school}"


class Follow(models.Model):
    """Somebody else's rulebook that is followed: `mark` tells the version that was taken."""

    owner = models.ForeignKey(OWNER, on_delete=models.CASCADE, related_name="follows")
    share = models.ForeignKey(Share, on_delete=models.CASCADE, related_name="follows")
    mark = models.CharField(max_length=16)
    taken_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "share"], name="one_follow_a_share")]

    def __str__(self) -> str:
        return f"{self.owner_id} follows {self.share_id}"
