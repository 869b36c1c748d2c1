"""Plans kept as they were: read from their owner, and changed, each change in one transaction."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db.models import BooleanField, ExpressionWrapper, Q, QuerySet
from django.shortcuts import get_object_or_404

from web.accounts.models import User
from web.accounts.writing import one_change
from web.plans.changes import plan_for
from web.plans.models import Choice, KeptPlan
from web.plans.terms import choice_of, plan_fields
from web.rules.reads import books_of
from web.waters.reads import waters_of

MOST_KEPT, MOST_CHECKED = 200, 6


def kept_of(owner: User) -> QuerySet[KeptPlan]:
    return KeptPlan.objects.filter(owner=owner)


def listed_of(owner: User) -> QuerySet[KeptPlan]:
    """The kept plans without what is in them, each with whether it holds its terms (`.has_terms`)."""
    terms = ExpressionWrapper(Q(content__has_key="terms"), BooleanField())
    return kept_of(owner).defer("content").annotate(has_terms=terms)


def kept_plan_of(owner: User, pk: int) -> KeptPlan:
    return get_object_or_404(kept_of(owner), pk=pk)


@one_change
def keep_plan(owner: User, name: str, content: dict[str, Any]) -> KeptPlan:
    """Keeps a plan as it is now. Raises ValidationError."""
    if kept_of(owner).count() >= MOST_KEPT:
        raise ValidationError(f"There are {MOST_KEPT} kept plans already; delete one first.")
    kept = KeptPlan(owner=owner, name=name.strip(), content=content)
    kept.full_clean()
    kept.save()
    return kept


@one_change
def delete_kept(owner: User, pk: int) -> str:
    """Deletes a kept plan; returns its name."""
    kept = kept_plan_of(owner, pk)
    kept.delete()
    return kept.name


@one_change
def check_against(owner: User, pk: int) -> KeptPlan:
    """Has the crate checked against a kept plan too, or no longer. Raises ValidationError."""
    kept = kept_plan_of(owner, pk)
    kept.checked = not kept.checked
    if kept.checked:
        _terms(kept)
        if kept_of(owner).filter(checked=True).count() >= MOST_CHECKED:
            raise ValidationError(
                f"The crate is checked against {MOST_CHECKED} kept plans already; take one out first."
            )
    kept.save(update_fields=["checked"])
    return kept


@one_change
def take_up(owner: User, pk: int, now: dict[str, Any]) -> str:
    """Makes a kept plan's terms the plan's, as far as its waters and schools are left. Raises ValidationError.

    The plan as it is `now` is kept first, unless one on its terms is already; returns the name it is kept under.
    """
    kept = kept_plan_of(owner, pk)
    terms = _terms(kept)
    books = books_of(owner)
    schools = [school for school in terms["plan"]["schools"] if school in books]
    waters = list(waters_of(owner).filter(pk__in=terms["waters"]))
    if not schools or not waters:
        raise ValidationError(f"None of the {'waters' if schools else 'schools'} of {kept.name} is left.")
    name = ""
    if all(each.content.get("terms") != now["terms"] for each in kept_of(owner)):
        name = keep_plan(owner, f"Before {kept.name}"[:80], now).name
    plan = plan_for(owner)
    for field, value in {**plan_fields(terms), "schools": schools}.items():
        setattr(plan, field, value)
    plan.save()
    plan.waters.set(waters)
    plan.choices.all().delete()
    choices = [choice_of(category, told) for category, told in terms["choices"].items()]
    for choice in choices:
        choice.plan = plan
    Choice.objects.bulk_create(choices)
    return name


def _terms(kept: KeptPlan) -> dict[str, Any]:
    if "terms" not in kept.content:
        raise ValidationError(f"{kept.name} was kept without its waters and choices. Keep such a plan anew first.")
    return dict(kept.content["terms"])
