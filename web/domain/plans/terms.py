"""A plan's terms as plain data: kept with it, so that it can be computed again, or be the plan once more."""

from dataclasses import replace
from decimal import Decimal
from typing import Any

from web.domain.plans.basis import Basis, days_on
from web.domain.plans.models import Choice, KeptPlan, Plan

PLAN_FIELDS = (
    "schools", "categories", "agree", "right", "first_month", "last_month", "crossover", "travel_most",
)  # fmt: skip
CHOICE_FIELDS = ("lock", "ban", "at_most", "right", "trailers", "from_f")


def write_terms(basis: Basis) -> dict[str, Any]:
    """What the angler settled for a plan: all that it is computed from but the waters, the rules and the crate."""
    return {
        "waters": sorted(basis.water_ids),
        "plan": {name: _plain(getattr(basis.plan, name)) for name in PLAN_FIELDS},
        "choices": {
            category: {name: _plain(getattr(choice, name)) for name in CHOICE_FIELDS}
            for category, choice in basis.choices.items()
        },
    }


def _plain(value: Any) -> Any:
    return str(value) if isinstance(value, Decimal) else value


def plan_fields(terms: dict[str, Any]) -> dict[str, Any]:
    """The fields of the plan that terms tell of. Those kept before what is right counted said which colours do: only
    what schools reach for first is right on all days; whatever is said to work need not be right."""
    data = dict(terms["plan"])
    if (accept := data.pop("accept", None)) is not None:
        data["right"] = "1.00" if accept == "go-to" else "0.00"
    return data | {"right": Decimal(data["right"])}


def find_choice(category: str, data: dict[str, Any]) -> Choice:
    """The choice of one category that terms tell of."""
    right = data.get("right")
    return Choice(category=category, **{**data, "right": None if right is None else Decimal(right)})


def can_compute(kept: KeptPlan, basis: Basis) -> bool:
    """Whether a kept plan has its terms, and some of its waters and schools are left."""
    terms = kept.content.get("terms")
    return (
        terms is not None
        and any(water.pk in terms["waters"] for water in basis.every_water)
        and any(school in basis.every_book for school in terms["plan"]["schools"])
    )


def basis_on_terms(kept: KeptPlan, basis: Basis) -> Basis | None:
    """What a kept plan is computed from today: its own terms, and the waters, rules and crate of the owner's `basis`.

    None where it cannot be computed.
    """
    if not can_compute(kept, basis):
        return None
    terms = kept.content["terms"]
    plan = Plan(name=kept.name, **plan_fields(terms))
    waters = [water for water in basis.every_water if water.pk in terms["waters"]]
    return replace(
        basis,
        plan=plan,
        books=tuple(basis.every_book[school] for school in plan.schools if school in basis.every_book),
        water_ids=frozenset(water.pk for water in waters),
        days=days_on(basis, {water.pk for water in waters}, plan.months),
        choices={category: find_choice(category, data) for category, data in terms["choices"].items()},
    )
