"""Every change to an account: checked, and written in one transaction."""

import secrets
from datetime import timedelta
from typing import Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.utils import timezone

from web.accounts.forms import SignUpForm
from web.accounts.models import User
from web.accounts.writing import one_change

GUEST_DAYS, MOST_GUESTS = 1, 500


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
        raise ValidationError("Somebody has just taken that name or address.") from error


@one_change
def edit_account(owner: User, **values: Any) -> User:
    """Sets the address and the units. Raises ValidationError."""
    for field, value in values.items():
        setattr(owner, field, value)
    try:
        with transaction.atomic():
            owner.save(update_fields=list(values))
    except IntegrityError as error:
        raise ValidationError({"email": "That address belongs to another account."}) from error
    return owner
