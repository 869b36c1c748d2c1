"""The plan as it is stored; and the one that somebody without a plan is shown."""

from tackle.schools.rulebook import house_rulebooks
from web.common.accounts.models import User
from web.domain.plans.models import Plan

FIRST_CATEGORIES = ("worm", "casting-jig", "jerkbait", "walking-topwater")


def get_stored_plan(owner: User) -> Plan | None:
    return Plan.objects.filter(owner=owner).first()


def first_plan(owner: User) -> Plan:
    """A plan for all waters and the first categories, by all schools; not stored yet."""
    return Plan(owner=owner, schools=list(house_rulebooks()), categories=list(FIRST_CATEGORIES))
