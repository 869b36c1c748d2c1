"""The form for what is known of a water."""

from typing import Any

from django import forms

from tackle.errors import Refused
from tackle.units import read_length_in, write_exact
from web.accounts.models import User
from web.waters.models import FOODS, Water


class WaterForm(forms.ModelForm):
    norm = forms.CharField(
        label="Usual clarity",
        required=False,
        help_text="How deep a white lure still shows in a normal week.",
    )
    food = forms.MultipleChoiceField(
        label="What the fish eat here", choices=FOODS, required=False, widget=forms.CheckboxSelectMultiple
    )

    class Meta:
        model = Water
        fields = ["name", "kind", "salinity"]

    def __init__(self, user: User, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.user = user
        if self.instance.pk:
            self.fields["food"].initial = self.instance.food
            if self.instance.norm_in:
                self.fields["norm"].initial = write_exact(self.instance.norm_in, user.units)
        for field in ("name", "norm"):
            self.fields[field].widget.attrs["class"] = "field-input"

    def clean_norm(self) -> float | None:
        text = self.cleaned_data["norm"]
        if not text:
            return None
        try:
            return round(read_length_in(text, self.user.units, "clarity"), 2)
        except Refused as refused:
            raise forms.ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if Water.objects.filter(owner=self.user, name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a water of that name already.")
        return name

    def values(self) -> dict[str, Any]:
        """The cleaned values, by the fields of a water."""
        cleaned = self.cleaned_data
        return {field: cleaned[field] for field in ("name", "kind", "salinity", "food")} | {"norm_in": cleaned["norm"]}
