"""The Day step: the evening before, with its strip of hours and its tray."""

from dataclasses import dataclass, replace
from datetime import timedelta
from itertools import groupby
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number, read_whole
from tackle.base.vocabulary import Light, ids
from tackle.colours.colour import Colour
from tackle.schools.beside import beside
from tackle.sight.alike import USUAL_DEPTH_FT
from tackle.sight.look import View
from tackle.sight.pairs import alike_there
from tackle.sight.species import given_eye, likely_species
from tackle.situations.water import target_said
from web.common.accounts.bodies import render_body
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.ui.keys import LARGEST_KEY
from web.common.ui.words import label
from web.common.work.papers import paper, printed
from web.domain.plans.selectors import get_basis
from web.domain.trips import selectors, services
from web.domain.trips.models import FIRST_HOUR, LAST_HOUR, MOST_HOURS, TURN_MINUTES, Trip
from web.domain.trips.packed import Began
from web.domain.waters.devices import NoAnswer, forecasts
from web.domain.waters.selectors import list_waters
from web.pages.trips.forms import TripForm, initial_values
from web.pages.trips.icalendar import as_calendar

MOST_LOOKED_AT = 7  # colours beside one another
NARROW = 8  # so many spans of its width fill the strip
MOST_OTHERS = 6  # trips that are listed beside one


@dataclass(frozen=True, slots=True)
class Span:
    """Hours in a row that begin with one colour, or with none; `changed`: another one went before."""

    hours: int
    at: str
    begin: Began | None
    changed: bool
    of: int  # hours of the whole strip
    whys: tuple[tuple[str, str], ...]  # each reason, and the hour from which on it is the one

    @property
    def small(self) -> bool:
        """Whether it is too narrow for words."""
        return self.hours == 1 or self.hours * NARROW <= self.of


def day(request: OwnRequest) -> HttpResponse:
    """The trip of today or the next one; without any, the form for one."""
    trip = selectors.next_trip(request.user, timezone.now())
    return redirect("trip", trip.pk) if trip else redirect("trip-new")


def new(request: OwnRequest) -> HttpResponse:
    """The form for a trip; posted, the trip with its forecast."""
    if not list_waters(request.user).exists():
        return redirect("start")
    tomorrow = timezone.localdate() + timedelta(days=1)
    initial = {
        "date": tomorrow, "first_hour": FIRST_HOUR, "last_hour": LAST_HOUR, "rods": 4, "room": 12,
        "turn_minutes": TURN_MINUTES,
        "categories": get_basis(request.user).categories, "own_rods": selectors.rods_told(request.user),
    }  # fmt: skip
    return _form(request, None, initial)


def edit(request: OwnRequest, pk: int) -> HttpResponse:
    """The form for a trip that is there."""
    trip = selectors.get_trip(request.user, pk)
    return _form(request, trip, initial_values(trip, request.user))


def _form(request: OwnRequest, trip: Trip | None, initial: dict[str, object]) -> HttpResponse:
    form = TripForm(request.user, request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        try:
            water = form.cleaned_data["water"]
            if trip:
                kept = services.change_trip(request.user, trip.pk, water, request.POST.get("seen", ""), **form.values())
            else:
                kept = services.plan_trip(request.user, water, **form.values())
            if not kept.skies:
                _ask_forecast(request.user, kept)
            return redirect("trip", kept.pk)
        except ValidationError as error:
            for field, words in getattr(error, "message_dict", {"__all__": error.messages}).items():
                form.add_error(field if field in form.fields else None, words)
    context = {"form": form, "trip": trip, "seen": trip.stamp if trip else ""}
    return render(request, "day/form.html", context, status=422 if form.errors else 200)


def trip(request: OwnRequest, pk: int) -> HttpResponse:
    """The evening before."""
    return _page(request, pk)


@require_POST
def forecast(request: OwnRequest, pk: int) -> HttpResponse:
    """Asks the forecast again."""
    wrong = _ask_forecast(request.user, selectors.get_trip(request.user, pk))
    return _page(request, pk, wrong)


@require_POST
def light(request: OwnRequest, pk: int) -> HttpResponse:
    """The angler's own word on one hour."""
    try:
        hour = read_whole(request.POST.get("hour", ""), 0, MOST_HOURS)
        services.say_light(request.user, pk, -1 if hour is None else hour, request.POST.get("light", ""))
    except ValidationError as error:
        return _page(request, pk, " ".join(error.messages))
    return _page(request, pk)


@require_POST
def by_hand(request: OwnRequest, pk: int) -> HttpResponse:
    """A lure is put into the tray, kept out of it, or left to what serves best."""
    category, _, card = request.POST.get("lure", "").partition(" ")
    try:
        services.settle_tray(request.user, pk, request.POST.get("what", ""), category, card)
    except InvalidInput as refused:
        return _page(request, pk, refused.wrong)
    except ValidationError as error:
        return _page(request, pk, " ".join(error.messages))
    return _page(request, pk)


@require_POST
def packed(request: OwnRequest, pk: int) -> HttpResponse:
    """The tray is packed as it is known now."""
    services.pack(request.user, pk)
    return _page(request, pk)


@require_POST
def delete(request: OwnRequest, pk: int) -> HttpResponse:
    services.delete_trip(request.user, pk)
    messages.success(request, "The trip is taken away; it can be brought back from another trip's page.")
    return redirect("day")


@require_POST
def bring_back(request: OwnRequest, pk: int) -> HttpResponse:
    """A trip that was taken away is there again."""
    services.bring_back(request.user, pk)
    return redirect("trip", pk)


@require_POST
def postpone(request: OwnRequest, pk: int) -> HttpResponse:
    """The same trip a day later."""
    try:
        services.postpone(request.user, pk)
    except ValidationError as error:
        return _page(request, pk, " ".join(error.messages))
    trip = selectors.get_trip(request.user, pk)
    _ask_forecast(request.user, trip)
    return redirect("trip", pk)


@require_POST
def here(request: OwnRequest) -> HttpResponse:
    """The trip that goes on now on one of the owner's waters, or one that begins, under the forecast of where the
    phone is, if it says so: nothing is asked."""
    try:
        trip = services.begin_here(request.user, read_whole(request.POST.get("water", ""), 0, LARGEST_KEY) or 0)
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("day")
    if not trip.skies:
        north, east = (read_number(request.POST.get(name, ""), -180, 180) for name in ("latitude", "longitude"))
        _ask_forecast(request.user, trip, None if north is None or east is None or abs(north) > 90 else (north, east))
    return redirect("trip-water", trip.pk)


def sheet(request: OwnRequest, pk: int) -> HttpResponse:
    """The evening on one sheet of paper."""
    context = trip_context(request.user, selectors.get_trip(request.user, pk))
    context |= {"units": request.user.units}
    return paper(request, "day/paper.html", context, f"day-{context['trip'].date}.pdf")


def calendar(request: OwnRequest, pk: int) -> HttpResponse:
    """The trip for a calendar (iCalendar, RFC 5545), with the sheet in it."""
    trip = selectors.get_trip(request.user, pk)
    context = trip_context(request.user, trip) | {"units": request.user.units}
    on_paper = printed(request, "day/paper.html", context)
    if not isinstance(on_paper, bytes):
        return on_paper
    content = as_calendar(
        trip,
        request.build_absolute_uri(reverse("trip", args=[pk])),
        on_paper,
        [f"{piece.count} {piece.card.name}, {label(piece.category).lower()}" for piece in context["shown"].pieces],
    )
    headers = {"Content-Disposition": f'attachment; filename="day-{trip.date}.ics"'}
    return HttpResponse(content, content_type="text/calendar; charset=utf-8", headers=headers)


def _page(request: OwnRequest, pk: int, wrong: str = "") -> HttpResponse:
    def context() -> dict[str, Any]:
        return trip_context(request.user, selectors.get_trip(request.user, pk)) | {"wrong": wrong}

    if request.method == "GET":
        body = render_body(request, "day/body.html", context)
        if request.htmx:
            return HttpResponse(body)
        return selectors.named(render(request, "day/day.html", {"body": body}), selectors.get_trip(request.user, pk))
    return render(request, "day/body.html" if request.htmx else "day/day.html", context())


def trip_context(owner: User, trip: Trip) -> dict[str, Any]:
    """What the evening shows of a trip."""
    evening = selectors.get_evening(owner, trip)
    shown = evening.shown
    return {
        "trip": trip,
        "evening": evening,
        "shown": shown,
        "sight_query": _sight_query(evening),
        "alike": _alike(trip, evening),
        "rows": [(category, _spans(evening, category)) for category in evening.rows],
        "tray": list(zip(shown.pieces, _beside(owner, evening), strict=True)),
        "known_now": evening.changes,
        "could_add": _could_add(evening),
        "settled": {(one.category, one.card): one.what for one in evening.by_hand},
        "lights": ids(Light),
        "pieces": sum(piece.count for piece in shown.pieces),
        "others": selectors.last_beside(owner, trip, MOST_OTHERS),
        "gone": list(selectors.taken_away(owner)[:MOST_OTHERS]),
        "waters": list(list_waters(owner)),
        "past": trip.last_day < timezone.localdate(),
    }


def _could_add(evening: selectors.Evening) -> list[tuple[str, Colour]]:
    """What lies aboard of the kinds that are thrown and is not in the tray."""
    packed = {(piece.category, piece.card) for piece in evening.shown.pieces}
    return [(one.category, one.card) for one in evening.aboard if (one.category, one.card) not in packed]


def _beside(owner: User, evening: selectors.Evening) -> list[str]:
    """What is said of size, weight or sound beside each colour of the tray in the water of the first hour, each thing
    once."""
    found: list[str] = []
    for piece in evening.shown.pieces:
        said = beside(piece.card, evening.hours[0].of(piece.category), owner.units, own=True)
        found.append(next((words for words in said if words not in found), ""))
    return found


def _sight_query(evening: selectors.Evening) -> str:
    """What the second look is asked for: the first of the tray, in the day's water."""
    data = [("c", piece.card.id) for piece in evening.shown.pieces[:MOST_LOOKED_AT]]
    data += [("visibility", f"{evening.visibility_in:.0f} in"), ("stain", evening.stain)]
    return urlencode([*data, ("light", evening.skies[0].light)] if evening.skies else data)


def _alike(trip: Trip, evening: selectors.Evening) -> tuple[tuple[str, Colour, Colour], ...]:
    """What of the tray the fish cannot tell apart in the water and the best light of the day."""
    if not evening.skies:
        return ()
    species = likely_species(target_said(trip.water.target), trip.water.salinity == "salt")
    depth = min(trip.water.depth_ft or USUAL_DEPTH_FT, USUAL_DEPTH_FT)
    light = min((Light(one.light) for one in evening.skies), key=list(Light).index)
    view = View(given_eye(species).eye, evening.visibility_in, evening.stain, depth, light)
    return alike_there([(piece.category, piece.card) for piece in evening.shown.pieces], view)


def _spans(evening: selectors.Evening, category: str) -> list[Span]:
    """One category's hours, those in a row that begin with the same lure taken together."""
    spans: list[Span] = []
    at, clock = 0, [hour.at for hour in evening.hours]
    for begun, run in groupby(evening.rows[category], key=lambda one: (one.card, one.trailer) if one else None):
        members = list(run)
        before = spans[-1].begin if spans else None
        changed = bool(begun and before and (before.card, before.trailer) != begun)
        whys: dict[str, str] = {}
        for hour, one in zip(clock[at:], members, strict=False):
            if one:
                whys.setdefault(one.why, hour)
        spans.append(Span(len(members), clock[at], members[0], changed, len(clock), tuple(whys.items())))
        at += len(members)
    return spans


def _ask_forecast(owner: User, trip: Trip, position: tuple[float, float] | None = None) -> str:
    """Keeps what the forecast says of a trip's day and of the two before; says what is wrong where it does not."""
    try:
        span = [trip.day_of(24 * day) for day in range(trip.last_hour // 24 + 1)]
        data = forecasts(trip.water, [*(trip.date - timedelta(days=back) for back in (2, 1)), *span], position)
    except NoAnswer as none:
        return f"{none} The sky is as it mostly is in that month."
    rain_in = sum(hour.rain_in for one in data[:2] for hour in one)
    later = [replace(hour, hour=hour.hour + 24 * day) for day, one in enumerate(data[2:]) for hour in one]
    services.keep_forecast(owner, trip.pk, later, rain_in)
    return ""
