"""A newcomer's first screens: where they fish, what they throw, what they own; each shows at once what it makes."""

from collections import Counter
from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.base.units import System, write_length
from tackle.base.vocabulary import CATEGORIES, Forage
from tackle.schools.differing import most_differing
from tackle.situations.expected import expected_days
from tackle.situations.regions import regions
from tackle.situations.starting import first_guess, kinds, seen_as
from web.common.accounts import services as accounts
from web.common.accounts.request import OwnRequest
from web.common.accounts.throttle import GUEST, count, refuse_too_many
from web.common.ui.shapes import SHAPES
from web.common.ui.words import label
from web.domain.plans.selectors import Basis, select_situations
from web.domain.plans.services import begin, follow, take
from web.domain.waters.selectors import list_waters
from web.domain.waters.services import MOST_NAME, add_water, set_year
from web.pages.shopping.selectors import list_for
from web.pages.start.region_map import guessed_year, region_map
from web.pages.start.shapes_drawn import drawn_kinds
from web.pages.waters.list_rows import make_board

FIRST_REGION = "mild-inland-north"
FIRST_KIND = "lowland-reservoir"
FIRST_TO_BUY = 3
HOUR = timedelta(hours=1)
MOST_ASKED = 8  # days, of which the schools' words are compared


def water(request: OwnRequest) -> HttpResponse:
    """Where do you fish? Posted, that water is there with its guessed year, and a plan for it."""
    context = _where(request.POST)
    if request.method == "POST":
        kind = kinds()[context["kind"]]
        try:
            add_water(
                request.user, name=_free_name(request, context["name"] or f"My {label(kind.id).lower()}"),
                region=regions()[context["region"]], kind=kind.id, salinity=kind.salinity,
            )  # fmt: skip
            begin(request.user, kind.throws)
            return redirect("start-lures")
        except ValidationError as error:
            context["wrong"] = " ".join(error.messages)
    context |= {"kinds": drawn_kinds(request.user.units, regions()[context["region"]]), "map": region_map()}
    return render(request, "start/water.html", context, status=422 if context.get("wrong") else 200)


def so_far(request: OwnRequest) -> HttpResponse:
    """What a year on such a water would bring, before it is kept."""
    return render(request, "start/so_far.html", _where(request.GET))


def _where(data: Mapping[str, str]) -> dict[str, Any]:
    kind, region = data.get("kind", ""), data.get("region", "")
    kind, region = kind if kind in kinds() else FIRST_KIND, region if region in regions() else FIRST_REGION
    guess = first_guess(kinds()[kind], regions()[region])
    days = expected_days([guess])
    board = make_board(days, 0.0)
    bands = [(row.band, sum(share for _, share in row.cells)) for row in board.rows]
    foods: Counter[str] = Counter()
    for row in days:
        foods[row.food.value] += row.millionths
    context = {"kind": kind, "region": region, "name": data.get("name", "").strip()[:MOST_NAME]}
    return context | {
        "total": board.total,
        "bands": sorted((entry for entry in bands if entry[1] >= 0.5), key=lambda entry: -entry[1]),
        "foods": [food for food, _ in foods.most_common(4) if food != "unknown"][:3],
        "year": guessed_year(guess, regions()[region]),
    }


def _free_name(request: OwnRequest, name: str) -> str:
    """A name that no water of theirs has yet."""
    taken = set(list_waters(request.user).values_list("name", flat=True))
    names = (name, *(f"{name} {number}" for number in range(2, 100)))
    return next((one for one in names if one not in taken), name)


def lures(request: OwnRequest) -> HttpResponse:
    """What do you throw? Each press takes a category in or out, and the plan stands."""
    wrong = ""
    if request.method == "POST":
        try:
            if "thinks" in request.POST:
                follow(request.user, request.POST["thinks"])
            else:
                take(request.user, "category", request.POST.get("category", ""), request.POST.get("into") == "yes")
        except ValidationError as error:
            wrong = " ".join(error.messages)
    if not list_waters(request.user).exists():
        return redirect("start")
    basis, shopping = list_for(request.user)
    there = dict(basis.days.kept.by_water())
    usual = [throw for water in basis.every_water for throw in kinds()[water.kind].throws]
    thrown = [pk for pk in dict.fromkeys((*usual, *CATEGORIES)) if any(water.throws(pk) for water in there)]
    context = {
        "categories": [(one, SHAPES[one], one in basis.categories) for one in thrown],
        "first": shopping.purchases[:FIRST_TO_BUY],
        "more": len(shopping.purchases) - FIRST_TO_BUY,
        "expected": sum(there.values()),
        "wrong": wrong,
    } | _thinks(basis, request.user.units)
    template = "start/throws.html" if request.htmx else "start/lures.html"
    return render(request, template, context, status=422 if wrong else 200)


def _thinks(basis: Basis, units: System) -> dict[str, Any]:
    """A day that is met often, of the first kind that the plan has, and what each school begins it with."""
    category = next((one for one in basis.categories if one in CATEGORIES), None)
    expected = select_situations(basis, category)[0] if category else None
    if not category or not expected:
        return {}
    often = sorted(expected, key=lambda row: -row.millionths)[:MOST_ASKED]
    books, cards = list(basis.every_book.values()), basis.palette.sold_in(category)
    place, thinks = most_differing(books, cards, [row.situation(category) for row in often])
    met = often[place]
    schools = basis.plan.schools
    return {
        "thinks": thinks,
        "day": met,
        "category": category,
        "sight": write_length(round(met.visibility_in), units),
        "eaten": "" if met.food is Forage.UNKNOWN else label(met.food).lower(),
        "followed": schools[0] if len(schools) == 1 else "",
    }


def owned(request: OwnRequest) -> HttpResponse:
    """What do you own? Nothing yet, a heap, a file, a picture: each leads to its page."""
    return render(request, "start/owned.html")


@login_not_required
@require_POST
def try_it(request: OwnRequest) -> HttpResponse:
    """A sandbox of one's own without an account, for a day."""
    if request.user.is_authenticated:
        return redirect("home")
    return _as_guest(request) or redirect("start")


def _as_guest(request: OwnRequest) -> HttpResponse | None:
    """Signs a guest in; what is wrong where that cannot be now."""
    refuse_too_many(request, GUEST)
    count(request, GUEST)
    try:
        guest = accounts.make_guest()
    except ValidationError as error:
        words = " ".join(error.messages)
        return render(request, "ui/wrong.html", {"title": "Not now.", "advice": words}, status=503)
    login(request, guest, backend="django.contrib.auth.backends.ModelBackend")
    return None


def begin_with(request: OwnRequest, kind_id: str, sight_in: float) -> HttpResponse:
    """A water of a kind, as clear as that, kept for a guest, or for who is signed in."""
    if not request.user.is_authenticated and (wrong := _as_guest(request)):
        return wrong
    kind, region = kinds()[kind_id], regions()[FIRST_REGION]
    try:
        made = add_water(
            request.user, region=region, name=_free_name(request, f"My {label(kind.id).lower()}"), kind=kind.id,
            salinity=kind.salinity,
        )  # fmt: skip
        months = seen_as(first_guess(kind, region), sight_in).months
        edges = ("low_in", "usual_in", "high_in")
        year = {number: {edge: getattr(month.spread, edge) for edge in edges} for number, month in months.items()}
        set_year(request.user, made.pk, year, f"As clear as on the first page: {sight_in:g} in.")
        begin(request.user, kind.throws)
    except ValidationError as error:
        words = " ".join(error.messages)
        return render(request, "ui/wrong.html", {"title": "Not now.", "advice": words}, status=422)
    return redirect("start-lures")
