"""The drill's page, with all that a phone needs without a signal; and the answers that it sends."""

import logging
from dataclasses import dataclass
from typing import Any

from django.http import HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST

from tackle.base.vocabulary import CATEGORIES, Light, Salinity
from tackle.colours.colour import Colour
from tackle.sight.alike import USUAL_DEPTH_FT
from tackle.sight.look import View
from tackle.sight.pairs import alike_there
from tackle.sight.species import given_eye, likely_species
from tackle.situations.clarity import BANDS
from tackle.teach.drill import DrillChoice, Question
from tackle.teach.recall import known
from web.common.accounts.request import OwnRequest
from web.common.ui.logs import event
from web.common.ui.sent import answers_json, sent_list
from web.domain.plans.selectors import Basis, get_basis
from web.pages.learn import selectors
from web.pages.learn.models import Known
from web.pages.learn.scene import Scene, make_scene
from web.pages.learn.services import take_answers
from web.pages.learn.wording import asks, said, verdict

logger = logging.getLogger(__name__)
CLOCK_OFF_S = 60.0  # from here on a phone's clock is wrong, and not just slow to send
SHADES = 4


@dataclass(frozen=True, slots=True)
class Asked:
    """One question as the page draws it."""

    cell: str
    seed: int
    category: str
    days: float
    scene: Scene
    asks: str
    offers: list[dict[str, Any]]


def drill(request: OwnRequest) -> HttpResponse:
    """What is to be asked now, of one category or of all; and the board, shaded by what is known."""
    owner, basis, now = request.user, get_basis(request.user), timezone.now()
    categories = [one for one in basis.categories if one in CATEGORIES]
    category = request.GET.get("category", "")
    category = category if category in categories else ""
    knowing = selectors.list_known(owner)
    asked = selectors.to_ask(basis, knowing, now, timezone.localdate(), category)
    log = selectors.logged(owner, [question for _, _, question in asked])
    shown = category or (asked[0][0].category if asked else categories[0] if categories else "")
    get_token(request)
    context = {
        "questions": [
            Asked(
                place.cell, seed, place.category, place.days, make_scene(place.situation, owner.units),
                asks(question.by), _offers(question, log),
            )
            for place, seed, question in asked
        ],
        "category": category, "categories": categories, "shown": shown, "board": _board(basis, shown, knowing),
        "lights": list(Light), "kept_as": request.path,
    }  # fmt: skip
    return render(request, "teach/drill.html", context)


def _offers(question: Question, log: dict[tuple[str, str], str]) -> list[dict[str, Any]]:
    """What may be picked; of what is no first choice, which first choice the fish could hardly tell it from."""
    asked = question.situation
    species = likely_species(asked.target, CATEGORIES[asked.category].waters is Salinity.SALT)
    depth = asked.depth_ft or USUAL_DEPTH_FT
    view = View(given_eye(species).eye, asked.visibility_in, asked.stain, depth, asked.light)
    alike: dict[str, Colour] = {}
    for _, one, other in alike_there([(asked.category, offer.card) for offer in question.offers], view):
        alike |= {one.id: other, other.id: one}
    best = {offer.card for offer in question.best}
    return [
        _offer(offer, question, log)
        | {"alike": alike[offer.card.id] if offer.card not in best and alike.get(offer.card.id) in best else None}
        for offer in question.offers
    ]


def _offer(offer: DrillChoice, question: Question, log: dict[tuple[str, str], str]) -> dict[str, Any]:
    reasons = [
        (one.book.name, said(one), one.call.why if one.call else "")
        for one in sorted(offer.heard, key=lambda one: (not one.first, one.call is None))
    ]
    words = log.get((question.situation.category, offer.card.id), "")
    return {"card": offer.card, "pick": offer.pick, "verdict": verdict(offer, question), "said": reasons, "log": words}


def _board(basis: Basis, category: str, knowing: dict[str, Known]) -> list[tuple[str, list[dict[str, Any] | None]]]:
    """Clarity down, light across: the days of each cell, and how well it is known, by its days."""
    if not category:
        return []
    now, cells = timezone.now(), dict[tuple[str, str], list[float]]()
    for cell, place in selectors.board_places(basis, category).items():
        data = cells.setdefault((place.row.band, place.row.light), [0.0, 0.0, 0.0])
        data[0] += place.days
        data[1] += place.days * (known(knowing[cell].state, now) if cell in knowing else 0.0)
        data[2] += place.days * (cell in knowing)
    return [
        (band, [_shaded(cells.get((band, light))) for light in Light])
        for band in reversed(BANDS)
        if any((band, light) in cells for light in Light)
    ]


def _shaded(data: list[float] | None) -> dict[str, Any] | None:
    if data is None:
        return None
    days, knows, asked = data
    share = knows / days
    return {"days": days, "share": share, "asked": asked > 0, "shade": min(int(share * (SHADES + 1)), SHADES)}


@require_POST
@answers_json
def answers(request: OwnRequest) -> JsonResponse:
    """Answers as a page sends them; told which of them are here, and which are refused and why."""
    entries, clock_off_s = sent_list("answers", request)
    taken, refused = take_answers(request.user, entries, clock_off_s if abs(clock_off_s) > CLOCK_OFF_S else 0.0)
    if refused:
        logger.warning(event("answers-refused", count=len(refused)))
    return JsonResponse({"taken": taken, "refused": refused})
