"""On the water: the page that a phone keeps, and the taps that it sends."""

import logging
import time
from pathlib import Path
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.templatetags.static import static
from django.views.decorators.http import require_http_methods, require_POST

from tackle.base.numbers import read_whole
from web.common.accounts.bodies import render_body
from web.common.accounts.request import OwnRequest
from web.common.ui.keys import LARGEST_KEY
from web.common.ui.logs import event
from web.common.ui.sent import answers_json, sent_list
from web.domain.trips import selectors, services
from web.domain.trips.services import settle_gone, take_taps
from web.domain.waters.devices import NoAnswer, heard_from_meter
from web.pages.trips.phone import kept_on_phone, taps_after

logger = logging.getLogger(__name__)
_NAMES = ("clock", "lengths", "facts", "turns", "schools", "fish", "telling", "panels", "aside", "water")
SCRIPTS = [f"day/{name}.js" for name in _NAMES]
WORKER = Path(__file__).parent / "static" / "day" / "sw.js"


def on_water(request: OwnRequest, pk: int) -> HttpResponse:
    """The page for a phone, with all that it needs without a signal."""
    trip = selectors.get_trip(request.user, pk)

    def context() -> dict[str, Any]:
        data, cards = kept_on_phone(request.user, trip)
        return {"data": data, "cards": cards}

    kept = render_body(request, "day/water_kept.html", context)
    get_token(request)
    return selectors.named(render(request, "day/water.html", {"trip": trip, "kept": kept, "scripts": SCRIPTS}), trip)


@require_http_methods(["GET", "POST"])
@answers_json
def taps(request: OwnRequest, pk: int) -> JsonResponse:
    """Taps as a phone sends them, told which of them are here, and which are refused and why; asked for, what came
    after the last that the phone has seen."""
    trip = selectors.get_trip(request.user, pk)
    if request.method == "GET":
        after = read_whole(request.GET.get("after", ""), 0, LARGEST_KEY) or 0
        return JsonResponse(taps_after(trip, after))
    entries, clock_off_s = sent_list("taps", request)
    taken, refused = take_taps(request.user, pk, entries, clock_off_s / 60)
    settle_gone(request.user, pk)
    if refused:
        logger.warning(event("taps-refused", count=len(refused)))
    return JsonResponse({"taken": taken, "refused": refused, "now": time.time() * 1000})


@require_http_methods(["GET", "POST"])
@answers_json
def repack(request: OwnRequest, pk: int) -> JsonResponse:
    """What a packing list for the water as it was measured would take in and leave out; posted, it is packed so."""
    trip = selectors.get_trip(request.user, pk)
    evening = selectors.get_evening(request.user, trip)
    if request.method == "POST":
        services.pack(request.user, pk)
    changes = [
        {"way": way, "category": category, "card": card.id, "name": card.name}
        for way, category, card in evening.changes
    ]
    return JsonResponse({"visibility_in": evening.visibility_in, "changes": changes})


@require_POST
def meter(request: OwnRequest, pk: int) -> JsonResponse:
    """What the clarity meter says now; it is kept only when it is told as what the water is."""
    selectors.get_trip(request.user, pk)
    try:
        heard = heard_from_meter()
    except NoAnswer as none:
        return JsonResponse({"wrong": f"{none} Set the slider."}, status=422)
    return JsonResponse({"visibility_in": heard.readings[-1].visibility_in})


@login_not_required
def service_worker(request: OwnRequest) -> HttpResponse:
    """The service worker, from the root, so that it may answer for the pages of the day."""
    return HttpResponse(WORKER.read_bytes(), content_type="text/javascript", headers={"Cache-Control": "no-cache"})


@login_not_required
def manifest(request: OwnRequest) -> JsonResponse:
    """What makes the app one that can be put on a phone's first screen."""
    icons = [
        {
            "src": static(f"day/icon-{size}.png"),
            "sizes": f"{size}x{size}",
            "type": "image/png",
            "purpose": "any maskable",
        }
        for size in (192, 512)
    ]
    data = {
        "name": "Wax Crate", "short_name": "Wax Crate", "start_url": "/day/", "scope": "/", "display": "standalone",
        "background_color": "#eaf0ee", "theme_color": "#0f4a52", "icons": icons,
    }  # fmt: skip
    return JsonResponse(data, content_type="application/manifest+json")
