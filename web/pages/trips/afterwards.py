"""The evening after: the day as a picture, every piece of it to be put right, what was lost out of the counts."""

import uuid
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number, read_whole
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.day.log import HOOKED, dropped_in
from tackle.intake.sheet_rows import read_row
from tackle.intake.turn import EXAMPLE, read_turn
from web.common.accounts.request import OwnRequest
from web.common.ui.keys import LARGEST_KEY
from web.domain.colours.selectors import get_palette
from web.domain.crate.selectors import printed_names
from web.domain.history.record import describe_changes
from web.domain.trips import selectors, services
from web.domain.trips.models import Trip, Turn
from web.domain.trips.turns import list_taps
from web.pages.trips.log_picture import draw_log

MOST_LINES, MOST_OTHERS = 60, 12
AWAY_HOURS = 8  # before a trip begins, or after it ends: from here on a tap is of another day
CAME = (*HOOKED, "gone_lost", "gone_torn")


def log(request: OwnRequest, pk: int) -> HttpResponse:
    return _page(request, pk)


@require_POST
def lines(request: OwnRequest, pk: int) -> HttpResponse:
    """Turns typed from paper, one a line; those that cannot be read stay, each with what is wrong."""
    owner, palette, names = request.user, get_palette(request.user), printed_names(request.user)
    left, wrong = [], []
    trip, before = selectors.get_trip(owner, pk), None
    for line in [splitline for splitline in request.POST.get("lines", "").splitlines() if splitline.strip()][
        :MOST_LINES
    ]:
        try:
            data = read_turn(line, palette, owner.units, names)
            if "start" in data:
                before = data["start"] = trip.minute_at(data["start"], before, forward=True)
            services.say(owner, pk, "turn", data, uuid.uuid4().hex)
        except InvalidInput as refused:
            left.append(line)
            wrong.append(f"{refused.wrong}: write it like {refused.allowed}.")
        except ValidationError as error:
            left.append(line)
            wrong += error.messages
    services.settle_gone(owner, pk)
    return _page(request, pk, wrong=" ".join(wrong), typed="\n".join(left))


@require_POST
def turn(request: OwnRequest, pk: int) -> HttpResponse:
    """One turn put right, or taken out."""
    key = request.POST.get("turn", "")[:44]
    try:
        if request.POST.get("drop"):
            services.say(request.user, pk, "drop", {"of": key}, uuid.uuid4().hex)
        else:
            trip = selectors.get_trip(request.user, pk)
            before = trip.turns.filter(key=key).values_list("at", flat=True).first()
            data = {"of": key, **_context(request, get_palette(request.user), trip, before)}
            services.say(request.user, pk, "correct", data, uuid.uuid4().hex)
        services.settle_gone(request.user, pk)
    except ValidationError as error:
        return _page(request, pk, wrong=" ".join(error.messages))
    return _page(request, pk)


def _context(request: OwnRequest, palette: Palette, trip: Trip, before: float | None) -> dict[str, Any]:
    """What the form of a turn says that began at `before`. Raises ValidationError."""
    post = request.POST
    read = read_row(
        [post.get("category", ""), post.get("card", "")], ["category", "colour"], palette, request.user.units
    )
    if read.wrong:
        raise ValidationError(" ".join(read.wrong.values()))
    data: dict[str, Any] = {"category": read.category, "card": read.card}
    if start := post.get("start", "").strip():
        hour, _, minute = start.partition(":")
        at = read_number(hour, 0, 23), read_number(minute or "0", 0, 59)
        if None in at:
            raise ValidationError(f"“{start[:10]}” is no time: write it like 7:10.")
        data["start"] = trip.minute_at((at[0] or 0) * 60 + (at[1] or 0), before)
    for name, most in (("minutes", 600), *((one, 99) for one in CAME)):
        if text := post.get(name, "").strip():
            value = read_number(text, 0, most)
            if value is None:
                raise ValidationError(f"“{text[:10]}” is no number from 0 to {most}.")
            data[name] = value
    return data


@require_POST
def counts(request: OwnRequest, pk: int) -> HttpResponse:
    """What was lost and torn leaves the crate's counts, once."""
    try:
        change = services.count_gone(request.user, pk)
        messages.success(request, f"{change.words} The tackle box’s history can undo it.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("trip-log", pk)


def _page(request: OwnRequest, pk: int, wrong: str = "", typed: str = "") -> HttpResponse:
    owner, trip = request.user, selectors.get_trip(request.user, pk)
    palette = get_palette(owner)
    turns = list(trip.turns.all())
    evening = selectors.get_evening(owner, trip)
    gone = selectors.count_missing(trip)
    away = [turn for turn in turns if turn.at is not None and _is_away(trip, turn.at)]
    context = {
        "trip": trip,
        "away": sorted({(turn.device, trip.day_of(int((turn.at or 0) // 60))) for turn in away}, key=str),
        "others": [
            list_trip for list_trip in selectors.list_trips(owner).order_by("-date")[:MOST_OTHERS] if list_trip.pk != pk
        ],
        "dropped": _dropped(trip, palette),
        "rows": [
            (turn, palette.known(turn.card), turn.trailer and palette.known(turn.trailer), _clock(turn))
            for turn in turns
        ],
        "picture": draw_log(trip, turns, evening.skies, palette),
        "evening": evening,
        "fish": sum(turn.whole for turn in turns),
        "near": sum(turn.lost + turn.outside + turn.missed for turn in turns),
        "minutes": sum(turn.minutes or 0 for turn in turns),
        "untold": sum(turn.minutes is None for turn in turns),
        "gone": [
            (palette.known(where.split(" ", 1)[1]), where.split(" ", 1)[0], count) for where, count in gone.items()
        ],
        "pieces": sum(gone.values()),
        "counted": describe_changes([one["change"] for one in trip.counted]),
        "came": CAME,
        "example": EXAMPLE,
        "typed": typed,
        "wrong": wrong,
    }
    template = "day/log_body.html" if request.htmx else "day/log.html"
    return selectors.named(render(request, template, context, status=422 if wrong else 200), trip)


def _is_away(trip: Trip, at: float) -> bool:
    """Whether a time is of another day than the trip: earlier or later than a night."""
    return not (trip.first_hour - AWAY_HOURS) * 60 <= at <= (trip.last_hour + 1 + AWAY_HOURS) * 60


def _dropped(trip: Trip, palette: Palette) -> list[tuple[str, Colour]]:
    """The turns that were taken out, each by the tap that did it, so that they can be brought back."""
    taps = {tap.id: tap for tap in list_taps(trip)}
    gone = dropped_in(taps.values())
    found = []
    for tap in taps.values():
        of = taps.get(str(tap.data.get("of"))) if tap.kind == "drop" and tap.id not in gone else None
        if of is not None and of.kind in ("turn", "begin"):
            found.append((tap.id, palette.known(of.data["card"])))
    return found


@require_POST
def move(request: OwnRequest, pk: int) -> HttpResponse:
    """What one phone tapped belongs to another trip."""
    to = read_whole(request.POST.get("to", ""), 1, LARGEST_KEY) or 0
    services.move_taps(request.user, pk, request.POST.get("device", "")[:40], to)
    return redirect("trip-log", to)


def _clock(turn: Turn) -> str:
    if turn.at is None:
        return ""
    return f"{int(turn.at // 60) % 24}:{int(turn.at % 60):02}"
