"""Forms for a lure and a tray."""

from typing import Any

from django import forms

from tackle.colours.palette import Palette
from tackle.errors import Refused
from tackle.units import read_length_in, write_exact
from tackle.vocabulary import CATEGORIES
from web.accounts.models import User
from web.crate.models import Lure, Tray
from web.ui.words import label


class LureForm(forms.Form):
    category = forms.ChoiceField()
    card = forms.ChoiceField(label="Colour")
    count = forms.IntegerField(min_value=1, max_value=999, initial=1)
    size = forms.CharField(required=False, max_length=20)
    name = forms.CharField(label="Name as printed", required=False, max_length=80)
    tray = forms.ModelChoiceField(queryset=Tray.objects.none(), empty_label=None)

    def __init__(self, user: User, palette: Palette, lure: Lure | None, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.user = user
        self.fields["tray"].queryset = Tray.objects.filter(owner=user)
        categories = [category for category in CATEGORIES if palette.sold_in(category)]
        self.fields["category"].choices = [(category, label(category)) for category in categories]
        chosen = self["category"].value()
        self.fields["card"].choices = card_choices(palette, chosen if chosen in CATEGORIES else categories[0])
        if lure and lure.card not in dict(self.fields["card"].choices) and chosen == lure.category:
            # A retired colour stays choosable for the lure that has it.
            self.fields["card"].choices += [(lure.card, palette.by_id[lure.card].name)]
        for name in ("count", "size", "name"):
            self.fields[name].widget.attrs["class"] = "field-input"

    def clean_size(self) -> float | None:
        text = self.cleaned_data["size"]
        if not text:
            return None
        try:
            return round(read_length_in(text, self.user.units, "size"), 2)
        except Refused as refused:
            raise forms.ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused

    def values(self) -> dict[str, Any]:
        """The cleaned values, by the fields of a lure."""
        cleaned = dict(self.cleaned_data)
        return {**{f: cleaned[f] for f in ("category", "card", "count", "name", "tray")}, "size_in": cleaned["size"]}


def initial_of(lure: Lure, user: User) -> dict[str, Any]:
    """What the form starts with for a lure that is there."""
    return {
        "category": lure.category,
        "card": lure.card,
        "count": lure.count,
        "size": write_exact(lure.size_in, user.units) if lure.size_in else "",
        "name": lure.name,
        "tray": lure.tray_id,
    }


def card_choices(palette: Palette, category: str) -> list[tuple[str, str]]:
    """The colours a category is sold in."""
    return [(card.id, f"{card.name} ({card.code})") for card in palette.sold_in(category)]


class TrayForm(forms.ModelForm):
    class Meta:
        model = Tray
        fields = ["name", "label"]
        widgets = {"name": forms.TextInput({"class": "field-input"})}
