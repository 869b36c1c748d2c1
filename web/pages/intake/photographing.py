"""A picture of a tray: taken in, its grid laid over it, read compartment by compartment, accepted one by one."""

import json

from django.conf import settings
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.vocabulary import CATEGORIES
from tackle.picture.paint import paint_tray
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.common.ui.keys import LARGEST_KEY
from web.common.work.heavy import begin, waited_for
from web.common.work.services import begin as new_job
from web.domain.colours.selectors import get_palette
from web.domain.colours.services import keep_seen
from web.domain.crate import selectors, services
from web.domain.crate.pictures import MOST_BYTES as PICTURE_BYTES
from web.domain.crate.pictures import encoded, taken_in
from web.pages.intake.seen import read_grid
from web.pages.intake.tasks import find_corners, read_picture

MOST_CELLS = 400
MOST_ROWS, FIRST_ROWS, FIRST_COLUMNS = 20, 4, 3


@takes(PICTURE_BYTES)
def upload(request: OwnRequest) -> HttpResponse:
    """The form for a picture; posted, it is kept and its grid is asked for. The demo has a camera of its own."""
    trays = list(selectors.list_trays(request.user))
    wrong = ""
    if request.method == "POST":
        try:
            if request.POST.get("camera") and settings.DEMO_CAMERA:
                return _painted(request)
            file = request.FILES.get("picture")
            if file is None:
                raise ValidationError("Choose a picture first.")
            return _kept(request, *taken_in(file))
        except ValidationError as error:
            wrong = " ".join(error.messages)
    context = {"trays": trays, "camera": settings.DEMO_CAMERA and trays, "wrong": wrong}
    return render(request, "intake/picture.html", context, status=422 if wrong else 200)


def _painted(request: OwnRequest) -> HttpResponse:
    """The demo's camera: a picture painted from what is in a tray."""
    tray = selectors.get_tray(request.user, read_whole(request.POST.get("tray", ""), 0, LARGEST_KEY) or 0)
    palette = get_palette(request.user)
    cards = [palette.by_id.get(lure.card) for lure in tray.lures.all()][: tray.rows * tray.columns]
    painted = paint_tray(cards, tray.rows, tray.columns, seed=tray.pk)
    return _kept(request, *encoded(painted.image), tray=tray.pk)


def _kept(request: OwnRequest, jpeg_bytes: bytes, width: int, height: int, tray: int | None = None) -> HttpResponse:
    """Keeps a picture, and looks for the corners of the tray in it, which takes a second or two."""
    picture = services.keep_picture(request.user, jpeg_bytes, width, height)
    asked = {"picture": picture.pk, "tray": tray}
    return waited_for(request, begin(find_corners, new_job(request.user, "corners", request.path, asked=asked)))


def grid(request: OwnRequest, pk: int) -> HttpResponse:
    """The picture, its tray's corners where they were found, to drag, and the rows and columns to say."""
    picture = selectors.get_picture(request.user, pk)
    trays = list(selectors.list_trays_with_places(request.user))
    chosen = next((tray for tray in trays if str(tray.pk) == request.GET.get("tray")), trays[0] if trays else None)
    walls = [read_whole(request.GET.get(name, ""), 2, MOST_ROWS) for name in ("rows", "columns")]
    context = {
        "picture": picture,
        "trays": trays,
        "tray": chosen,
        "rows": walls[0] or (chosen.rows if chosen else FIRST_ROWS),
        "columns": walls[1] or (chosen.columns if chosen else FIRST_COLUMNS),
        "walls": all(walls),
        "categories": list(CATEGORIES),
        "kind": selectors.kind_in(chosen),
        "corners": json.dumps(picture.corners),
    }
    return render(request, "intake/grid.html", context)


@require_POST
def read(request: OwnRequest, pk: int) -> HttpResponse:
    """What lies in each compartment, or loose, as three offers and as it was seen; asked of one, that one alone."""
    picture = selectors.get_picture(request.user, pk)
    data = request.POST
    category = data.get("category", "")
    one = read_whole(data.get("one", ""), 1, MOST_CELLS)
    of_one = data.get("of_one", category)
    if category not in CATEGORIES or of_one not in CATEGORIES:
        return render(request, "intake/seen.html", {"wrong": "Say first what is in the tray."}, status=422)
    try:
        read_grid(data.get("grid", ""), picture)
    except InvalidInput as refused:
        return render(request, "intake/seen.html", {"wrong": f"{refused}."}, status=422)
    asked = {
        "picture": picture.pk, "grid": data.get("grid", ""), "category": category, "tray": data.get("tray", "")[:20],
        "one": one, "of_one": of_one,
    }  # fmt: skip
    try:
        job = begin(read_picture, new_job(request.user, "tray", reverse("picture-grid", args=[pk]), asked=asked))
        wrong = job.wrong
    except ValidationError as error:
        wrong = " ".join(error.messages)
    if wrong:
        return render(request, "intake/seen.html", {"wrong": wrong}, status=422)
    return waited_for(request, job)


@require_POST
def take(request: OwnRequest, pk: int) -> HttpResponse:
    """One compartment accepted: the lure goes into the tray with the picture beside it."""
    picture = selectors.get_picture(request.user, pk)
    count = request.POST.get("count", "1")
    data = request.POST.get("tray", "")
    tray = (
        selectors.get_tray(request.user, read_whole(data, 0, LARGEST_KEY) or 0)
        if data
        else services.first_tray(request.user)
    )
    card = request.POST.get("card", "")
    card = request.POST.get("other", "") if card == "other" else card
    try:
        if "own" in request.POST:
            card = keep_seen(request.user, card, request.POST.get("category", ""), request.POST["own"].split()).card
        change = services.add_lure(
            request.user,
            tray=tray,
            category=request.POST.get("category", ""),
            card=card,
            count=read_whole(count, 0, 999) or 0,
            picture=picture,
        )
    except ValidationError as error:
        return render(request, "intake/taken.html", {"wrong": " ".join(error.messages)}, status=422)
    return render(request, "intake/taken.html", {"change": change, "tray": tray})


@require_POST
def take_all(request: OwnRequest, pk: int) -> HttpResponse:
    """The first offer of every compartment that is left, as one change."""
    picture = selectors.get_picture(request.user, pk)
    data = request.POST
    columns = [data.getlist(name)[:MOST_CELLS] for name in ("category", "first", "count")]
    tray_pk = read_whole(data.get("tray", ""), 1, LARGEST_KEY)
    tray = selectors.get_tray(request.user, tray_pk) if tray_pk else services.first_tray(request.user)
    try:
        seen = [
            (category, card, read_whole(count, 1, 999) or 0) for category, card, count in zip(*columns, strict=True)
        ]
        change = services.take_seen(request.user, picture, tray, seen)
    except ValueError:
        return render(
            request, "intake/taken.html", {"wrong": "The page is not whole: read the picture again."}, status=422
        )
    except ValidationError as error:
        return render(request, "intake/taken.html", {"wrong": " ".join(error.messages)}, status=422)
    return render(request, "intake/taken.html", {"change": change, "tray": tray})


def jpeg(request: OwnRequest, pk: int) -> HttpResponse:
    """A picture, to its owner."""
    picture = selectors.get_picture(request.user, pk)
    headers = {"Cache-Control": "no-store", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(picture.jpeg), content_type="image/jpeg", headers=headers)
