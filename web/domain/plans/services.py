"""Every change to a plan: checked, and written in one transaction."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from django.core.exceptions import ValidationError

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number, read_whole
from tackle.base.units import read_temperature_f
from tackle.base.vocabulary import CATEGORIES, TRAILER
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.ui.keys import LARGEST_KEY
from web.domain.colours.selectors import get_palette
from web.domain.history.states import Stale
from web.domain.plans.content import check_content
from web.domain.plans.kept_plans import get_kept_plan, list_kept
from web.domain.plans.models import Choice, KeptPlan, Plan
from web.domain.plans.stored import first_plan, get_stored_plan
from web.domain.plans.terms import find_choice, plan_fields
from web.domain.rulebooks.selectors import list_rulebooks
from web.domain.waters.selectors import list_waters

_STANDS = {"lock": "locked", "ban": "dropped", "": "let go"}
MOST_TRAVEL, MOST_COLOURS = 40, 40
MOST_KEPT, MOST_CHECKED = 200, 6


def plan_for(owner: User) -> Plan:
    """The owner's plan, to be changed: the first time, it is written down as it was shown."""
    plan = get_stored_plan(owner)
    if plan is None:
        plan = first_plan(owner)
        plan.save()
        plan.waters.set(list_waters(owner))
    return plan


@one_change
def begin(owner: User, categories: Sequence[str]) -> Plan:
    """The plan of somebody with a new water: with the categories that one throws there, where there is none yet."""
    stored = get_stored_plan(owner)
    plan = plan_for(owner)
    if stored is None:
        plan.categories = [category for category in CATEGORIES if category in categories]
        plan.save(update_fields=["categories"])
    else:
        plan.waters.set(list_waters(owner))
    return plan


@one_change
def take(owner: User, what: str, value: str, into: bool) -> Plan:
    """Takes a water, a school or a category into the plan, or out of it. Raises ValidationError."""
    plan = plan_for(owner)
    if what == "water":
        water = list_waters(owner).filter(pk=read_whole(value, 1, LARGEST_KEY) or 0).first()
        if water is None:
            raise ValidationError("There is no such water.")
        if into:
            plan.waters.add(water)
        elif plan.waters.exclude(pk=water.pk).exists():
            plan.waters.remove(water)
        else:
            raise ValidationError("A plan needs a water: take another in first.")
    elif what == "school":
        books = list_rulebooks(owner)
        if value not in books:
            raise ValidationError(f"{value[:40]} is not a rulebook.")
        chosen = set(plan.schools) | {value} if into else set(plan.schools) - {value}
        plan.schools = [school for school in books if school in chosen]
        if not plan.schools:
            raise ValidationError("A plan follows at least one rulebook: take another in first.")
        plan.save(update_fields=["schools"])
    elif what == "category":
        if value not in CATEGORIES:
            raise ValidationError(f"{value[:40]} is not a category.")
        chosen = set(plan.categories) | {value} if into else set(plan.categories) - {value}
        if not chosen:
            raise ValidationError("A plan needs a category: take another in first.")
        plan.categories = [category for category in CATEGORIES if category in chosen]
        plan.save(update_fields=["categories"])
    else:
        raise ValidationError(f"{what[:40]} cannot be changed here.")
    return plan


@one_change
def choose(owner: User, what: str, value: str) -> Plan:
    """Sets how the schools' words count, the period, crossover, or the travel box. Raises ValidationError."""
    plan = plan_for(owner)
    if what in ("first_month", "last_month"):
        month = read_whole(value, 1, 12)
        if month is None:
            raise ValidationError("Months go from 1 to 12.")
        setattr(plan, what, month)
        plan.save(update_fields=[what])
        return plan
    if what == "travel_most":
        most = read_whole(value, 1, MOST_TRAVEL)
        if most is None:
            raise ValidationError(f"A travel box holds 1 to {MOST_TRAVEL} lures.")
        plan.travel_most = most
        plan.save(update_fields=[what])
        return plan
    if what == "right":
        percent = read_whole(value, 0, 100)
        if percent is None:
            raise ValidationError("The goal of a plan is 0 to 100 days in a hundred.")
        plan.right = Decimal(percent) / 100
        plan.save(update_fields=[what])
        return plan
    if what == "crossover":
        plan.crossover = value == "on"
        plan.save(update_fields=[what])
        return plan
    if what != "agree" or value not in Plan.Agree.values:
        raise ValidationError(f"{value[:40]} is not a choice for {what[:40]}.")
    setattr(plan, what, value)
    plan.save(update_fields=[what])
    return plan


@one_change
def follow(owner: User, school: str) -> Plan:
    """Makes the plan follow one school alone, or with "all" every one. Raises ValidationError."""
    books = list_rulebooks(owner)
    if school != "all" and school not in books:
        raise ValidationError(f"{school[:40]} is not a rulebook.")
    plan = plan_for(owner)
    plan.schools = list(books) if school == "all" else [school]
    plan.save(update_fields=["schools"])
    return plan


def _thrown_from(value: str, owner: User) -> float | None:
    if value == "all":
        return 0.0
    try:
        return read_temperature_f(value, owner.units, "the temperature") if value.strip() else None
    except InvalidInput as refused:
        raise ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused


@one_change
def settle(owner: User, category: str, what: str, value: str, shown: str | None = None) -> Choice:
    """Settles something for one category of the plan. Raises ValidationError; Stale where a card stands otherwise than
    it was `shown` ("lock", "ban" or nothing), and would lose that.

    `lock` and `ban` put a card on their list, `unlock` and `unban` take it off; `swap` ("out in") bans one and locks
    another; `take` locks one; `at_most` is a number, or nothing for as many as it takes; `right` another share of right
    days than the plan's; `trailers` ("with" or "without") plans a jig together with what is threaded on it, or not;
    `thrown` says from which water temperature the kind is thrown ("all": all year; nothing: as it mostly is); `free`
    takes back what is settled of colours.
    """
    choice = Choice.objects.filter(plan__owner=owner, category=category).select_related("plan").first()
    plan = choice.plan if choice else plan_for(owner)
    if category not in plan.categories:
        raise ValidationError(f"{category} is not in the plan.")
    choice = choice or Choice(plan=plan, category=category)
    skirted = CATEGORIES[category].takes_trailer
    places = (category, TRAILER) if skirted else (category,)
    sold = frozenset[str]().union(*map(get_palette(owner).ids_in, places))
    cards = value.split() if what in ("lock", "unlock", "ban", "unban", "swap", "take") else []
    if any(card not in sold for card in cards):
        raise ValidationError(f"{value} is not a colour of this category.")
    lock, ban = set(choice.lock) & sold, set(choice.ban) & sold
    if len(cards) == 1 and what != "swap":
        stands = "lock" if cards[0] in lock else "ban" if cards[0] in ban else ""
        wanted = {"lock": "lock", "take": "lock", "ban": "ban"}.get(what, "")
        if shown is not None and stands not in (shown, wanted):
            raise Stale(
                f"Meanwhile that colour was {_STANDS[stands]}, perhaps in another window. Press again to change it."
            )
        lock, ban = lock - {cards[0]}, ban - {cards[0]}
        lock |= {cards[0]} if wanted == "lock" else set()
        ban |= {cards[0]} if wanted == "ban" else set()
    elif what == "swap" and len(cards) == 2:
        lock, ban = (lock - {cards[0]}) | {cards[1]}, (ban | {cards[0]}) - {cards[1]}
    elif what == "at_most" and (not value or read_whole(value, 1, MOST_COLOURS)):
        choice.at_most, choice.right = read_whole(value, 1, MOST_COLOURS), None
    elif what == "right" and (share := read_number(value, 0, 1)) is not None:
        choice.at_most, choice.right = None, Decimal(f"{share:.4f}")
    elif what == "thrown":
        choice.from_f = _thrown_from(value, owner)
    elif what == "trailers" and skirted and value in ("with", "without"):
        choice.trailers, choice.at_most, choice.right = value == "with", None, None
    elif what == "free":
        lock, ban, choice.at_most, choice.right = set(), set(), None, None
    else:
        raise ValidationError(f"{what} cannot be set to {value!r}.")
    if choice.at_most is not None and choice.at_most < len(lock):
        choice.at_most = len(lock)
    choice.lock, choice.ban = sorted(lock), sorted(ban)
    choice.save()
    return choice


@one_change
def keep_plan(owner: User, name: str, content: dict[str, Any]) -> KeptPlan:
    """Keeps a plan as it is now. Raises ValidationError."""
    if list_kept(owner).count() >= MOST_KEPT:
        raise ValidationError(f"There are {MOST_KEPT} kept plans already; delete one first.")
    check_content(content)
    kept = KeptPlan(owner=owner, name=name.strip(), content=content)
    kept.full_clean()
    kept.save()
    return kept


@one_change
def delete_kept(owner: User, pk: int) -> str:
    """Deletes a kept plan; returns its name."""
    kept = get_kept_plan(owner, pk)
    kept.delete()
    return kept.name


@one_change
def check_against(owner: User, pk: int, on: bool) -> KeptPlan:
    """Has the crate checked against a kept plan too, or not. Raises ValidationError."""
    kept = get_kept_plan(owner, pk)
    if kept.checked == on:
        return kept
    kept.checked = on
    if on:
        _terms(kept)
        if list_kept(owner).filter(checked=True).count() >= MOST_CHECKED:
            raise ValidationError(
                f"The tackle box is checked against {MOST_CHECKED} kept plans already; take one out first."
            )
    kept.save(update_fields=["checked"])
    return kept


@one_change
def take_up(owner: User, pk: int, now: dict[str, Any]) -> str:
    """Makes a kept plan's terms the plan's, as far as its waters and schools are left. Raises ValidationError.

    The plan as it is `now` is kept first, unless one on its terms is already; returns the name it is kept under.
    """
    kept = get_kept_plan(owner, pk)
    terms = _terms(kept)
    books = list_rulebooks(owner)
    schools = [school for school in terms["plan"]["schools"] if school in books]
    waters = list(list_waters(owner).filter(pk__in=terms["waters"]))
    if not schools or not waters:
        raise ValidationError(f"None of the {'waters' if schools else 'schools'} of {kept.name} is left.")
    name = ""
    if all(each.content.get("terms") != now["terms"] for each in list_kept(owner)):
        name = keep_plan(owner, f"Before {kept.name}"[:80], now).name
    plan = plan_for(owner)
    for field, value in {**plan_fields(terms), "schools": schools}.items():
        setattr(plan, field, value)
    plan.save()
    plan.waters.set(waters)
    plan.choices.all().delete()
    choices = [find_choice(category, data) for category, data in terms["choices"].items()]
    for choice in choices:
        choice.plan = plan
    Choice.objects.bulk_create(choices)
    return name


def _terms(kept: KeptPlan) -> dict[str, Any]:
    if "terms" not in kept.content:
        raise ValidationError(f"{kept.name} was kept without its waters and choices. Save such a plan again first.")
    return dict(kept.content["terms"])
