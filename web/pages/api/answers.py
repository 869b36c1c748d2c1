"""What programs may ask, and what they are told."""

import json
from datetime import date
from typing import Annotated, Any

from django.http import Http404, HttpRequest
from ninja import Field, Query, Schema, Status
from pydantic import AfterValidator

from tackle.base.days import read_day
from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from tackle.commands.every import COMMANDS
from tackle.commands.plan import describe_plan
from web.domain.crate.selectors import list_lures
from web.domain.plans.selectors import answers, curve, get_basis
from web.domain.trips.selectors import get_evening, get_trip, list_trips, list_turns
from web.domain.waters.exchange import water_json
from web.domain.waters.models import Reading
from web.domain.waters.selectors import get_water, list_waters
from web.domain.waters.services import add_readings
from web.pages.api.door import door, may
from web.pages.intake.entering import entered
from web.pages.shopping.selectors import list_for

MOST_A_PAGE = 200

Page = Annotated[int, Query(1, ge=1, le=100_000)]
Each = Annotated[int, Query(50, ge=1, le=MOST_A_PAGE, alias="each")]


class NewReading(Schema):
    """One measured visibility, in inches."""

    date: Annotated[date, AfterValidator(lambda day: read_day(day.isoformat()))]
    visibility_in: float = Field(gt=0, le=1200)
    stain: str = ""
    spot: str = Field("", max_length=60)
    note: str = Field("", max_length=200)


class NewReadings(Schema):
    """Readings from a meter or a program: all go in, or none."""

    readings: list[NewReading] = Field(min_length=1, max_length=1000)
    source: str = "meter"


class Lines(Schema):
    """Lures as one types them, a line each: "2x 3/8 spinnerbait chart white"."""

    lines: list[str] = Field(min_length=1, max_length=100)


@door.get("/me", summary="Whose key it is, and what it may do")
def me(request: HttpRequest) -> dict[str, Any]:
    token: Any = request.auth  # type: ignore[attr-defined]
    return {"name": token.owner.username, "units": token.owner.units, "may": token.may}


@door.get("/waters", summary="All waters, with the days fished a year")
@may("waters")
def waters(request: Any, page: Page, each: Each) -> dict[str, Any]:
    rows = list_waters(request.user)
    return _paged(rows, page, each, lambda row: {"id": row.pk, "name": row.name, "kind": row.kind, "days": row.total})


@door.get("/waters/{water}", summary="One water, with its months and readings")
@may("waters")
def one_water(request: Any, water: int) -> Any:
    return json.loads(water_json(get_water(request.user, water)))


@door.get("/waters/{water}/readings", summary="What was measured there, the latest first")
@may("waters")
def readings(request: Any, water: int, page: Page, each: Each) -> dict[str, Any]:
    rows = get_water(request.user, water).readings.all()
    names = ("visibility_in", "stain", "spot", "note", "source")
    return _paged(
        rows, page, each,
        lambda row: {"id": row.pk, "date": row.date.isoformat(), **{name: getattr(row, name) for name in names}},
    )  # fmt: skip


@door.post("/waters/{water}/readings", response={201: dict[str, Any]}, summary="Add readings, all or none")
@may("readings")
def post_readings(request: Any, water: int, payload: NewReadings) -> Status[dict[str, Any]]:
    rows = [Reading(**reading.dict(), source=payload.source) for reading in payload.readings]
    add_readings(request.user, water, rows, f"{len(rows)} readings from {request.auth.name}.")
    return Status(201, {"added": len(rows)})


@door.get("/crate", summary="What lies in the tackle box")
@may("crate")
def crate(request: Any, page: Page, each: Each) -> dict[str, Any]:
    rows = list_lures(request.user).order_by("pk")
    names = ("category", "name", "count", "size_in", "weight_oz", "depth_ft", "sound", "condition", "note")
    return _paged(
        rows, page, each,
        lambda row: {"id": row.pk, "tray": row.tray.letter, "colour": row.card,
                     **{name: getattr(row, name) for name in names}},
    )  # fmt: skip


@door.post("/crate", response={201: dict[str, Any]}, summary="Add lures as they are typed, all or none")
@may("lures")
def post_lures(request: Any, payload: Lines) -> Status[dict[str, Any]]:
    """A line with anything unsure in it is refused, and says what: nothing that is not certain goes in."""
    change = entered(request.user, payload.lines)
    return Status(201, {"added": len(payload.lines), "words": change.words})


@door.get("/plan", summary="The plan: the fewest colours of each category")
@may("plan")
def whole_plan(request: Any) -> dict[str, Any]:
    basis = get_basis(request.user)
    return {
        "schools": [book.id for book in basis.books],
        "waters": [water.name for water in basis.every_water if water.pk in basis.water_ids],
        "categories": [
            describe_plan(answer.request, answer.answer, curve(basis, answer.category)) for answer in answers(basis)
        ],
    }  # fmt: skip


@door.get("/buy", summary="What to buy, in order")
@may("plan")
def to_buy(request: Any) -> dict[str, Any]:
    _, shopping = list_for(request.user)
    return {
        "items": [
            {"category": purchase.category, "colour": purchase.card.id, "count": purchase.count, "have": purchase.have,
             "adds": purchase.adds, "adds_right": purchase.adds_right,
             "adds_first": purchase.adds_first, "within_budget": purchase.within}
            for purchase in shopping.purchases
        ]
    }  # fmt: skip


@door.get("/days", summary="Trips, the latest first")
@may("day")
def trips(request: Any, page: Page, each: Each) -> dict[str, Any]:
    rows = list_trips(request.user).select_related("water").order_by("-date", "-pk")
    return _paged(rows, page, each, lambda row: {"id": row.pk, "date": row.date.isoformat(), "water": row.water.name})


@door.get("/days/{trip}", summary="One trip's sheet: the tray, and what to begin with each hour")
@may("day")
def one_trip(request: Any, trip: int) -> dict[str, Any]:
    row = get_trip(request.user, trip)
    evening = get_evening(request.user, row)
    return {
        "id": row.pk,
        "date": row.date.isoformat(),
        "water": row.water.name,
        "visibility_in": round(evening.visibility_in, 1),
        "stain": evening.stain.value,
        "tray": [
            {"category": piece.category, "colour": piece.card.id, "count": piece.count, "hours": piece.hours}
            for piece in evening.shown.pieces
        ],
        "hours": [
            {"at": hour.at, "light": sky.light, "wind": sky.wind}
            for sky, hour in zip(evening.skies, evening.hours, strict=True)
        ],
        "from_home": [{"category": one.category, "colour": one.card.id} for one in evening.from_home],
        "cautions": [caution.what for caution in evening.cautions],
    }


@door.get("/log", summary="Turns, the earliest first; of one category where that is told")
@may("log")
def log(request: Any, page: Page, each: Each, category: str = "") -> dict[str, Any]:
    rows = list_turns(request.user)
    if category:
        rows = rows.filter(category=category)
    names = ("minutes", "whole", "lost", "outside", "missed", "visibility_in", "light", "wind", "stain", "food")
    return _paged(
        rows, page, each,
        lambda row: {"date": row.trip.date.isoformat(), "water": row.trip.water.name, "category": row.category,
                     "colour": row.card, "at": row.at, **{name: getattr(row, name) for name in names}},
    )  # fmt: skip


@door.post("/ask/{command}", summary="One of the commands, with the same answer")
@may("ask")
def ask(request: Any, command: str) -> dict[str, Any]:
    """The body is one request as on a command's line: see the commands."""
    if command not in COMMANDS:
        raise InvalidInput("command", f"{command[:40]!r} is none", COMMANDS)
    data = read_json(request.body, "body")
    if not isinstance(data, dict):
        raise InvalidInput("body", "is not an object", "one JSON object")
    return {"id": data.get("id"), **COMMANDS[command](data)}


def _paged(rows: Any, page: int, each: int, data: Any) -> dict[str, Any]:
    count = rows.count()
    start = (page - 1) * each
    if page > 1 and start >= count:
        raise Http404
    return {"count": count, "page": page, "each": each, "items": [data(row) for row in rows[start : start + each]]}
