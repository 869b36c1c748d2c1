"""Forms for a lure and a tray."""

from typing import Any

from django import forms

from tackle.base.units import write_depth, write_exact, write_weight_exact
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.palette import Palette
from tackle.crate.lure import SOUNDS
from tackle.intake.sheet_rows import CONDITIONS, read_row
from web.common.accounts.models import User
from web.common.ui.fields import offer, offer_rows
from web.common.ui.words import label
from web.domain.crate.models import Lure, Place, Tray
from web.domain.crate.selectors import list_trays_with_places


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
        offer_rows(self, "tray", list_trays_with_places(user))
        categories = [category for category in CATEGORIES if palette.sold_in(category)]
        offer(self, "category", [(category, label(category)) for category in categories])
        chosen = self["category"].value()
        cards = card_choices(palette, chosen if chosen in CATEGORIES else categories[0])
        if lure and lure.card not in dict(cards) and chosen == lure.category:
            # A colour that is retired, or gone, stays for the lure that has it.
            cards.append((lure.card, palette.known(lure.card).name))
        offer(self, "card", cards)
        self.first_card = cards[0][0]
        for name in ("count", "size", "name", "weight", "depth", "price", "note", "photo"):
            self.fields[name].widget.attrs["class"] = "field-input"

    def clean_size(self) -> float | None:
        return self._measured("size")

    def clean_weight(self) -> float | None:
        return self._measured("weight")

    def clean_depth(self) -> float | None:
        return self._measured("depth")

    def _measured(self, name: str) -> float | None:
        """A measure, read as a row of a file is."""
        draft = read_row([self.cleaned_data[name]], [name], self.palette, self.user.units)
        if name in draft.wrong:
            raise forms.ValidationError(f"{draft.wrong[name]}.")
        return {"size": draft.size_in, "weight": draft.weight_oz, "depth": draft.depth_ft}[name]

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


def initial_values(lure: Lure, user: User) -> dict[str, Any]:
    """What the form starts with for a lure that is there."""
    return {
        "category": lure.category,
        "card": lure.card,
        "count": lure.count,
        "size": write_exact(lure.size_in, user.units) if lure.size_in else "",
        "name": lure.name,
        "tray": lure.tray_id,
        "weight": write_weight_exact(lure.weight_oz, user.units) if lure.weight_oz else "",
        "depth": "" if lure.depth_ft is None else write_depth(lure.depth_ft, user.units),
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
        fields = ["name", "label", "rows", "columns"]
        widgets = {
            "name": forms.TextInput({"class": "field-input"}),
            "rows": forms.NumberInput({"class": "field-input"}),
            "columns": forms.NumberInput({"class": "field-input"}),
        }

    place = forms.ChoiceField(choices=Place.Kind.choices, required=False)
    hatch = forms.CharField(
        label="Hatch or bag", required=False, max_length=60, widget=forms.TextInput({"class": "field-input"})
    )

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        if self.instance.place:
            self.fields["place"].initial = self.instance.place.kind
            self.fields["hatch"].initial = self.instance.place.name
        for name in ("rows", "columns"):
            self.fields[name].required = False

    def told(self) -> dict[str, Any]:
        """What was told; what was left out stays as it is, or as a new tray has it."""
        return {name: value for name, value in self.cleaned_data.items() if value not in (None, "")}

    def _post_clean(self) -> None:
        """The change itself checks the tray, with what was left out filled in."""
