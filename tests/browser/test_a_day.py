"""A whole day through the phone, its clock and the server moved together; what should be said is written first."""

import re
from contextlib import ExitStack, contextmanager
from datetime import UTC, datetime, timedelta

import pytest
import time_machine
from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import PHONE, open_page, sign_in
from tests.browser.test_on_the_water import TAPS, all_sent, open_water
from web.common.accounts.models import User
from web.domain.trips.models import Tap, Trip, Turn
from web.domain.trips.selectors import get_evening
from web.domain.trips.services import plan_trip, say_light
from web.domain.waters.models import Water


@contextmanager
def moved_clock(*pages):
    """`later(minutes)`: that much later, for the server and for every page."""
    with ExitStack() as stack:

        def later(minutes):
            stack.enter_context(time_machine.travel(datetime.now(UTC) + timedelta(minutes=minutes), tick=True))
            for page in pages:
                page.clock.fast_forward(minutes * 60_000)
                page.evaluate("document.dispatchEvent(new Event('visibilitychange'))")

        yield later


@pytest.fixture
def trip(phone):
    """Noon on Tarn Hollow: overcast to one, then sun to the evening, then night."""
    wren = User.objects.get(username="wren")
    Trip.objects.filter(owner=wren).delete()
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    trip = plan_trip(
        wren, water.pk, date=timezone.localdate(), first_hour=0, last_hour=23, categories=["jerkbait"], visibility_in=60
    )
    now = timezone.now().astimezone(water.zone).hour
    for hour in range(24):
        say_light(wren, trip.pk, hour, "overcast" if hour <= now else "bright" if hour < now + 6 else "night")
    return trip


def said(page):
    return page.locator("#say")


def test_a_day_from_cloud_into_sun_and_into_the_night(phone, trip):
    open_water(phone, trip)
    with moved_clock(phone) as later:
        expect(said(phone)).to_contain_text("Begin with")
        phone.get_by_role("button", name="Throw").click()
        expect(phone.locator("#now-what")).to_contain_text("Jerkbait")
        tied = phone.locator("#now-what").inner_text().split("· ")[1].lower()
        # A turn of its own length without a bite: another finish, or another role; never "stay".
        later(9)
        expect(said(phone)).to_contain_text(re.compile("^(Another finish|Now)"))
        later(60)
        expect(said(phone)).not_to_contain_text("Stay")
        # Two fish, and the hour of the forecast turns: they are not undone.
        phone.locator("[data-bite=whole]").click()
        later(1)
        phone.locator("[data-bite=whole]").click()
        expect(said(phone)).to_contain_text(f"Stay with {tied}")
        later(5)
        expect(said(phone)).to_contain_text(f"Stay with {tied}")
        # Under the sun it is followed, which it was not under cloud: the see-through one, if there is one.
        phone.locator("[data-bite=follow]").click()
        see_through = phone.evaluate(
            """() => {
              const trip = JSON.parse(document.getElementById("trip-data").textContent), { jerkbait } = trip.tray;
              return jerkbait.filter((card) => trip.book.cards[card].through).map((card) => trip.cards[card].name);
            }"""
        )
        if see_through and see_through[0].lower() != tied:
            expect(said(phone)).to_contain_text(see_through[0].lower())
        all_sent(phone)
    turn = Turn.objects.get(trip=trip)
    assert turn.minutes is None
    assert [tap.kind for tap in Tap.objects.filter(trip=trip)] == ["begin", "bite", "bite", "bite"]


def test_a_word_on_the_sky_is_asked_about_when_it_is_old_and_night_is_red(phone, trip):
    open_water(phone, trip)
    with moved_clock(phone) as later:
        phone.get_by_role("button", name="Sky", exact=True).click()
        phone.get_by_role("button", name="Low sun", exact=True).click()
        expect(phone.locator("#facts")).to_contain_text("Low sun, told")
        later(70)  # the forecast has changed the light meanwhile
        expect(phone.locator("#still")).to_contain_text("Still low sun?")
        phone.get_by_role("button", name="Yes, still").click()
        expect(phone.locator("#facts")).to_contain_text("Low sun, told")
        expect(phone.locator("#still")).to_be_hidden()
        later(182)  # and three hours on
        expect(phone.locator("#still")).to_contain_text("Still low sun?")
        phone.locator("#still-no").click()
        expect(phone.locator("#panel-sky")).to_be_visible()
        expect(phone.locator("#facts")).to_contain_text("Sunny, by the forecast")
        later(130)
        expect(phone.locator("body")).to_have_attribute("data-night", "")
        expect(phone.locator("#facts")).to_contain_text("Night, by the forecast")


def test_two_phones_of_one_boat_hear_each_other_and_stay_two_rods(browser, live_server, phone, trip):
    open_water(phone, trip)
    other = open_page(browser, live_server, viewport=PHONE, has_touch=True, is_mobile=True)
    sign_in(other)
    open_water(other, trip)
    for page in (phone, other):
        page.get_by_role("button", name="Another lure").click()
        page.locator("#aboard button").nth(0 if page is phone else 1).click()
        expect(page.locator("#now-what")).to_contain_text("Jerkbait")
        all_sent(page)
    tied = [page.locator("#now-what").inner_text() for page in (phone, other)]
    assert tied[0] != tied[1]
    theirs = tied[1].split("· ")[1].lower()
    with moved_clock(phone, other) as later:
        for _ in range(2):
            other.locator("[data-bite=whole]").click()
            later(2)
        all_sent(other)
        later(1)  # within a minute it is heard here
        expect(phone.locator("#say")).to_contain_text(f"Two bites on {theirs}")
        expect(phone.locator("#now-what")).to_have_text(tied[0])
        # They say apart how clear it is: both are told.
        for page, inches in ((phone, "40"), (other, "20")):
            page.get_by_role("button", name="Water", exact=True).click()
            page.get_by_label("Measured").fill(inches)
            page.get_by_role("button", name="Save visibility").click()
            expect(page.locator("#facts")).to_contain_text(f"{inches} in, told")
            all_sent(page)
            later(1)
        expect(phone.locator("#facts")).to_contain_text("20 in, told")
        expect(other.locator("#facts")).to_contain_text("another phone says 40 in")
    open_turns = Turn.objects.filter(trip=trip, minutes=None)
    assert len({turn.device for turn in open_turns}) == 2
    other.context.close()


def test_a_clock_that_is_put_right_asks_about_the_turns_made_before(phone, trip):
    open_water(phone, trip)
    phone.context.set_offline(True)
    phone.get_by_role("button", name="Throw").click()
    expect(phone.locator("#signal")).to_contain_text("1 kept here")
    before = phone.evaluate(f"{TAPS}.then((taps) => taps[0].at)")
    phone.clock.set_system_time(datetime.now(UTC) - timedelta(minutes=40))
    phone.clock.run_for(16_000)
    expect(phone.locator("#clock-ask")).to_contain_text("Your clock was 40 minutes fast: move this turn?")
    phone.get_by_role("button", name="Yes, move").click()
    expect(phone.locator("#clock-ask")).to_be_hidden()
    after = phone.evaluate(f"{TAPS}.then((taps) => taps[0].at)")
    assert before - after == pytest.approx(40, abs=0.5)
    phone.context.set_offline(False)
    phone.complaints.clear()


def test_a_finger_that_slips_is_one_bite_and_undo_is_there_for_two_minutes(phone, trip):
    open_water(phone, trip)
    phone.get_by_role("button", name="Throw").click()
    expect(phone.locator("[data-bite=whole]")).to_be_enabled()
    phone.locator("[data-bite=whole]").dblclick()
    expect(phone.locator("#turns")).to_contain_text("1 solid")
    with moved_clock(phone) as later:
        undo = phone.get_by_role("button", name="Undo")
        expect(undo).to_be_enabled()
        later(3)
        expect(undo).to_be_disabled()
    all_sent(phone)
    assert Turn.objects.get(trip=trip).whole == 1


def test_the_evenings_page_says_of_each_hour_what_the_phone_will_say(phone, trip):
    wren = trip.owner
    kinds = ["jerkbait", "worm", "casting-jig", "walking-topwater"]
    Trip.objects.filter(pk=trip.pk).update(categories=kinds, room=14)
    open_water(phone, trip)
    evening = get_evening(wren, Trip.objects.get(pk=trip.pk))
    found = phone.evaluate(
        """(kinds) => {
          const trip = JSON.parse(document.getElementById("trip-data").textContent), ask = throwNow(trip.book);
          return Object.fromEntries(kinds.map((category) => [category, trip.hours.map(({ hour, ...sky }) => {
            const now = { ...trip.told[category], ...sky, tide: trip.tide[hour] ?? null };
            const told = { [category]: { ...now, visibility_in: trip.now.visibility_in } };
            const { card, trailer, from } = ask({
              listed: [category], told, tray: trip.tray, aboard: trip.aboard, turns: [], at: hour * 60,
            });
            return from === null ? null : [card, trailer];
          })]));
        }""",
        [one for one in kinds if one in evening.rows],
    )
    shown = {
        category: [one and [one.card.id, one.trailer and one.trailer.id] for one in row]
        for category, row in evening.rows.items()
    }
    asked = {category: [one if said else None for one, said in zip(row, shown[category], strict=True)]
             for category, row in found.items()}  # fmt: skip
    assert asked == shown
    assert sum(one is not None for row in shown.values() for one in row) > 24


def test_what_lies_in_the_boat_and_is_better_is_on_the_main_button(phone, trip):
    Trip.objects.filter(pk=trip.pk).update(room=1)
    open_water(phone, trip)
    (packed,) = phone.evaluate("JSON.parse(document.getElementById('trip-data').textContent).tray.jerkbait")
    phone.get_by_role("button", name="Water", exact=True).click()
    phone.get_by_label("Measured").fill("8")
    phone.get_by_role("button", name="Save visibility").click()
    expect(phone.locator("#next-words")).to_have_text(re.compile("^Get it: .*, [A-Z]+[0-9]+: 20 seconds$"))
    expect(phone.locator("#better")).to_contain_text("Not packed, but a first choice now")
    phone.locator("#next-throw").click()
    expect(phone.locator("#now-what")).to_contain_text("Jerkbait")
    all_sent(phone)
    assert Turn.objects.get(trip=trip).card != packed
