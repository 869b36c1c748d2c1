"""How deep does it still show: the picture, the reading, and what one's readings tell of one's eye."""

import secrets

from django.core import signing
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from tackle.base.numbers import read_number, read_whole
from tackle.base.vocabulary import Light, Stain, ids
from tackle.situations.clarity import HOUSE_LADDER
from tackle.teach.depth import BETWEEN, BEYOND, fading
from web.common.accounts.request import OwnRequest
from web.common.ui.keys import LARGEST_KEY
from web.domain.colours.selectors import get_palette
from web.domain.waters.selectors import get_water
from web.domain.waters.services import correct_reading
from web.pages.learn import selectors
from web.pages.learn.models import Guess
from web.pages.learn.services import keep_guess
from web.pages.learn.wording import STAINS, eye

SALT = "teach.depth"
GOOD_FOR_S = 3600
LIGHTS = (Light.BRIGHT, Light.OVERCAST)
PUT_RIGHT = "put right by the quiz"


def depth(request: OwnRequest) -> HttpResponse:
    """A white lure in a water that one does not know yet; or, asked for, in one kind of it."""
    wanted, sky = request.GET.get("stain", ""), request.GET.get("light", "")
    stain = wanted if wanted in ids(Stain) else secrets.choice(ids(Stain))
    light = sky if sky in LIGHTS else secrets.choice(LIGHTS)
    visibility_in = float(secrets.choice(range(*BETWEEN[Stain(stain)])))
    white = get_palette(request.user).by_id["white-flat"]
    context = {
        "fades": [[fade.down, fade.water, fade.lure] for fade in fading(white, visibility_in, stain, light)],
        "stain": stain, "light": light, "stains": STAINS, "lights": LIGHTS,
        "wanted": wanted, "sky": sky,
        "key": signing.dumps([stain, light, visibility_in], salt=SALT),
        "biases": eye(selectors.compute_biases(request.user), request.user.units),
    }  # fmt: skip
    return render(request, "teach/depth.html", context)


@require_POST
def read(request: OwnRequest) -> HttpResponse:
    """How deep it was taken to be, against how deep it was."""
    try:
        stain, light, true_in = signing.loads(request.POST.get("key", ""), salt=SALT, max_age=GOOD_FOR_S)
        down = read_number(request.POST.get("down", ""), 0, 1) or 0.0
        kept = keep_guess(request.user, stain, light, true_in, round(down * BEYOND * true_in, 1))
    except signing.BadSignature:
        return render(
            request, "teach/depth_read.html", {"wrong": "That picture is an hour old: take a new one."}, status=422
        )
    except ValidationError as error:
        return render(request, "teach/depth_read.html", {"wrong": " ".join(error.messages)}, status=422)
    context = {
        "guess": kept, "off": kept.read_in - kept.true_in, "band": HOUSE_LADDER.band_at(kept.true_in),
        "as_band": HOUSE_LADDER.band_at(kept.read_in), "stain": STAINS[stain],
        "biases": eye(selectors.compute_biases(request.user), request.user.units),
        "count": Guess.objects.filter(owner=request.user, stain=stain).count(), "units": request.user.units,
    }  # fmt: skip
    return render(request, "teach/depth_read.html", context)


def for_readings(request: OwnRequest, pk: int) -> HttpResponse:
    """Beside the readings of a water: what the latest would be, put right by one's eye; never done unasked."""
    latest = get_water(request.user, pk).readings.all()[:1]
    reading = latest[0] if latest else None
    if reading is None or reading.note.endswith(PUT_RIGHT):
        return HttpResponse()
    stain = reading.stain or "none"
    data = selectors.compute_biases(request.user).get(stain)
    if data is None:
        return HttpResponse()
    context = {
        "reading": reading, "water": pk, "right": data.right(reading.visibility_in), "bias": data,
        "units": request.user.units, "stain": STAINS[stain],
    }  # fmt: skip
    return render(request, "teach/depth_offer.html", context)


@require_POST
def put_right(request: OwnRequest, pk: int) -> HttpResponse:
    """The latest reading of a water as it would be by one's eye, since one asked for it."""
    reading_pk = read_whole(request.POST.get("reading", ""), 1, LARGEST_KEY) or 0
    reading = get_water(request.user, pk).readings.filter(pk=reading_pk).first()
    data = selectors.compute_biases(request.user).get(reading.stain or "none") if reading else None
    if reading is None or data is None:
        return HttpResponse('<p class="hint">That reading is not there any more.</p>', status=422)
    right = data.right(reading.visibility_in)
    correct_reading(request.user, pk, reading.pk, right, PUT_RIGHT)
    return HttpResponse(headers={"HX-Refresh": "true"})
