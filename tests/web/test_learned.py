"""Learned: what the log says, what it cannot, and what becomes of it."""

import json
import math
import re

import pytest

from tackle.learn.assumed import assumed
from tackle.learn.fair_test import ends_at, evidence
from tests.owner import renewed
from tests.pages import text
from web.domain.crate.models import Mark
from web.domain.rulebooks.models import Rule
from web.domain.trips.models import Trip, Turn

pytestmark = pytest.mark.django_db
CELL = {"category": "jerkbait", "clarity": "clear", "light": "bright"}


def page(client, **told):
    return " ".join(text(client.get("/day/learned/", told)).split())


def test_the_demos_season_has_one_difference_to_find_and_one_that_cannot_be_told(
    signed_in, django_assert_max_num_queries
):
    with django_assert_max_num_queries(22):
        shown = page(signed_in, category="jerkbait")
    gets = r"<b>Bone</b>\s+got about \S+( times)? the bites of <b>(matte|glass) shad</b>: very likely"
    assert re.search(gets, shown)
    even = shown.split("Not known yet")[1]
    assert "shad" in even
    assert "on which you threw two colours or more" in " ".join(shown.split())
    moved = text(signed_in.get("/day/learned/moved/", {"category": "jerkbait"}))
    assert moved.count("<polyline") == 4
    assert "<polyline" not in text(signed_in.get("/day/learned/moved/", {"category": "frog"}))


def test_turns_without_minutes_are_kept_and_not_counted(signed_in, wren):
    before = page(signed_in, category="jerkbait")
    trip = Trip.objects.filter(owner=wren, turns__category="jerkbait").first()
    Turn.objects.create(trip=trip, key="x", device="paper", category="jerkbait", card="bone", whole=9)
    after = page(signed_in, category="jerkbait")
    assert "1 turn has no minutes" in after
    minutes = r'class="number" data-of="\w+">([\d.]+)</td>'
    assert re.findall(minutes, before) == re.findall(minutes, after)


def test_a_rule_is_made_with_its_evidence_or_told_no(signed_in, wren):
    Turn.objects.filter(trip__owner=wren, card="bone").update(whole=6, visibility_in=80, light="bright", parts=[])
    Turn.objects.filter(trip__owner=wren).exclude(card="bone").update(visibility_in=80, light="bright", parts=[])
    assert "Enough to overrule the book" in page(signed_in, **CELL)
    told = {**CELL, "card": "bone", "school": "ladder"}
    signed_in.post("/day/learned/rule/", {**told, "no": "1"})
    assert Mark.objects.get(owner=wren, finding__startswith="learned:").state == "no"
    assert "Enough to overrule" not in page(signed_in, **CELL)
    signed_in.post("/day/learned/rule/", told)
    made = Rule.objects.filter(owner=wren, entry__for="jerkbait")
    assert {rule.entry["when"]["light"] for rule in made} == {"bright"}  # no wider than it was thrown
    assert all("season" in rule.entry["when"] for rule in made)
    many = made.count()
    assert "telling days" in made[0].entry["why"]
    signed_in.post("/day/learned/rule/", {**told, "card": "mauve"})
    signed_in.post("/day/learned/rule/", {"category": "jerkbait", "card": "bone"})
    assert made.count() == many


def test_the_day_begins_by_book_and_log_and_a_reload_says_the_same(signed_in, wren):
    trip = Trip.objects.filter(owner=wren).order_by("-date").first()

    def kept():
        content = text(signed_in.get(f"/day/{trip.pk}/water/"))
        return json.loads(content.split('id="trip-data" type="application/json">')[1].split("</script>")[0])

    first = kept()
    log = first["book"]["kinds"]["jerkbait"]["log"]
    assert {*log} == {f"{clarity}|{light}" for clarity in ("murky", "middling", "clear") for light in ("bright", "dim")}
    for factors in log.values():  # of what lies aboard, how many times the average of it
        assert {*factors} == {*first["aboard"]["jerkbait"]}
        assert math.prod(factors.values()) == pytest.approx(1.0)
    assert kept() == first
    Turn.objects.filter(trip__owner=wren).delete()
    renewed(wren)
    assert kept()["book"]["kinds"]["jerkbait"]["log"] == {}


def test_nothing_logged_says_what_to_do(client, stranger):
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert "Nothing is logged yet" in page(client)


def test_the_phones_limits_are_those_of_the_test():
    for bites, most in enumerate(ends_at(40)):
        for first in range((bites + 1) // 2, bites + 1):
            assert (evidence(first, bites - first) >= assumed().odds) == (most is not None and first >= most)


def test_a_colour_thrown_at_dawn_alone_is_to_be_thrown_at_noon(signed_in, wren):
    trips = Trip.objects.filter(owner=wren, turns__isnull=False).distinct()
    for trip in trips:
        for place, turn in enumerate(trip.turns.filter(category="jerkbait")):
            turn.at = 6 * 60 + place if turn.card == "bone" else (9 + place % 5) * 60
            turn.parts = []
            turn.save()
    renewed(wren)
    shown = page(signed_in, category="jerkbait")
    assert "Thrown at other times than the rest" in shown
    assert re.search(r"<b>Bone</b>: \d+ % of its turns at 6 o’clock", shown)
