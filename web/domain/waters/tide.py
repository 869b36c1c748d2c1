"""A water's tide as its page tells it, and as a day asks for it."""

from collections.abc import Iterable
from datetime import date
from typing import Any

from django.utils import timezone

from tackle.base.units import M_PER_FT, System
from tackle.base.vocabulary import Tide
from tackle.records.tides import Wave, flow_by_hour, light_of_flow
from web.domain.waters.models import Water

__all__ = ["flows_on", "told_tide"]


def flows_on(water: Water, day: date, hours: Iterable[int]) -> dict[int, Tide]:
    """How it runs in some hours of a day, by the water's clock where it has a zone; none where no tide is known, or not
    where the water lies."""
    if water.longitude is None:
        return {}
    return flow_by_hour(_waves(water), water.longitude, day, hours, water.zone if water.time_zone else None)


def told_tide(water: Water, units: System) -> dict[str, Any]:
    """Today's hours, under which light it runs this month, in per cent, and its constants as they are typed."""
    today, waves = timezone.localdate(), _waves(water)
    light = light_of_flow(waves, *water.position, today.year, today.month) if water.position else {}
    constants = (water.tide or {}).get("constants", {})
    unit, per_ft = ("m", M_PER_FT) if units == "metric" else ("ft", 1.0)
    return {
        "hours": list(flows_on(water, today, range(24)).items()),
        "light": [(flow, round(data["low"] * 100), round(data["day"] * 100)) for flow, data in light.items()],
        "text": "\n".join(f"{name} {ft * per_ft:.3g} {unit} {lag:g}" for name, (ft, lag) in constants.items()),
    }


def _waves(water: Water) -> dict[int, list[Wave]]:
    data = (water.tide or {}).get("waves", {})
    return {int(year): [Wave(*wave) for wave in waves] for year, waves in data.items()}
