"""What is read once for as long as nothing it follows from changes, and is read anew as soon as something does."""

import re

import pytest
from django.core.exceptions import ValidationError
from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.owner import renewed
from web.accounts.models import User
from web.accounts.writing import BESIDE, one_change
from web.plans.reads import basis_of
from web.stock.models import Lure
from web.waters.models import Water

pytestmark = pytest.mark.django_db


def tables_read(owner):
    with CaptureQueriesContext(connection) as asked:
        basis_of(owner)
    return {table for one in asked for table in re.findall(r"(?:FROM|JOIN) `(\w+)`", one["sql"])}


def again(owner):
    return User.objects.get(pk=owner.pk)


def test_a_lure_or_a_lock_leaves_the_ground_as_it_is_and_a_water_does_not(signed_in, wren):
    signed_in.get("/plan/")
    signed_in.post("/crate/enter/", {"lines": "3 junebug worm 7 in"})
    entered = again(wren).shelf
    assert entered != wren.shelf
    signed_in.post("/plan/settle/worm/", {"what": "lock", "value": "red-bug"})
    changed = again(wren)
    assert (changed.version != wren.version, changed.ground, changed.shelf) == (True, wren.ground, entered)
    before = sum(one.days for one in basis_of(changed).days.kept)
    tarn = Water.objects.get(owner=wren, name="Tarn Hollow")
    signed_in.post(f"/waters/{tarn.pk}/month/7/", {"field": "days", "value": "9"})
    assert again(wren).ground != wren.ground
    assert sum(one.days for one in basis_of(again(wren)).days.kept) != before


def test_whatever_lies_beside_the_ground_is_nothing_that_it_reads(wren):
    owner = renewed(wren)
    basis_of(owner)
    owner.version += 1  # of what lies beside it all is read anew, of the ground nothing
    beside = tables_read(owner)
    owner.version, owner.ground = owner.version + 1, owner.ground + 1
    ground = tables_read(owner) - beside
    assert {"waters_watermonth", "waters_reading", "colours_owncard", "schools_rule", "buy_price"} <= ground
    assert not [table for table in ground if table.startswith(BESIDE)]


def test_what_is_read_within_a_change_is_not_kept_beyond_it(wren):
    @one_change
    def sell_all_and_drain(owner):
        before = basis_of(owner)
        Lure.objects.filter(tray__owner=owner).delete()
        owner.waters.all().delete()
        halfway = basis_of(owner)
        return before, halfway

    owner = renewed(wren)
    before, halfway = sell_all_and_drain(owner)
    assert (bool(before.owned), bool(before.every_water)) == (True, True)
    assert (halfway.owned, halfway.every_water) == ({}, [])
    assert basis_of(again(owner)).owned == {}


def test_a_change_that_fails_leaves_what_was_read_before(wren):
    @one_change
    def drain(owner):
        owner.waters.all().delete()
        assert not basis_of(owner).every_water
        raise ValidationError("not today")

    owner = renewed(wren)
    with pytest.raises(ValidationError):
        drain(owner)
    assert basis_of(owner).every_water
