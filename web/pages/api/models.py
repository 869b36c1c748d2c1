"""What lets a program in."""

from django.conf import settings
from django.db import models


class Token(models.Model):
    """A key for one program, by its digest alone: the key itself is shown once. `may`: what it may do."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=60)
    digest = models.CharField(max_length=64, unique=True)
    may = models.JSONField(default=list)
    made_at = models.DateTimeField(auto_now_add=True)
    used_on = models.DateField(null=True)

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name
