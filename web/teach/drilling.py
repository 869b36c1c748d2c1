"""The drill's page, with all that a phone needs without a signal; and the answers that it sends."""

import logging
from dataclasses import dataclass
from typing import Any

from django.core.exceptions import ValidationError
from django.http import HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST

from tackle.errors import Refused
from tackle.situations.clarity import BANDS
from tackle.strict import read_json
from tackle.teach.drill import Offer, Question
from tackle.teach.recall import known
from tackle.vocabulary import CATEGORIES, Light
from web.accounts.request import OwnRequest
from web.plans.reads import Basis, basis_of
from web.teach import reads
from web.teach.changes import take_answers
from web.teach.models import Known
from web.teach.scene import Scene, scene_of
from web.teach.wording import asks, said, verdict
from web.ui.logs import event

logger = logging.getLogger(__name__)
MOST_BYTES = 200_000
MOST_MS = 10**14
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
    owner, basis, now = request.user, basis_of(request.user), timezone.now()
    categories = [one for one in basis.plan.categories if one in CATEGORIES]
    category = request.GET.get("category", "")
    category = category if category in categories else ""
    knowing = reads.knowing_of(owner)
    asked = reads.to_ask(basis, knowing, now, timezone.localdate(), category)
    log = reads.logged(owner, [question for _, _, question in asked])
    shown = category or (asked[0][0].category if asked else categories[0] if categories else "")
    get_token(request)
    context = {
        "questions": [
            Asked(
                place.cell, seed, place.category, place.days, scene_of(place.situation, owner.units),
                asks(question.by), [_offer(one, question, log) for one in question.offers],
            )
            for place, seed, question in asked
        ],
        "category": category, "categories": categories, "shown": shown, "board": _board(basis, shown, knowing),
        "lights": list(Light), "kept_as": request.path,
    }  # fmt: skip
    return render(request, "teach/drill.html", context)


def _offer(offer: Offer, question: Question, log: dict[tuple[str, str], str]) -> dict[str, Any]:
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
    for cell, place in reads.places_of(basis, category).items():
        told = cells.setdefault((place.row.band, place.row.light), [0.0, 0.0, 0.0])
        told[0] += place.days
        told[1] += place.days * (known(knowing[cell].state, now) if cell in knowing else 0.0)
        told[2] += place.days * (cell in knowing)
    return [
        (band, [_shaded(cells.get((band, light))) for light in Light])
        for band in reversed(BANDS)
        if any((band, light) in cells for light in Light)
    ]


def _shaded(told: list[float] | None) -> dict[str, Any] | None:
    if told is None:
        return None
    days, knows, asked = told
    share = knows / days
    return {"days": days, "share": share, "asked": asked > 0, "shade": min(int(share * (SHADES + 1)), SHADES)}


@require_POST
def answers(request: OwnRequest) -> JsonResponse:
    """Answers as a page sends them; told which of them are here, and which are refused and why."""
    if request.content_type != "application/json":
        return JsonResponse({"wrong": "Answers are sent as application/json."}, status=415)
    if len(request.body) > MOST_BYTES:
        return JsonResponse({"wrong": "Too much at once."}, status=413)
    try:
        told = read_json(request.body, "answers")
        entries = told.get("answers") if isinstance(told, dict) else None
        if not isinstance(entries, list):
            raise Refused("answers", "are missing", "a list of answers")
        taken, refused = take_answers(request.user, entries, _clock_off_s(told))
    except (Refused, ValidationError) as error:
        words = str(error) if isinstance(error, Refused) else " ".join(error.messages)
        return JsonResponse({"wrong": words}, status=422)
    if refused:
        logger.warning(event("answers-refused", count=len(refused)))
    return JsonResponse({"taken": taken, "refused": refused})


def _clock_off_s(told: dict[str, Any]) -> float:
    """By how many seconds the phone's clock is behind ours, where that is more than sending takes."""
    ms = told.get("now")
    if type(ms) is not int or not 0 < ms < MOST_MS:
        return 0.0
    off = timezone.now().timestamp() - ms / 1000
    return off if abs(off) > 60 else 0.0
