"""On paper: labels for trays, and the packing list by place."""

from collections import Counter
from dataclasses import dataclass

import segno
from django.conf import settings
from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe

from tackle.base.units import write_exact
from tackle.colours.colour import Colour
from tackle.intake.limits import combined_limits
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.work.papers import paper
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors
from web.domain.crate.models import Lure, Thing, Tray

COLOURS = {
    "teal": "#0e6873",
    "plum": "#6f3a8c",
    "rust": "#9a3b1e",
    "moss": "#4c6420",
    "slate": "#44535c",
    "navy": "#24417e",
}
MOST_ON_LABEL = 12


@dataclass(frozen=True, slots=True)
class LabelLine:
    """What a label says of one colour in one length and condition."""

    card: Colour
    size: str
    condition: str
    count: int


@dataclass(frozen=True, slots=True)
class PrintedLabel:
    """A tray's label: what is inside, and the square that opens the tray."""

    tray: Tray
    colour: str
    stacks: list[LabelLine]
    more: int
    square: SafeString


def labels(request: OwnRequest) -> HttpResponse:
    """A sheet of labels, of all trays or of one."""
    palette = get_palette(request.user)
    wanted = request.GET.get("tray", "")
    made = []
    for tray in selectors.list_trays(request.user):
        if wanted and str(tray.pk) != wanted:
            continue
        counts: Counter[tuple[Colour, str, str]] = Counter()
        for lure in tray.lures.all():
            if lure.card in palette.by_id:
                size = write_exact(lure.size_in, request.user.units) if lure.size_in else ""
                counts[palette.by_id[lure.card], size, lure.condition] += lure.count
        address = f"{settings.OWN_ADDRESS}{reverse('crate')}?tray={tray.pk}"
        square = segno.make(address, error="m").svg_inline(scale=2, border=2, omitsize=True, svgclass="square")
        listed = [LabelLine(*what, count) for what, count in counts.items()]
        made.append(
            PrintedLabel(
                tray,
                COLOURS[tray.label],
                listed[:MOST_ON_LABEL],
                max(len(listed) - MOST_ON_LABEL, 0),
                mark_safe(square),  # noqa: S308 - our own drawing
            )
        )
    return paper(request, "crate/labels.html", {"labels": made}, "tray-labels.pdf")


@dataclass(frozen=True, slots=True)
class Packed:
    """One tray on the packing list, with what it weighs, about, where no weight is noted."""

    tray: Tray
    lures: list[tuple[Lure, Colour]]
    things: list[Thing]
    pieces: int
    ounces: float
    guessed: int  # pieces whose weight is a guess by kind and length
    unknown: int  # things that may weigh anything


def _by_place(owner: User) -> list[tuple[str, list[Packed], float]]:
    """The trays of each place, heaviest first: heavy things go low and aft."""
    palette = get_palette(owner)
    places: dict[str, list[Packed]] = {}
    for tray in selectors.list_trays(owner).prefetch_related("things"):
        lures = [(lure, palette.by_id[lure.card]) for lure in tray.lures.all() if lure.card in palette.by_id]
        things = list(tray.things.all())
        packed = Packed(
            tray,
            lures,
            things,
            sum(lure.count for lure, _ in lures) + sum(thing.count for thing in things),
            sum(_weighs(lure) * lure.count for lure, _ in lures)
            + sum((thing.weight_oz or 0) * thing.count for thing in things),
            sum(lure.count for lure, _ in lures if lure.weight_oz is None),
            sum(thing.count for thing in things if thing.weight_oz is None),
        )
        places.setdefault(tray.place.name if tray.place else "Boat", []).append(packed)
    return [
        (name, sorted(listed, key=lambda one: (-one.ounces, -one.pieces)), sum(one.ounces for one in listed))
        for name, listed in places.items()
    ]


def _weighs(lure: Lure) -> float:
    return lure.weight_oz or combined_limits([lure.category]).about_oz(lure.size_in)


def packing(request: OwnRequest) -> HttpResponse:
    return render(request, "crate/packing.html", {"places": _by_place(request.user)})


def packing_pdf(request: OwnRequest) -> HttpResponse:
    context = {"places": _by_place(request.user), "units": request.user.units}
    return paper(request, "crate/packing_paper.html", context, "packing-list.pdf")
