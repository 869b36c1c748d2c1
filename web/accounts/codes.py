"""A second step at the door: codes of a device (TOTP, RFC 6238), and ten on paper for when it is lost."""

import secrets
from typing import Final

import segno
from django.core.exceptions import ValidationError
from django.db import transaction
from django_otp import devices_for_user, match_token
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.accounts.models import User

ON_PAPER: Final = 10


def asks_code(user: User) -> bool:
    """Whether a password alone does not let this user in."""
    there: bool = TOTPDevice.objects.filter(user=user, confirmed=True).exists()
    return there


def is_right(user: User, code: str) -> bool:
    """Whether a code is one of the user's; one on paper is used up by it. Wrong ones make the next wait longer."""
    told = code.replace(" ", "").replace("-", "").lower()
    return bool(told) and len(told) <= 16 and match_token(user, told) is not None


def device_to_be(user: User) -> TOTPDevice:
    """The device that is being set up; a new one where none is."""
    device, _ = TOTPDevice.objects.get_or_create(user=user, confirmed=False, defaults={"name": "Codes"})
    return device


def picture_of(device: TOTPDevice) -> str:
    """What a device takes a picture of, as an SVG drawing."""
    drawn: str = segno.make(device.config_url, error="m").svg_inline(
        border=4, omitsize=True, dark="#16262c", light="#fff"
    )
    return drawn


@transaction.atomic
def begin_codes(user: User, code: str) -> list[str]:
    """Codes are asked for from now on; returns those for paper. Raises ValidationError where the code is wrong."""
    device = device_to_be(user)
    if not device.verify_token(code.replace(" ", "")):
        raise ValidationError("That is not the code the device shows now. Is its clock right?")
    device.confirmed = True
    device.save()
    StaticDevice.objects.filter(user=user).delete()
    paper = StaticDevice.objects.create(user=user, name="Paper")
    codes = [secrets.token_hex(4) for _ in range(ON_PAPER)]
    paper.token_set.bulk_create(paper.token_set.model(device=paper, token=one) for one in codes)
    return [f"{one[:4]} {one[4:]}" for one in codes]


@transaction.atomic
def end_codes(user: User) -> None:
    """The password alone is enough again."""
    for device in devices_for_user(user, confirmed=None):
        device.delete()
