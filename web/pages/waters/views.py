"""The Waters step."""

import logging
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.core.exceptions import ValidationError
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.vocabulary import Forage, Light, Stain, ids
from tackle.intake.dates import find_day
from tackle.intake.sighting import read_sighting
from tackle.situations.expected import expected_days
from tackle.situations.sky import read_observations
from tackle.situations.sun import HOURS
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.common.serving.child import TEXT, in_child
from web.common.ui.keys import LARGEST_KEY
from web.common.ui.logs import event
from web.common.ui.tables import as_csv
from web.domain.history.kinds import WATER
from web.domain.history.models import Change
from web.domain.history.record import list_changes, list_history
from web.domain.history.record import undo as take_back
from web.domain.history.shown import add_errors, read_shown, show
from web.domain.waters import exchange, measured, selectors, services
from web.domain.waters.devices import NoAnswer, forecasts, heard_from_meter
from web.domain.waters.models import Sighting, Water
from web.domain.waters.tide import told_tide
from web.pages.waters.forms import RulesForm, WaterForm
from web.pages.waters.known_year import known_months, sure_bands, weekly_gain
from web.pages.waters.list_rows import make_board
from web.pages.waters.year_picture import HEIGHT, LEFT, TOP, WIDTH, draw_year, year_rows

logger = logging.getLogger(__name__)


def waters(request: OwnRequest) -> HttpResponse:
    first = selectors.list_waters(request.user).values_list("pk", flat=True).first()
    return redirect("start") if first is None else redirect("water", first)


def water(request: OwnRequest, pk: int) -> HttpResponse:
    """A water; `changed` names the change that led here, to be taken back."""
    number = read_whole(request.GET.get("changed", ""), 1, LARGEST_KEY) or 0
    mine = list_changes(request.user, services.AREA).filter(water=pk, undone=False)
    return _page(request, pk, change=mine.filter(pk=number).first())


@require_POST
def month(request: OwnRequest, pk: int, number: int) -> HttpResponse:
    """Sets one thing of one month, dragged or typed."""
    field, text = request.POST.get("field", ""), request.POST.get("value", "")
    if field == "hours":
        text = " ".join(request.POST.getlist("value"))
    shown = read_shown(request.POST.get("months_shown", "")) or {}
    data = shown.get(str(number))
    try:
        change = services.set_month(request.user, pk, number, field, text, data if isinstance(data, dict) else None)
        return _page(request, pk, change=change)
    except ValidationError as error:
        return _page(request, pk, wrong={"month": number, "field": field, "text": text, "words": _words(error)})


def month_form(request: OwnRequest, pk: int, number: int) -> HttpResponse:
    """All of one month, to type."""
    found = selectors.get_water(request.user, pk)
    year = draw_year(found, selectors.core_water(found), None, request.user.units)
    row = next((m for m in year.columns if m.row.month == number), None)
    if row is None:
        raise Http404
    sky = selectors.sky_source(found).shares(number)
    context = {"water": found, "column": row, "stains": ids(Stain), "hours": HOURS, "sky": sky}
    context["shown"] = selectors.months_as_shown(found)
    return render(request, "waters/month.html", context)


@require_POST
def undo(request: OwnRequest, change_pk: int) -> HttpResponse:
    change = get_object_or_404(list_changes(request.user, services.AREA), pk=change_pk, undone=False)
    if change.water_id is None:
        raise Http404
    try:
        take_back(request.user, services.AREA, change_pk)
    except ValidationError as error:
        words = f"That cannot be taken back. {_words(error)}"
        if request.POST.get("from") == "history":
            messages.error(request, words)
            return redirect("water-history", change.water_id)
        return _page(request, change.water_id, wrong={"field": "undo", "words": words})
    if request.POST.get("from") == "history":
        messages.success(request, f"Undone: {change.words}")
        return redirect("water-history", change.water_id)
    return _page(request, change.water_id, words=f"Undone: {change.words}")


def history(request: OwnRequest, pk: int) -> HttpResponse:
    """What was changed of a water, newest first."""
    water = selectors.get_water(request.user, pk)
    pages = Paginator(list_history(request.user, services.AREA).filter(water=water), 50)
    return render(request, "waters/history.html", {"page": pages.get_page(request.GET.get("page")), "water": water})


@require_POST
def note(request: OwnRequest, pk: int) -> HttpResponse:
    """One reading in one line, or what was seen to be eaten."""
    line, today = request.POST.get("line", ""), selectors.today_at(selectors.get_water(request.user, pk))
    try:
        without = find_day(line[: measured.MOST_LINE], today, request.user.units)[1].strip(" ,")
        if without and not without[0].isdigit():
            seen = read_sighting(line[: measured.MOST_LINE], today, request.user.units)
            sighting = Sighting(date=seen.day, food=seen.food, spot=seen.place)
            return _page(request, pk, change=services.add_sightings(request.user, pk, [sighting]))
    except InvalidInput as refused:
        like = f"begin with how deep you could see, as 30 in, or write it like {refused.allowed}"
        words = f"{refused.wrong}: {f'write {refused.allowed}' if refused.field == 'date' else like}."
        return _page(request, pk, wrong={"field": "line", "text": line, "words": words})
    except ValidationError as error:
        return _page(request, pk, wrong={"field": "line", "text": line, "words": _words(error)})
    try:
        reading = measured.read_line(line, request.user.units, today)
        return _page(request, pk, change=services.add_readings(request.user, pk, [reading], "A reading is added."))
    except ValidationError as error:
        return _page(request, pk, wrong={"field": "line", "text": line, "words": _words(error)})


@require_POST
def meter(request: OwnRequest, pk: int) -> HttpResponse:
    """The readings of a clarity meter."""
    try:
        heard = heard_from_meter()
    except NoAnswer as none:
        words = f"{none} Nothing was changed; readings can be typed."
        return _page(request, pk, wrong={"field": "meter", "words": words})
    refused = f" {heard.refused} refused: {heard.first_reason}." if heard.refused else ""
    readings = measured.from_meter(heard, timezone.localdate())
    words = f"{len(readings)} from the meter.{refused}"
    return _page(request, pk, change=services.add_readings(request.user, pk, readings, words))


@require_POST
def delete_reading(request: OwnRequest, pk: int, reading_pk: int) -> HttpResponse:
    return _page(request, pk, change=services.delete_reading(request.user, pk, reading_pk))


@require_POST
def delete_sighting(request: OwnRequest, pk: int, sighting_pk: int) -> HttpResponse:
    return _page(request, pk, change=services.delete_sighting(request.user, pk, sighting_pk))


def forecast(request: OwnRequest, pk: int) -> HttpResponse:
    """Tomorrow on a water, loaded apart from the page so that a slow service holds nothing up."""
    found = selectors.get_water(request.user, pk)
    day = timezone.localdate() + timedelta(days=1)
    context: dict[str, Any] = {"water": found, "day": day}
    try:
        (context["hours"],) = forecasts(found, [day])
    except NoAnswer as none:
        context["wrong"] = f"{none} Everything else works without it."
    return render(request, "waters/forecast.html", context)


def edit(request: OwnRequest, pk: int | None = None) -> HttpResponse:
    """The form for a water, opened in place; posted, it leads to the water."""
    known = selectors.get_water(request.user, pk) if pk else Water()
    form = WaterForm(request.user, request.POST or None, instance=known)
    # What is not told of the rules leaves them as they are.
    data = request.POST if "rules_told" in request.POST else None
    forbidden = RulesForm(data, instance=selectors.get_water(request.user, pk) if pk else Water())
    status = 422 if form.errors or forbidden.errors else 200
    if request.method == "POST" and form.is_valid() and (data is None or forbidden.is_valid()):
        values = form.values() | (forbidden.cleaned_data if data else {})
        try:
            if pk:
                shown = read_shown(request.POST.get("shown", ""))
                return _changed(services.edit_water(request.user, pk, "The water is changed.", shown, **values))
            return redirect("water", services.add_water(request.user, region=form.cleaned_data["rough"], **values).pk)
        except ValidationError as error:
            status = add_errors(form, error)
    return _form(request, "waters/form.html", form, known, status, forbidden)


def rules(request: OwnRequest, pk: int) -> HttpResponse:
    """The form for what is forbidden on a water."""
    known = selectors.get_water(request.user, pk)
    form = RulesForm(request.POST or None, instance=known)
    status = 422 if form.errors else 200
    if request.method == "POST" and form.is_valid():
        try:
            words, shown = "The local rules are changed.", read_shown(request.POST.get("shown", ""))
            return _changed(services.edit_water(request.user, pk, words, shown, **form.cleaned_data))
        except ValidationError as error:
            status = add_errors(form, error)
    return _form(request, "waters/rules.html", form, known, status)


def _changed(change: Change) -> HttpResponse:
    return redirect(f"{reverse('water', args=[change.water_id])}?changed={change.pk}")


def _form(
    request: OwnRequest,
    template: str,
    form: WaterForm | RulesForm,
    known: Water,
    status: int,
    forbidden: RulesForm | None = None,
) -> HttpResponse:
    whole = {"waters/form.html": "waters/empty.html", "waters/rules.html": "waters/rules_page.html"}[template]
    context = {"form": form, "rules": forbidden, "water": known, "shown": show(WATER, known.pk) if known.pk else ""}
    return render(request, template if request.htmx else whole, context, status=status)


@require_POST
def delete(request: OwnRequest, pk: int) -> HttpResponse:
    messages.success(request, f"{services.delete_water(request.user, pk)} is deleted.")
    return redirect("waters")


@require_POST
def copy(request: OwnRequest, pk: int) -> HttpResponse:
    try:
        return redirect("water", services.copy_water(request.user, pk).pk)
    except ValidationError as error:
        messages.error(request, _words(error))
        return redirect("water", pk)


@require_POST
def rare(request: OwnRequest, pk: int) -> HttpResponse:
    try:
        services.set_rare_days(request.user, request.POST.get("rare_days", ""))
    except ValidationError as error:
        return _page(request, pk, wrong={"field": "rare", "words": _words(error)})
    return _page(request, pk)


@takes(exchange.MOST_BYTES)
@require_POST
def take_in(request: OwnRequest, pk: int | None = None) -> HttpResponse:
    """A file: a water, or the readings or sky observations of one."""
    file = request.FILES.get("file")
    back = redirect("water", pk) if pk else redirect("waters")
    if file is None or (file.size or 0) > exchange.MOST_BYTES:
        messages.error(request, f"Choose a file of at most {exchange.MOST_BYTES:,} bytes.")
        return back
    content = file.read()
    try:
        if pk is None:
            return redirect("water", exchange.import_water(request.user, content).pk)
        if request.POST.get("what") == "sky":
            seen = {
                str(month): counts
                for month, counts in in_child(TEXT, read_observations, content.decode("utf-8-sig")).items()
            }
            words = "Sky and wind now go by what you saw."
            return _changed(services.edit_water(request.user, pk, words, observations=seen))
        readings = measured.read_csv(content, request.user.units)
        words = f"{len(readings)} readings from {(file.name or 'a file')[:60]} are in."
        return _changed(services.add_readings(request.user, pk, readings, words))
    except (ValidationError, InvalidInput, UnicodeDecodeError) as error:
        logger.info(event("water-file-refused", bytes=file.size))
        words = "It is not text in UTF-8." if isinstance(error, UnicodeDecodeError) else _words(error)
        messages.error(request, f"{file.name}: {words} Nothing was changed.")
    return back


def export(request: OwnRequest, pk: int, what: str) -> HttpResponse:
    found = selectors.get_water(request.user, pk)
    if what == "csv":
        text, kind, name = exchange.readings_csv(found, request.user.units), "text/csv", f"readings-{pk}.csv"
    else:
        text, kind, name = exchange.water_json(found), "application/json", f"water-{pk}.json"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return HttpResponse(text, content_type=f"{kind}; charset=utf-8", headers=headers)


@require_POST
def half_life(request: OwnRequest, pk: int) -> HttpResponse:
    """After how many years a reading weighs half."""
    try:
        return _page(request, pk, change=services.set_half_life(request.user, pk, request.POST.get("years", "")))
    except ValidationError as error:
        return _page(request, pk, wrong={"words": _words(error)})


def year_table(request: OwnRequest, pk: int) -> HttpResponse:
    """The numbers of the year's picture as CSV, in the reader's units."""
    water, units = selectors.get_water(request.user, pk), request.user.units
    length, warmth = ("cm", "C") if units == "metric" else ("in", "F")
    edges = [f"{edge} ({length})" for edge in services.EDGES]
    heading = ["month", *edges, "days out", f"water ({warmth})", "season", "foods", "rests on"]
    return as_csv(f"year-{pk}", heading, year_rows(water, units))


def weekly(request: OwnRequest, pk: int) -> HttpResponse:
    """What one reading more a week would tell: worked out apart from the page, which would wait for it."""
    found = selectors.get_water(request.user, pk)
    known = selectors.get_known_year(found)
    return render(request, "waters/weekly.html", {"gain": weekly_gain(found, known) if known else None})


def compare(request: OwnRequest) -> HttpResponse:
    """Two waters side by side; the first two, where none are named."""
    mine = list(selectors.list_waters(request.user))
    wanted = [pk for text in request.GET.getlist("water")[:2] if (pk := read_whole(text, 1, LARGEST_KEY))]
    wanted = wanted or [water.pk for water in mine[:2]]
    chosen = [selectors.get_water(request.user, pk) for pk in dict.fromkeys(wanted)]
    sides = [(one, make_board(expected_days([selectors.core_water(one)]), request.user.rare_days)) for one in chosen]
    return render(
        request, "waters/compare.html", {"waters": mine, "sides": sides, "lights": ids(Light), "sure_bands": {}}
    )


def _words(error: Exception) -> str:
    return " ".join(error.messages) if isinstance(error, ValidationError) else f"{error}."


def _page(
    request: OwnRequest,
    pk: int,
    change: Change | None = None,
    words: str = "",
    wrong: dict[str, Any] | None = None,
) -> HttpResponse:
    found = selectors.get_water(request.user, pk)
    core, known = selectors.core_water(found), selectors.get_known_year(found)
    year = draw_year(found, core, known, request.user.units)
    eaten = {food for food, _ in year.foods}
    context = {
        "water": found,
        "waters": selectors.list_waters(request.user),
        "shown": selectors.months_as_shown(found),
        "year": year,
        "board": make_board(expected_days([core]), request.user.rare_days),
        "lights": ids(Light),
        "readings": found.readings.all()[:8],
        "sightings": found.sightings.all()[:8],
        "more_foods": [food for food in ids(Forage) if food not in eaten and food != "unknown"],
        "box": {
            "left": LEFT,
            "top": TOP,
            "width": WIDTH,
            "across": WIDTH - LEFT,
            "height": HEIGHT,
            "bottom": TOP + HEIGHT,
        },
        "known": known_months(found, known) if known else [],
        "sure_bands": sure_bands(found, known) if known else {},
        "meter": bool(settings.METER_ADDRESS),
        "gauge": bool(settings.GAUGE_URL),
        "tide": told_tide(found, request.user.units) if found.salinity != "fresh" else None,
        "change": change,
        "words": words,
        "wrong": wrong,
    }
    template = "waters/answer.html" if request.htmx else "waters/water.html"
    return render(request, template, context, status=422 if wrong else 200)
