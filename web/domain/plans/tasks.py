"""The plan for all categories, found outside the request."""

from dataclasses import replace

from django.template.loader import render_to_string

from tackle.cover.stability import DRAWS, drawn_waters, stays_in, without_one
from web.common.work.heavy import Outcome, Tell, heavy
from web.common.work.models import Job
from web.domain.plans.answering import select_expected
from web.domain.plans.selectors import answer, get_basis, unknown
from web.domain.waters.selectors import expected_on


@heavy
def plan_all(job: Job, tell: Tell) -> Outcome:
    """Plans every category that is not known yet, so that the process that shows it finds it in the store."""
    basis = get_basis(job.owner)
    wanted = unknown(basis)
    for index, category in enumerate(wanted):
        tell("Planning your categories", index, len(wanted))
        answer(basis, category)
    return Outcome(to=job.back)


@heavy
def draw_other_years(job: Job, tell: Tell) -> Outcome:
    """How often each colour of a category's plan stays where days and visibility are a tenth more or less, and what is
    exchanged where one rulebook is left out."""
    basis, doing = get_basis(job.owner), "Planning a hundred other years"
    answered = answer(basis, job.asked["category"])
    terms, waters = answered.terms, [basis.core[one.pk] for one in basis.every_water if one.pk in basis.water_ids]
    requests = []
    for drawn in drawn_waters(waters):
        days = select_expected(
            expected_on(drawn, tuple(basis.plan.months), basis.rare_days), terms.category, terms.thrown
        )
        requests.append(
            replace(
                terms.request, situations=days.situations(terms.category), days=days.counts,
                salt=days.salt if terms.crossover else (),
            )
        )  # fmt: skip
    context = {
        "stays": stays_in(answered.answer, requests, basis.palette, lambda done: tell(doing, done, DRAWS)),
        "exchanges": list(without_one(answered.request, answered.answer, basis.palette)),
        "category": terms.category,
    }
    return Outcome(drawn=render_to_string("plans/other_years.html", context))
