"""Forms for a lure and a tray."""

from typing import Any

from django import forms

from tackle.colours.palette import Palette
from tackle.crate.lure import SOUNDS
from tackle.crate.table import CONDITIONS, read_row
from tackle.errors import Refused
from tackle.units import G_PER_OZ, read_length_in, write_depth, write_exact
from tackle.vocabulary import CATEGORIES
from web.accounts.models import User
from web.crate.models import Lure, Place, Tray
from web.crate.reads import bare_trays_of
from web.ui.words import label


class LureForm(forms.Form):
    category = forms.ChoiceField()
    card = forms.ChoiceField(label="Colour")
    count = forms.IntegerField(min_value=1, max_value=999, initial=1)
    size = forms.CharField(required=False, max_length=20)
    name = forms.CharField(label="Name as printed", required=False, max_length=80)
    tray = forms.ModelChoiceField(queryset=Tray.objects.none(), empty_label=None)
    weight = forms.CharField(required=False, max_length=20)
    depth = forms.CharField(label="Running depth", required=False, max_length=20)
    sound = forms.ChoiceField(required=False, choices=[("", "not noted"), *((one, one) for one in SOUNDS)])
    condition = forms.ChoiceField(required=False, choices=[("", "not noted"), *((one, one) for one in CONDITIONS)])
    price = forms.DecimalField(required=False, min_value=0, max_value=99999, max_digits=8, decimal_places=2)
    note = forms.CharField(required=False, max_length=300)
    photo = forms.FileField(
        label="Picture", required=False, widget=forms.FileInput({"accept": "image/jpeg,image/png,image/webp"})
    )

    MORE = ("weight", "depth", "sound", "condition", "price", "note", "photo")

    @property
    def first_fields(self) -> list[forms.BoundField]:
        return [field for field in self if field.name not in self.MORE]

    @property
    def more_fields(self) -> list[forms.BoundField]:
        return [field for field in self if field.name in self.MORE]

    @property
    def more_told(self) -> bool:
        """Whether anything beyond the first fields is noted, or wrong."""
        return any(self[name].value() or self[name].errors for name in self.MORE)

    def __init__(self, user: User, palette: Palette, lure: Lure | None, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.user, self.palette = user, palette
        self.fields["tray"].queryset = bare_trays_of(user)
        categories = [category for category in CATEGORIES if palette.sold_in(category)]
        self.fields["category"].choices = [(category, label(category)) for category in categories]
        chosen = self["category"].value()
        self.fields["card"].choices = card_choices(palette, chosen if chosen in CATEGORIES else categories[0])
        if lure and lure.card not in dict(self.fields["card"].choices) and chosen == lure.category:
            # A retired colour stays choosable for the lure that has it.
            self.fields["card"].choices += [(lure.card, palette.by_id[lure.card].name)]
        for name in ("count", "size", "name", "weight", "depth", "price", "note", "photo"):
            self.fields[name].widget.attrs["class"] = "field-input"

    def clean_size(self) -> float | None:
        text = self.cleaned_data["size"]
        if not text:
            return None
        try:
            return round(read_length_in(text, self.user.units, "size"), 2)
        except Refused as refused:
            raise forms.ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused

    def clean_weight(self) -> float | None:
        text = self.cleaned_data["weight"]
        if not text:
            return None
        grams = self.user.units == "metric" and text.strip()[-1:].isdigit()
        draft = read_row([text + (" g" if grams else "")], ["weight"], self.palette, self.user.units)
        if "weight" in draft.wrong:
            raise forms.ValidationError(draft.wrong["weight"])
        return draft.weight_oz

    def clean_depth(self) -> float | None:
        draft = read_row([self.cleaned_data["depth"]], ["depth"], self.palette, self.user.units)
        if "depth" in draft.wrong:
            raise forms.ValidationError(draft.wrong["depth"])
        return draft.depth_ft

    def values(self) -> dict[str, Any]:
        """The cleaned values, by the fields of a lure."""
        cleaned = dict(self.cleaned_data)
        same = ("category", "card", "count", "name", "tray", "sound", "condition", "price", "note")
        return {
            **{field: cleaned[field] for field in same},
            "size_in": cleaned["size"],
            "weight_oz": cleaned["weight"],
            "depth_ft": cleaned["depth"],
        }


def initial_of(lure: Lure, user: User) -> dict[str, Any]:
    """What the form starts with for a lure that is there."""
    metric = user.units == "metric"
    weight = lure.weight_oz and (f"{lure.weight_oz * G_PER_OZ:.3g} g" if metric else f"{lure.weight_oz:g} oz")
    return {
        "category": lure.category,
        "card": lure.card,
        "count": lure.count,
        "size": write_exact(lure.size_in, user.units) if lure.size_in else "",
        "name": lure.name,
        "tray": lure.tray_id,
        "weight": weight or "",
        "depth": write_depth(lure.depth_ft, user.units) if lure.depth_ft else "",
        "sound": lure.sound,
        "condition": lure.condition,
        "price": lure.price,
        "note": lure.note,
    }


def card_choices(palette: Palette, category: str) -> list[tuple[str, str]]:
    """The colours a category is sold in."""
    return [(card.id, f"{card.name} ({card.code})") for card in palette.sold_in(category)]


class TrayForm(forms.ModelForm):
    class Meta:
        model = Tray
        fields = ["name", "label", "place", "rows", "columns"]
        widgets = {
            "name": forms.TextInput({"class": "field-input"}),
            "rows": forms.NumberInput({"class": "field-input"}),
            "columns": forms.NumberInput({"class": "field-input"}),
        }

    def __init__(self, places: list[Place], *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["place"].queryset = Place.objects.filter(pk__in=[place.pk for place in places])
        self.fields["place"].empty_label = None
        for name in ("place", "rows", "columns"):
            self.fields[name].required = False

    def told(self) -> dict[str, Any]:
        """What was told; what was left out stays as it is, or as a new tray has it."""
        return {name: value for name, value in self.cleaned_data.items() if value is not None}

    def _post_clean(self) -> None:
        """The change itself checks the tray, with what was left out filled in."""


class UploadForm(forms.Form):
    """A file with lures in it."""

    file = forms.FileField(
        widget=forms.FileInput({"class": "field-input", "accept": ".csv,.tsv,.txt,.xlsx,.ods,.json"})
    )
    tray = forms.ModelChoiceField(
        queryset=Tray.objects.none(),
        required=False,
        empty_label="where its kind lies",
        label="Into which tray, where a row names none",
    )

    def __init__(self, user: User, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["tray"].queryset = bare_trays_of(user)
