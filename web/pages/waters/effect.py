"""What a record would change: the plan as it is, beside the plan with it."""

from dataclasses import replace

from web.common.accounts.models import User
from web.domain.plans.basis import days_on
from web.domain.plans.owned import get_basis
from web.domain.plans.snapshot import Difference, differences, snapshot
from web.domain.waters.selectors import Taken, core_water, new_of


def effect_of(owner: User, pk: int, taken: Taken) -> list[Difference] | None:
    """What changes in the plan with what a record brings to a water, category by category: colours that come and go,
    and those whose days with a first choice change; None where the plan is not for the water."""
    basis = get_basis(owner)
    water = next((one for one in basis.every_water if one.pk == pk), None)
    if water is None or pk not in basis.water_ids or not basis.days.kept:
        return None
    then = replace(basis, core={**basis.core, pk: core_water(water, new_of(water, taken))})
    then = replace(then, days=days_on(then, then.water_ids, then.plan.months))
    found = differences(snapshot(basis), snapshot(then))
    return [one for one in found if one.came or one.went or one.days_change]
