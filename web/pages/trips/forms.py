"""The form for a trip."""

from datetime import date
from typing import Any

from django import forms

from tackle.base.errors import InvalidInput
from tackle.base.units import EXACT_IN, read_visibility_in, write_exact
from tackle.base.vocabulary import CATEGORIES, Stain
from tackle.intake.rods import read_rods
from tackle.situations.kinds_by_month import to_offer
from web.common.accounts.models import User
from web.common.ui.fields import A_DAY, offer
from web.common.ui.words import choices, clock_said, label
from web.domain.crate.selectors import list_trays_with_places
from web.domain.plans.selectors import get_basis, in_season
from web.domain.trips.models import MOST_ROOM, TURN_MINUTES, Trip
from web.domain.waters.selectors import list_waters

ASKED_FIRST = ("water", "date", "first_hour", "last_hour")
_LATER = ("two days on", "three days on", "four days on")


class TripForm(forms.Form):
    """What a trip is; how clear it will be may be left to the month, the readings and the rain."""

    water = forms.TypedChoiceField(coerce=int)
    date = forms.DateField(widget=forms.DateInput({"type": "date"}), validators=A_DAY)
    first_hour = forms.TypedChoiceField(label="From", coerce=int)
    last_hour = forms.TypedChoiceField(label="To", coerce=int)
    days_on = forms.TypedChoiceField(
        label="It ends", coerce=int, choices=list(enumerate(("the same day", "the day after", *_LATER))), required=False
    )
    rods = forms.IntegerField(label="Rods at hand", min_value=1, max_value=16)
    sleeved = forms.IntegerField(label="More rods in the boat, in sleeves", min_value=0, max_value=30, required=False)
    room = forms.IntegerField(label="Room for lures", min_value=1, max_value=MOST_ROOM)
    tray = forms.TypedChoiceField(label="Or the tray that goes", coerce=int, required=False, empty_value=None)
    turn_minutes = forms.IntegerField(
        label="Minutes of a turn (one lure on one rod until you change)", min_value=5, max_value=10, required=False
    )
    afoot = forms.BooleanField(label="From the bank, or wading", required=False)
    partner = forms.BooleanField(label="Somebody fishes with you: a tray for each", required=False)
    visibility = forms.CharField(label="Visibility, if you know it", required=False, max_length=20)
    stain = forms.ChoiceField(label="Water colour", required=False, choices=[("", "as usual"), *choices(Stain)])
    own_rods = forms.CharField(
        label="Which rods these are, one a line, if they differ",
        required=False,
        max_length=4_000,
        widget=forms.Textarea({"rows": 3, "placeholder": "medium heavy, 14 lb: worm, casting jig"}),
    )
    categories = forms.MultipleChoiceField(label="Categories", widget=forms.CheckboxSelectMultiple)

    def __init__(self, user: User, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.user = user
        offer(self, "water", [(water.pk, water.name) for water in list_waters(user)])
        for name, ends in (("first_hour", 0), ("last_hour", 1)):
            offer(self, name, [(hour, clock_said(hour + ends, user.units)) for hour in range(24)])
        self.places = {tray.pk: tray for tray in list_trays_with_places(user)}
        offer(
            self,
            "tray",
            [("", "as much room as above"), *((pk, f"{t.letter}: {t.name}") for pk, t in self.places.items())],
        )
        day = self.initial.get("date") or date.today()
        basis = get_basis(user)
        here = basis.core.get(self.initial.get("water") or 0) or next(iter(basis.core.values()), None)
        chosen = [one for one in self.initial.get("categories", []) if one in CATEGORIES]
        offered = to_offer(in_season(basis, day.month), list(basis.core.values()), here, chosen)
        offer(self, "categories", [(one, label(one)) for one in offered])
        for field in self.fields.values():
            if not isinstance(field.widget, forms.Select | forms.CheckboxInput | forms.CheckboxSelectMultiple):
                field.widget.attrs["class"] = "field-input"

    @property
    def asked_first(self) -> list[forms.BoundField]:
        """What nearly everybody fills in, without the categories."""
        return [self[name] for name in ASKED_FIRST]

    @property
    def asked_after(self) -> list[forms.BoundField]:
        """What stands under More."""
        return [field for field in self if field.name not in {*ASKED_FIRST, "categories"}]

    @property
    def is_opened(self) -> bool:
        """Whether something under More was refused, and has to be seen."""
        return any(field.errors for field in self.asked_after)

    def clean_own_rods(self) -> str:
        text: str = self.cleaned_data["own_rods"]
        try:
            read_rods(text)
        except InvalidInput as refused:
            raise forms.ValidationError(f"{refused.field}: {refused.wrong}. Allowed: {refused.allowed}.") from refused
        return text

    def clean_visibility(self) -> float | None:
        text = self.cleaned_data["visibility"]
        if not text:
            return None
        try:
            return round(read_visibility_in(text, self.user.units, "visibility"), EXACT_IN)
        except InvalidInput as refused:
            raise forms.ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused

    def values(self) -> dict[str, Any]:
        """What the model takes, without the water."""
        data = {**self.cleaned_data}
        data.pop("water")
        data["last_hour"] += 24 * (data.pop("days_on") or 0)
        data["visibility_in"] = data.pop("visibility")
        if tray := self.places.get(data.pop("tray") or 0):
            data["room"] = min(tray.room, MOST_ROOM)
        data["sleeved"] = data["sleeved"] or 0
        data["turn_minutes"] = data["turn_minutes"] or TURN_MINUTES
        return data


def initial_values(trip: Trip, user: User) -> dict[str, Any]:
    """What the form of a trip that is there holds at first."""
    names = (
        "date",
        "first_hour",
        "last_hour",
        "rods",
        "sleeved",
        "own_rods",
        "partner",
        "room",
        "afoot",
        "stain",
        "categories",
        "turn_minutes",
    )
    clear = trip.visibility_in
    return {
        **{name: getattr(trip, name) for name in names},
        "last_hour": trip.last_hour % 24,
        "days_on": trip.last_hour // 24,
        "water": trip.water_id,
        "visibility": "" if clear is None else write_exact(clear, user.units),
    }
