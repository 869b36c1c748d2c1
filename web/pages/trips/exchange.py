"""The whole log out as a file, and in again unchanged."""

import csv
import io
import json
import uuid
from collections import Counter
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number
from tackle.base.strict import plain, read_csv, read_json
from tackle.base.typed import ANYTHING, FLAG, ListOf, OptionalKind, Record, Text, ValueKind, Whole
from tackle.base.units import System
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.palette import Palette
from tackle.day.facts import WaterSeen
from tackle.day.log import FAR, HOOKED
from tackle.intake.sheet_rows import read_row
from tackle.situations.conditions import CONDITIONS
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.common.serving.child import TEXT, in_child
from web.domain.colours.selectors import get_palette
from web.domain.trips import selectors, services
from web.domain.trips.models import MOST_HOURS, Trip, Turn

MOST_BYTES, MOST_ROWS = 8_000_000, 50_000
_WATER = tuple(WaterSeen.__slots__)
_COUNTS = (*HOOKED, "gone_lost", "gone_torn")
_MEASURED = ("visibility_in", "depth_ft")
_NUMBERS = ("minutes", *_MEASURED, *_COUNTS)
FILE = "taken in"  # the device of what comes from a table
COLUMNS = ("id", "trip", "date", "water", "angler", "start", "minutes", "category", "colour", "trailer", *_COUNTS,
           "sizes", *_WATER)  # fmt: skip


# What a file may tell of a trip; how far each may go is checked as for a trip that is typed.
_TRIP: dict[str, ValueKind[Any]] = {
    **dict.fromkeys(("first_hour", "rods", "sleeved", "room", "turn_minutes"), Whole(0, 99)),
    "last_hour": Whole(0, MOST_HOURS), "key": Text(32), "afoot": FLAG, "partner": FLAG,
    "own_rods": Text(4_000, least=0), "categories": ListOf(Text()),
    "stain": Text(least=0),
    "visibility_in": OptionalKind(CONDITIONS["visibility_in"].kind),
}  # fmt: skip
_FILE = Record({"trips": ListOf(Record({"taps": ListOf(ANYTHING)}, others=True))}, others=True)


def export(request: OwnRequest, kind: str) -> HttpResponse:
    """All trips: as JSON with each tap as it was sent, or as CSV, a turn a row."""
    if kind == "json":
        trips = selectors.list_trips(request.user).prefetch_related("taps")
        response: HttpResponse = HttpResponse(_json([_trip(trip) for trip in trips]), content_type="application/json")
    elif kind == "csv":
        held = io.StringIO()
        writer = csv.DictWriter(held, COLUMNS)
        writer.writeheader()
        turns = selectors.list_turns(request.user)
        writer.writerows(_row(turn) for turn in turns)
        response = HttpResponse(held.getvalue(), content_type="text/csv; charset=utf-8")
    else:
        raise Http404
    response.headers["Content-Disposition"] = f'attachment; filename="log.{kind}"'
    return response


def _json(data: Any) -> str:
    return json.dumps({"trips": data}, ensure_ascii=False, indent=1)


def _trip(trip: Trip) -> dict[str, Any]:
    names = ("device", "place", "angler", "kind", "at", "time", "data")
    taps = [{"id": tap.key, **{name: getattr(tap, name) for name in names}} for tap in trip.taps.all()]
    data = {name: getattr(trip, name) for name in _TRIP}
    return {"date": trip.date.isoformat(), "water": trip.water.name, **data, "taps": taps}


def _row(turn: Turn) -> dict[str, Any]:
    data: dict[str, Any] = {name: getattr(turn, name) for name in ("angler", "minutes", "category", *_COUNTS, *_WATER)}
    data |= {"id": turn.key, "date": turn.trip.date, "water": turn.trip.water.name, "colour": turn.card}
    data |= {"trip": turn.trip.key, "trailer": turn.trailer}
    data |= {"start": turn.at, "sizes": " ".join(f"{size:g}" for size in turn.sizes)}
    return {
        name: "" if value is None else _number(value) if isinstance(value, float) else value
        for name, value in data.items()
    }


def _number(value: float) -> str:
    """A number to the second of a minute, without what it does not need."""
    return f"{value:.4f}".rstrip("0").rstrip(".")


@takes(MOST_BYTES)
@require_POST
def take_in(request: OwnRequest) -> HttpResponse:
    """A log from a file. What is here already stays as it is; what cannot be used is told, and nothing of it taken."""
    file = request.FILES.get("file")
    try:
        if file is None or (file.size or 0) > MOST_BYTES:
            raise ValidationError(f"Choose a file of at most {MOST_BYTES // 1_000_000} MB.")
        content = file.read()
        data = (
            _from_json(content)
            if (file.name or "").lower().endswith(".json")
            else _from_csv(content, get_palette(request.user), request.user.units)
        )
        taken = services.take_log_in(request.user, [(trip, _planned(trip)) for trip in data])
        messages.success(request, f"{taken} of the log are in." if taken else "All of it was here already.")
    except InvalidInput as refused:
        messages.error(request, f"{refused.field} {refused.wrong}: {refused.allowed}.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("day")


def _from_json(content: bytes) -> list[dict[str, Any]]:
    data = in_child(TEXT, read_json, content)
    _FILE.read(data, "The file")
    return list(data["trips"])


def _from_csv(content: bytes, palette: Palette, units: System) -> list[dict[str, Any]]:
    """The rows as trips, each with its turns as taps. Raises InvalidInput naming the row."""
    heading, rows = in_child(TEXT, read_csv, content, MOST_ROWS)
    if not rows or not {"date", "water", "category", "colour"} <= {*heading}:
        raise InvalidInput("The file", "lacks a column", "date, water, category and colour at least")
    trips: dict[tuple[str, str, str], dict[str, Any]] = {}
    seen: Counter[str] = Counter()
    for number, row in enumerate(rows, 2):
        cells = {name: plain(row.get(name, "").strip()) for name in COLUMNS}
        where = cells["trip"], cells["date"], cells["water"]
        known = {"key": where[0]} if where[0] else {}
        trip = trips.setdefault(where, {**known, "date": where[1], "water": where[2], "taps": []})
        data = repr(sorted(cells.items()))
        seen[data] += 1
        # Two rows that say the same are two turns.
        key = (
            cells["id"][:40] or uuid.uuid5(uuid.NAMESPACE_OID, data + (f" {seen[data]}" if seen[data] > 1 else "")).hex
        )
        trip["taps"].append(_tap(cells, number, key, palette, units))
    return list(trips.values())


def _tap(cells: dict[str, str], number: int, key: str, palette: Palette, units: System) -> dict[str, Any]:
    data: dict[str, Any] = _lure(cells, palette, units)
    if cells["start"]:
        data["start"] = _start(cells["start"], number)
    for name in _NUMBERS:
        if cells[name]:
            value = read_number(cells[name], 0, 1e6)
            if value is None:
                raise InvalidInput(f"Row {number}, {name},", f"“{cells[name][:20]}” is no number", "a number")
            data[name] = value
    data |= {name: cells[name] for name in _WATER if name not in _MEASURED and cells[name]}
    sizes = [read_number(one, 0, 120) for one in cells["sizes"].split()]
    if None in sizes:
        raise InvalidInput(f"Row {number}, sizes,", "are no lengths", "numbers in inches, with spaces between")
    angler = int(read_number(cells["angler"] or "0", 0, 3) or 0)
    entry = {"id": key, "device": FILE, "place": number, "angler": angler, "kind": "turn", "at": 0}
    return {**entry, "data": {**data, **({"sizes": sizes} if sizes else {})}}


def _lure(cells: dict[str, str], palette: Palette, units: System) -> dict[str, Any]:
    """The lure of a row, by ids or in words; what is no lure is told as it stands, and refused by name further on."""
    found = {"category": cells["category"], "card": cells["colour"]}
    if cells["category"] not in CATEGORIES or cells["colour"] not in palette.by_id:
        read = read_row([cells["category"], cells["colour"]], ["category", "colour"], palette, units)
        found = found if read.wrong else {"category": read.category, "card": read.card}
    return found | ({"trailer": cells["trailer"]} if cells["trailer"] else {})


def _start(text: str, number: int) -> float:
    """When a turn began: minutes since the trip's first midnight, or as a clock shows it."""
    hour, colon, minute = text.partition(":")
    at = read_number(text, -FAR, FAR) if not colon else None
    if colon and (h := read_number(hour, 0, 23)) is not None and (m := read_number(minute, 0, 59)) is not None:
        at = h * 60 + m
    if at is None:
        raise InvalidInput(f"Row {number}, start,", f"“{text[:20]}” is no time", "a time such as 9:10, or minutes")
    return at


def _planned(data: dict[str, Any]) -> dict[str, Any]:
    """What a trip that is not here yet is made with."""
    thrown = [
        tap["data"].get("category")
        for tap in data["taps"]
        if isinstance(tap, dict) and isinstance(tap.get("data"), dict)
    ]
    given = {name: kind.read(data[name], f"a trip's {name}") for name, kind in _TRIP.items() if name in data}
    return {"categories": list(dict.fromkeys(one for one in thrown if isinstance(one, str))), **given}
