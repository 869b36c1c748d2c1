"""What somebody has learned: places of their board they were asked about, and how deep they read a white lure."""

from django.conf import settings
from django.db import models


class Known(models.Model):
    """One place of the board (category, clarity, light, food), and how well it is known: see tackle.teach.recall."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="known_places")
    cell = models.CharField(max_length=80)
    state = models.JSONField()
    answers = models.PositiveIntegerField(default=0)
    first_on = models.DateField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "cell"], name="one_known_place")]

    def __str__(self) -> str:
        return self.cell


class Answer(models.Model):
    """One pick in the drill, as it was sent: its key is taken once."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="drill_answers")
    key = models.CharField(max_length=40)
    cell = models.CharField(max_length=80)
    seed = models.PositiveIntegerField()
    card = models.CharField(max_length=60, db_collation="utf8mb4_bin")
    pick = models.CharField(max_length=5)
    at = models.DateTimeField()

    class Meta:
        ordering = ["at", "pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_answer_a_key")]

    def __str__(self) -> str:
        return f"{self.cell}: {self.card}"


class Guess(models.Model):
    """How deep somebody took a white lure to be when it was gone, and how deep it was; inches."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="depth_guesses")
    stain = models.CharField(max_length=8)
    light = models.CharField(max_length=8)
    true_in = models.FloatField()
    read_in = models.FloatField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.read_in:g} of {self.true_in:g}"
