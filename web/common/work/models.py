"""A piece of heavy work that somebody waits for."""

from django.conf import settings
from django.db import models


class Job(models.Model):
    """What is to be done, how far it is, and what came of it: an address, a piece of a page, or what was wrong."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=120, blank=True)
    asked = models.JSONField(default=dict)
    content = models.BinaryField(default=bytes)
    back = models.CharField(max_length=200)  # the page it was asked for on
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    doing = models.CharField(max_length=80, blank=True)
    to = models.CharField(max_length=200, blank=True)
    drawn = models.TextField(blank=True)
    wrong = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    told_at = models.DateTimeField(auto_now_add=True)  # when it was last heard of
    ended = models.BooleanField(default=False)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["owner", "kind", "ended"])]

    def __str__(self) -> str:
        return f"{self.kind} {self.name}".strip()


class Piece(models.Model):
    """A piece of a file that work is made of, or that came of it: no row holds more than the database sends at once."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="pieces")
    place = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["job", "place"], name="one_piece_a_place")]

    def __str__(self) -> str:
        return f"{self.job_id}: {self.place}"
