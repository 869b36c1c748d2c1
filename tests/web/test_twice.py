"""The same button twice, and two windows of which one is stale: nothing is done twice, nothing lost without a word."""

import json
import re
import threading

import pytest
from django.test import Client

from tests.pages import text
from web.common.accounts.models import Sent, User
from web.common.accounts.once import forget_sent

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}
KEY = "0123456789abcdef0123"


def noted(client, water, key=KEY, line="31 in", **headers):
    return client.post(f"/waters/{water.pk}/note/", {"line": line, "once": key}, **headers)


def test_each_form_of_a_page_has_a_key_of_its_own(signed_in):
    keys = re.findall(r'name="once" value="(\w+)"', text(signed_in.get("/account/")))
    assert len(keys) == len(set(keys)) > 1


def test_a_second_press_of_a_button_does_it_once(signed_in, wren):
    water = wren.waters.first()
    before = water.readings.count()
    noted(signed_in, water)
    assert noted(signed_in, water, headers=HTMX).status_code == 204
    again = noted(signed_in, water, headers={"Referer": f"http://testserver/waters/{water.pk}/"})
    assert (again.status_code, again.url) == (302, f"/waters/{water.pk}/?")
    assert water.readings.count() == before + 1
    noted(signed_in, water, key="another-key-of-a-form")
    assert water.readings.count() == before + 2


def test_the_second_press_leads_where_the_first_one_did(signed_in):
    told = {"name": "Twice", "once": KEY}
    first, second = (signed_in.post("/plan/keep/", told) for _ in range(2))
    assert first.url == second.url


def test_what_was_refused_may_be_sent_again(signed_in, wren):
    water = wren.waters.first()
    before = water.readings.count()
    assert noted(signed_in, water, line="nothing").status_code == 422
    noted(signed_in, water)
    assert water.readings.count() == before + 1


def test_one_s_key_is_not_another_s(signed_in, intruder, wren, stranger):
    for owner in (wren, stranger):
        client = Client()
        client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
        client.post("/plan/keep/", {"name": "Mine", "once": KEY})
    assert wren.kept_plans.filter(name="Mine").exists()


@pytest.mark.django_db(transaction=True)
def test_two_presses_at_once_are_one(wren):
    water = wren.waters.first()
    before = water.readings.count()

    def press():
        from django.db import connection

        client = Client()
        client.force_login(User.objects.get(pk=wren.pk), backend="django.contrib.auth.backends.ModelBackend")
        noted(client, water)
        connection.close()

    threads = [threading.Thread(target=press) for _ in range(4)]
    for one in threads:
        one.start()
    for one in threads:
        one.join(60)
    assert water.readings.count() == before + 1


def test_keys_go_after_a_day(signed_in, wren):
    noted(signed_in, wren.waters.first())
    forget_sent()
    assert Sent.objects.count() == 1
    Sent.objects.update(at="2020-01-01T00:00Z")
    forget_sent()
    assert not Sent.objects.exists()


def months_shown(client, water):
    page = text(client.get(f"/waters/{water.pk}/"))
    told = re.search(r'hx-vals="(\{[^"]*months_shown[^"]*)"', page)[1]
    return json.loads(told.replace("&quot;", '"').replace("&#x27;", "'"))["months_shown"]


def test_a_month_that_was_changed_elsewhere_is_not_overwritten_unseen(signed_in, wren):
    water = wren.waters.first()
    shown, address = months_shown(signed_in, water), f"/waters/{water.pk}/month/5/"
    signed_in.post(address, {"field": "days", "value": "7", "months_shown": shown})
    page = text(signed_in.post(address, {"field": "days", "value": "9", "months_shown": shown}))
    assert "is “7.0” now" in page
    assert water.year.get(month=5).days == 7
    signed_in.post(address, {"field": "temp", "value": "66", "months_shown": shown})  # another thing of that month
    assert water.year.get(month=5).temp_f == 66
    signed_in.post(address, {"field": "days", "value": "9", "months_shown": months_shown(signed_in, water)})
    assert water.year.get(month=5).days == 9


def settled(client, what, shown):
    return client.post("/plan/settle/worm/", {"what": what, "value": "black-plain", "shown": shown})


def test_a_lock_says_what_it_sets_and_what_it_would_undo(signed_in, wren):
    for _ in range(2):
        settled(signed_in, "lock", "")
        assert wren.plans.get().choices.get(category="worm").lock == ["black-plain"]
    settled(signed_in, "ban", "lock")
    page = settled(signed_in, "lock", "")
    assert page.status_code == 422
    assert "was dropped, perhaps in another window" in text(page)
    assert wren.plans.get().choices.get(category="worm").ban == ["black-plain"]
    for _ in range(2):
        settled(signed_in, "unban", "ban")
        assert not wren.plans.get().choices.get(category="worm").ban


def test_checking_against_a_kept_plan_says_what_it_sets(signed_in, wren):
    signed_in.post("/plan/keep/", {"name": "One"})
    kept = wren.kept_plans.get(name="One")
    for to in ("on", "on", "off", "off"):
        signed_in.post(f"/plan/kept/{kept.pk}/check/", {"to": to})
        kept.refresh_from_db()
        assert kept.checked == (to == "on")


@pytest.mark.parametrize("door", ["/account/sign-out/", "/account/archive/delete/"])
def test_who_leaves_with_a_key_has_left(signed_in, door):
    assert signed_in.post(door, {"password": "open-the-crate", "once": KEY}).status_code == 302
    assert signed_in.get("/crate/").status_code == 302
    assert signed_in.post(door, {"password": "open-the-crate", "once": KEY}).status_code in (302, 403)
