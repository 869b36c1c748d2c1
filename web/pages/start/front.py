"""The first page for who has no account: a water to change in place, and what a kind of lure needs there."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from tackle.base.numbers import read_whole
from tackle.base.vocabulary import CATEGORIES, Light, ids
from tackle.colours.palette import house_palette
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import ask
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.expected import RARE_DAYS
from tackle.situations.regions import regions
from tackle.situations.situation import make_situation
from tackle.situations.starting import first_guess, kinds, seen_as
from tackle.situations.thrown import thrown_by_default
from tackle.situations.water import Water
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.accounts.throttle import Limit, count, refuse_too_many
from web.common.ui.shapes import SHAPES
from web.domain.crate.selectors import list_lures
from web.domain.plans.answering import Terms, answered_on, is_answered
from web.domain.plans.models import Plan
from web.domain.trips.selectors import next_trip
from web.domain.waters.selectors import expected_on, list_waters
from web.pages.plans.board import cover_board, square_answer, told_rows
from web.pages.plans.wording import split_said
from web.pages.start import views
from web.pages.start.shapes_drawn import drawn_kinds

__all__ = ["board", "front", "make_mine"]

SIGHTS_IN = (4, 6, 9, 12, 15, 20, 28, 38, 54, 70, 90, 130)  # stops of the slider
FIRST_SIGHT = 5
SKIES = (Light.BRIGHT, Light.BROKEN, Light.OVERCAST, Light.LOW)
WORKED_OUT = Limit("front", 300, views.HOUR)  # waters that nobody asked of yet, from one address


SOON = timedelta(days=1)


@dataclass(frozen=True, slots=True)
class Asked:
    """What the page is set to: a kind of water, how far one sees in it, the sky, and a kind of lure."""

    kind: str
    stop: int
    sky: Light
    lure: str

    @property
    def sight_in(self) -> float:
        return float(SIGHTS_IN[self.stop])

    @property
    def water(self) -> Water:
        """The water as guessed, as clear as it is set to."""
        return seen_as(first_guess(kinds()[self.kind], regions()[views.FIRST_REGION]), self.sight_in)


def _asked(data: Mapping[str, str]) -> Asked:
    kind = data.get("kind", "")
    kind = kind if kind in kinds() else views.FIRST_KIND
    throws = kinds()[kind].throws
    lure, sky = data.get("lure", ""), data.get("sky", "")
    stop = read_whole(data.get("stop", ""), 0, len(SIGHTS_IN) - 1)
    return Asked(
        kind,
        FIRST_SIGHT if stop is None else stop,
        Light(sky) if sky in SKIES else Light.BROKEN,
        lure if lure in throws else throws[0],
    )


@login_not_required
def front(request: HttpRequest) -> HttpResponse:
    """The page of what is to be done next; for who is not signed in, a water to try."""
    if request.user.is_authenticated:
        return redirect(_next_page(request.user))
    return render(request, "start/front.html", _context(request, _asked(request.GET)))


def _next_page(owner: User) -> str:
    """What is to be done next: fish a trip of today, tell of a water, plan, or hold what is owned against the plan."""
    if not list_waters(owner).exists():
        return "waters"
    now = timezone.now()
    trip = next_trip(owner, now)
    if trip and trip.begins - SOON < now < trip.ends:
        return "day"
    return "crate" if list_lures(owner).exists() else "plan"


@login_not_required
def board(request: HttpRequest) -> HttpResponse:
    """What the water needs as it is set now."""
    return render(request, "start/front_board.html", {**_context(request, _asked(request.GET)), "again": True})


@login_not_required
@require_POST
def make_mine(request: OwnRequest) -> HttpResponse:
    """The water of the page becomes one's own, without an account: what is kept begins here."""
    asked = _asked(request.POST)
    return views.begin_with(request, asked.kind, asked.sight_in)


def _context(request: HttpRequest, asked: Asked) -> dict[str, Any]:
    water, palette = asked.water, house_palette()
    terms = _terms(asked, water)
    if not is_answered(terms):
        refuse_too_many(request, WORKED_OUT)
        count(request, WORKED_OUT)
    answered = answered_on(terms)
    month = date.today().month
    today = make_situation(
        asked.lure, water, visibility_in=asked.sight_in, light=asked.sky, month=month, season=water.season(month),
        water_temp_f=water.months[month].temp_f,
    )  # fmt: skip
    have = {piece.card.id for piece in answered.answer.pieces if piece.category == asked.lure}
    drawn, here = cover_board(answered, ""), (HOUSE_LADDER.band_at(asked.sight_in), asked.sky)
    return {
        "asked": asked,
        "kinds": drawn_kinds("imperial", regions()[views.FIRST_REGION]),
        "throws": [(throw, SHAPES[throw]) for throw in kinds()[asked.kind].throws],
        "skies": SKIES,
        "stops": len(SIGHTS_IN) - 1,
        "band": here[0],
        "depth": round(16 + 62 * asked.stop / (len(SIGHTS_IN) - 1)),
        "answer": answered.answer,
        "split": split_said(answered),
        "season": water.season(month),
        "begin": ask(house_rulebooks().values(), palette.sold_in(asked.lure), today).start(have),
        "square": square_answer(answered, *here),
        "rows": [
            (row, [(cell, (row.band, light) == here) for cell, light in zip(cells, Light, strict=True)])
            for row, cells in told_rows(drawn, asked.lure, "")
        ],
        "lights": ids(Light),
    }


def _terms(asked: Asked, water: Water) -> Terms:
    plan = Plan()
    return Terms(
        category=asked.lure,
        days=expected_on((water,), tuple(range(1, 13)), RARE_DAYS),
        books=tuple(house_rulebooks().values()),
        palette=house_palette(),
        agree_all=False,
        right=Fraction(plan.right),
        owned=frozenset(),
        lock=frozenset(),
        ban=frozenset(),
        at_most=None,
        crossover=False,
        cents=frozenset(),
        owned_trailers=frozenset() if CATEGORIES[asked.lure].takes_trailer else None,
        thrown=thrown_by_default(asked.lure),
        reworkable=frozenset(),
    )
