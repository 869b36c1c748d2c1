"""A newcomer's first screens, and trying it without an account."""

from datetime import timedelta

import pytest
from django.utils import timezone

from tackle.base.vocabulary import CATEGORIES
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.starting import kinds
from tests.pages import text
from web.common.accounts.models import User
from web.common.ui.shapes import SHAPES
from web.domain.plans.models import Plan
from web.domain.waters.models import Water

pytestmark = pytest.mark.django_db


@pytest.fixture
def newcomer(client):
    user = User.objects.create_user("newcomer", email="new@example.org", password="open-it-up")
    client.force_login(user)
    return user


def test_every_category_has_a_shape_and_every_kind_its_throws():
    assert [*SHAPES] == [*CATEGORIES]
    assert all(set(kind.throws) <= set(CATEGORIES) for kind in kinds().values())


def test_from_a_kind_of_water_to_a_plan_and_what_to_buy(client, newcomer):
    assert client.get("/waters/").url == "/start/"
    page = text(client.get("/start/"))
    assert page.count('type="radio" name="kind"') == len(kinds()) == 10
    guess = text(client.get("/start/so-far/", {"kind": "marsh", "region": "warm-coast-north"}))
    assert "You would meet" in guess
    assert "most in September to November" in guess  # mullet, as regions.toml has it
    assert client.post("/start/", {"kind": "surf", "region": "warm-coast-south", "name": ""}).url == "/start/lures/"
    water = Water.objects.get(owner=newcomer)
    assert (water.name, water.kind, water.latitude, water.year.count()) == ("My surf", "surf", -31.0, 12)
    assert all(month.guess for month in water.year.all())
    assert {*Plan.objects.get(owner=newcomer).categories} == {*kinds()["surf"].throws}
    page = text(client.get("/start/lures/"))
    assert page.count("first-choice day") == 3
    assert 'aria-pressed="true" hx-post="/start/lures/"' in page
    assert "Deep crankbait" not in page  # nobody throws that in salt
    client.post("/start/lures/", {"category": "spoon", "into": "no"}, headers={"HX-Request": "true"})
    assert "spoon" not in Plan.objects.get(owner=newcomer).categories
    assert "/crate/enter/" in text(client.get("/start/owned/"))


def test_what_is_not_known_falls_back_to_the_first(client, newcomer):
    assert client.post("/start/", {"kind": "sea of glass", "region": "moon"}).status_code == 302
    assert client.post("/start/", {"kind": "sea of glass"}).status_code == 302
    assert sorted(newcomer.waters.values_list("name", flat=True)) == ["My lowland reservoir", "My lowland reservoir 2"]


def test_a_visitor_tries_it_and_signing_up_keeps_what_was_made(client):
    assert client.post("/start/try/").url == "/start/"
    guest = User.objects.get(guest_until__isnull=False)
    assert not guest.has_usable_password()
    client.post("/start/", {"kind": "pond", "region": "mild-inland-north", "name": "Alder Pond"})
    told = {"username": "alder", "email": "alder@example.org", "units": "metric"}
    secret = {"password1": "a-crate-of-wax-9", "password2": "a-crate-of-wax-9"}
    assert client.post("/account/sign-up/", {**told, **secret}).status_code == 302
    guest.refresh_from_db()
    assert (guest.username, guest.guest_until, guest.check_password("a-crate-of-wax-9")) == ("alder", None, True)
    assert Water.objects.get(name="Alder Pond").owner == guest
    assert client.get("/waters/").status_code == 302


def test_guests_go_after_their_day_and_are_bounded_and_throttled(client, settings, monkeypatch):
    old = User.objects.create(username="guest-old", email="o@guest.invalid", guest_until=timezone.now() - timedelta(1))
    client.post("/start/try/")
    assert not User.objects.filter(pk=old.pk).exists()
    client.logout()
    monkeypatch.setattr("web.common.accounts.services.MOST_GUESTS", 1)
    assert client.post("/start/try/").status_code == 503
    for _ in range(6):
        last = client.post("/start/try/")
    assert last.status_code == 429


def test_who_thinks_like_you_is_one_press_and_skipped_means_all(client):
    client.post("/start/try/")
    client.post("/start/", {"kind": "pond", "region": "mild-inland-north", "name": "Alder Pond"})
    page = text(client.get("/start/lures/"))
    assert page.count('class="thinks-one"') == len(house_rulebooks()) + 1
    assert Plan.objects.latest("pk").schools == list(house_rulebooks())
    client.post("/start/lures/", {"thinks": "menu"}, headers={"HX-Request": "true"})
    assert Plan.objects.latest("pk").schools == ["menu"]
    wrong = client.post("/start/lures/", {"thinks": "guesswork"}, headers={"HX-Request": "true"})
    assert (wrong.status_code, Plan.objects.latest("pk").schools) == (422, ["menu"])
    client.post("/start/lures/", {"thinks": "all"}, headers={"HX-Request": "true"})
    assert Plan.objects.latest("pk").schools == list(house_rulebooks())


def test_the_front_page_answers_without_an_account_and_keeps_nothing(client):
    page = client.get("/")
    assert "Use this water" in text(page)
    before = User.objects.count()
    asked = {"kind": "river", "sky": "bright"}
    murky, clear = (text(client.get("/start/board/", {**asked, "stop": stop})) for stop in (1, 11))
    assert murky != clear
    assert "front-here" in murky
    odd = client.get("/start/board/", {"kind": "soup", "stop": "x", "sky": "1", "lure": "net"})
    assert odd.status_code == 200
    assert "sessionid" not in client.cookies
    assert User.objects.count() == before


def test_its_water_becomes_ones_own_as_clear_as_it_was_set(client):
    client.post("/start/mine/", {"kind": "river", "stop": "2", "sky": "bright", "lure": "spinnerbait"})
    water = Water.objects.latest("pk")
    assert water.kind == "river"
    assert sum(month.usual_in for month in water.year.all()) / 12 == pytest.approx(9, rel=0.02)
    assert "What do you throw" in text(client.get("/start/lures/"))
