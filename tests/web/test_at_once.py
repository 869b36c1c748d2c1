"""Two requests of one angler at the same moment, each on a connection of its own."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import pytest
from django.db import connection
from django.test import Client

from web.common.accounts.models import User
from web.domain.crate.models import Lure, Tray
from web.domain.history.models import Change
from web.domain.plans.models import Plan
from web.domain.waters.models import Water

pytestmark = pytest.mark.django_db(transaction=True)
HTMX = {"HX-Request": "true"}


def at_once(owner, *asked):
    """The statuses of some posts that start together; each is an address and what is sent there."""
    start = Barrier(len(asked))

    def post(address, told):
        client = Client()
        if owner is not None:
            client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
        start.wait(timeout=10)
        try:
            return client.post(address, told, headers=HTMX).status_code
        finally:
            connection.close()

    with ThreadPoolExecutor(len(asked)) as pool:
        return [each.result() for each in [pool.submit(post, *one) for one in asked]]


def pieces(card):
    return sum(Lure.objects.filter(card=card).values_list("count", flat=True))


def test_splits_of_one_stack_lose_and_make_nothing(wren):
    shad = Lure.objects.filter(card="shad-matte").order_by("-count").first()
    before = pieces("shad-matte")
    trays = list(Tray.objects.filter(owner=wren).exclude(pk=shad.tray_id)[:3])
    said = at_once(wren, *[(f"/crate/lure/{shad.pk}/split/", {"tray": tray.pk, "count": 1}) for tray in trays])
    assert 200 in said
    assert set(said) <= {200, 409, 422}
    assert pieces("shad-matte") == before


def test_merges_of_one_stack_lose_and_make_nothing(wren):
    one, other = Lure.objects.filter(card="green-pumpkin-black").order_by("pk")[:2]
    before = pieces("green-pumpkin-black")
    said = at_once(
        wren,
        (f"/crate/lure/{one.pk}/merge/", {"into": other.pk}),
        (f"/crate/lure/{other.pk}/merge/", {"into": one.pk}),
    )
    assert set(said) <= {200, 404, 409, 422}
    assert pieces("green-pumpkin-black") == before


def test_two_schools_taken_in_are_both_there(wren):
    told = {"what": "school", "category": "worm", "to": "in"}
    assert at_once(
        wren,
        ("/plan/settings/", {**told, "value": "spark"}),
        ("/plan/settings/", {**told, "value": "calendar"}),
    ) == [200, 200]
    assert {"spark", "calendar"} <= set(Plan.objects.get(owner=wren).schools)


def test_two_edits_of_one_month_are_both_there(wren):
    tarn = Water.objects.get(owner=wren, name="Tarn Hollow")
    address = f"/waters/{tarn.pk}/month/7/"
    said = at_once(wren, (address, {"field": "days", "value": "9"}), (address, {"field": "usual", "value": "41 in"}))
    july = tarn.year.get(month=7)
    assert said == [200, 200]
    assert (july.days, july.usual_in) == (9, 41)


def test_one_change_is_undone_once(wren, client):
    client.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    lure = Lure.objects.filter(card="bone").first()
    client.post(f"/crate/lure/{lure.pk}/delete/", headers=HTMX)
    change = Change.objects.filter(owner=wren).order_by("-pk").first()
    said = at_once(wren, *[(f"/crate/undo/{change.pk}/", {})] * 2)
    assert sorted(said)[0] == 200
    assert sorted(said)[1] in (404, 409, 422)
    assert Lure.objects.filter(pk=lure.pk).count() == 1


def test_first_visits_make_one_plan(stranger):
    told = {"what": "category", "value": "worm", "category": "worm", "to": "in"}
    said = at_once(stranger, *[("/plan/settings/", told)] * 3)
    assert max(said) < 500
    assert Plan.objects.filter(owner=stranger).count() <= 1


def test_equal_sign_ups_make_one_account(db):
    secret = "brown-water-and-reeds"
    told = {"username": "heron", "email": "h@example.org", "units": "metric", "password1": secret, "password2": secret}
    said = at_once(None, *[("/account/sign-up/", told)] * 3)
    assert max(said) < 500
    assert User.objects.filter(username="heron").count() == 1
