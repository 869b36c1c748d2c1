"""Loads the demo data file, through the same changes that the screens use."""

from pathlib import Path
from typing import Any

from django.db import transaction

from tackle.data import read_toml
from tackle.errors import DataError
from tackle.vocabulary import Light
from web.accounts.models import User
from web.crate.changes import keep_lure, make_tray
from web.crate.models import Lure
from web.plans.changes import plan_for
from web.plans.models import Plan
from web.waters.changes import keep_water, set_days
from web.waters.models import Water

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
        tray = make_tray(user, entry["name"], entry["label"])
        for lure in entry["lures"]:
            keep_lure(user, Lure(), tray=tray, **lure)
    plan = plan_for(user)
    Plan.objects.filter(pk=plan.pk).update(**_part(data, path, "plan"))
    return user


def _load_water(user: User, entry: dict[str, Any], path: Path) -> None:
    board = entry.pop("days")
    water = keep_water(user, Water(), **entry)
    for band, numbers in board.items():
        if len(numbers) != len(Light):
            raise DataError(path.name, water.name, f"days.{band}", f"needs {len(Light)} numbers, one for each light")
        for light, number in zip(Light, numbers, strict=True):
            if number:
                set_days(user, water.pk, band, light, str(number))


def _part(data: dict[str, Any], path: Path, name: str) -> Any:
    if name not in data:
        raise DataError(path.name, "file", name, "is missing")
    return data[name]
