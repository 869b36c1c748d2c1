"""An open record on its way into a water: given, looked at, taken in as one change."""

from datetime import date
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from web.accounts.request import OwnRequest
from web.serving.bounds import takes
from web.waters import changes, reads
from web.waters.changes import MONTH_NAMES
from web.waters.models import Reading
from web.waters.tasks import read_water_record
from web.work.changes import begin as new_job
from web.work.heavy import begin, waited_for
from web.work.reads import job_of

MOST_BYTES = 60_000_000


@takes(MOST_BYTES)
@require_POST
def give(request: OwnRequest, pk: int) -> HttpResponse:
    """A record as a file, read in the queue; then it is looked at."""
    water, file = reads.water_of(request.user, pk), request.FILES.get("file")
    if file is None or (file.size or 0) > MOST_BYTES:
        messages.error(request, f"Choose a file of at most {MOST_BYTES // 1_000_000} MB.")
        return redirect("water", pk)
    asked = {"water": water.pk, "station": request.POST.get("station", "")[:80]}
    back = reverse("water", args=[pk])
    try:
        job = new_job(request.user, "record", back, name=file.name or "a record", asked=asked, file=file)
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("water", pk)
    return waited_for(request, begin(read_water_record, job))


def look(request: OwnRequest, pk: int, job_pk: int) -> HttpResponse:
    """What was understood, before it counts."""
    water, found = reads.water_of(request.user, pk), _found(request, pk, job_pk)
    months = [{**one, "name": MONTH_NAMES[one["month"] - 1]} for one in found["months"]]
    warmth = [(MONTH_NAMES[int(month) - 1], warm) for month, warm in found["temperatures"].items()]
    context = {"water": water, "found": found, "months": months, "warmth": warmth, "job": job_pk}
    context["sky"] = [(MONTH_NAMES[int(month) - 1], counts) for month, counts in found["sky"].items()]
    return render(request, "waters/record.html", context)


@require_POST
def take(request: OwnRequest, pk: int, job_pk: int) -> HttpResponse:
    """The record counts from now on; its undo takes it back as one step."""
    found = _found(request, pk, job_pk)
    readings = [
        Reading(date=date.fromisoformat(day), visibility_in=inches, note=f"record: {found['name']}"[:200],
                source=Reading.Source.FILE)
        for day, inches in found["readings"]
    ]  # fmt: skip
    warmth = {int(month): warm for month, warm in found["temperatures"].items()} if request.POST.get("warmth") else {}
    sky = found["sky"] if request.POST.get("sky") else {}
    try:
        change = changes.take_record(request.user, pk, readings, warmth, sky, found["name"])
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("water-record-look", pk, job_pk)
    return redirect(f"{reverse('water', args=[pk])}?changed={change.pk}")


def _found(request: OwnRequest, pk: int, job_pk: int) -> dict[str, Any]:
    found: dict[str, Any] | None = job_of(request.user, job_pk).asked.get("found")
    if not found or found["water"] != pk:
        raise Http404
    return found
