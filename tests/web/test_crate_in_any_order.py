"""Imports, moves, merges, splits, edits, undos in any order: nothing is invented, nothing that came later is lost."""

import random

import pytest
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Sum
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tackle.intake.sheet_rows import Draft
from web.domain.crate import services
from web.domain.crate.models import Lure, Tray
from web.domain.history.models import Change
from web.domain.history.record import undo

pytestmark = pytest.mark.django_db
CARDS = (("worm", "red-bug"), ("worm", "black-plain"), ("frog", "white-flat"))


def pieces(owner):
    return Lure.objects.filter(tray__owner=owner).aggregate(all=Sum("count"))["all"] or 0


def all_lures(owner):
    fields = ("tray_id", "category", "card", "count", "name", "note")
    return {one["pk"]: one for one in Lure.objects.filter(tray__owner=owner).values("pk", *fields)}


def any_change(owner, scatter):
    """One change of some kind; the change, or None where it was refused."""
    lures, trays = list(Lure.objects.filter(tray__owner=owner)), list(Tray.objects.filter(owner=owner))
    lure, other, tray = scatter.choice(lures), scatter.choice(lures), scatter.choice(trays)
    kind = scatter.choice(("import", "move", "merge", "split", "edit", "type", "onto"))
    try:
        if kind == "import":
            drafts = [Draft(category=c, card=k, count=scatter.randint(1, 4)) for c, k in scatter.sample(CARDS, 2)]
            return services.take_in(owner, drafts, [tray, scatter.choice(("Red box", tray))], "In.")
        if kind == "move":
            return services.move_lure(owner, lure.pk, tray.pk)
        if kind == "merge":
            return services.merge_lures(owner, lure.pk, other.pk)
        if kind == "split":
            return services.split_lure(owner, lure.pk, scatter.randint(1, 3), tray.pk)
        if kind == "edit":
            return services.edit_lure(owner, lure.pk, count=scatter.randint(1, 9), note=str(scatter.random()))
        category, card = scatter.choice(CARDS)
        onto = other.pk if kind == "onto" else None
        draft = Draft(category=category, card=card, count=scatter.randint(1, 3))
        return services.enter_lures(owner, [draft], [tray], [onto])
    except ValidationError:
        return None


@given(st.integers(0, 10_000))
@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_in_any_order_nothing_is_invented_and_nothing_later_is_lost(wren, seed):
    scatter = random.Random(seed)
    with transaction.atomic():
        made: dict[int, int] = {}  # by change, the pieces it added
        for _ in range(24):
            before, lures = pieces(wren), all_lures(wren)
            if made and scatter.random() < 0.35:
                pk = scatter.choice(list(made))
                try:
                    undo(wren, services.AREA, pk)
                except ValidationError:
                    assert all_lures(wren) == lures  # refused: nothing is touched
                    continue
                assert pieces(wren) == before - made.pop(pk)
                own = {step["lure"] for step in Change.objects.get(pk=pk).steps if "lure" in step}
                now = all_lures(wren)
                assert {key: told for key, told in lures.items() if key not in own} == {
                    key: told for key, told in now.items() if key not in own
                }
            elif change := any_change(wren, scatter):
                made[change.pk] = pieces(wren) - before
        transaction.set_rollback(True)
