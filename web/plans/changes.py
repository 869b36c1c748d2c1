"""Every change to a plan: checked, and written in one transaction."""

from django.core.exceptions import ValidationError
from django.db import transaction

from tackle.cover.pairs import TRAILER
from tackle.schools.rulebook import house_rulebooks
from tackle.vocabulary import CATEGORIES, Group
from web.accounts.models import User
from web.colours.reads import palette_of
from web.plans.models import Choice, Plan
from web.schools.reads import books_of
from web.waters.reads import waters_of

MOST_TRAVEL = 40
FIRST_CATEGORIES = ("worm", "casting-jig", "jerkbait", "walking-topwater")


def plan_for(owner: User) -> Plan:
    """The owner's plan; the first time, one for all waters and the first categories, by the first school."""
    return Plan.objects.filter(owner=owner).first() or _first_plan(owner)


@transaction.atomic
def _first_plan(owner: User) -> Plan:
    first = next(iter(house_rulebooks()))
    plan = Plan.objects.create(owner=owner, schools=[first], categories=list(FIRST_CATEGORIES))
    plan.waters.set(waters_of(owner))
    return plan


@transaction.atomic
def toggle(owner: User, what: str, value: str) -> Plan:
    """Takes a water, a school or a category into the plan, or out of it. Raises ValidationError."""
    plan = plan_for(owner)
    if what == "water":
        water = waters_of(owner).filter(pk=int(value) if value.isdecimal() else 0).first()
        if water is None:
            raise ValidationError("There is no such water.")
        if not plan.waters.filter(pk=water.pk).exists():
            plan.waters.add(water)
        elif plan.waters.count() > 1:
            plan.waters.remove(water)
        else:
            raise ValidationError("A plan needs a water: take another in first.")
    elif what == "school":
        books = books_of(owner)
        if value not in books:
            raise ValidationError(f"{value} is not a school.")
        chosen = set(plan.schools) ^ {value}
        if not chosen:
            raise ValidationError("A plan follows at least one school: take another in first.")
        plan.schools = [school for school in books if school in chosen]
        plan.save(update_fields=["schools"])
    elif what == "category":
        if value not in CATEGORIES:
            raise ValidationError(f"{value} is not a category.")
        if plan.categories == [value]:
            raise ValidationError("A plan needs a category: take another in first.")
        plan.categories = [c for c in CATEGORIES if (c in plan.categories) != (c == value)]
        plan.save(update_fields=["categories"])
    else:
        raise ValidationError(f"{what} cannot be changed here.")
    return plan


@transaction.atomic
def choose(owner: User, what: str, value: str) -> Plan:
    """Sets how the schools' words count, the period, crossover, or the travel box. Raises ValidationError."""
    plan = plan_for(owner)
    if what in ("first_month", "last_month"):
        if not (value.isdecimal() and 1 <= int(value) <= 12):
            raise ValidationError("Months go from 1 to 12.")
        setattr(plan, what, int(value))
        plan.save(update_fields=[what])
        return plan
    if what == "travel_most":
        if not (value.isdecimal() and 1 <= int(value) <= MOST_TRAVEL):
            raise ValidationError(f"A travel box holds 1 to {MOST_TRAVEL} pieces.")
        plan.travel_most = int(value)
        plan.save(update_fields=[what])
        return plan
    if what == "crossover":
        plan.crossover = value == "on"
        plan.save(update_fields=[what])
        return plan
    if (what, value) not in [("agree", v) for v in Plan.Agree.values] + [("accept", v) for v in Plan.Accept.values]:
        raise ValidationError(f"{value} is not a choice for {what}.")
    setattr(plan, what, value)
    plan.save(update_fields=[what])
    return plan


@transaction.atomic
def settle(owner: User, category: str, what: str, value: str) -> Choice:
    """Settles something for one category of the plan. Raises ValidationError.

    `lock` and `ban` take a card in or out of their list; `swap` ("out in") bans one and locks another; `at_most` is a
    number, or nothing for as many as it takes; `trailers` plans a jig together with what is threaded on it, or no
    longer; `free` takes everything back.
    """
    plan = plan_for(owner)
    if category not in plan.categories:
        raise ValidationError(f"{category} is not in the plan.")
    choice, _ = Choice.objects.get_or_create(plan=plan, category=category)
    skirted = CATEGORIES[category].group is Group.SKIRTED
    places = (category, TRAILER) if skirted else (category,)
    sold = {card.id for place in places for card in palette_of(owner).sold_in(place)}
    cards = value.split() if what in ("lock", "ban", "swap") else []
    if any(card not in sold for card in cards):
        raise ValidationError(f"{value} is not a colour of this category.")
    lock, ban = set(choice.lock) & sold, set(choice.ban) & sold
    if what == "lock" and len(cards) == 1:
        lock, ban = lock ^ {cards[0]}, ban - {cards[0]}
    elif what == "ban" and len(cards) == 1:
        lock, ban = lock - {cards[0]}, ban ^ {cards[0]}
    elif what == "swap" and len(cards) == 2:
        lock, ban = (lock - {cards[0]}) | {cards[1]}, (ban | {cards[0]}) - {cards[1]}
    elif what == "at_most" and (not value or (value.isdecimal() and 1 <= int(value) <= 40)):
        choice.at_most = int(value) if value else None
    elif what == "trailers" and skirted:
        choice.trailers, choice.at_most = not choice.trailers, None
    elif what == "free":
        lock, ban, choice.at_most = set(), set(), None
    else:
        raise ValidationError(f"{what} cannot be set to {value!r}.")
    if choice.at_most is not None and choice.at_most < len(lock):
        choice.at_most = len(lock)
    choice.lock, choice.ban = sorted(lock), sorted(ban)
    choice.save()
    return choice
