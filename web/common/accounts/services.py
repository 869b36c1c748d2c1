"""Every change to an account: checked, and written in one transaction."""

import secrets
from datetime import timedelta
from typing import Any

from django.contrib.auth import HASH_SESSION_KEY
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.utils import timezone
from django_otp import devices_for_user
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.common.accounts.credentials import list_credentials
from web.common.accounts.forms import SignUpForm
from web.common.accounts.models import Passkey, Session, User
from web.common.accounts.passkeys import passkey_digest
from web.common.accounts.signed_in import session_digest
from web.common.accounts.writing import one_change

GUEST_DAYS, MOST_GUESTS = 1, 500
CODES_NOTICE = timedelta(days=1)
ON_PAPER, MOST_PASSKEYS = 10, 10


@transaction.atomic
def make_guest() -> User:
    """Somebody who tries it for a day, without a name or a password; those whose day is over go.

    Raises ValidationError where too many try it at once.
    """
    now = timezone.now()
    User.objects.filter(guest_until__lt=now).delete()
    if User.objects.filter(guest_until__isnull=False).count() >= MOST_GUESTS:
        raise ValidationError("Very many are trying it just now. Make an account, or come back tomorrow.")
    name = f"guest-{secrets.token_hex(6)}"
    guest = User(username=name, email=f"{name}@guest.invalid", guest_until=now + timedelta(days=GUEST_DAYS))
    guest.set_unusable_password()
    guest.save()
    return guest


def sign_up(form: SignUpForm) -> User:
    """Makes the account of a form that was checked. Raises ValidationError where another was quicker."""
    form.instance.guest_until = None
    try:
        with transaction.atomic():
            user: User = form.save()
            return user
    except IntegrityError as error:
        raise ValidationError("Somebody has just taken that name.") from error


@one_change
def edit_account(owner: User, **values: Any) -> User:
    """Sets the address and the units."""
    for field, value in values.items():
        setattr(owner, field, value)
    owner.save(update_fields=list(values))
    return owner


@transaction.atomic
def begin_codes(user: User, code: str) -> list[str]:
    """Codes are asked for from now on; returns those for paper. Raises ValidationError where the code is wrong."""
    keep_codes(user)
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
    keep_codes(user)


def end_codes_later(user: User) -> None:
    """Codes end after the notice: whoever came by mail may have lost the device, or may be somebody else."""
    user.codes_end_at = timezone.now() + CODES_NOTICE
    user.save(update_fields=["codes_end_at"])


def keep_codes(user: User) -> None:
    """Codes are not to end any more."""
    if user.codes_end_at:
        user.codes_end_at = None
        user.save(update_fields=["codes_end_at"])


def device_to_be(user: User) -> TOTPDevice:
    """The device that is being set up; a new one where none is."""
    device, _ = TOTPDevice.objects.get_or_create(user=user, confirmed=False, defaults={"name": "Codes"})
    return device


@one_change
def end_entrances(owner: User, keep: set[str], key: str | None) -> int:
    """Ends all other ways into an account, but those to keep by their keys and the session with this one; returns how
    many. A place that is kept stays signed in under the new password."""
    ended = 0
    for credential in list_credentials(owner, key):
        if credential.key in keep:
            if isinstance(credential.row, Session):
                stay_signed_in(credential.row, owner)
        else:
            credential.row.delete()
            ended += 1
    return ended


def stay_signed_in(row: Session, owner: User) -> None:
    """A place that is signed in stays so under the owner's new password."""
    store = type(row).get_session_store_class()(row.session_key)
    store[HASH_SESSION_KEY] = owner.get_session_auth_hash()
    store.save()


def end_places(owner: User, key: str | None, mark: str) -> int:
    """Ends one place by its mark, or with an empty one all but this; returns how many."""
    keys = [
        one
        for one in Session.objects.filter(owner=owner).values_list("session_key", flat=True)
        if one != key and mark in ("", session_digest(one))
    ]
    return Session.objects.filter(owner=owner, session_key__in=keys).delete()[0]


@one_change
def keep_passkey(owner: User, name: str, credential: bytes, public_key: bytes, count: int) -> Passkey:
    """A new passkey. Raises ValidationError."""
    if not name.strip():
        raise ValidationError("Give the passkey a name.")
    if owner.passkeys.count() >= MOST_PASSKEYS:
        raise ValidationError(f"There are {MOST_PASSKEYS} passkeys already: end one first.")
    mark = passkey_digest(credential)
    if Passkey.objects.filter(mark=mark).exists():
        raise ValidationError("That passkey is kept already.")
    return Passkey.objects.create(
        owner=owner, name=name.strip()[:40], mark=mark, credential=credential, public_key=public_key, count=count
    )


def used_passkey(passkey: Passkey, count: int) -> None:
    """Writes down that a passkey was used, with its count, by which a copy of it would be found out."""
    Passkey.objects.filter(pk=passkey.pk).update(count=count, used_on=timezone.localdate())


@one_change
def end_passkey(owner: User, mark: str) -> str:
    """Ends a passkey; returns its name. Raises ValidationError."""
    passkey = owner.passkeys.filter(mark=mark).first()
    if passkey is None:
        raise ValidationError("That passkey is gone already.")
    passkey.delete()
    return passkey.name
