"""The user: Django's own, with how they like to read lengths."""

import secrets
from typing import Any

from django.contrib.auth.models import AbstractUser
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models

from tackle.base.units import System
from tackle.situations.expected import RARE_DAYS
from web.common.accounts.sessions import SessionStore


def drawn_version() -> int:
    """A version that there never was."""
    return secrets.randbits(63)


class Try(models.Model):
    """One try at something that is throttled, by a mark of the address it came from."""

    what = models.CharField(max_length=10)
    mark = models.CharField(max_length=32)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["what", "mark", "at"], name="tries_of_an_address")]

    def __str__(self) -> str:
        return f"{self.what} {self.at}"


class Sent(models.Model):
    """A form that was sent, by the mark of its key, and where its answer led."""

    owner = models.ForeignKey("accounts.User", on_delete=models.CASCADE, related_name="sent")
    mark = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    done = models.BooleanField(default=False)
    to = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "mark"], name="sent_once")]

    def __str__(self) -> str:
        return f"{self.mark[:8]} {self.at}"


class Session(AbstractBaseSession):
    """One place where somebody is signed in; without an owner, a visitor's."""

    owner = models.ForeignKey("accounts.User", on_delete=models.CASCADE, null=True, related_name="sessions")
    browser = models.CharField(max_length=60, blank=True)
    begun_at = models.CharField(max_length=25, blank=True)

    @classmethod
    def get_session_store_class(cls) -> type[SessionStore]:
        return SessionStore


class User(AbstractUser):
    class Units(models.TextChoices):
        IMPERIAL = "imperial", "inches and feet"
        METRIC = "metric", "centimetres and metres"

    # Not unique: whoever signs up is not told whether an address is known here.
    email = models.EmailField("email address", db_index=True)
    units: "models.CharField[System, System]" = models.CharField(max_length=8, choices=Units, default=Units.IMPERIAL)
    # Whether another size, weight or depth of a colour counts as the same thing.
    any_form = models.BooleanField(default=False)
    # Situations met on fewer days a year than this are set aside.
    rare_days = models.FloatField(default=RARE_DAYS)
    # Drawn anew by every change of what is owned: see web.common.accounts.writing.
    version = models.PositiveBigIntegerField(default=drawn_version)
    # When the codes beside the password end, where it was reset by mail.
    codes_end_at = models.DateTimeField(null=True, blank=True)
    # Until when somebody who only tries it is kept; None: an account.
    guest_until = models.DateTimeField(null=True, blank=True, db_index=True)

    def save(self, *args: Any, **options: Any) -> None:
        """A version that was read earlier is never written back over a later one: only a change draws it."""
        if not self._state.adding and options.get("update_fields") is None:
            fields = (field.attname for field in self._meta.concrete_fields if not field.primary_key)
            options["update_fields"] = [name for name in fields if name != "version"]
        super().save(*args, **options)


class Passkey(models.Model):
    """A key that a device of somebody's holds; here is the half that only tells whether it was that key."""

    owner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="passkeys")
    name = models.CharField(max_length=40)
    mark = models.CharField(max_length=64, unique=True)  # of the credential: see web.common.accounts.passkeys
    credential = models.BinaryField()
    public_key = models.BinaryField()
    count = models.PositiveBigIntegerField(default=0)  # as the device counts its uses, where it does
    made_on = models.DateField(auto_now_add=True)
    used_on = models.DateField(null=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name
