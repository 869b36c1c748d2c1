"""The form for a file of lures."""

from typing import Any

from django import forms

from web.common.accounts.models import User
from web.common.ui.fields import offer_rows
from web.domain.crate.models import Tray
from web.domain.crate.selectors import list_trays_with_places


class UploadForm(forms.Form):
    """A file with lures in it."""

    file = forms.FileField(
        widget=forms.FileInput({"class": "field-input", "accept": ".csv,.tsv,.txt,.xlsx,.ods,.json"})
    )
    tray = forms.ModelChoiceField(
        queryset=Tray.objects.none(),
        required=False,
        empty_label="with others of its category",
        label="Into which tray, where a row names none",
    )

    def __init__(self, user: User, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        offer_rows(self, "tray", list_trays_with_places(user))
