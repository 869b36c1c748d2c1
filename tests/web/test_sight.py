"""The second look, as the page shows it."""

import re
from datetime import date

import pytest
from django.utils import timezone

from tackle.colours.palette import house_palette
from tackle.sight.look import View
from tackle.sight.pairs import alike_there
from tests.pages import text
from web.domain.trips.models import Trip

PALETTE = house_palette()
pytestmark = pytest.mark.django_db


def page(client, query="", **options):
    response = client.get(f"/colours/sight/{query}", **options)
    assert response.status_code == 200
    return text(response)


def test_it_opens_on_the_first_water_with_some_colours(signed_in, django_assert_max_num_queries):
    page(signed_in)
    with django_assert_max_num_queries(18):
        text = page(signed_in)
    assert len(re.findall(r'class="look-dot"', text)) == 5
    assert "Trust the order more than the limits" in text
    assert "<html" not in page(signed_in, headers={"HX-Request": "true"})


def test_near_ones_are_named_and_the_range_is_always_told(signed_in):
    text = page(
        signed_in, "?visibility=24+in&stain=tannic&fish=largemouth&c=black-plain&c=black-blue-plain&c=white-flat"
    )
    assert "black and black over dark blue look alike" in text
    assert "seen from 6 in" in text
    text = page(signed_in, "?visibility=3+m&range=1+ft&fish=largemouth&c=black-plain&c=white-flat")
    assert "seen from 12 in" in text
    assert "a fish could tell all of these apart" in text
    assert "could tell none of these apart" in page(signed_in, "?light=night")


def test_what_makes_no_sense_is_said_and_the_rest_stands(signed_in):
    text = page(signed_in, "?visibility=murky&stain=lava&fish=hawk&depth=deep&c=mauve")
    assert "is not a length" in text
    assert len(re.findall(r'class="look-dot"', text)) == 5
    assert page(signed_in, "?" + "&".join(f"c={card}" for card in ["bone"] * 40)).count('class="look-dot"') == 1


def test_how_sure_it_is_is_said_with_what_is_assumed(signed_in):
    text = page(signed_in, "sure/")
    assert "Trust the order" in text
    assert "535 and 614 nm" in text


def words(response):
    return " ".join(text(response).split())


def test_the_crate_as_the_fish_sees_it(signed_in):
    page = words(signed_in.get("/colours/sight/doubles/"))
    assert "Less apart than an eye can tell" in page or "less apart than an eye can tell" in page
    assert "Look-alikes in your water" in page
    cheaper = words(signed_in.get("/colours/sight/planned/?category=worm"))
    assert "alone" not in cheaper or "by the rulebooks" in cheaper


def test_from_below_there_is_one_side_and_the_sky(signed_in):
    page = words(signed_in.get("/colours/sight/?seen=below&c=bone&c=white-flat&c=clear-ghost"))
    assert "bone and flat white look alike" in page or "flat white and bone look alike" in page
    assert page.count('class="look-window"') == 3
    assert "an outline" in page
    assert "from below" in page


def test_two_are_shown_side_by_side_by_a_table_that_says_what_the_list_says(signed_in):
    response = signed_in.get("/colours/sight/?c=bone&c=tiger&visibility=36+in&depth=4&fish=striper&range=9+in")
    told = response.context["beside"]
    row, column = told["depths"].index(4.0), told["visibilities"].index(36.0)
    (pair,) = response.context["look"].pairs
    assert told["apart"][row][column][2] == pytest.approx(pair.far, abs=0.01)
    assert told["near"][row][column] == pytest.approx(pair.near, abs=0.01)
    assert len(told["lures"][row][column]) == 2
    assert "data-beside" not in page(signed_in, "?c=bone")


def test_each_fish_has_an_eye_and_it_is_said_whose(signed_in):
    assert "gets that of a largemouth" in words(signed_in.get("/colours/sight/?fish=smallmouth"))
    assert "gets that of a red drum" in words(signed_in.get("/colours/sight/?fish=snook"))
    assert "gets that of" not in words(signed_in.get("/colours/sight/?fish=striper"))
    assert words(signed_in.get("/colours/sight/sure/")).count("its own") >= 4


def test_it_opens_on_the_water_that_was_last_planned(signed_in, wren):
    waters = list(wren.waters.order_by("pk"))
    for water in (waters[0], waters[-1]):
        Trip.objects.create(owner=wren, water=water, date=date(2027, 5, 8))
        opened = signed_in.get("/colours/sight/").context["view"]
        month = water.year.get(month=timezone.localdate().month)
        assert opened.stain == month.stain


def test_where_anglers_say_otherwise_it_is_told_with_who_is_right(signed_in):
    asked = "/colours/sight/?visibility=84+in&stain=none&c=goby-fleck&c=goby-dull"
    assert "Dulled and full are two" in words(signed_in.get(asked))
    sure = words(signed_in.get("/colours/sight/sure/"))
    assert "Held against what anglers say" in sure
    assert "Under cloud it does not flash" in sure


def test_a_trip_and_a_question_say_what_a_fish_could_hardly_tell_apart(signed_in, wren, monkeypatch):
    named = [("jerkbait", PALETTE.by_id[one]) for one in ("black-plain", "black-blue-plain", "white-flat")]
    found = alike_there(named, View("bass", 24.0, "none", 4.0, "bright"))
    assert [(one.id, other.id) for _, one, other in found] == [("black-plain", "black-blue-plain")]
    assert not alike_there(
        [("worm", named[0][1]), ("jerkbait", named[1][1])], View("bass", 24.0, "none", 4.0, "bright")
    )
    assert not alike_there(named, View("bass", 6.0, "silt", 12.0, "low"))  # nothing is to be told there at all
    trip = wren.trips.order_by("-pk").first()
    monkeypatch.setattr("web.pages.trips.views.alike_there", lambda pieces, view: found)
    page = words(signed_in.get(f"/day/{trip.pk}/"))
    assert "could hardly tell black from black over dark blue there (jerkbait)" in page
    asked = signed_in.get("/teach/drill/").context["questions"]
    best = {one.seed: {offer["card"] for offer in one.offers if offer["pick"] == "first"} for one in asked}
    for one in asked:
        for offer in one.offers:
            assert offer["alike"] is None or (offer["alike"] in best[one.seed] and offer["card"] not in best[one.seed])


def test_the_chart_of_a_colour_shows_what_is_left_and_ones_own_days(signed_in):
    page = text(signed_in.get("/colours/sight/", {"c": "red-bug"}))
    assert "How much is left of red bug" in page
    assert page.count('class="look-share"') == 8 * 6
    assert 'class="look-day"' in page
