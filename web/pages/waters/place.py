"""Where a water lies: pointed at on a map, or typed, with its time zone."""

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from tackle.base.numbers import read_whole
from tackle.situations.zones import nearest_zones
from web.common.accounts.request import OwnRequest
from web.common.ui.keys import LARGEST_KEY
from web.common.work.heavy import begin, waited_for
from web.common.work.selectors import get_job
from web.common.work.services import ask_anew
from web.domain.history.kinds import WATER
from web.domain.history.shown import add_errors, read_shown, show
from web.domain.waters import selectors, services
from web.domain.waters.models import Water, is_zone
from web.domain.waters.tasks import read_water_record
from web.pages.waters.forms import PlaceForm


def place(request: OwnRequest, pk: int) -> HttpResponse:
    """The form for where a water lies; `record` names the record that is waiting for it, which is then read anew."""
    water = selectors.get_water(request.user, pk)
    form = PlaceForm(request.POST or None, instance=selectors.get_water(request.user, pk))
    if water.longitude is None and request.method != "POST":
        form.initial.pop("latitude")
    waiting = read_whole(request.POST.get("record") or request.GET.get("record") or "", 1, LARGEST_KEY)
    if request.method == "POST" and form.is_valid():
        try:
            words, shown = f"{water.name} has its place.", read_shown(request.POST.get("shown", ""))
            change = services.edit_water(request.user, pk, words, shown, **form.cleaned_data)
        except ValidationError as error:
            add_errors(form, error)
        else:
            job = get_job(request.user, waiting) if waiting else None
            if job and job.pieces.exists():
                ask_anew(job)
                return waited_for(request, begin(read_water_record, job))
            return redirect(f"{reverse('water', args=[pk])}?changed={change.pk}")
    context = {"water": water, "form": form, "record": waiting or "", "shown": show(WATER, pk)}
    return render(request, "waters/place.html", context, status=422 if form.errors else 200)


def zones(request: OwnRequest) -> HttpResponse:
    """The time zones that a place may have; nothing while it is not known. `home`: that of the phone in hand."""
    typed = PlaceForm({**request.GET.dict(), "time_zone": ""}, instance=Water())
    typed.is_valid()
    latitude, longitude = typed.cleaned_data.get("latitude"), typed.cleaned_data.get("longitude")
    near: tuple[str, ...] = ()
    if latitude is not None and longitude is not None:
        near = nearest_zones(latitude, longitude, _known_zone(request.GET.get("home", "")), timezone.localdate().year)
    return render(request, "waters/zones.html", {"zones": near})


def _known_zone(name: str) -> str:
    try:
        is_zone(name)
    except ValidationError:
        return ""
    return name
