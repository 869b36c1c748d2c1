"""The second look: a colour in the hand, and down there."""

from collections.abc import Sequence

from django.http import HttpResponse, QueryDict
from django.shortcuts import render
from django.utils import timezone

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number
from tackle.base.units import System, read_visibility_in, write_exact
from tackle.base.vocabulary import CATEGORIES, Light, Stain, Target, ids
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.sight.below import window_width_ft
from tackle.sight.calling import find_calling
from tackle.sight.look import View
from tackle.sight.ruled import rulings
from tackle.sight.species import Given, given_eye, list_species, water_species
from tackle.sight.spectra import assumptions
from tackle.sight.stability import steadiness
from tackle.situations.clarity import MAX_VISIBILITY_IN
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.domain.colours.selectors import get_palette
from web.domain.plans.selectors import get_basis
from web.domain.trips.selectors import find_last_planned
from web.domain.waters.models import Water
from web.domain.waters.selectors import core_water, list_whole_waters
from web.pages.sight.sight_picture import Look, draw, make_chart, tell_beside

FIRST = ("green-pumpkin-black", "watermelon-red", "black-blue-fleck", "white-flat", "bone")
MOST = 7
BESIDE = 2  # so many colours are shown side by side
DEPTH_FT = 4.0
MIRROR, PLAIN = "silver-plain", "white-flat"
ASSUMED = {
    "weber": "The least step a cone tells, as a share of the light",
    "dark": "A cone's own noise, of a white in the sun",
    "range_share": "Looked at from this share of the visibility",
    "range_most_ft": "and from no further than, in feet",
    "side_light": "Light from the side, of that from above",
    "background": "Light of the water behind, of what it scatters",
}
CHECKED = ("none", "tannic")  # the stains in which it is tried how much hangs on what is assumed


def sight(request: OwnRequest) -> HttpResponse:
    """Some colours in some water, and what the fish would make of them."""
    palette = get_palette(request.user)
    water = _water(request.user)
    asked, wrong = _asked(water, request.user.units, request.GET)
    cards = _cards(palette, request.GET.getlist("c"))
    below = request.GET.get("seen") == "below"
    look = draw(cards, asked, below)
    context = {
        "view": asked,
        "cards": cards,
        "look": look,
        "head": _head(look),
        "below": below,
        "window_ft": window_width_ft(asked.depth_ft),
        "beside": tell_beside((cards[0], cards[1]), asked, below) if len(cards) == BESIDE else None,
        "limit": assumptions().told["limit"],
        "species": _species(water, request.GET),
        "fish": list_species(),
        "same": _same(request.GET),
        "chart": make_chart(cards[0], asked, get_basis(request.user).days),
        "wrong": wrong,
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
    palette = get_palette(request.user)
    steady = steadiness(palette.cards, views)
    found = rulings()
    context = {
        "numbers": numbers, "eyes": data["eye"], "glow": data["fluorescence"], "steady": steady, "fish": list_species(),
        "rulings": found, "parting": found.parting(), "unlike": [one for one in found.first if not one.holds()],
        "limit": data["limit"], "calling": find_calling(palette.known(MIRROR), palette.known(PLAIN), found.there),
    }  # fmt: skip
    return render(request, "sight/sure.html", context)


def _cards(palette: Palette, named: Sequence[str]) -> list[Colour]:
    known = [palette.by_id[pk] for pk in dict.fromkeys(named) if pk in palette.by_id]
    return known[:MOST] or [palette.known(one) for one in FIRST]


def _same(data: QueryDict) -> str:
    """The same look at other colours, as a query."""
    kept = data.copy()
    kept.pop("c", None)
    return kept.urlencode()


def _water(owner: User) -> Water | None:
    """The water that the owner last planned for: by a trip, else by the plan, else any."""
    waters = list_whole_waters(owner)
    last = find_last_planned(owner)
    return (
        (waters.filter(pk=last).first() if last else None)
        or waters.filter(plans__owner=owner).first()
        or waters.first()
    )


def _species(water: Water | None, data: QueryDict) -> Given:
    """The fish that looks: the one asked for, else the water's own."""
    usual = water_species(core_water(water)) if water else Target.LARGEMOUTH
    return given_eye(Target(_one(data, "fish", ids(Target), usual)))


def _asked(water: Water | None, units: System, data: QueryDict) -> tuple[View, str]:
    """The view as it is asked for; else the water as it is this month, at four feet."""
    month = next((one for one in water.year.all() if one.month == timezone.localdate().month), None) if water else None
    usual = core_water(water).months[month.month].spread.usual_in if water and month else 30.0
    visibility, wrong = _length(data.get("visibility", ""), units, round(usual, 1), "visibility")
    range_in, wrong_range = _length(data.get("range", ""), units, 0.0, "range")
    view = View(
        eye=_species(water, data).eye,
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
    return {"near": near, "lost": far.says == "one", "all": near.says == "two"}
