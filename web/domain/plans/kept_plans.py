"""Plans kept as they were, read from their owner."""

from django.db.models import BooleanField, ExpressionWrapper, Q, QuerySet
from django.shortcuts import get_object_or_404

from web.common.accounts.models import User
from web.domain.plans.models import KeptPlan


def list_kept(owner: User) -> QuerySet[KeptPlan]:
    return KeptPlan.objects.filter(owner=owner)


def list_kept_plans(owner: User) -> QuerySet[KeptPlan]:
    """The kept plans without what is in them, each with whether it holds its terms (`.has_terms`)."""
    terms = ExpressionWrapper(Q(content__has_key="terms"), BooleanField())
    return list_kept(owner).defer("content").annotate(has_terms=terms)


def checked_too(owner: User) -> list[KeptPlan]:
    """The kept plans that the crate is checked against too."""
    return list(list_kept(owner).filter(checked=True))


def get_kept_plan(owner: User, pk: int) -> KeptPlan:
    return get_object_or_404(list_kept(owner), pk=pk)
