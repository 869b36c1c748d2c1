"""Loads the demo data file, through the same changes that the screens use."""

from datetime import timedelta
from pathlib import Path
from typing import Any

from django.db import transaction
from django.utils import timezone

from tackle.base.errors import DataError
from tackle.data import read_toml
from tackle.devices.forecast import light_under
from web.common.accounts.models import User
from web.demo.season import load_season
from web.domain.crate.services import add_lure, make_tray, tray_made
from web.domain.plans.models import Plan
from web.domain.plans.services import plan_for
from web.domain.trips.services import plan_trip, say_light, take_taps
from web.domain.waters.measured import read_line
from web.domain.waters.models import Water
from web.domain.waters.services import add_readings, add_water, set_year

DEMO_FILE = Path(__file__).parent / "demo.toml"


@transaction.atomic
def load_demo(path: Path = DEMO_FILE) -> User | None:
    """The demo user with waters, plan and crate; None where it is there already. Raises DataError."""
    data = read_toml(path)
    who = dict(_part(data, path, "user"))
    if User.objects.filter(username=who["username"]).exists():
        return None
    user = User.objects.create_user(**who)
    for entry in _part(data, path, "water"):
        _load_water(user, dict(entry), path)
    for entry in _part(data, path, "tray"):
        given = {name: entry[name] for name in ("name", "label", "place", "rows", "columns") if name in entry}
        tray = tray_made(make_tray(user, **given))
        for lure in entry["lures"]:
            add_lure(user, tray=tray, **lure)
    plan = plan_for(user)
    Plan.objects.filter(pk=plan.pk).update(**_part(data, path, "plan"))
    for entry in _part(data, path, "trip"):
        _load_trip(user, dict(entry))
    load_season(user, _part(data, path, "season"))
    return user


def _load_trip(user: User, entry: dict[str, Any]) -> None:
    """A trip so many days from now, its sky by the sun of that day and the cloud that the entry tells by the hour."""
    water = Water.objects.get(owner=user, name=entry.pop("water"))
    day, clouds = timezone.localdate() + timedelta(days=entry.pop("in_days")), entry.pop("clouds")
    taps = entry.pop("taps", [])
    trip = plan_trip(user, water.pk, date=day, **entry)
    for hour, cloud in zip(trip.hours, clouds, strict=True):
        say_light(user, trip.pk, hour, light_under(cloud, *water.solar_place, day, hour))
    now = timezone.localtime()
    minute = now.hour * 60 + now.minute
    given = [
        {
            "id": f"demo-{index}",
            "device": "demo",
            "place": index,
            "angler": 0,
            "kind": kind,
            "at": minute - ago,
            "data": data,
        }
        for index, (ago, kind, data) in enumerate(taps)
    ]
    _, refused = take_taps(user, trip.pk, given)
    if refused:
        raise DataError("demo.toml", f"trip of {water.name}", "taps", next(iter(refused.values())))


def _load_water(user: User, entry: dict[str, Any], path: Path) -> None:
    """A water from its kind, with what the entry says of its months put over that."""
    months = {name: entry.pop(name, None) for name in ("visibility", "days", "hours", "night", "readings")}
    for name in ("visibility", "days"):
        if months[name] is not None and len(months[name]) != 12:
            raise DataError(path.name, entry["name"], name, "needs twelve entries, one for each month")
    water = add_water(user, **entry)
    year: dict[int, dict[str, Any]] = {}
    for number in range(1, 13):
        hours = [*months["hours"], *(["night"] if number in months["night"] else [])]
        year[number] = {"days": months["days"][number - 1], "hours": hours}
        if months["visibility"]:
            edges = zip(("low_in", "usual_in", "high_in"), months["visibility"][number - 1], strict=True)
            year[number] |= dict(edges)
    set_year(user, water.pk, year, "From the demo data.")
    readings = [read_line(line, "imperial", timezone.localdate()) for line in months["readings"]]
    add_readings(user, water.pk, readings, "From the demo data.")


def _part(data: dict[str, Any], path: Path, name: str) -> Any:
    if name not in data:
        raise DataError(path.name, "file", name, "is missing")
    return data[name]
