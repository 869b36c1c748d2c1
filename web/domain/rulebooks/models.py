"""Rules of an angler's own, and schools that came in a file."""

from django.conf import settings
from django.db import models

IDS = "utf8mb4_bin"  # two ids are one only if they are the same letter by letter


class OwnSchool(models.Model):
    """A school that is not one of ours: a club's rulebook. Its calls are rules with its id."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="schools")
    school = models.SlugField(max_length=40, db_collation=IDS)
    name = models.CharField(max_length=60)
    question = models.CharField(max_length=200)
    short = models.CharField(max_length=300)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "school"], name="one_school_an_id")]

    def __str__(self) -> str:
        return self.name


class Rule(models.Model):
    """One call of the angler's own on top of a school, stored as an entry of a rulebook file."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="rules")
    school = models.SlugField(max_length=40, db_collation=IDS)
    call = models.CharField(max_length=80, db_collation=IDS)
    entry = models.JSONField()
    source = models.CharField(max_length=80, blank=True)
    on = models.BooleanField(default=True)

    class Meta:
        ordering = ["school", "pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "school", "call"], name="one_rule_an_id")]

    def __str__(self) -> str:
        return f"{self.school}: {self.call}"
