"""The second look: a colour in the hand, and down there."""

from collections.abc import Sequence

from django.http import HttpResponse, QueryDict
from django.shortcuts import render
from django.utils import timezone

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number
from tackle.base.units import System, read_visibility_in, write_exact
from tackle.base.vocabulary import CATEGORIES, Light, Stain, ids
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.sight.look import View
from tackle.sight.spectra import EYES, assumptions
from tackle.sight.stability import steadiness
from tackle.situations.clarity import MAX_VISIBILITY_IN
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.domain.colours.selectors import get_palette
from web.domain.plans.selectors import get_basis
from web.domain.waters.selectors import core_water, list_whole_waters
from web.pages.sight.sight_picture import Look, draw, make_chart

FIRST = ("green-pumpkin-black", "watermelon-red", "black-blue-fleck", "white-flat", "bone")
MOST = 7
DEPTH_FT = 4.0
ASSUMED = {
    "weber": "The least step a cone tells, as a share of the light",
    "dark": "A cone's own noise, of a white in the sun",
    "range_share": "Looked at from this share of the visibility",
    "range_most_ft": "and from no further than, in feet",
    "side_light": "Light from the side, of that from above",
    "background": "Light of the water behind, of what it scatters",
}
CHECKED = ("none", "tannic")  # the stains in which it is tried how much hangs on what is assumed
SCALE = ("black-plain", "white-flat")


def sight(request: OwnRequest) -> HttpResponse:
    """Some colours in some water, and what the fish would make of them."""
    palette = get_palette(request.user)
    asked, wrong = _asked(request.user, request.GET)
    cards = _cards(palette, request.GET.getlist("c"))
    look = draw(cards, asked, (palette.known(SCALE[0]), palette.known(SCALE[1])))
    context = {
        "view": asked,
        "cards": cards,
        "look": look,
        "head": _head(look),
        "chart": make_chart(cards[0], asked, get_basis(request.user).days),
        "wrong": wrong,
        "eyes": EYES,
        "stains": ids(Stain),
        "lights": ids(Light),
        "categories": [(category, palette.sold_in(category)) for category in CATEGORIES],
        "most": MOST,
        "visibility": write_exact(asked.visibility_in, request.user.units),
        "range": write_exact(asked.distance_ft * 12, request.user.units),
    }
    return render(request, "sight/seen.html" if request.htmx else "sight/sight.html", context)


def sure(request: OwnRequest) -> HttpResponse:
    """How much hangs on what is assumed, and what is."""
    data = assumptions().told
    numbers = [(words, data[name]) for name, words in ASSUMED.items()]
    views = [View("bass", visibility, stain, 3.0, "bright") for visibility in (12.0, 30.0, 80.0) for stain in CHECKED]
    steady = steadiness(get_palette(request.user).cards, views)
    context = {"numbers": numbers, "eyes": data["eye"], "glow": data["fluorescence"], "steady": steady}
    return render(request, "sight/sure.html", context)


def _cards(palette: Palette, named: Sequence[str]) -> list[Colour]:
    known = [palette.by_id[pk] for pk in dict.fromkeys(named) if pk in palette.by_id]
    return known[:MOST] or [palette.known(one) for one in FIRST]


def _asked(owner: User, data: QueryDict) -> tuple[View, str]:
    """The view as it is asked for; else the owner's first water as it is this month, at four feet."""
    water = list_whole_waters(owner).first()
    month = next((one for one in water.year.all() if one.month == timezone.localdate().month), None) if water else None
    usual = core_water(water).months[month.month].spread.usual_in if water and month else 30.0
    visibility, wrong = _length(data.get("visibility", ""), owner.units, round(usual, 1), "visibility")
    range_in, wrong_range = _length(data.get("range", ""), owner.units, 0.0, "range")
    view = View(
        eye=_one(data, "eye", EYES, "drum" if water and water.salinity == "salt" else "bass"),
        visibility_in=min(max(visibility, 1.0), MAX_VISIBILITY_IN),
        stain=_one(data, "stain", ids(Stain), month.stain if month else "none"),
        depth_ft=read_number(data.get("depth", ""), 0, 60) or DEPTH_FT,
        light=_one(data, "light", ids(Light), "bright"),
        range_ft=min(range_in / 12, 60.0) if range_in else None,
    )
    return view, wrong or wrong_range


def _length(text: str, units: System, otherwise: float, field: str) -> tuple[float, str]:
    if not text.strip():
        return otherwise, ""
    try:
        return read_visibility_in(text, units, field), ""
    except InvalidInput as refused:
        return otherwise, f"{refused.wrong}: write it like {refused.allowed}."


def _one(data: QueryDict, name: str, allowed: Sequence[str], otherwise: str) -> str:
    value = data.get(name, otherwise)
    return value if value in allowed else otherwise


def _head(look: Look) -> dict[str, object]:
    """What the heading says: the nearest pair where it is all but one, else the furthest."""
    if not look.pairs:
        return {}
    near, far = look.pairs[0], look.pairs[-1]
    one = near.share < assumptions().number("nearly_one")
    return {"near": near if one else None, "far": far, "lost": far.apart < 1.0}
