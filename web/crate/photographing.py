"""A picture of a tray: taken in, its grid laid over it, read compartment by compartment, accepted one by one."""

import io
import json
from dataclasses import replace

from django.conf import settings
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST
from PIL import Image

from tackle.colours.card import Card
from tackle.errors import Refused
from tackle.numbers import read_whole
from tackle.picture.find import find_tray
from tackle.picture.paint import paint_tray
from tackle.picture.sample import count_of, offers, read_tray, seen_at
from tackle.strict import read_json
from tackle.vocabulary import CATEGORIES
from web.colours.changes import keep_seen
from web.colours.reads import palette_of
from web.crate import changes, reads
from web.crate.models import Picture
from web.crate.pictures import encoded, taken_in
from web.ui.keys import LARGEST_KEY

OFFERED = 3
MOST_GRID = 2_000  # characters of the grid as the page sends it


def upload(request: HttpRequest) -> HttpResponse:
    """The form for a picture; posted, it is kept and its grid is asked for. The demo has a camera of its own."""
    trays = list(reads.trays_of(request.user))
    wrong = ""
    if request.method == "POST":
        try:
            if request.POST.get("camera") and settings.DEMO_CAMERA:
                return _painted(request)
            file = request.FILES.get("picture")
            if file is None:
                raise ValidationError("Choose a picture first.")
            picture = changes.keep_picture(request.user, *taken_in(file))
            return redirect("picture-grid", picture.pk)
        except ValidationError as error:
            wrong = " ".join(error.messages)
    context = {"trays": trays, "camera": settings.DEMO_CAMERA and trays, "wrong": wrong}
    return render(request, "crate/picture.html", context, status=422 if wrong else 200)


def _painted(request: HttpRequest) -> HttpResponse:
    """The demo's camera: a picture painted from what is in a tray."""
    tray = reads.tray_of(request.user, read_whole(request.POST.get("tray", ""), 0, LARGEST_KEY) or 0)
    palette = palette_of(request.user)
    cards = [palette.by_id.get(lure.card) for lure in tray.lures.all()][: tray.rows * tray.columns]
    painted = paint_tray(cards, tray.rows, tray.columns, seed=tray.pk)
    picture = changes.keep_picture(request.user, *encoded(painted.image))
    return redirect(f"/crate/picture/{picture.pk}/?tray={tray.pk}")


def grid(request: HttpRequest, pk: int) -> HttpResponse:
    """The picture, its tray's corners where they were found, to drag, and the rows and columns to say."""
    picture = reads.picture_of(request.user, pk)
    trays = list(reads.bare_trays_of(request.user))
    chosen = next((tray for tray in trays if str(tray.pk) == request.GET.get("tray")), trays[0] if trays else None)
    context = {
        "picture": picture,
        "trays": trays,
        "tray": chosen,
        "categories": list(CATEGORIES),
        "kind": reads.kind_in(chosen),
        "corners": json.dumps(_found(picture)),
    }
    return render(request, "crate/grid.html", context)


def _found(picture: Picture) -> list[list[float]] | None:
    """The corners of the tray in the picture, where they can be found."""
    try:
        return [[round(x, 1), round(y, 1)] for x, y in find_tray(Image.open(io.BytesIO(bytes(picture.jpeg))))]
    except Refused:
        return None


@require_POST
def read(request: HttpRequest, pk: int) -> HttpResponse:
    """What lies in each compartment, as three offers and as it was seen."""
    picture = reads.picture_of(request.user, pk)
    palette = palette_of(request.user)
    category = request.POST.get("category", "")
    if category not in CATEGORIES:
        return render(request, "crate/seen.html", {"wrong": "Say first what is in the tray."}, status=422)
    try:
        asked = _asked(request.POST.get("grid", ""), picture)
        image = Image.open(io.BytesIO(bytes(picture.jpeg))).convert("RGB")
        picks = asked.pop("picks")
        seen = [seen_at(image, *picks, asked["white"])] if len(picks) == 3 else read_tray(image, **asked)
    except Refused as refused:
        return render(request, "crate/seen.html", {"wrong": f"{refused}."}, status=422)
    there = [one for one in seen if one is not None]
    offered = iter(offers(there, palette.sold_in(category), OFFERED))
    found = []
    for place, one in enumerate(seen):
        if one is not None:
            near = next(offered)
            found.append(
                {
                    "place": place + 1,
                    "seen": one,
                    "offers": near,
                    "count": count_of(one, category),
                    "as_seen": _as_seen(near[0].card, one),
                }
            )
    context = {"found": found, "picture": picture, "category": category, "empty": len(seen) - len(found)}
    tray = request.POST.get("tray", "")
    return render(request, "crate/seen.html", {**context, "tray": tray})


def _asked(text: str, picture: Picture) -> dict[str, object]:
    """The grid as the page sends it, checked. Raises Refused."""
    try:
        told = read_json(text[:MOST_GRID], "grid")
        corners = [(float(x), float(y)) for x, y in told["corners"]]
        rows, columns = int(told["rows"]), int(told["columns"])
        white = tuple(map(float, told["white"])) if told.get("white") else None
        picks = [(float(x), float(y)) for x, y in told.get("picks", [])]
        points = [*corners, *picks, *([white] if white else [])]
        inside = all(
            -picture.width <= x <= 2 * picture.width and -picture.height <= y <= 2 * picture.height for x, y in points
        )
        if len(corners) != 4 or len(picks) > 3 or not inside:
            raise ValueError
    except (ValueError, TypeError, KeyError, RecursionError, OverflowError):
        raise Refused("grid", "cannot be read", "four corners in the picture, rows and columns") from None
    return {"corners": corners, "rows": rows, "columns": columns, "white": white, "picks": picks}


def _as_seen(card: Card, seen: object) -> Card:
    """The nearest card in the very colours that were seen, to hold beside the offers."""
    return replace(card, name="As seen", code="??", back=seen.back, side=seen.side, belly=seen.belly)


@require_POST
def take(request: HttpRequest, pk: int) -> HttpResponse:
    """One compartment accepted: the lure goes into the tray with the picture beside it."""
    picture = reads.picture_of(request.user, pk)
    count = request.POST.get("count", "1")
    told = request.POST.get("tray", "")
    tray = (
        reads.tray_of(request.user, read_whole(told, 0, LARGEST_KEY) or 0) if told else changes.first_tray(request.user)
    )
    card = request.POST.get("card", "")
    try:
        if "own" in request.POST:
            card = keep_seen(request.user, card, request.POST.get("category", ""), request.POST["own"].split()).card
        change = changes.add_lure(
            request.user,
            tray=tray,
            category=request.POST.get("category", ""),
            card=card,
            count=read_whole(count, 0, 999) or 0,
            picture=picture,
        )
    except ValidationError as error:
        return render(request, "crate/taken.html", {"wrong": " ".join(error.messages)}, status=422)
    return render(request, "crate/taken.html", {"change": change, "tray": tray})


def jpeg(request: HttpRequest, pk: int) -> HttpResponse:
    """A picture, to its owner."""
    picture = reads.picture_of(request.user, pk)
    headers = {"Cache-Control": "private, max-age=3600", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(picture.jpeg), content_type="image/jpeg", headers=headers)
