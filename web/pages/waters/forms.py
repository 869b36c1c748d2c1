"""The forms for what is known of a water, and for what is forbidden there."""

from collections.abc import Callable
from typing import Any

from django import forms

from tackle.base.errors import InvalidInput
from tackle.base.units import EXACT_IN, System, read_depth_ft, read_visibility_in, write_depth, write_exact
from tackle.base.vocabulary import CATEGORIES, Cover, ids
from tackle.situations.regions import regions
from tackle.situations.starting import kinds
from web.common.accounts.models import User
from web.common.ui.fields import offer
from web.common.ui.words import label, region_said
from web.domain.waters.models import BOTTOMS, Water
from web.domain.waters.services import MONTH_NAMES


class WaterForm(forms.ModelForm):
    rough = forms.TypedChoiceField(
        label="Roughly where", coerce=lambda name: regions()[name], empty_value=None, required=False,
        choices=[("", "by its latitude"), *((name, region_said(name)) for name in regions())],
        help_text="Enough for the season, the food and the sun; with a latitude too, the sun is by that.",
    )  # fmt: skip
    latitude = forms.FloatField(
        min_value=-66, max_value=66, required=False, help_text="In degrees; south of the equator below 0."
    )
    longitude = forms.FloatField(min_value=-180, max_value=180, required=False, help_text="In degrees; west below 0.")
    dryness = forms.TypedChoiceField(
        coerce=float, choices=[(0.2, "wet"), (0.5, "middling"), (0.8, "dry")], label="Climate", initial=0.5
    )
    norm = forms.CharField(
        label="Usual clarity", required=False, help_text="How deep a white lure still shows in a normal week."
    )
    depth = forms.CharField(label="Lures run at", required=False, help_text="How deep, as a rule.")

    class Meta:
        model = Water
        fields = ["name", "kind", "salinity", "latitude", "longitude", "time_zone", "dryness", "relative", "target"]
        labels = {"relative": "Read its fish relative to its usual clarity", "target": "Target fish"}

    def __init__(self, user: User, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.user = user
        for what, sorts in (("cover", ids(Cover)), ("bottom", BOTTOMS)):
            held = getattr(self.instance, what) if self.instance.pk else {}
            for kind in sorts:
                self.fields[f"{what}_{kind}"] = forms.FloatField(
                    label=label(kind), min_value=0, max_value=100, required=False, initial=held.get(kind),
                    widget=forms.HiddenInput,
                )  # fmt: skip
        if self.instance.pk:
            norm, depth = self.instance.norm_in, self.instance.depth_ft
            self.fields["norm"].initial = write_exact(norm, user.units) if norm else ""
            self.fields["depth"].initial = write_depth(depth, user.units) if depth else ""
        else:
            self.fields["salinity"].required = False
            offer(self, "salinity", [("", "as its kind is"), *Water.Salinity.choices])
        for field in self.fields.values():
            if not isinstance(field.widget, forms.Select | forms.CheckboxInput | forms.HiddenInput):
                field.widget.attrs["class"] = "field-input"

    @property
    def groups(self) -> list[tuple[str, list[forms.BoundField]]]:
        """What is asked about the water itself, by what it is about."""
        return [
            ("The water", [self[name] for name in ("name", "kind", "salinity", "norm", "depth", "relative", "target")]),
            ("Where it is", [self[name] for name in ("rough", "latitude", "longitude", "time_zone", "dryness")]),
        ]

    @property
    def shares(self) -> list[tuple[str, str, list[forms.BoundField]]]:
        """What is told in shares, each kind of it a hidden field that the bar writes."""
        data = {"cover": ("Cover", "what the fish lie in"), "bottom": ("Bottom", "what it is made of")}
        return [
            (title, said, [self[name] for name in self.fields if name.startswith(f"{what}_")])
            for what, (title, said) in data.items()
        ]

    def _read(self, field: str, reader: Callable[[str, System, str], float]) -> float | None:
        text = self.cleaned_data[field]
        if not text:
            return None
        try:
            return round(reader(text, self.user.units, field), EXACT_IN)
        except InvalidInput as refused:
            raise forms.ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused

    def clean_norm(self) -> float | None:
        return self._read("norm", read_visibility_in)

    def clean_depth(self) -> float | None:
        return self._read("depth", read_depth_ft)

    def clean_name(self) -> str:
        name = str(self.cleaned_data["name"]).strip()
        if Water.objects.filter(owner=self.user, name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a water of that name already.")
        return name

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if not cleaned.get("salinity") and cleaned.get("kind") in kinds():
            cleaned["salinity"] = kinds()[cleaned["kind"]].salinity
        if cleaned.get("latitude") is None:
            cleaned["latitude"] = rough.latitude if (rough := cleaned.get("rough")) else None
        if cleaned["latitude"] is None and "latitude" not in self.errors:
            self.add_error("latitude", "Give a latitude, or say roughly where it is.")
        return cleaned

    def values(self) -> dict[str, Any]:
        """The cleaned values, by the fields of a water."""
        cleaned = self.cleaned_data

        def shares(what: str, kinds: tuple[str, ...]) -> dict[str, float]:
            return {kind: cleaned[f"{what}_{kind}"] for kind in kinds if cleaned[f"{what}_{kind}"]}

        return {field: cleaned[field] for field in self.Meta.fields} | {
            "norm_in": cleaned["norm"], "depth_ft": cleaned["depth"],
            "cover": shares("cover", ids(Cover)), "bottom": shares("bottom", BOTTOMS),
        }  # fmt: skip


class PlaceForm(forms.ModelForm):
    latitude = forms.FloatField(min_value=-66, max_value=66, help_text="In degrees; south of the equator below 0.")
    longitude = forms.FloatField(min_value=-180, max_value=180, help_text="In degrees; west below 0.")

    class Meta:
        model = Water
        fields = ("latitude", "longitude", "time_zone")
        help_texts = {"time_zone": "Like Europe/Paris. It tells which hour it is there."}

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for field in self.fields.values():
            field.widget.attrs["class"] = "field-input"


class RulesForm(forms.ModelForm):
    forbids_categories = forms.MultipleChoiceField(
        label="Lures that may not be thrown", choices=[(c, label(c)) for c in CATEGORIES], required=False,
        widget=forms.CheckboxSelectMultiple,
    )  # fmt: skip
    closed_months = forms.TypedMultipleChoiceField(
        label="Closed months", choices=list(enumerate(MONTH_NAMES, 1)), coerce=int, required=False,
        widget=forms.CheckboxSelectMultiple,
    )  # fmt: skip

    class Meta:
        model = Water
        fields = [
            "forbids_trebles", "forbids_barbs", "forbids_lead", "forbids_night", "forbids_categories", "closed_months",
            "rules_note", "rules_checked",
        ]  # fmt: skip
        labels = {
            "forbids_trebles": "Treble hooks", "forbids_barbs": "Barbs", "forbids_lead": "Lead",
            "forbids_night": "Night fishing", "rules_note": "In their words", "rules_checked": "Checked on",
        }  # fmt: skip
        widgets = {
            "rules_checked": forms.DateInput({"type": "date", "class": "field-input"}, format="%Y-%m-%d"),
            "rules_note": forms.TextInput({"class": "field-input"}),
        }
