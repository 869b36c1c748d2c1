"""The lists of objects in a JSON file: as tables, with what their surroundings say of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final

__all__ = ["JsonList", "json_lists"]

_OWN: Final = ("properties", "attributes")  # what lies in these is said as if it lay beside them
_NAMES, _ROWS = ("columns", "fields", "headings", "columnNames"), ("data", "rows", "values")
_SCALAR: Final = (str, int, float, bool)
_MOST_AROUND: Final = 40  # things that the surroundings of a row may say


@dataclass(frozen=True, slots=True)
class JsonList:
    """A list of objects: where it lies, and each flat, with what its surroundings say; `units` by heading."""

    at: str
    rows: list[dict[str, Any]]
    units: Mapping[str, str]


def json_lists(value: Any) -> list[JsonList]:
    """Every list of objects; those that lie alike, in one list. The longest first."""
    found: defaultdict[str, list[dict[str, Any]]] = defaultdict(list)
    units: dict[str, dict[str, str]] = {}
    for at, rows, measured_in in _walk(value, "", {}):
        found[at] += rows
        units.setdefault(at, {}).update(measured_in)
    lists = [JsonList(at, rows, units[at]) for at, rows in found.items() if rows]
    return sorted(lists, key=lambda one: -len(one.rows))


def _walk(value: Any, at: str, around: dict[str, Any]) -> Iterator[tuple[str, list[dict[str, Any]], dict[str, str]]]:
    if isinstance(value, list):
        objects = [one for one in value if isinstance(one, dict)]
        flat = [_flat(one) for one in objects]
        if any(flat):
            yield at or "the file", [around | one for one in flat], {}
        for one in value:
            if isinstance(one, dict | list):
                yield from _walk(one, f"{at}[]", around)
    elif isinstance(value, dict):
        here = dict(list((around | _flat(value)).items())[:_MOST_AROUND])
        yield from _columns(value, at, here)
        for name, inner in value.items():
            if isinstance(inner, dict | list):
                yield from _walk(inner, f"{at}.{name}" if at else name, here)


def _columns(
    value: dict[str, Any], at: str, around: dict[str, Any]
) -> Iterator[tuple[str, list[dict[str, Any]], dict[str, str]]]:
    """Names with rows of cells beside them, or lists of cells of one length beside each other."""
    names = next((value[name] for name in _NAMES if isinstance(value.get(name), list)), None)
    data = next((value[name] for name in _ROWS if isinstance(value.get(name), list)), None)
    if names and data and all(isinstance(one, list) for one in data):
        keys = [str(one.get("name", "")) if isinstance(one, dict) else str(one) for one in names]
        yield at or "the file", [around | dict(zip(keys, one, strict=False)) for one in data], {}
    lists = {
        name: one for name, one in value.items()
        if isinstance(one, list) and one and all(inner is None or isinstance(inner, _SCALAR) for inner in one)
    }  # fmt: skip
    length = max((len(one) for one in lists.values()), default=0)
    beside = {name: one for name, one in lists.items() if len(one) == length}
    if length > 1 and len(beside) > 1:
        rows = [dict(zip(beside, cells, strict=True)) for cells in zip(*beside.values(), strict=True)]
        said = {name.removesuffix(" units"): str(unit) for name, unit in around.items() if isinstance(unit, str)}
        yield at or "the file", rows, {name: _unit_beside(name, at, said) for name in beside}


def _unit_beside(name: str, at: str, said: Mapping[str, str]) -> str:
    """The unit of a list of cells, where a table of units stands beside: "hourly_units" for "hourly"."""
    last = at.rpartition(".")[2]
    return said.get(f"{last}_units {name}", said.get(f"units {name}", ""))


def _flat(one: dict[str, Any], before: str = "") -> dict[str, Any]:
    data: dict[str, Any] = {}
    for name, value in one.items():
        if isinstance(value, dict):
            data |= _flat(value, before if name in _OWN else f"{before}{name} ")
        elif isinstance(value, list):
            if value and all(isinstance(inner, str) for inner in value) and len(value) < 6:
                data[f"{before}{name}"] = ",".join(value)
        else:
            data[f"{before}{name}"] = value
    return data
