"""Passkeys (W3C Web Authentication): a device's own key in place of the password, where this runs under a name.

The checking is the package webauthn's; a challenge is good once, and for the session that it was given to.
"""

from __future__ import annotations

import hashlib
from ipaddress import ip_address
from typing import Any, Final
from urllib.parse import urlsplit

from django.conf import settings
from django.contrib.sessions.backends.base import SessionBase
from django.core.exceptions import ValidationError
from django.utils.crypto import salted_hmac

from web.common.accounts.models import Passkey, User

# The package, with all the ciphers it knows, is imported by who needs it: it takes longer to load than a page to draw.

NOT_RIGHT: Final = "That passkey was not accepted. Try once more, or use your password."
_CHALLENGE: Final = "passkey-challenge"


def host() -> str:
    """The name that passkeys are bound to; empty where this runs under a number or without HTTPS, which rules them
    out."""
    address = urlsplit(settings.OWN_ADDRESS)
    name = address.hostname or ""
    try:
        ip_address(name)
    except ValueError:
        return name if address.scheme == "https" or name == "localhost" else ""
    return ""


def options_to_make(user: User, session: SessionBase) -> str:
    """What the browser is asked to make a passkey with, as JSON."""
    from webauthn import generate_registration_options, options_to_json
    from webauthn.helpers import structs

    asked = generate_registration_options(
        rp_id=host(),
        rp_name="Wax Crate",
        user_name=user.username,
        user_id=salted_hmac("passkey", str(user.pk), algorithm="sha256").digest(),
        exclude_credentials=[
            structs.PublicKeyCredentialDescriptor(id=bytes(passkey.credential)) for passkey in user.passkeys.all()
        ],
        authenticator_selection=structs.AuthenticatorSelectionCriteria(
            resident_key=structs.ResidentKeyRequirement.REQUIRED,
            user_verification=structs.UserVerificationRequirement.REQUIRED,
        ),
    )
    session[_CHALLENGE] = asked.challenge.hex()
    return options_to_json(asked)


def made(answer: Any, session: SessionBase) -> tuple[bytes, bytes, int]:
    """The id, the public key and the count of a passkey that the browser has made. Raises ValidationError."""
    from webauthn import verify_registration_response
    from webauthn.helpers.exceptions import WebAuthnException

    try:
        data = verify_registration_response(
            credential=answer,
            expected_challenge=_challenge(session),
            expected_rp_id=host(),
            expected_origin=settings.OWN_ADDRESS.rstrip("/"),
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, TypeError, KeyError) as error:
        raise ValidationError(NOT_RIGHT) from error
    return data.credential_id, data.credential_public_key, data.sign_count


def options_to_sign_in(session: SessionBase) -> str:
    """What the browser is asked to sign in with, as JSON: any passkey it has for this place."""
    from webauthn import generate_authentication_options, options_to_json
    from webauthn.helpers.structs import UserVerificationRequirement

    asked = generate_authentication_options(rp_id=host(), user_verification=UserVerificationRequirement.REQUIRED)
    session[_CHALLENGE] = asked.challenge.hex()
    return options_to_json(asked)


def shown(answer: Any, session: SessionBase) -> tuple[Passkey, int]:
    """The passkey that a browser has shown, and its count now. Raises ValidationError."""
    from webauthn import base64url_to_bytes, verify_authentication_response
    from webauthn.helpers.exceptions import WebAuthnException

    try:
        mark = passkey_digest(base64url_to_bytes(answer["rawId"]))
        passkey = Passkey.objects.select_related("owner").filter(mark=mark, owner__is_active=True).first()
        challenge = _challenge(session)
        if passkey is None:
            raise ValidationError(NOT_RIGHT)
        data = verify_authentication_response(
            credential=answer,
            expected_challenge=challenge,
            expected_rp_id=host(),
            expected_origin=settings.OWN_ADDRESS.rstrip("/"),
            credential_public_key=bytes(passkey.public_key),
            credential_current_sign_count=passkey.count,
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, TypeError, KeyError) as error:
        raise ValidationError(NOT_RIGHT) from error
    return passkey, data.new_sign_count


def passkey_digest(credential: bytes) -> str:
    """By which a passkey is found: its own id may be longer than a key of a table."""
    return hashlib.sha256(credential).hexdigest()


def _challenge(session: SessionBase) -> bytes:
    data = session.pop(_CHALLENGE, None)
    if not isinstance(data, str):
        raise ValidationError("That took too long, or was used already. Try once more.")
    return bytes.fromhex(data)
