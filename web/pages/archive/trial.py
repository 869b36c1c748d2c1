"""Whether everything that an archive brought can be used: each thing is read once as the pages read it."""

from django.template.loader import render_to_string

from tackle.base.typed import OptionalKind
from tackle.base.vocabulary import Light, Wind, ids
from web.common.accounts.models import User
from web.domain.plans import snapshot
from web.domain.plans.content import check_content
from web.domain.plans.selectors import answers, get_basis, get_owned
from web.domain.plans.terms import can_compute, find_choice, plan_fields
from web.domain.trips.models import Trip
from web.domain.trips.turns import list_taps, turns_of
from web.domain.waters.exchanged import TIDE
from web.pages.check.check import check


def try_all(owner: User) -> None:
    """Raises what a page would, or ValueError, where something of it cannot be used."""
    basis = get_basis(owner)
    answers(basis)
    for water in basis.every_water:
        OptionalKind(TIDE).read(water.tide, "tide")
    check(owner, basis, get_owned(owner).stock)
    now = snapshot.snapshot(basis)
    for kept in owner.kept_plans.all():
        check_content(kept.content)
        context = {"content": kept.content, "cards": basis.palette.by_id, "plan_name": kept.name}
        render_to_string("plans/paper.html", context | {"sentence": snapshot.sentence(kept.content)})
        snapshot.changed_since(kept.content, now)
        snapshot.differences(kept.content, now)
        if can_compute(kept, basis):
            plan_fields(kept.content["terms"])
            for category, data in kept.content["terms"]["choices"].items():
                find_choice(category, data)
    for trip in owner.trips.all():
        _try_trip(trip)


def _try_trip(trip: Trip) -> None:
    for sky in trip.skies:
        if sky["light"] not in ids(Light) or sky.get("wind", "calm") not in ids(Wind) or not 0 <= sky["hour"] < 24:
            raise ValueError("the sky of a trip is none")
    for one in trip.counted:
        if not all(isinstance(count, int) for count in one["what"].values()):
            raise ValueError("counts of a trip are no numbers")
    if not all(isinstance(category, str) for category in trip.categories):
        raise ValueError("categories of a trip are no words")
    turns_of(trip, list_taps(trip))
