"""An open record on its way into a water: given, looked at, taken in as one change."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.core.files.base import ContentFile, File
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.records.choices import settle
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.common.ui.words import label
from web.common.work.heavy import begin, waited_for
from web.common.work.selectors import get_job
from web.common.work.services import ask_anew, drop_file
from web.common.work.services import begin as new_job
from web.domain.waters import selectors, services
from web.domain.waters.devices import NoAnswer, record_from_gauge
from web.domain.waters.models import Reading
from web.domain.waters.selectors import Taken
from web.domain.waters.services import MONTH_NAMES
from web.domain.waters.tasks import read_tide, read_water_record
from web.pages.waters.effect import effect_of
from web.pages.waters.known_year import known_months

MOST_BYTES = 60_000_000
_SETTLES = "settle:"
MOST_SAID = 80
MEASURES = {
    "secchi": "visibility",
    "turbidity": "turbidity",
    "temperature": "water temperature",
    "level": "water level",
}
# What is left open, as the page asks it.
ASKED = {
    "unit": "Which unit?", "day_order": "Which comes first?", "zone": "Which clock?", "depth": "Down to which depth?",
    "statistic": "Which of them?", "station": "Which station?", "censored": "What are > and <?",
    "sign": "What are its numbers?", "meaning": "What is it?", "kind_of_day": "Which day is its first?",
}  # fmt: skip
WHOLE = {"sky": True, "warmth": True}
SAID = {
    "dmy": "the day", "mdy": "the month", "c": "°C", "f": "°F", "in": "inches", "ft": "feet", "m": "metres",
    "cm": "centimetres", "solar": "the sun’s own", "all": "all together", "surface": "the uppermost metre",
    "": "the plain one", "level": "water level", "secchi": "visibility",
}  # fmt: skip


@takes(MOST_BYTES)
@require_POST
def give(request: OwnRequest, pk: int) -> HttpResponse:
    """A record as a file, read in the queue; then it is looked at."""
    water, file = selectors.get_water(request.user, pk), request.FILES.get("file")
    if file is None or (file.size or 0) > MOST_BYTES:
        messages.error(request, f"Choose a file of at most {MOST_BYTES // 1_000_000} MB.")
        return redirect("water", pk)
    asked = {"water": water.pk, "station": request.POST.get("station", "")[:80]}
    return _begun(request, pk, asked, file.name or "a record", file)


@require_POST
def ask_gauge(request: OwnRequest, pk: int) -> HttpResponse:
    """The record of a gauge's site, read in the queue as a file is; then it is looked at."""
    water, site = selectors.get_water(request.user, pk), request.POST.get("site", "").strip()[:40]
    try:
        content = record_from_gauge(site)
    except NoAnswer as none:
        messages.error(request, str(none))
        return redirect("water", pk)
    asked = {"water": water.pk, "station": ""}
    return _begun(request, pk, asked, f"the gauge, {site}", ContentFile(content))


@require_POST
def tide(request: OwnRequest, pk: int) -> HttpResponse:
    """The harmonic constants of a tide, typed; what they make is worked out in the queue."""
    water, text = selectors.get_water(request.user, pk), request.POST.get("constants", "")[:4000]
    if water.position is None:
        messages.error(request, "A tide goes by where the water lies: say that first.")
        return redirect("water-place", pk)
    try:
        job = new_job(request.user, "tide", reverse("water", args=[pk]), asked={"water": water.pk, "text": text})
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("water", pk)
    return waited_for(request, begin(read_tide, job))


def _begun(request: OwnRequest, pk: int, asked: dict[str, Any], name: str, file: File[Any]) -> HttpResponse:
    try:
        job = new_job(request.user, "record", reverse("water", args=[pk]), name=name, asked=asked, file=file)
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("water", pk)
    return waited_for(request, begin(read_water_record, job))


def look(request: OwnRequest, pk: int, job_pk: int) -> HttpResponse:
    """What was understood, before it counts."""
    water, found = selectors.get_water(request.user, pk), _found(request, pk, job_pk)
    known = selectors.get_known_year(water, selectors.new_of(water, brought(found, WHOLE)))
    then = {one.number: one for one in known_months(water, known)} if known else {}
    months = [
        {**one, "name": MONTH_NAMES[one["month"] - 1], "usual": round(one["usual"]), "low": round(one["low"]),
         "high": round(one["high"]), "then": then[one["month"]]}
        for one in found["months"]
    ]  # fmt: skip
    warmth = [(MONTH_NAMES[int(month) - 1], warm) for month, warm in found["temperatures"].items()]
    context = {"water": water, "found": found, "months": months, "warmth": warmth, "job": job_pk,
               "shown": selectors.changes_so_far(request.user, pk)}  # fmt: skip
    context["span"] = [date.fromisoformat(day) for day in found.get("span", [])]
    context["asks"] = [
        {**one, "asked": ASKED[one["field"]],
         "choices": [(value, SAID.get(value, value)) for value in (one["taken"], *one["others"])]}
        for one in found["ask"]
    ]  # fmt: skip
    context["settled"] = [
        (key, ASKED[key.partition(":")[0]], SAID.get(value, value)) for key, value in found["settled"].items()
        if key.partition(":")[0] in ASKED
    ]  # fmt: skip
    columns = {heading: what for what, heading in found["columns"].items()}
    context["head"] = [(heading, columns.get(heading, "")) for heading in found["head"][0]]
    context["measures"] = MEASURES
    context["said"] = MEASURES.get(found["what"]) or label(found["what"]).lower()
    context["sky"] = [(MONTH_NAMES[int(month) - 1], counts) for month, counts in found["sky"].items()]
    return render(request, "waters/record.html", context)


@require_POST
def settle_record(request: OwnRequest, pk: int, job_pk: int) -> HttpResponse:
    """What a record leaves open, settled by one press or more; its months are worked out anew."""
    found, job = _found(request, pk, job_pk), get_job(request.user, job_pk)
    names = [key for key in request.POST if key.startswith(_SETTLES)]
    given = {key.removeprefix(_SETTLES): str(request.POST.get(key, "")).strip()[:MOST_SAID] for key in names}
    settled = {key: value for key, value in (found["settled"] | given).items() if value}
    try:
        settle(settled)
    except InvalidInput as refused:
        messages.error(request, f"{refused.wrong}: allowed is {refused.allowed}.")
        return redirect("water-record-look", pk, job_pk)
    if not job.pieces.exists():
        messages.error(request, "The file is not here any more: import it once more.")
        return redirect("water", pk)
    ask_anew(job, settled=settled)
    return waited_for(request, begin(read_water_record, job))


@require_POST
def take(request: OwnRequest, pk: int, job_pk: int) -> HttpResponse:
    """The record counts from now on; its undo takes it back as one step."""
    found = _found(request, pk, job_pk)
    if found["ask"]:
        messages.error(request, "Settle what the file leaves open first: nothing was saved.")
        return redirect("water-record-look", pk, job_pk)
    try:
        tide = found["tide"] if request.POST.get("tide") else None
        shown = request.POST.get("shown", "")[:MOST_SAID]
        change = services.take_record(request.user, pk, brought(found, request.POST), found["name"], tide, shown)
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("water-record-look", pk, job_pk)
    services.remember_settled(request.user, found["shape"], found["settled"])
    drop_file(get_job(request.user, job_pk))
    return redirect(f"{reverse('water', args=[pk])}?changed={change.pk}")


def brought(found: dict[str, Any], wanted: Mapping[str, Any]) -> Taken:
    """What a record brings to its water, of what is `wanted`: warmth, sky."""
    with_sky = bool(wanted.get("sky"))
    readings = [
        Reading(date=date.fromisoformat(day), visibility_in=inches, note=f"record: {found['name']}"[:200],
                source=Reading.Source.FILE, off_by=found.get("off_by", 0.0), bound=bound,
                **_weather(found, day, with_sky))
        for day, inches, bound in found["readings"]
    ]  # fmt: skip
    warmth = {int(month): warm for month, warm in found["temperatures"].items()} if wanted.get("warmth") else {}
    sky = found["sky"] if with_sky else {}
    for month, (wet, dry) in found["wet"].items():
        sky = {**sky, month: {**sky.get(month, {}), "wet": wet, "dry": dry}}
    return Taken(readings, warmth, sky)


def effect(request: OwnRequest, pk: int, job_pk: int) -> HttpResponse:
    """What the plan would become with the record."""
    found = _found(request, pk, job_pk)
    changed = effect_of(request.user, pk, brought(found, WHOLE))
    colours = sum(max(len(one.came), len(one.went)) for one in changed or ())
    return render(request, "waters/effect.html", {"effect": changed, "colours": colours})


def _weather(found: dict[str, Any], day: str, with_sky: bool) -> dict[str, Any]:
    sky, wind, rain_in = found["weather"].get(day, ("", "", None))
    return {"rain_in": rain_in} | ({"sky": sky, "wind": wind} if with_sky else {})


def _found(request: OwnRequest, pk: int, job_pk: int) -> dict[str, Any]:
    found: dict[str, Any] | None = get_job(request.user, job_pk).asked.get("found")
    if not found or found["water"] != pk:
        raise Http404
    return found
