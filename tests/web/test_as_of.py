"""What is read of somebody's is read once for as long as no table is written that it was read from."""

import pytest
from django.core.exceptions import ValidationError
from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.owner import renewed
from web.accounts.as_of import as_of
from web.accounts.models import User
from web.accounts.writing import one_change
from web.crate.changes import make_tray
from web.crate.models import Lure, Tray
from web.plans.reads import basis_of
from web.waters.models import Water

pytestmark = pytest.mark.django_db


@as_of(megabytes=1)
def letters(owner):
    return "".join(tray.letter for tray in Tray.objects.filter(owner=owner).order_by("letter"))


@as_of(megabytes=1)
def on_waters(owner, words):
    names = [water.name for water in Water.objects.filter(owner=owner).order_by("name")]
    return f"{letters(owner)} {words} {', '.join(names)}"


def again(owner):
    return User.objects.get(pk=owner.pk)


def queries(read, *asked):
    with CaptureQueriesContext(connection) as seen:
        read(*asked)
    return len(seen)


@one_change
def call_water(owner, name):
    Water.objects.filter(owner=owner, name="Tarn Hollow").update(name=name)


def test_what_was_read_is_read_again_once_its_own_table_is_written(wren):
    owner = renewed(wren)
    assert on_waters(owner, "on") == f"{letters(owner)} on Sallow Creek, Tarn Hollow"
    assert (queries(on_waters, owner, "on"), queries(on_waters, owner, "by")) == (0, 1)
    call_water(owner, "Tarn Hole")
    assert (queries(letters, again(owner)), queries(on_waters, again(owner), "on")) == (0, 1)
    assert on_waters(again(owner), "on").endswith("Tarn Hole")


def test_what_was_read_through_another_answer_follows_from_its_tables_too(wren):
    owner = renewed(wren)
    before = letters(owner)
    on_waters(owner, "on")  # the letters in it were known already
    make_tray(owner, "Odds", "teal")
    assert on_waters(again(owner), "on").split()[0] == letters(again(owner)) != before


def test_so_does_what_goes_on_after_another_answer_failed(wren):
    @as_of(megabytes=1)
    def hollow(owner):
        if not Water.objects.filter(owner=owner, name="Tarn Hollow").exists():
            raise LookupError
        return "there"

    @as_of(megabytes=1)
    def said(owner):
        try:
            return hollow(owner)
        except LookupError:
            return "gone"

    owner = renewed(wren)
    call_water(owner, "Tarn Hole")
    assert (said(owner), queries(said, owner)) == ("gone", 0)
    Water.objects.filter(owner=owner, name="Tarn Hole").update(name="Tarn Hollow")
    owner.written = {**owner.written, "waters_water": 1}
    assert said(owner) == "there"


def test_what_somebody_likes_is_followed_without_a_query(wren):
    @as_of(megabytes=1)
    def unit(owner):
        return owner.units

    @one_change
    def like(owner, units):
        owner.units = units
        owner.save(update_fields=["units"])

    owner = renewed(wren)
    before = unit(owner)
    like(owner, "metric" if before == "imperial" else "imperial")
    assert unit(again(owner)) != before


def test_another_tabs_change_shows_after_ones_own(wren):
    stale, other = again(renewed(wren)), again(wren)
    assert "Tarn Hollow" in on_waters(stale, "on")
    call_water(other, "Tarn Hole")
    make_tray(stale, "Odds", "teal")
    assert "Tarn Hole" in on_waters(stale, "on")
    assert again(wren).written["waters_water"] == other.version


def test_a_lure_or_a_lock_leaves_the_waters_as_they_were_read(signed_in, wren):
    signed_in.get("/plan/")
    signed_in.post("/crate/enter/", {"lines": "3 junebug worm 7 in"})
    signed_in.post("/plan/settle/worm/", {"what": "lock", "value": "red-bug"})
    with CaptureQueriesContext(connection) as asked:
        basis = basis_of(again(wren))
    assert not [one["sql"] for one in asked if "waters_" in one["sql"]]
    assert basis.choices["worm"].lock == ["red-bug"]
    before = sum(one.days for one in basis.days.kept)
    tarn = Water.objects.get(owner=wren, name="Tarn Hollow")
    signed_in.post(f"/waters/{tarn.pk}/month/7/", {"field": "days", "value": "9"})
    assert sum(one.days for one in basis_of(again(wren)).days.kept) != before


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
