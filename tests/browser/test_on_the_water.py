"""On the water: taps are kept on the phone first, and come to the server once each, in order, whatever happens."""

import re

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import PHONE, open_page, sign_in, until
from web.common.accounts.models import Session, User
from web.domain.trips.models import Tap, Trip, Turn
from web.domain.trips.services import plan_trip, say_light
from web.domain.waters.models import Reading, Water
from web.domain.waters.services import add_water

BITES = ["missed", "outside", "lost", "whole"]


@pytest.fixture
def trip(phone):
    wren = User.objects.get(username="wren")
    Trip.objects.filter(owner=wren).delete()
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    return plan_trip(
        wren, water.pk, date=timezone.localdate(), first_hour=0, last_hour=23, categories=["jerkbait", "worm"]
    )


def open_water(page, trip):
    page.goto(f"/day/{trip.pk}/")
    page.get_by_role("link", name="Start fishing").click()
    expect(page.locator("#signal")).not_to_have_text("…")  # its script is at work
    page.get_by_role("button", name="More").click()
    expect(page.locator("[data-kept-said]")).to_contain_text("On this phone")
    page.get_by_role("button", name="More").click()


TAPS = "keptTaps.of(JSON.parse(document.getElementById('trip-data').textContent).trip)"
KEPT = f"{TAPS}.then((taps) => taps.length"


def all_sent(page):
    until(page, f"() => {TAPS}.then((taps) => taps.every((one) => one.state === 'sent'))")
    expect(page.locator("#signal")).to_have_text("all sent")


def tap(page, count, begun=False):
    """So many taps: a lure is tied on, then bites."""
    if not begun:
        page.get_by_role("button", name="Throw").click()
        expect(page.locator("[data-bite=whole]")).to_be_enabled()
        count -= 1
    for place in range(count):
        before = page.evaluate(f"{KEPT})")
        page.locator(f"[data-bite={BITES[place % 4]}]").click()
        until(page, f"(was) => {KEPT} > was)", before)


def came(trip):
    """The kinds of the taps that came, in the order in which they were made; each once."""
    taps = list(Tap.objects.filter(trip=trip).order_by("device", "place"))
    assert len({one.key for one in taps}) == len(taps)
    return [one.data.get("how", one.kind) for one in taps]


EXPECTED = ["begin", *(BITES[place % 4] for place in range(19))]


def test_twenty_taps_without_a_signal_come_once_each_in_order(phone, trip):
    open_water(phone, trip)
    phone.context.set_offline(True)
    phone.reload()
    tap(phone, 12)
    expect(phone.locator("#signal")).to_have_text("no signal · 12 kept here")
    phone.reload()  # or a battery that died
    expect(phone.locator("#now-what")).to_contain_text("Jerkbait")
    for how in ("whole", "missed", "outside", "lost", "whole", "missed", "outside", "lost"):
        phone.locator(f"[data-bite={how}]").click()
    expect(phone.locator("#signal")).to_have_text("no signal · 20 kept here")
    assert came(trip) == []
    phone.context.set_offline(False)
    phone.evaluate("window.dispatchEvent(new Event('online'))")
    all_sent(phone)
    assert came(trip)[:12] == EXPECTED[:12]
    assert len(came(trip)) == 20
    assert Turn.objects.get(trip=trip).whole == 4
    phone.complaints.clear()  # the console tells of the signal that was lost


def test_an_answer_that_is_cut_off_half_way_doubles_nothing(phone, trip):
    open_water(phone, trip)
    cut = []

    def answer_lost(route):
        route.fetch()  # the server takes them
        cut.append(route.request.post_data)
        route.abort()

    phone.route("**/taps/", answer_lost)
    tap(phone, 6)
    expect(phone.locator("#signal")).to_have_text("no signal · 6 kept here")
    assert cut
    phone.unroute_all(behavior="wait")
    phone.evaluate("window.dispatchEvent(new Event('online'))")
    all_sent(phone)
    assert came(trip) == EXPECTED[:6]
    phone.complaints.clear()


def test_a_session_that_ran_out_loses_nothing(phone, trip):
    open_water(phone, trip)
    tap(phone, 3)
    all_sent(phone)
    Session.objects.all().delete()
    tap(phone, 4, begun=True)
    expect(phone.locator("#signal")).to_have_text("sign in to send 4")
    phone.get_by_role("link", name="sign in to send 4").click()
    phone.get_by_label("Username").fill("wren")
    phone.get_by_label("Password").fill("open-the-crate")
    phone.get_by_role("button", name="Sign in").click()
    expect(phone.locator("#signal")).to_have_text("all sent")
    assert len(came(trip)) == 7
    phone.complaints.clear()


def sign_out_and_in(page, name, password):
    page.goto("/account/")
    page.get_by_role("button", name="Sign out").click()
    page.wait_for_url("**/account/sign-in/?out")
    page.evaluate("who.ready")
    if name:
        page.get_by_label("Username").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in").click()
        page.wait_for_url(lambda url: "/sign-in/" not in url)
        page.evaluate("who.ready")


def test_what_a_phone_keeps_is_of_one_person(phone, trip):
    """wren's taps wait on a phone that rail takes; nothing of hers is shown, and they come to her log."""
    rail = User.objects.create_user("rail", "rail@example.org", "reeds-and-rushes")
    open_water(phone, trip)
    tap(phone, 1)
    all_sent(phone)
    phone.context.route("**/taps/", lambda route: route.abort())
    tap(phone, 3, begun=True)
    expect(phone.locator("#signal")).to_have_text("no signal · 3 kept here")
    other_tab = phone.context.new_page()
    other_tab.goto(f"/day/{trip.pk}/water/")
    sign_out_and_in(phone, "rail", "reeds-and-rushes")
    phone.context.unroute_all(behavior="wait")
    other_tab.evaluate("document.dispatchEvent(new Event('visibilitychange'))")
    expect(other_tab.locator("body")).to_contain_text("belongs to another account")
    expect(other_tab.locator("body")).not_to_contain_text("Tarn Hollow")
    other_tab.close()
    phone.context.set_offline(True)
    phone.goto(f"/day/{trip.pk}/water/")
    expect(phone.locator("h1")).to_have_text("No signal, and this page is not on this phone.")
    expect(phone.locator("body")).not_to_contain_text("Tarn Hollow")
    phone.context.set_offline(False)
    water = add_water(rail, name="Rail Reach", kind="river", salinity="fresh")
    theirs = plan_trip(rail, water.pk, date=timezone.localdate(), first_hour=0, last_hour=23, categories=["worm"])
    phone.goto(f"/day/{theirs.pk}/")
    expect(phone.locator("[data-taps-wait]")).to_have_text("3 taps of wren wait.")
    expect(phone.locator("body")).not_to_contain_text("Tarn Hollow")
    phone.goto(f"/day/{theirs.pk}/water/")
    expect(phone.locator("#signal")).to_have_text("ready")
    assert (len(came(trip)), len(came(theirs))) == (1, 0)
    sign_out_and_in(phone, "wren", "open-the-crate")
    phone.goto(f"/day/{trip.pk}/water/")
    all_sent(phone)
    assert (len(came(trip)), len(came(theirs))) == (4, 0)
    phone.complaints.clear()


def test_two_phones_are_both_kept_and_a_wrong_clock_is_set_right(browser, live_server, phone, trip):
    open_water(phone, trip)
    tap(phone, 3)
    other = open_page(browser, live_server, viewport=PHONE, has_touch=True, is_mobile=True)
    # This phone believes that it is three hours earlier.
    other.add_init_script("{ const told = Date.now; Date.now = () => told() - 3 * 3600 * 1000; }")
    sign_in(other)
    open_water(other, trip)
    other.locator("[data-open=change]").click()
    other.locator("#aboard button").first.click()
    tap(other, 4, begun=True)
    all_sent(other)
    all_sent(phone)
    turns = list(Turn.objects.filter(trip=trip))
    assert len({turn.device for turn in turns}) == len(turns) == 2
    assert abs(turns[0].at - turns[1].at) < 15
    assert sum(turn.whole + turn.lost + turn.outside + turn.missed for turn in turns) == 6
    phone.reload()
    phone.get_by_role("button", name="More").click()
    expect(phone.locator("#others")).to_contain_text("Another phone:")
    other.context.close()


def test_storage_that_is_cleared_gets_the_turns_back(browser, live_server, phone, trip):
    open_water(phone, trip)
    tap(phone, 4)
    all_sent(phone)
    tied = phone.locator("#now-what").inner_text()
    new = open_page(browser, live_server, viewport=PHONE, has_touch=True, is_mobile=True)
    sign_in(new)
    new.goto(f"/day/{trip.pk}/water/")
    expect(new.locator("#now-what")).to_have_text(tied)
    expect(new.locator("#turns")).to_contain_text("1 came off")
    new.locator("[data-undo]").click()  # what another phone tapped is taken back here too
    expect(new.locator("#turns")).not_to_contain_text("1 came off")
    all_sent(new)
    assert Turn.objects.get(trip=trip).lost == 0
    new.context.close()


def test_a_clock_three_days_wrong_without_a_signal_loses_nothing(browser, live_server, phone, trip):
    wrong = open_page(browser, live_server, viewport=PHONE, has_touch=True, is_mobile=True)
    wrong.add_init_script("{ const told = Date.now; Date.now = () => told() - 3 * 86400 * 1000; }")
    sign_in(wrong)
    open_water(wrong, trip)
    wrong.context.set_offline(True)
    tap(wrong, 3)
    wrong.close()  # killed
    wrong.context.set_offline(False)
    again = wrong.context.new_page()
    again.add_init_script("{ const told = Date.now; Date.now = () => told() - 3 * 86400 * 1000; }")
    again.goto(f"/day/{trip.pk}/water/")
    all_sent(again)
    turn = Turn.objects.get(trip=trip)
    now = timezone.now()
    assert abs(turn.at - now.hour * 60 - now.minute) < 30
    expect(again.locator("#now-time")).to_contain_text(re.compile(r"^\d min"))  # the screen goes by the right clock now
    again.context.close()


def test_the_first_screen_opens_without_a_signal(phone, trip):
    phone.goto(f"/day/{trip.pk}/")
    kept = [f"/day/{trip.pk}/water/", f"/day/{trip.pk}/log/", "/colours/ask/", "/crate/"]
    until(
        phone,
        """([cache, wanted]) => caches.open(cache).then((one) => one.keys()).then((all) => {
          const paths = all.map((one) => new URL(one.url).pathname);
          return wanted.every((one) => paths.includes(one));
        })""",
        [f"day-{trip.owner_id}", kept],
    )
    phone.context.set_offline(True)
    phone.goto("/day/")
    expect(phone.locator("#say")).to_contain_text("Begin with")
    shown = ["Tarn Hollow", "logged", "white lure", "Shopping list"]
    for address, words in zip([f"/day/{trip.pk}/", *kept[1:]], shown, strict=True):
        phone.goto(address)
        expect(phone.locator("main")).to_contain_text(words)
    phone.goto("/teach/drill/")
    expect(phone.locator("h1")).to_have_text("No signal, and this page is not on this phone.")
    phone.get_by_role("link", name="On the water").click()
    expect(phone.locator("#say")).to_contain_text("Begin with")
    phone.context.set_offline(False)
    phone.complaints.clear()


def test_the_water_is_told_and_goes_into_its_readings(phone, trip):
    open_water(phone, trip)
    before = Reading.objects.filter(water=trip.water).count()
    phone.get_by_role("button", name="Water", exact=True).click()
    phone.get_by_label("Measured").fill("murky")
    phone.get_by_role("button", name="Save visibility").click()
    expect(phone.locator("#meter-said")).to_contain_text("“murky” is no visibility")
    phone.get_by_label("Measured").fill("13")
    phone.get_by_text("Cover, depth, speed").click()
    phone.get_by_label("Spot").fill("dam")
    phone.get_by_role("button", name="Save visibility").click()
    expect(phone.locator("#say")).to_contain_text("Murkier than usual")
    all_sent(phone)
    reading = Reading.objects.filter(water=trip.water).order_by("-pk").first()
    assert (Reading.objects.filter(water=trip.water).count(), reading.spot) == (before + 1, "dam")
    assert reading.visibility_in == 13
    expect(phone.locator("#facts")).to_contain_text("13 in, told")
    expect(phone.locator("#repack")).to_contain_text("Repack for 13 in?")
    phone.get_by_role("button", name="Leave it").click()
    phone.get_by_role("button", name="Sky", exact=True).click()
    phone.get_by_role("button", name="Sunny", exact=True).click()
    expect(phone.locator("#say")).not_to_have_text("")
    phone.get_by_role("button", name="Undo").click()
    until(phone, f"() => {KEPT} > 2)")
    all_sent(phone)
    assert [one.kind for one in Tap.objects.filter(trip=trip)] == ["water", "water", "drop"]


def test_the_screen_counsels_by_what_came(phone, trip):
    open_water(phone, trip)
    say = phone.locator("#say")
    expect(say).to_contain_text("Begin with")
    phone.get_by_text("Why").click()
    expect(phone.locator("#rests")).to_contain_text("(")  # in the words of a school, by its name
    phone.get_by_role("button", name="Throw").click()
    expect(phone.locator("#now-what")).to_contain_text("Jerkbait")
    first = phone.locator("#now-what").inner_text()
    phone.locator("[data-bite=whole]").click()
    expect(say).to_contain_text(re.compile("Stay with|Fish are here"))
    phone.locator("#sizes button").nth(2).click()  # its length, one press later
    expect(phone.locator("#fish")).to_be_hidden()
    phone.locator("[data-bite=missed]").click()
    expect(phone.locator("#turns")).to_contain_text("1 solid, 1 missed")
    expect(say).to_contain_text("Stay with")  # a fish says: here
    phone.locator("[data-tap=nothing]").click()
    expect(phone.locator("#next-throw")).to_have_class(re.compile("strong"))
    phone.locator("#whose").click()
    phone.locator("[data-rod=worm]").click()
    expect(say).to_contain_text("Begin with")  # of the worm nothing is known yet
    phone.get_by_role("button", name="Throw").click()
    expect(phone.locator("#now-what")).to_contain_text("Worm")
    assert phone.locator("#now-what").inner_text() != first
    phone.locator("#whose").click()
    phone.get_by_role("button", name="your partner’s").click()
    expect(phone.locator("#now-what")).to_have_text("Nothing is tied on")


def test_a_trailer_is_changed_with_one_press_and_the_jig_stays(phone, trip):
    jigs = ["casting-jig"]
    Trip.objects.filter(pk=trip.pk).update(categories=jigs, room=8, visibility_in=40.0)
    open_water(phone, trip)
    say = phone.locator("#say")
    expect(say).to_contain_text(re.compile("on it|to match"))
    phone.get_by_role("button", name="Throw").click()
    expect(phone.locator("#now-what")).to_contain_text("on it")
    jig = phone.locator("#now-what").inner_text()
    phone.get_by_role("button", name="Another trailer").click()
    phone.locator("#trailers button").last.click()
    expect(phone.locator("#now-what")).not_to_have_text(jig)
    expect(phone.locator("#now-what")).to_contain_text(jig.split(",")[0])
    all_sent(phone)
    assert Turn.objects.filter(trip=trip).last().trailer


def test_a_fair_test_takes_turns_until_the_evidence_is_there(phone, trip):
    open_water(phone, trip)
    phone.get_by_role("button", name="More").click()
    first, second = (phone.locator(f"#test-{which}") for which in ("first", "second"))
    named = (
        "one => one.selectedOptions[0].text.split(', ').slice(0, -1).join(', ').toLowerCase()"  # its kind comes last
    )
    names = [one.evaluate(named) for one in (first, second)]
    phone.get_by_role("button", name="Start test").click()
    for which in (0, 1, 1, 0):
        expect(phone.locator("#say")).to_contain_text(f"Fair test: {names[which]} now")
        phone.get_by_role("button", name="Throw").click()
        expect(phone.locator("#say")).to_contain_text("keep throwing")
        phone.locator("[data-tap=nothing]").click()
    phone.get_by_role("button", name="Throw").click()
    bites = 0
    while bites < 15 and not phone.locator("#say").inner_text().startswith("Settled"):
        bites += 1
        before = phone.evaluate(f"{KEPT})")
        phone.locator("[data-bite=whole]").click()
        until(phone, f"(was) => {KEPT} > was)", before)
        phone.clock.fast_forward(1_100)  # a second press at once would be a slip
    assert bites > 5  # not by a bite or two of luck
    expect(phone.locator("#say")).to_contain_text(f"Settled: {names[0]}")
    phone.get_by_role("button", name="More").click()
    phone.get_by_role("button", name="End test").click()
    expect(phone.locator("#say")).not_to_contain_text("Settled")


def test_the_forecasts_own_change_is_told_at_its_hour(phone, trip):
    wren = User.objects.get(username="wren")
    say_light(wren, trip.pk, 10, "overcast")
    say_light(wren, trip.pk, 11, "bright")
    # This phone's clock says half past ten, and an hour more once it is told to.
    phone.add_init_script(
        "{ const told = Date.now, half = new Date().setHours(10, 30, 0, 0) - told();"
        " window.later = 0; Date.now = () => told() + half + window.later; }"
    )
    open_water(phone, trip)
    expect(phone.locator("#soon")).to_contain_text(re.compile(r"In \d+ min: sun"))
    phone.evaluate("window.later = 3600000; document.dispatchEvent(new Event('visibilitychange'))")
    expect(phone.locator("#soon")).to_contain_text("11:00 am: sun")
    expect(phone.locator("#soon")).to_contain_text("by the forecast")
