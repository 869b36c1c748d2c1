"""What an archive holds: every table of what somebody owns, what comes first standing first."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.apps import apps
from django.db.models import BinaryField, Field, ForeignKey, Model

from web.common.accounts.models import User

# Each table with the look-up that leads to its owner.
_TABLES = (
    ("colours.OwnCard", "owner"), ("schools.OwnSchool", "owner"), ("schools.Rule", "owner"), ("buy.Price", "owner"),
    ("crate.Place", "owner"), ("crate.Picture", "owner"), ("crate.Tray", "owner"), ("crate.Lure", "tray__owner"),
    ("crate.Thing", "tray__owner"), ("crate.Mark", "owner"), ("crate.Score", "owner"),
    ("waters.Water", "owner"), ("waters.WaterMonth", "water__owner"), ("waters.Reading", "water__owner"),
    ("waters.Sighting", "water__owner"), ("waters.SettledRecord", "owner"),
    ("plans.Plan", "owner"), ("plans.Choice", "plan__owner"), ("plans.KeptPlan", "owner"),
    ("history.Change", "owner"), ("crate.KindWord", "owner"), ("crate.Printed", "owner"),
    ("day.Trip", "owner"), ("day.Tap", "trip__owner"), ("day.Turn", "trip__owner"),
    ("teach.Known", "owner"), ("teach.Answer", "owner"), ("teach.Guess", "owner"),
)  # fmt: skip
# What somebody has beside it that does not move: files half taken in, where they are signed in, what lets others in,
# what was sent today.
STAYS = {
    "crate.Heap", "crate.ImportDraft", "crate.ImportRow", "accounts.Session", "api.Token", "sharing.Share",
    "sharing.Follow",
    "accounts.Passkey", "accounts.Sent", "work.Job", "work.Piece",
}  # fmt: skip

# Keys that stand within a thing's own data: how they are found, and put in anew.
Keys = Callable[[str, Any], Any]  # (table, key) -> key


@dataclass(frozen=True, slots=True)
class Shelf:
    """One table: its plain fields, those that lead to other tables, and how keys within its data are renumbered."""

    label: str
    owner: str
    values: "tuple[Field[Any, Any], ...]"
    links: Mapping[str, str]  # attribute -> label of the other table
    many: Mapping[str, str]
    own: str  # the attribute that holds the owner, where it is the table's own
    inner: Callable[[dict[str, Any], Keys], dict[str, Any]] = field(repr=False)

    @property
    def model(self) -> type[Model]:
        return apps.get_model(self.label)


def shelves() -> tuple[Shelf, ...]:
    """All tables of what is owned, each after those that it leads to."""
    return tuple(_shelf(label, owner) for label, owner in _TABLES)


def _shelf(label: str, owner: str) -> Shelf:
    known = dict(_TABLES)
    values, links, own = [], {}, ""
    model = apps.get_model(label)
    for column in model._meta.concrete_fields:
        if isinstance(column, ForeignKey):
            if column.related_model is User:
                own = column.attname
            elif column.related_model._meta.label in known:
                links[column.attname] = column.related_model._meta.label
        elif not column.primary_key and not isinstance(column, BinaryField):
            values.append(column)
    many = {each.name: each.related_model._meta.label for each in model._meta.many_to_many}
    return Shelf(label, owner, tuple(values), links, many, own, _INNER.get(label, lambda row, keys: row))


def _words_alone(row: dict[str, Any], keys: Keys) -> dict[str, Any]:
    """What was done is told on; to take it back, its things would have to keep their numbers."""
    return row | {"steps": []}


def _finding(row: dict[str, Any], keys: Keys) -> dict[str, Any]:
    """A double is marked by its stacks: "double:worm:black:12+17"."""
    parts = row["finding"].split(":")
    if parts[0] == "double" and len(parts) > 3:
        parts[3] = "+".join(str(keys("crate.Lure", int(one))) for one in parts[3].split("+") if one.isdigit())
    return row | {"finding": ":".join(parts)}


def _terms(row: dict[str, Any], keys: Keys) -> dict[str, Any]:
    content = row["content"]
    if "terms" not in content:
        return row
    waters = [water for one in content["terms"]["waters"] if (water := keys("waters.Water", one)) is not None]
    return row | {"content": content | {"terms": content["terms"] | {"waters": sorted(waters)}}}


def _counted(row: dict[str, Any], keys: Keys) -> dict[str, Any]:
    return row | {"counted": [one | {"change": keys("history.Change", one["change"])} for one in row["counted"]]}


_INNER = {"history.Change": _words_alone, "crate.Mark": _finding, "plans.KeptPlan": _terms, "day.Trip": _counted}
