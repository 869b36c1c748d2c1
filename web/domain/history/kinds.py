"""The kinds of things whose changes are kept: which fields tell what one of them is, and what it lies in."""

from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from django.apps import apps
from django.db.models import Model


@dataclass(frozen=True, slots=True)
class ChangeKind:
    """`owner`: the look-up that leads to its owner. `inside`: the field and kind of what must be there to hold it.

    `loose`: fields that other changes move along, so that they tell nothing of a later one.
    """

    name: str
    label: str
    owner: str
    fields: tuple[str, ...]
    inside: tuple[str, str] | None = None
    loose: frozenset[str] = frozenset()

    @property
    def model(self) -> type[Model]:
        return apps.get_model(self.label)


LURE = ChangeKind(
    "lure", "crate.Lure", "tray__owner",
    ("tray_id", "category", "card", "name", "count", "size_in", "weight_oz", "depth_ft", "sound", "price", "condition",
     "note", "typed", "picture_id", "position"),
    inside=("tray_id", "tray"), loose=frozenset({"position"}),
)  # fmt: skip
THING = ChangeKind(
    "thing", "crate.Thing", "tray__owner", ("tray_id", "name", "count", "weight_oz", "size_in", "typed", "par"),
    inside=("tray_id", "tray"),
)  # fmt: skip
TRAY = ChangeKind("tray", "crate.Tray", "owner", ("letter", "name", "label", "place_id", "rows", "columns"))
WATER = ChangeKind(
    "water", "waters.Water", "owner",
    ("name", "kind", "salinity", "latitude", "longitude", "time_zone", "dryness", "norm_in", "relative", "depth_ft",
     "cover", "bottom", "target", "observations", "half_life_y", "tide", "forbids_categories", "forbids_trebles",
     "forbids_barbs", "forbids_lead", "forbids_night", "closed_months", "rules_note", "rules_checked"),
)  # fmt: skip
MONTH = ChangeKind(
    "month", "waters.WaterMonth", "water__owner",
    ("water_id", "month", "low_in", "usual_in", "high_in", "stain", "temp_f", "food", "days", "hours", "sky", "guess"),
    inside=("water_id", "water"),
)  # fmt: skip
READING = ChangeKind(
    "reading", "waters.Reading", "water__owner",
    ("water_id", "date", "visibility_in", "stain", "spot", "note", "source", "sky", "wind", "rain_in", "off_by",
     "bound"),
    inside=("water_id", "water"),
)  # fmt: skip
SIGHTING = ChangeKind(
    "sighting", "waters.Sighting", "water__owner", ("water_id", "date", "food", "spot"), inside=("water_id", "water")
)


# By name, what holds others first.
KINDS: Final = MappingProxyType({
    kind.name: kind for kind in (TRAY, WATER, LURE, THING, MONTH, READING, SIGHTING)
})  # fmt: skip
