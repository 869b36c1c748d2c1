"""The door for programs."""

import json
import re

import pytest

from tests.pages import text
from web.domain.crate.models import Lure
from web.domain.waters.models import Water
from web.pages.api.services import make_token
from web.pages.api.tokens import MAY

pytestmark = pytest.mark.django_db


@pytest.fixture
def ask(client, wren):
    """Asks as a program that may do all, or some."""

    def asked(address, body=None, may=tuple(MAY), owner=wren):
        if (owner.pk, may) not in keys:
            keys[owner.pk, may] = make_token(owner, "meter", list(may))[1]
        headers = {"Authorization": f"Bearer {keys[owner.pk, may]}"}
        if body is None:
            return client.get(f"/api{address}", headers=headers)
        return client.post(f"/api{address}", json.dumps(body), content_type="application/json", headers=headers)

    keys = {}
    return asked


def test_a_key_is_shown_once_and_can_be_ended(signed_in, wren, client):
    made = text(
        signed_in.post("/account/programs/", {"name": "Meter", "may": ["waters"], "password": "open-the-crate"})
    )
    key = re.search(r"wax_[\w-]+", made)[0]
    assert key not in text(signed_in.get("/account/programs/"))
    headers = {"Authorization": f"Bearer {key}"}
    assert client.get("/api/me", headers=headers).json() == {"name": "wren", "units": "imperial", "may": ["waters"]}
    assert client.get("/api/plan", headers=headers).json()["wrong"] == "may not read the plan and what to buy"
    signed_in.post(f"/account/programs/{wren.tokens.get().pk}/end/", {"password": "open-the-crate"})
    assert client.get("/api/me", headers=headers).status_code == 401
    assert signed_in.get("/api/me").status_code == 401  # a session is no key
    assert signed_in.post("/account/programs/", {"name": "", "may": []}).status_code == 422


def test_a_meter_posts_its_readings(ask, wren):
    water = Water.objects.get(name="Tarn Hollow")
    before = water.readings.count()
    told = {"readings": [{"date": "2026-06-01", "visibility_in": 31.5}, {"date": "2026-06-02", "visibility_in": 28}]}
    sent = ask(f"/waters/{water.pk}/readings", told)
    assert (sent.status_code, sent.json()) == (201, {"added": 2})
    there = ask(f"/waters/{water.pk}/readings?each=200").json()
    assert there["count"] == before + 2
    assert {"date": "2026-06-01", "visibility_in": 31.5, "source": "meter"}.items() <= next(
        one for one in there["items"] if one["visibility_in"] == 31.5
    ).items()
    wrong = ask(f"/waters/{water.pk}/readings", {"readings": [{"date": "2026-06-01", "visibility_in": -1}]})
    assert (wrong.status_code, wrong.json()["field"]) == (422, "readings.0.visibility_in")
    assert water.readings.count() == before + 2
    assert ask(f"/waters/{water.pk}/readings", told, may=("waters",)).status_code == 403


def test_it_tells_what_the_pages_tell(ask, wren):
    plan = ask("/plan").json()
    assert {one["category"] for one in plan["categories"]} == set(wren.plans.get().categories)
    assert all(one["status"] == "optimal" and one["curve"] for one in plan["categories"])
    assert ask("/crate?each=10&page=2").json()["count"] == Lure.objects.filter(tray__owner=wren).count()
    assert ask("/crate?each=10&page=900").json() == {
        "field": "address", "wrong": "is not there, or not yours", "allowed": "see schema.json"}  # fmt: skip
    assert ask("/buy").json()["items"]
    trip = ask("/days?each=1").json()["items"][0]
    wren.trips.filter(pk=trip["id"]).update(first_hour=21, last_hour=25)
    day = ask(f"/days/{trip['id']}").json()
    assert day["tray"]
    assert [hour["at"] for hour in day["hours"]] == ["21:00", "22:00", "23:00", "00:00", "01:00"]
    thrown = {"key": "a", "device": "b", "card": "black-plain", "minutes": 8}
    wren.trips.get(pk=trip["id"]).turns.create(category="worm", **thrown)
    assert [one["colour"] for one in ask("/log?category=worm").json()["items"]] == ["black-plain"]
    assert ask("/log?category=frog").json()["count"] == 0


def test_lures_go_in_as_they_are_typed_or_not_at_all(ask, wren):
    before = Lure.objects.filter(tray__owner=wren).count()
    wrong = ask("/crate", {"lines": ["3 green pumpkin worm 6 in", "jig"]})
    assert (wrong.status_code, wrong.json()["field"]) == (422, "lines[1]")
    assert Lure.objects.filter(tray__owner=wren).count() == before
    assert ask("/crate", {"lines": ["3 junebug worm 6 in"]}).status_code == 201


def test_the_commands_answer_the_same(ask):
    from tackle.commands.advise import advise

    asked = {"id": 7, "situation": {"category": "worm", "visibility_in": 40, "light": "broken"}}
    assert ask("/ask/advise", asked).json() == json.loads(json.dumps({"id": 7, **advise(asked)}))
    refused = ask("/ask/advise", {"situation": {"category": "hat"}})
    assert refused.status_code == 422
    assert refused.json()["allowed"].startswith("one of")
    assert ask("/ask/dance", {}).json()["field"] == "command"


def test_nobody_reaches_what_is_another_s(ask, stranger):
    water, trip = Water.objects.get(name="Tarn Hollow").pk, ask("/days?each=1").json()["items"][0]["id"]
    for address in (f"/waters/{water}", f"/waters/{water}/readings", f"/days/{trip}"):
        assert ask(address, owner=stranger).status_code == 404, address
    told = {"readings": [{"date": "2026-06-01", "visibility_in": 30}]}
    assert ask(f"/waters/{water}/readings", told, owner=stranger).status_code == 404
    assert ask("/crate", owner=stranger).json()["count"] == 0


def test_a_program_that_asks_too_often_waits(ask, settings):
    for _ in range(120):
        assert ask("/waters").status_code == 200
    for address in ("/waters", "/me"):
        waits = ask(address)
        assert (waits.status_code, waits.json()["wrong"]) == (429, "asks too often")
        assert 0 < int(waits.headers["Retry-After"]) <= 60


@pytest.mark.parametrize(
    ("told", "field"),
    [
        ({"note": "a\x07b"}, "body"), ({"spot": "\ud800"}, "body"), ({"date": "0001-01-01"}, "readings.0.date"),
        ({"date": "2200-01-01"}, "readings.0.date"), ({"visibility_in": 1e999}, "body"),
    ],
)  # fmt: skip
def test_what_nothing_could_read_again_does_not_come_in(ask, wren, told, field):
    water = Water.objects.get(name="Tarn Hollow")
    before = water.readings.count()
    reading = {"date": "2026-06-01", "visibility_in": 30, **told}
    refused = ask(f"/waters/{water.pk}/readings", {"readings": [reading]})
    assert (refused.status_code, refused.json()["field"]) == (422, field)
    assert water.readings.count() == before


def test_the_page_about_it_names_every_address(signed_in, client):
    page = text(signed_in.get("/account/programs/interface/"))
    schema = client.get("/api/schema.json").json()
    assert all(address in page for address in schema["paths"])
    assert "readings (list of {date, visibility_in, stain, spot, note})" in page
