"""The Buy step."""

from collections.abc import Mapping
from typing import Any

from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from tackle.check.reach import Reached
from web.common.accounts.bodies import render_body
from web.common.accounts.request import OwnRequest
from web.common.ui.messages import no_notice
from web.common.ui.tables import as_csv
from web.common.work.papers import paper
from web.domain.crate.services import bought as put_in
from web.domain.history.models import Change
from web.domain.shopping import services
from web.domain.shopping.selectors import BUDGET
from web.pages.shopping import selectors

HEADINGS = (
    "category", "code", "colour", "buy", "have", "days added", "first-choice days added",
    "days covered", "price", "cost",
)  # fmt: skip


def buy(request: OwnRequest) -> HttpResponse:
    return _page(request)


@require_POST
def price(request: OwnRequest) -> HttpResponse:
    try:
        services.set_price(
            request.user,
            request.POST.get("category", ""),
            request.POST.get("card", ""),
            request.POST.get("amount", ""),
        )
    except ValidationError as error:
        return _page(request, wrong=" ".join(error.messages))
    return _page(request)


@require_POST
def tick(request: OwnRequest, category: str, card_id: str) -> HttpResponse:
    """Bought: into the crate with it."""
    _, shopping = selectors.list_for(request.user)
    for purchase in shopping.purchases:
        if (purchase.category, purchase.card.id) == (category, card_id):
            return _page(request, change=put_in(request.user, category, card_id, purchase.count))
    raise Http404


def to_buy_csv(request: OwnRequest) -> HttpResponse:
    _, shopping = selectors.list_for(request.user)
    rows = []
    for purchase in shopping.purchases:
        price, cost = ("", "") if purchase.price is None else (f"{purchase.price:.2f}", f"{purchase.cost:.2f}")
        days = (f"{number:.1f}" for number in (purchase.adds, purchase.adds_first, purchase.serves))
        rows.append(
            [
                purchase.category,
                purchase.card.code,
                purchase.card.name,
                purchase.count,
                purchase.have,
                *days,
                price,
                cost,
            ]
        )
    return as_csv("to-buy", HEADINGS, rows)


def as_pdf(request: OwnRequest) -> HttpResponse:
    return paper(request, "buy/paper.html", _context(request), "to-buy.pdf")


def _context(request: OwnRequest) -> dict[str, Any]:
    basis, shopping = selectors.list_for(request.user)
    return {
        "plan": basis.plan,
        "shopping": shopping,
        "pieces": sum(purchase.count for purchase in shopping.purchases if purchase.within),
        "cost": shopping.purchases[-1].spent if shopping.purchases else 0,
        "adding": sum(
            1 for purchase in shopping.purchases if purchase.adds or purchase.adds_right or purchase.adds_first
        ),
        "many": len(shopping.expected),
        "whole_now": _whole(shopping.owned, shopping.expected),
        "whole_then": _whole(shopping.within, shopping.expected),
        "beyond": sum(not purchase.within for purchase in shopping.purchases),
        "never": [
            (category, days - shopping.all_of_it[category].days)
            for category, days in shopping.expected.items()
            if days - shopping.all_of_it[category].days >= 0.5
        ],
        "categories": [
            (c, basis.prices.get((c, "")))
            for c in dict.fromkeys((*basis.categories, *(p.category for p in shopping.purchases)))
        ],
        "budget": basis.prices.get(BUDGET),
    }


def _whole(reached: Mapping[str, Reached], expected: Mapping[str, float]) -> int:
    """Of how many categories every day is covered."""
    return sum(reached[category].days >= days - 0.5 for category, days in expected.items())


def _page(request: OwnRequest, change: Change | None = None, wrong: str = "") -> HttpResponse:
    if request.method == "GET":
        body = render_body(request, "buy/body.html", lambda: _context(request))
        return HttpResponse(body + no_notice()) if request.htmx else render(request, "buy/buy.html", {"body": body})
    template = "buy/answer.html" if request.htmx else "buy/buy.html"
    context = {**_context(request), "change": change, "wrong": wrong}
    return render(request, template, context, status=422 if wrong else 200)
