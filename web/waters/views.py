"""The Waters step."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.vocabulary import Light, ids
from web.waters import board, changes, reads
from web.waters.forms import WaterForm
from web.waters.models import Water


def waters(request: HttpRequest) -> HttpResponse:
    first = reads.waters_of(request.user).first()
    if first is None:
        return render(request, "waters/empty.html", {"form": WaterForm(request.user)})
    return redirect("water", first.pk)


def water(request: HttpRequest, pk: int) -> HttpResponse:
    return _board(request, reads.water_of(request.user, pk))


@require_POST
def days(request: HttpRequest, pk: int) -> HttpResponse:
    band, light, text = (request.POST.get(name, "") for name in ("band", "light", "days"))
    try:
        return _board(request, changes.set_days(request.user, pk, band, light, text))
    except ValidationError as error:
        wrong = {"cell": f"{band}-{light}", "text": text, "words": " ".join(error.messages)}
        return _board(request, reads.water_of(request.user, pk), wrong=wrong)


def edit(request: HttpRequest, pk: int | None = None) -> HttpResponse:
    """The form for a water, opened in place; posted, it leads to the water."""
    known = reads.water_of(request.user, pk) if pk else Water()
    form = WaterForm(request.user, request.POST or None, instance=known)
    if request.method == "POST" and form.is_valid():
        kept = changes.keep_water(request.user, known, **form.values())
        return redirect("water", kept.pk)
    template = "waters/form.html" if request.htmx else "waters/empty.html"
    return render(request, template, {"form": form, "water": known}, status=422 if form.errors else 200)


@require_POST
def delete(request: HttpRequest, pk: int) -> HttpResponse:
    messages.success(request, f"{changes.delete_water(request.user, pk)} is deleted.")
    return redirect("waters")


def _board(request: HttpRequest, water: Water, wrong: dict[str, str] | None = None) -> HttpResponse:
    context = {
        "water": water,
        "waters": reads.waters_of(request.user),
        "rows": board.board_of(water),
        "lights": ids(Light),
        "busiest": board.busiest(water),
        "wrong": wrong,
    }
    template = "waters/body.html" if request.htmx else "waters/water.html"
    return render(request, template, context, status=422 if wrong else 200)
