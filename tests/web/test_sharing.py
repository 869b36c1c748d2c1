"""What is shown by a link, to whoever has it."""

import re

import pytest

from tests.pages import text
from web.domain.waters.models import Water
from web.pages.sharing.models import Share

pytestmark = pytest.mark.django_db


def link(client, what, **more):
    page = text(client.post("/shared/make/", {"what": what, **more}))
    return re.search(r"/shared/[\w-]{20,}/", page)[0]


def as_other(client, who):
    client.force_login(who, backend="django.contrib.auth.backends.ModelBackend")
    return client


def test_a_water_is_shown_without_its_place_and_copied_with_one_press(signed_in, wren, stranger):
    tarn = Water.objects.get(name="Tarn Hollow")
    tarn.latitude, tarn.longitude = 43.217, -71.533
    tarn.save()
    bare, whole = link(signed_in, f"water:{tarn.pk}"), link(signed_in, f"water:{tarn.pk}", readings="on", place="on")
    signed_in.logout()
    page = signed_in.get(bare)
    assert "43.2" not in text(page)
    assert "reading" not in text(page)
    assert page.headers["X-Robots-Tag"] == "noindex"
    told = text(signed_in.get(whole))
    assert "43.217, -71.533" in told
    assert "readings</h2>" in told
    assert signed_in.post(bare + "copy/").status_code == 302  # to the door
    as_other(signed_in, stranger).post(bare + "copy/")
    copied = stranger.waters.get()
    assert (copied.latitude, copied.longitude, copied.year.count()) == (45.0, None, 12)
    assert not copied.readings.exists()


def test_a_plan_and_a_day_are_read_without_an_account(signed_in, wren, stranger):
    signed_in.post("/plan/keep/", {"name": "Spring"})
    plan = link(signed_in, f"plan:{wren.kept_plans.get().pk}")
    day = link(signed_in, f"day:{wren.trips.first().pk}")
    signed_in.logout()
    assert "Spring" in text(signed_in.get(plan))
    sheet = text(signed_in.get(day))
    assert "What to throw when" in sheet
    reasons = re.findall(r"<b>\d+ [ap]m</b> ([^<:]+): *([^<]*)</li>", sheet)
    assert reasons
    assert all(why.strip() for _, why in reasons)
    assert "Local regulations come first" in sheet
    as_other(signed_in, stranger).post(plan + "copy/")
    assert stranger.kept_plans.get().name == "Spring, of wren"
    kept = stranger.kept_plans.get()
    assert signed_in.get(f"/plan/kept/{kept.pk}/").status_code == 200
    signed_in.post(day + "copy/")
    assert not stranger.trips.exists()


def test_a_new_version_of_a_rulebook_is_offered_and_never_imposed(signed_in, wren, stranger):
    from web.domain.rulebooks.models import Rule

    def rule(call, why):
        entry = {"id": call, "for": ["worm"], "want": {"tone": ["black"]}, "grade": "go-to", "why": why}
        Rule.objects.update_or_create(owner=wren, school="ladder", call=call, defaults={"entry": entry})

    rule("club-one", "The club says so.")
    address = link(signed_in, "rules:ladder")
    assert "The club says so." in text(signed_in.get(address))
    as_other(signed_in, stranger).post(address + "copy/")
    assert stranger.rules.get().entry["why"] == "The club says so."
    assert "A new version" not in text(signed_in.get("/shared/"))
    rule("club-one", "The club knows better now.")
    assert "A new version of wren’s rules" in text(signed_in.get("/shared/"))
    assert stranger.rules.get().entry["why"] == "The club says so."
    signed_in.post(address + "copy/")
    assert stranger.rules.get().entry["why"] == "The club knows better now."
    assert "A new version" not in text(signed_in.get("/shared/"))


def test_a_link_that_is_ended_shows_nothing(signed_in, wren):
    address = link(signed_in, f"water:{Water.objects.get(name='Tarn Hollow').pk}")
    signed_in.post(f"/shared/{Share.objects.get().pk}/end/")
    assert signed_in.get(address).status_code == 404


def test_nobody_shows_what_is_another_s(signed_in, wren, stranger):
    tarn, trip = Water.objects.get(name="Tarn Hollow"), wren.trips.first()
    signed_in.post("/plan/keep/", {"name": "Spring"})
    address = link(signed_in, f"water:{tarn.pk}")
    as_other(signed_in, stranger)
    for what in (
        f"water:{tarn.pk}",
        f"day:{trip.pk}",
        f"plan:{wren.kept_plans.get().pk}",
        "rules:ladder",
        "x",
        "plan:",
    ):
        assert signed_in.post("/shared/make/", {"what": what}).status_code == 422, what
    signed_in.post(f"/shared/{Share.objects.get().pk}/end/")
    assert signed_in.get(address).status_code == 200
