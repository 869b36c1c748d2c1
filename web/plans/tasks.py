"""The plan for all categories, found outside the request."""

from web.plans.reads import answer, basis_of, unknown
from web.work.heavy import Outcome, Tell, heavy
from web.work.models import Job


@heavy
def plan_all(job: Job, tell: Tell) -> Outcome:
    """Plans every category that is not known yet, so that the process that shows it finds it in the store."""
    basis = basis_of(job.owner)
    wanted = unknown(basis)
    for place, category in enumerate(wanted):
        tell("Planning your categories", place, len(wanted))
        answer(basis, category)
    return Outcome(to=job.back)
