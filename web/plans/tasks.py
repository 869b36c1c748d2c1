"""The plan for all categories, found outside the request."""

import json
import zlib

from tackle.cover.written import plan_told
from web.plans.changes import keep_ahead
from web.plans.fingerprint import mark_of_rules
from web.plans.reads import answered_on, basis_of, unknown
from web.work.heavy import Outcome, Tell, heavy
from web.work.models import Job


@heavy
def plan_all(job: Job, tell: Tell) -> Outcome:
    """Plans every category that is not known yet, and keeps what was found for the process that shows it."""
    basis, found = basis_of(job.owner), {}
    terms = unknown(basis)
    for place, each in enumerate(terms):
        tell("Planning your categories", place, len(terms))
        found[each.category] = zlib.compress(json.dumps(plan_told(answered_on(each).answer)).encode())
    keep_ahead(job.owner, mark_of_rules(basis.palette, basis.books), found)
    return Outcome(to=job.back)
