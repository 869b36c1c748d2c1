"""The form for a card of the angler's own."""

from typing import Any

from django import forms

from tackle.base.vocabulary import CATEGORIES, Accent, Brightness, Finish, Flake, FlakeHue, Forage, Opacity, Tone
from tackle.colours.colour import Colour
from tackle.colours.described import FLAKE_SRGB
from web.common.ui.words import choices, label

_LISTS = ("flake_hues", "accents", "imitates", "sold_in")


def _many(name: str, options: list[tuple[str, str]]) -> forms.MultipleChoiceField:
    return forms.MultipleChoiceField(label=name, choices=options, required=False, widget=forms.CheckboxSelectMultiple)


class CardForm(forms.Form):
    name = forms.CharField(max_length=60)
    code = forms.CharField(max_length=2, help_text="Two letters: its code on labels and in lists.")
    also = forms.CharField(label="Other names", required=False, help_text="As printed by makers; with commas between.")
    tone = forms.ChoiceField(label="Colour family", choices=choices(Tone))
    opacity = forms.ChoiceField(choices=choices(Opacity))
    finish = forms.ChoiceField(choices=choices(Finish))
    flake = forms.ChoiceField(choices=choices(Flake))
    brightness = forms.ChoiceField(choices=choices(Brightness), label="Look", initial="natural")
    back = forms.CharField(widget=forms.TextInput({"type": "color"}), initial="#4a4420")
    side = forms.CharField(widget=forms.TextInput({"type": "color"}), initial="#5c5528")
    belly = forms.CharField(widget=forms.TextInput({"type": "color"}), initial="#6b6433")
    flake_hues = _many("Flake colours", choices(FlakeHue))
    accents = _many("Accents", choices(Accent))
    imitates = _many("What it imitates", [c for c in choices(Forage) if c[0] != "unknown"])
    sold_in = _many("Categories it comes in", [(c, label(c)) for c in CATEGORIES])

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name in ("name", "code", "also"):
            self.fields[name].widget.attrs["class"] = "field-input"

    def clean_code(self) -> str:
        return str(self.cleaned_data["code"]).upper()

    def clean_sold_in(self) -> list[str]:
        if not self.cleaned_data["sold_in"]:
            raise forms.ValidationError("Say which categories it comes in.")
        return list(self.cleaned_data["sold_in"])

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if cleaned.get("flake") == "none":
            cleaned["flake_hues"] = []
        elif not cleaned.get("flake_hues"):
            self.add_error("flake_hues", "A flake has at least one hue.")
        return cleaned

    def entry(self) -> dict[str, Any]:
        """The card as an entry of a palette file."""
        cleaned = self.cleaned_data
        entry = {name: cleaned[name] for name in self.fields if name != "also"}
        entry["also"] = [word.strip() for word in cleaned["also"].split(",") if word.strip()]
        entry["flake_srgb"] = [FLAKE_SRGB[FlakeHue(hue)] for hue in cleaned["flake_hues"]]
        return entry


def initial_values(card: Colour) -> dict[str, Any]:
    """What the form starts with for a card that is there, or a copy of one."""
    values = {name: getattr(card, name) for name in CardForm.base_fields if name not in (*_LISTS, "also")}
    return values | {name: list(getattr(card, name)) for name in _LISTS} | {"also": ", ".join(card.also)}
