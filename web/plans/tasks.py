"""The plan for all categories, found outside the request."""

from web.plans.changes import keep_ahead
from web.plans.fingerprint import mark_of_rules
from web.plans.reads import answer, basis_of, packed, unknown
from web.work.heavy import Outcome, Tell, heavy
from web.work.models import Job


@heavy
def plan_all(job: Job, tell: Tell) -> Outcome:
    """Plans every category that is not known yet, and keeps what was found for the process that shows it."""
    basis, found = basis_of(job.owner), {}
    wanted = unknown(basis)
    for place, category in enumerate(wanted):
        tell("Planning your categories", place, len(wanted))
        found[category] = packed(answer(basis, category).answer)
    keep_ahead(job.owner, mark_of_rules(basis.palette, basis.books), found)
    return Outcome(to=job.back)
