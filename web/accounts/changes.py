"""Every change to an account: checked, and written in one transaction."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction

from web.accounts.forms import SignUpForm
from web.accounts.models import User
from web.accounts.writing import one_change


def sign_up(form: SignUpForm) -> User:
    """Makes the account of a form that was checked. Raises ValidationError where another was quicker."""
    try:
        with transaction.atomic():
            return form.save()
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
