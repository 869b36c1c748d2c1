"""The second look, as the page shows it."""

import re

import pytest

from tests.pages import text

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
    text = page(signed_in, "?visibility=24+in&stain=tannic&eye=bass&c=black-plain&c=black-blue-plain&c=white-flat")
    assert "black and black over dark blue look alike" in text
    assert "seen from 6 in" in text
    text = page(signed_in, "?visibility=3+m&range=1+ft&eye=bass&c=black-plain&c=white-flat")
    assert "seen from 12 in" in text
    assert "a fish could tell all of these apart" in text
    assert "could tell none of these apart" in page(signed_in, "?light=night")


def test_what_makes_no_sense_is_said_and_the_rest_stands(signed_in):
    text = page(signed_in, "?visibility=murky&stain=lava&eye=hawk&depth=deep&c=mauve")
    assert "is not a length" in text
    assert len(re.findall(r'class="look-dot"', text)) == 5
    assert page(signed_in, "?" + "&".join(f"c={card}" for card in ["bone"] * 40)).count('class="look-dot"') == 1


def test_how_sure_it_is_is_said_with_what_is_assumed(signed_in):
    text = page(signed_in, "sure/")
    assert "Trust the order" in text
    assert "535 and 614 nm" in text


def test_the_crate_as_the_fish_sees_it_by_a_measure_of_ones_own(signed_in, wren):
    page = " ".join(text(signed_in.get("/colours/sight/doubles/")).split())
    assert "We call two colours look-alikes" in page
    assert (
        "By eye alone a fish could not tell them apart" in page
    )  # orange or a finish is a real difference, whatever the eye says
    wide = {"first": "black-plain", "second": "white-flat", "depth": "1"}
    page = " ".join(text(signed_in.post("/colours/sight/doubles/", wide)).split())
    assert "Look-alikes in your water" in page
    wren.refresh_from_db()
    assert (wren.alike_first, wren.alike_depth_ft) == ("black-plain", 1.0)
    for wrong in ({"second": "black-plain"}, {"depth": "deep"}, {"first": "mauve"}):
        assert signed_in.post("/colours/sight/doubles/", {**wide, **wrong}).status_code == 422
    cheaper = " ".join(text(signed_in.get("/colours/sight/planned/?category=worm")).split())
    assert "by the rulebooks" in cheaper
    assert "by the rulebooks" not in text(signed_in.get("/colours/sight/planned/?category=popper"))


def test_the_chart_of_a_colour_shows_what_is_left_and_ones_own_days(signed_in):
    page = text(signed_in.get("/colours/sight/", {"c": "red-bug"}))
    assert "How much is left of red bug" in page
    assert page.count('class="look-share"') == 8 * 6
    assert 'class="look-day"' in page
