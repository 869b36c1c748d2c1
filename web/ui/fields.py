"""What a form's fields offer, where that is known only when the form is made."""

from collections.abc import Iterable
from typing import Any

from django.db.models import QuerySet
from django.forms import BaseForm, ChoiceField, ModelChoiceField

__all__ = ["offer", "offer_rows"]


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
