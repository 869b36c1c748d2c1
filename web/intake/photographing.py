"""A picture of a tray: taken in, its grid laid over it, read compartment by compartment, accepted one by one."""

import io
import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.conf import settings
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST
from PIL import Image

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.errors import Refused
from tackle.numbers import read_whole
from tackle.picture.find import find_loose, find_tray
from tackle.picture.paint import paint_tray
from tackle.picture.rectify import Point, outlines
from tackle.picture.sample import Offer, Sampled, count_of, offers, read_loose, read_tray, seen_at
from tackle.strict import read_json
from tackle.vocabulary import CATEGORIES
from web.accounts.request import OwnRequest
from web.cards.changes import keep_seen
from web.cards.reads import palette_of
from web.stock import changes, reads
from web.stock.models import Picture
from web.stock.pictures import encoded, taken_in
from web.ui.keys import LARGEST_KEY
from web.watched.timing import timed

OFFERED = 3
MOST_CELLS = 400
MOST_GRID = 2_000  # characters of the grid as the page sends it


def upload(request: OwnRequest) -> HttpResponse:
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
            picture = _kept(request, *taken_in(file))
            return redirect("picture-grid", picture.pk)
        except ValidationError as error:
            wrong = " ".join(error.messages)
    context = {"trays": trays, "camera": settings.DEMO_CAMERA and trays, "wrong": wrong}
    return render(request, "intake/picture.html", context, status=422 if wrong else 200)


def _painted(request: OwnRequest) -> HttpResponse:
    """The demo's camera: a picture painted from what is in a tray."""
    tray = reads.tray_of(request.user, read_whole(request.POST.get("tray", ""), 0, LARGEST_KEY) or 0)
    palette = palette_of(request.user)
    cards = [palette.by_id.get(lure.card) for lure in tray.lures.all()][: tray.rows * tray.columns]
    painted = paint_tray(cards, tray.rows, tray.columns, seed=tray.pk)
    picture = _kept(request, *encoded(painted.image))
    return redirect(f"/crate/picture/{picture.pk}/?tray={tray.pk}")


def grid(request: OwnRequest, pk: int) -> HttpResponse:
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
        "corners": json.dumps(picture.corners),
    }
    return render(request, "intake/grid.html", context)


def _kept(request: OwnRequest, jpeg_bytes: bytes, width: int, height: int) -> Picture:
    """A picture with the corners of the tray in it, where they can be found; looking for them takes a second or two."""
    try:
        found = find_tray(Image.open(io.BytesIO(jpeg_bytes)))
        corners = [[round(x, 1), round(y, 1)] for x, y in found]
    except Refused:
        corners = None
    return changes.keep_picture(request.user, jpeg_bytes, width, height, corners)


@dataclass(frozen=True, slots=True)
class Cell:
    """A compartment, or a loose lure: where it is in the picture, what was seen in it, and what it may be."""

    place: int
    outline: list[Point]
    category: str
    seen: Sampled | None
    offers: list[Offer]

    @property
    def count(self) -> int:
        return count_of(self.seen, self.category) if self.seen else 0

    @property
    def as_seen(self) -> Card:
        """The nearest card in the very colours that were seen, to hold beside the offers."""
        assert self.seen
        seen = self.seen
        return replace(self.offers[0].card, name="As seen", code="??", back=seen.back, side=seen.side, belly=seen.belly)

    @property
    def box(self) -> str:
        """The part of the picture to show, as an SVG view box with a little around it."""
        xs, ys = [x for x, _ in self.outline], [y for _, y in self.outline]
        wide, tall = max(xs) - min(xs), max(ys) - min(ys)
        return f"{min(xs) - wide / 20:.0f} {min(ys) - tall / 20:.0f} {wide * 1.1:.0f} {tall * 1.1:.0f}"


@require_POST
def read(request: OwnRequest, pk: int) -> HttpResponse:
    """What lies in each compartment, or loose, as three offers and as it was seen; asked of one, that one alone."""
    picture = reads.picture_of(request.user, pk)
    palette = palette_of(request.user)
    told = request.POST
    category = told.get("category", "")
    one = read_whole(told.get("one", ""), 1, MOST_CELLS)
    of_one = told.get("of_one", category)
    if category not in CATEGORIES or of_one not in CATEGORIES:
        return render(request, "intake/seen.html", {"wrong": "Say first what is in the tray."}, status=422)
    try:
        asked = _asked(told.get("grid", ""), picture)
        cells = _cells(picture, asked, palette, category, one, of_one)
    except Refused as refused:
        return render(request, "intake/seen.html", {"wrong": f"{refused}."}, status=422)
    context = {
        "picture": picture, "category": category, "tray": told.get("tray", ""), "grid": told.get("grid", ""),
        "categories": list(CATEGORIES), "loose": asked["loose"],
    }  # fmt: skip
    if one:
        cell = next((cell for cell in cells if cell.place == one), None)
        if cell is None:
            return render(request, "intake/seen.html", {"wrong": "There is no such compartment."}, status=422)
        return render(request, "intake/seen_one.html", {**context, "cell": cell})
    found = [cell for cell in cells if cell.seen]
    empty = [cell for cell in cells if not cell.seen]
    return render(request, "intake/seen.html", {**context, "found": found, "empty": empty})


@timed("picture")
def _cells(
    picture: Picture, asked: dict[str, Any], palette: Palette, category: str, one: int | None, of_one: str
) -> list[Cell]:
    """All that lies in the picture. Of `one`, the angler says that it holds a lure, and of which category."""
    image = Image.open(io.BytesIO(bytes(picture.jpeg))).convert("RGB")
    white, picks = asked["white"], asked["picks"]
    seen: Sequence[Sampled | None]
    if asked["loose"]:
        boxes = find_loose(image)
        outlined = [_around(box.left, box.top, box.left + box.width, box.top + box.height) for box in boxes]
        seen = read_loose(image, boxes, white)
    elif len(picks) == 3:
        xs, ys = [x for x, _ in picks], [y for _, y in picks]
        outlined = [_around(min(xs) - 60, min(ys) - 40, max(xs) + 60, max(ys) + 40)]
        back, side, belly = picks
        seen = [seen_at(image, back, side, belly, white)]
    else:
        corners, rows, columns = asked["corners"], asked["rows"], asked["columns"]
        seen = read_tray(image, corners, rows, columns, white, {one - 1} if one else ())
        outlined = outlines(corners, rows, columns)
    there = [place for place, found in enumerate(seen) if found]
    others = {there.index(one - 1): palette.sold_in(of_one)} if one and one - 1 in there else None
    offered = offers([found for found in seen if found], palette.sold_in(category), OFFERED, others)
    near = dict(zip(there, offered, strict=True))
    return [
        Cell(place + 1, outline, of_one if place + 1 == one else category, found, near.get(place, []))
        for place, (outline, found) in enumerate(zip(outlined, seen, strict=True))
    ]


def _around(left: float, top: float, right: float, low: float) -> list[tuple[float, float]]:
    return [(left, top), (right, top), (right, low), (left, low)]


def _asked(text: str, picture: Picture) -> dict[str, Any]:
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
    loose = told.get("loose") is True
    return {"corners": corners, "rows": rows, "columns": columns, "white": white, "picks": picks, "loose": loose}


@require_POST
def take(request: OwnRequest, pk: int) -> HttpResponse:
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
        return render(request, "intake/taken.html", {"wrong": " ".join(error.messages)}, status=422)
    return render(request, "intake/taken.html", {"change": change, "tray": tray})


def jpeg(request: OwnRequest, pk: int) -> HttpResponse:
    """A picture, to its owner."""
    picture = reads.picture_of(request.user, pk)
    headers = {"Cache-Control": "private, max-age=3600", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(picture.jpeg), content_type="image/jpeg", headers=headers)
