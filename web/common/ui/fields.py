"""What a form's fields offer, where that is known only when the form is made."""

from collections.abc import Iterable
from typing import Any, Final

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db.models import QuerySet
from django.forms import BaseForm, ChoiceField, ModelChoiceField

from tackle.base.days import FIRST_DAY, LAST_DAY

__all__ = ["A_DAY", "offer", "offer_rows"]

A_DAY: Final = [MinValueValidator(FIRST_DAY), MaxValueValidator(LAST_DAY)]  # what the reader of days takes


def offer(form: BaseForm, name: str, choices: Iterable[tuple[Any, str]]) -> None:
    """Sets the choices of a field, as pairs of value and words."""
    field = form.fields[name]
    if not isinstance(field, ChoiceField):
        raise TypeError(f"{name} has no choices")
    field.choices = list(choices)


def offer_rows(form: BaseForm, name: str, rows: QuerySet[Any]) -> None:
    """Sets the rows that a field chooses among."""
    field = form.fields[name]
    if not isinstance(field, ModelChoiceField):
        raise TypeError(f"{name} does not choose among rows")
    field.queryset = rows
