"""A second step at the door: codes of a device (TOTP, RFC 6238), and ten on paper for when it is lost."""

import segno
from django.utils import timezone
from django_otp import match_token
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.common.accounts.models import User


def asks_code(user: User) -> bool:
    """Whether a password alone does not let this user in; not where they were to end by now."""
    if user.codes_end_at and user.codes_end_at <= timezone.now():
        return False
    there: bool = TOTPDevice.objects.filter(user=user, confirmed=True).exists()
    return there


def is_right(user: User, code: str) -> bool:
    """Whether a code is one of the user's; one on paper is used up by it. Wrong ones make the next wait longer."""
    digits = code.replace(" ", "").replace("-", "").lower()
    return bool(digits) and len(digits) <= 16 and match_token(user, digits) is not None


def draw_qr(device: TOTPDevice) -> str:
    """What a device takes a picture of, as an SVG drawing."""
    drawn: str = segno.make(device.config_url, error="m").svg_inline(
        border=4, omitsize=True, dark="#16262c", light="#fff"
    )
    return drawn
