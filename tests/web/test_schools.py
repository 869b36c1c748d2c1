import re

import pytest

from tests.pages import text
from web.domain.rulebooks.models import Rule

pytestmark = pytest.mark.django_db
READ = "/colours/rules/ladder/read/"


def calls(page):
    return re.findall(r'id="call-([\w/-]+)"', page)


def act(client, call, what, **told):
    address = f"/colours/rules/ladder/{call}/{what}/"
    return client.post(address, {"category": "worm", "grade": "go-to", "why": "So it is here.", **told}, follow=True)


def test_a_school_is_read_call_by_call_over_ones_own_days(signed_in):
    page = text(signed_in.get(READ, {"category": "worm"}))
    days = [float(found) for found in re.findall(r"first choice on <b>([\d.]+) day", page)]
    assert days == sorted(days, reverse=True) != []
    assert sum(days) == pytest.approx(61, abs=1)
    assert "Tarn Hollow" in page
    assert "want different worm colours on <b>" in page
    some = text(signed_in.get(READ, {"category": "worm", "q": "cloud"}))
    assert 0 < len(calls(some)) < len(calls(page))
    assert "says “zebra”" in text(signed_in.get(READ, {"category": "worm", "q": "zebra"}))
    assert signed_in.get("/colours/rules/guesswork/read/").status_code == 404


def test_a_call_is_changed_laid_beside_and_switched_off(signed_in, wren):
    first, second = calls(text(signed_in.get(READ, {"category": "worm"})))[:2]
    page = text(act(signed_in, first, "change", **{"from": "20 in"}, below="5 ft", tone="pink"))
    assert "It is one of your rules now" in page
    rule = Rule.objects.get(owner=wren, call=first)
    assert rule.entry["when"]["visibility_in"] == {"from": 20.0, "below": 60.0}
    assert rule.entry["want"]["tone"] == ["pink"]
    assert calls(page).count(first) == 1  # in the place of the school's own
    beside = calls(text(act(signed_in, second, "change", how="beside")))
    assert f"mine-{second}-1" in beside
    assert second in beside
    gone = text(act(signed_in, second, "off"))
    assert second not in calls(gone)
    signed_in.post(f"/colours/rules/{Rule.objects.get(owner=wren, call=second).pk}/switch/", {"to": "off"})
    assert second in calls(text(signed_in.get(READ, {"category": "worm"})))


def test_what_cannot_be_a_rule_is_said_and_stays_as_it_was_typed(signed_in, wren):
    (first, *_) = calls(text(signed_in.get(READ, {"category": "worm"})))
    for wrong in ({"from": "deep"}, {"from": "5 ft", "below": "2 ft"}, {"grade": "splendid"}, {"tone": "mauve"}):
        answer = act(signed_in, first, "change", **{"why": "As I typed it.", **wrong})
        assert answer.status_code == 422
        assert "As I typed it." in text(answer)
    assert not Rule.objects.exists()
    assert "no rule of that rulebook" in text(act(signed_in, "no-such", "off"))


def test_another_anglers_rules_stay_theirs(signed_in, intruder, wren, stranger):
    signed_in.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    (first, *_) = calls(text(signed_in.get(READ, {"category": "worm"})))
    act(signed_in, first, "off")
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert first in calls(text(signed_in.get(READ, {"category": "worm"})))


def test_queries_are_bounded(signed_in, django_assert_max_num_queries):
    with django_assert_max_num_queries(20):
        signed_in.get(READ)
