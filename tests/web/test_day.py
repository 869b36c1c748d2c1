"""The evening before: a trip, its sky, its tray."""

import json
import re
from dataclasses import replace
from datetime import date, datetime, timedelta
from html import unescape
from zoneinfo import ZoneInfo

import pytest
import time_machine
from django.utils import timezone
from icalendar import Calendar

from tackle.base.vocabulary import Light, Wind
from tackle.day.forecast import Sky, cautions, clarity_after
from tackle.devices.forecast import ForecastHour
from tackle.devices.http import Unreachable
from tackle.situations.visibility import Spread
from tests.owner import renewed
from tests.pages import text
from web.domain.crate.models import Tray
from web.domain.trips import services
from web.domain.trips.models import Trip
from web.domain.trips.selectors import get_evening, next_trip
from web.domain.waters.models import Water
from web.pages.trips.phone import kept_on_phone

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def told(wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    return {
        "water": water.pk, "date": date(2027, 5, 8).isoformat(), "first_hour": 6, "last_hour": 9, "rods": 3, "room": 8,
        "visibility": "", "stain": "", "categories": ["jerkbait", "worm"],
    }  # fmt: skip


@pytest.fixture
def two_days_before(client, wren):
    """Someone signed in two days before the trip: near enough for a forecast."""
    with time_machine.travel("2027-05-06 12:00", tick=True):
        client.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
        yield client


def forecast(monkeypatch, cloud=Light.OVERCAST, rain=0.0, wrong=None):
    def fetched(url, latitude, longitude, day, timeout_s, read):
        if wrong:
            raise wrong
        return [
            ForecastHour(hour, 0.9, 18.0, rain / 24, 50.0, 52.0, cloud, Wind.CHOP, None, None) for hour in range(24)
        ]

    monkeypatch.setattr("web.domain.waters.devices.fetch_forecast", fetched)


def test_rain_makes_it_murkier_by_a_stated_rule():
    month = Spread(24.0, 48.0, 90.0)
    assert clarity_after(month, None).likely_in == clarity_after(month, 0.2).likely_in == 48
    assert clarity_after(month, 1.0).likely_in == 36
    assert clarity_after(month, 3.0).likely_in == 24
    lows = [clarity_after(month, rain).low_in for rain in (0.0, 1.0, 3.0)]
    assert lows == sorted(lows, reverse=True)


def test_what_can_hurt_is_said_once(wren):
    from web.domain.waters.selectors import core_water

    month = core_water(Water.objects.get(owner=wren, name="Tarn Hollow")).months[5]
    skies = [Sky(hour, Light.NIGHT, Wind.CHOP, 22.0, 40.0, 48.0, 0.1) for hour in (21, 22)]
    gusty = [replace(sky, wind_mph=12.0, gust_mph=float(sky.hour), thunder=0.3) for sky in skies]
    assert [(one.what, one.at) for one in cautions(gusty, month, False)][:2] == [("thunder", 21), ("gusts", 22)]
    assert [one.what for one in cautions(skies, month, True)] == [
        "rain", "wind", "cold-water", "cold-air", "night", "wading", "hooks",
    ]  # fmt: skip


def test_a_trip_is_planned_with_its_forecast_and_its_tray(two_days_before, told, settings, monkeypatch):
    signed_in = two_days_before
    settings.FORECAST_URL = "http://127.0.0.1:1/"
    forecast(monkeypatch, rain=1.2)
    address = signed_in.post("/day/new/", told).url
    trip = Trip.objects.get(date="2027-05-08")
    assert (len(trip.skies), trip.rain_in) == (24, pytest.approx(2.4))
    page = text(signed_in.get(address))
    assert "Saturday on Tarn Hollow" in page
    assert "murky after much rain" in page
    assert "Wind to 18 mph" in page
    assert "life jacket" in page
    assert page.count('class="hour hour-overcast"') == 4
    page = text(signed_in.post(f"/day/{trip.pk}/light/", {"hour": 8, "light": "bright"}, headers=HTMX))
    assert page.count('class="hour hour-overcast"') == 3
    forecast(monkeypatch)
    page = text(signed_in.post(f"/day/{trip.pk}/forecast/", headers=HTMX))
    assert 'class="hour hour-bright"' in page  # the angler's own word stays
    assert "little rain" in page
    assert signed_in.get(f"/day/{trip.pk}.pdf").content.startswith(b"%PDF")


@pytest.mark.parametrize("wrong", [Unreachable("late")])
def test_without_a_forecast_the_page_works_and_says_so(two_days_before, told, settings, monkeypatch, wrong):
    signed_in = two_days_before
    settings.FORECAST_URL = "http://127.0.0.1:1/"
    forecast(monkeypatch, wrong=wrong)
    page = text(signed_in.post("/day/new/", told, follow=True))
    assert "no forecast: the usual sky" in page
    trip = Trip.objects.get(date="2027-05-08")
    assert "does not answer" in text(signed_in.post(f"/day/{trip.pk}/forecast/", headers=HTMX))


@pytest.mark.parametrize(("ahead", "said"), [(16, ""), (17, "No forecast reaches further than 16 days")])
def test_a_day_too_far_ahead_has_the_sky_of_its_month(signed_in, told, settings, monkeypatch, ahead, said):
    settings.FORECAST_URL = "http://127.0.0.1:1/"
    forecast(monkeypatch)
    day = timezone.localdate() + timedelta(days=ahead)
    page = text(signed_in.post("/day/new/", {**told, "date": day.isoformat()}, follow=True))
    assert ("no forecast: the usual sky" in page) == bool(said)
    trip = Trip.objects.get(date=day)
    page = text(signed_in.post(f"/day/{trip.pk}/forecast/", headers=HTMX))
    assert said in page
    assert ("mostly is in that month" in page) == bool(said)


def test_what_the_angler_says_of_the_water_stands(signed_in, told):
    page = text(signed_in.post("/day/new/", {**told, "visibility": "18 in", "stain": "silt"}, follow=True))
    assert "18 in</b>, as you say" in page
    trip = Trip.objects.get(date="2027-05-08")
    assert signed_in.post(f"/day/{trip.pk}/edit/", {**told, "room": 1}).status_code == 302
    trip.refresh_from_db()
    assert (trip.room, trip.visibility_in) == (1, None)
    other = Water.objects.exclude(pk=told["water"]).get(owner=trip.owner)
    signed_in.post(f"/day/{trip.pk}/edit/", {**told, "water": other.pk})
    trip.refresh_from_db()
    assert trip.water == other  # the same trip, elsewhere
    assert Trip.objects.filter(date=trip.date).count() == 1


def test_the_rods_told_carry_what_they_are_for_and_stay_for_the_next_trip(signed_in, wren, told):
    last = timezone.localdate() + timedelta(days=300)
    told = {**told, "date": last.isoformat()}
    page = signed_in.post("/day/new/", {**told, "own_rods": "stiff: soup"})
    assert "“soup” is no category" in text(page)
    address = signed_in.post("/day/new/", {**told, "own_rods": "stiff, 14 lb: worm\nsoft: worm", "rods": 2}).url
    trip = Trip.objects.get(date=last)
    assert {rod.category for rod in get_evening(wren, trip).rods} == {"worm"}
    assert "<small>stiff, 14 lb</small>" in text(signed_in.get(address))
    assert "stiff, 14 lb: worm" in text(signed_in.get("/day/new/"))


def test_who_fishes_along_gets_a_tray_of_what_is_left(signed_in, wren, told):
    address = signed_in.post("/day/new/", {**told, "partner": "on"}).url
    evening = get_evening(wren, Trip.objects.get(date="2027-05-08"))
    aboard = {(one.category, one.card): one.count for one in evening.aboard}
    for piece in (*evening.shown.pieces, *evening.partner.pieces):
        aboard[piece.category, piece.card] -= piece.count
    assert min(aboard.values()) >= 0
    assert evening.partner.answered_hours > 0
    assert "Your partner’s packing list" in text(signed_in.get(address))


def test_the_tray_goes_by_when_the_angler_throws_a_kind(signed_in, wren, told):
    signed_in.post("/day/new/", {**told, "categories": ["jerkbait"]})
    trip = Trip.objects.get(date="2027-05-08")
    assert get_evening(wren, trip).tray.expected_hours == 4
    settled = signed_in.post("/plan/settle/jerkbait/", {"what": "thrown", "value": "95 F"}, headers=HTMX)
    assert settled.status_code == 200
    wren.refresh_from_db()
    assert get_evening(wren, trip).tray.expected_hours == 0


@pytest.mark.parametrize(
    ("field", "value"),
    [("water", 999), ("last_hour", 3), ("categories", []), ("rods", 0), ("room", 99), ("visibility", "murky"),
     ("date", "1999-01-01"), ("date", "soon")],
)  # fmt: skip
def test_a_trip_that_makes_no_sense_is_refused_in_words(signed_in, told, field, value):
    response = signed_in.post("/day/new/", {**told, field: value})
    assert response.status_code == 422
    assert not Trip.objects.filter(room=8).exists()


def test_a_trip_changed_in_a_stale_tab_is_refused(signed_in, told):
    address = signed_in.post("/day/new/", told).url
    seen = unescape(re.search(r'name="seen" value="([^"]+)"', text(signed_in.get(f"{address}edit/")))[1])
    signed_in.post(f"{address}edit/", {**told, "seen": seen, "rods": 5, "turn_minutes": 6})
    stale = signed_in.post(f"{address}edit/", {**told, "seen": seen, "rods": 7})
    assert "changed elsewhere" in text(stale)
    kept = Trip.objects.get(room=8)
    assert (kept.rods, kept.turn_minutes) == (5, 6)


def test_a_trip_is_its_owners_alone(client, signed_in, django_user_model, wren, django_assert_max_num_queries):
    today, trip = Trip.objects.filter(owner=wren, date__gte=timezone.localdate())
    assert (today.date, trip.date) == (timezone.localdate(), timezone.localdate() + timedelta(days=1))
    assert signed_in.get("/day/").url == f"/day/{today.pk}/"
    today.delete()
    signed_in.get(f"/day/{trip.pk}/")
    with django_assert_max_num_queries(16):
        assert signed_in.get(f"/day/{trip.pk}/").status_code == 200
    assert signed_in.get("/day/").url == f"/day/{trip.pk}/"
    other = django_user_model.objects.create_user("other", password="x")
    client.force_login(other)
    for address in ("", "edit/"):
        assert client.get(f"/day/{trip.pk}/{address}").status_code == 404
    for address in ("forecast/", "light/", "delete/"):
        assert client.post(f"/day/{trip.pk}/{address}").status_code == 404
    assert client.get(f"/day/{trip.pk}.pdf").status_code == 404
    assert client.get("/day/", follow=True).redirect_chain[-1][0] == "/start/"
    client.force_login(wren)
    client.post(f"/day/{trip.pk}/delete/")
    assert client.get(f"/day/{trip.pk}/").status_code == 404
    client.post(f"/day/{trip.pk}/back/")
    assert client.get(f"/day/{trip.pk}/").status_code == 200


@pytest.fixture
def trip(wren):
    return Trip.objects.filter(owner=wren, date__gt=timezone.localdate()).get()


def test_the_tray_by_hand_says_what_it_costs_and_what_was_packed_follows(signed_in, wren, trip):
    signed_in.post(f"/day/{trip.pk}/packed/", headers=HTMX)
    tray = get_evening(wren, trip).tray
    out = next(piece for piece in tray.pieces if piece.hours)
    lure = f"{out.category} {out.card.id}"
    page = text(signed_in.post(f"/day/{trip.pk}/by-hand/", {"what": "out", "lure": lure}, headers=HTMX))
    assert "less" in page or "costs nothing" in page
    trip.refresh_from_db()
    assert lure not in {f"{category} {card}" for category, card, *_ in trip.packed["pieces"]}
    evening = get_evening(wren, trip)
    assert evening.by_hand[0].answered >= 0
    assert evening.tray.answered_hours <= tray.answered_hours
    signed_in.post(f"/day/{trip.pk}/by-hand/", {"what": "lock", "lure": lure}, headers=HTMX)
    trip.refresh_from_db()
    assert lure in {f"{category} {card}" for category, card, *_ in trip.packed["pieces"]}
    signed_in.post(f"/day/{trip.pk}/by-hand/", {"what": "free", "lure": lure}, headers=HTMX)
    trip.refresh_from_db()
    assert get_evening(wren, trip).by_hand == ()
    assert "is not a colour" in text(
        signed_in.post(f"/day/{trip.pk}/by-hand/", {"what": "lock", "lure": "worm moonlight"}, headers=HTMX)
    )


def test_a_trip_goes_past_midnight_is_put_off_and_begun_without_a_plan(signed_in, wren, trip):
    Trip.objects.filter(pk=trip.pk).update(first_hour=20, last_hour=27)
    page = " ".join(text(signed_in.get(f"/day/{trip.pk}/")).split())
    assert "8 pm to 4 am on" in page
    assert ">25<" not in page
    day = Trip.objects.get(pk=trip.pk).date
    signed_in.post(f"/day/{trip.pk}/postpone/")
    assert Trip.objects.get(pk=trip.pk).date == day + timedelta(days=1)
    Trip.objects.filter(pk=trip.pk).update(first_hour=6, last_hour=58)  # two nights between
    evening = get_evening(wren, Trip.objects.get(pk=trip.pk))
    assert {sky.light for sky in evening.skies} & {"night"} == set()
    assert max(sky.hour for sky in evening.skies) > 48
    Trip.objects.filter(owner=wren, date__lte=timezone.localdate()).delete()  # one that goes on would be opened
    before = Trip.objects.count()
    answer = signed_in.post("/day/here/", {"water": trip.water_id})
    assert Trip.objects.count() == before + 1
    new = Trip.objects.order_by("-pk").first()
    assert answer.url == f"/day/{new.pk}/water/"
    assert new.categories
    assert new.date in {timezone.localdate(), timezone.localdate() - timedelta(days=1)}


def test_the_calendar_reminds_the_evening_before_in_the_waters_own_zone(signed_in, wren, trip):
    Water.objects.filter(pk=trip.water_id).update(time_zone="America/Chicago")
    Trip.objects.filter(pk=trip.pk).update(date=date(2026, 3, 8), first_hour=1, last_hour=6)  # the clocks go on at two
    (event,) = Calendar.from_ical(signed_in.get(f"/day/{trip.pk}.ics").content).walk("VEVENT")
    assert event["dtstart"].dt.utcoffset() == timedelta(hours=-6)
    assert event["dtend"].dt.hour == 7
    (alarm,) = event.walk("VALARM")
    assert (event["dtstart"].dt + alarm["trigger"].dt).strftime("%d %H") == "07 19"


def test_the_tray_that_goes_says_how_much_room_there_is(signed_in, wren, told):
    tray = Tray.objects.filter(owner=wren).first()
    signed_in.post("/day/new/", {**told, "tray": tray.pk})
    assert Trip.objects.order_by("-pk").first().room == tray.room


CENTRAL = ZoneInfo("America/Chicago")


@pytest.fixture
def trips(wren):
    """Two trips of one day on one water, and one of two days that began the evening before on another."""
    water, other = wren.waters.all()[:2]
    for one in (water, other):
        one.time_zone = "America/Chicago"
        one.save()
    wren.trips.all().delete()
    plan = {"categories": ["worm"], "rods": 1}
    morning = wren.trips.create(water=water, date=date(2026, 7, 8), first_hour=6, last_hour=10, **plan)
    evening = wren.trips.create(water=other, date=date(2026, 7, 8), first_hour=18, last_hour=26, **plan)
    later = wren.trips.create(water=water, date=date(2026, 7, 20), first_hour=6, last_hour=10, **plan)
    return {"morning": morning, "evening": evening, "later": later}


@pytest.mark.parametrize(
    ("day", "hour", "name"),
    [(7, 23, "morning"), (8, 7, "morning"), (8, 11, "evening"), (8, 20, "evening"), (9, 1, "evening"), (9, 4, "later"),
     (20, 9, "later"), (25, 9, "later")],
)  # fmt: skip
def test_the_trip_that_goes_on_opens_first_by_the_clock_of_its_water(wren, trips, day, hour, name):
    now = datetime(2026, 7, day, hour, 30, tzinfo=CENTRAL)
    assert next_trip(wren, now) == trips[name]


def test_a_page_of_a_trip_tells_a_phone_which_and_when_it_is(signed_in, trips):
    for page in ("", "water/", "log/"):
        told = json.loads(signed_in.get(f"/day/{trips['evening'].pk}/{page}").headers["X-Wax-Trip"])
        assert told["name"].endswith(", Wed 8 Jul")
        assert (told["until"] - told["from"]) / 3_600_000 == 9


@pytest.mark.parametrize(
    ("clock", "before", "forward", "minute"),
    [
        (19 * 60, 18.5 * 60, False, 19 * 60),
        (1 * 60, 18.5 * 60, False, 25 * 60),  # only the night after has it
        (23.5 * 60, 24.5 * 60, False, 23.5 * 60),
        (1.5 * 60, 25 * 60, False, 25.5 * 60),
        (12 * 60, 19 * 60, False, 12 * 60),  # on neither: the day stays
        (1 * 60, None, True, 25 * 60),
        (2 * 60, 25 * 60, True, 26 * 60),
    ],
)
def test_a_clock_s_time_is_put_into_the_trip(trips, clock, before, forward, minute):
    assert trips["evening"].minute_at(clock, before, forward) == minute


def test_a_turn_of_the_second_day_keeps_its_day(signed_in, wren, trips):
    trip = trips["morning"]
    Trip.objects.filter(pk=trip.pk).update(last_hour=34, date=date(2026, 5, 8))
    data = {"category": "worm", "card": "black-plain", "start": 31 * 60, "minutes": 8}
    services.say(wren, trip.pk, "turn", data, "of-the-second-day")
    told = {"turn": "of-the-second-day", "category": "worm", "card": "black-plain", "start": "8:15", "minutes": "9"}
    signed_in.post(f"/day/{trip.pk}/log/turn/", told)
    assert trip.turns.get().at == (24 + 8) * 60 + 15


def test_what_is_lost_is_along_no_more_whether_counted_or_not(signed_in, wren):
    trip = wren.trips.first()
    data, _ = kept_on_phone(wren, trip)
    where = next(one for one, count in data["stock"].items() if count == 1)
    category, card = where.split(" ")
    services.say(wren, trip.pk, "turn", {"category": category, "card": card, "start": 400, "gone_lost": 1}, "lost-it")
    for _ in range(2):
        renewed(wren)
        trip.refresh_from_db()
        told, _ = kept_on_phone(wren, trip)
        assert told["stock"][where] == 1  # the phone takes off what its taps say
        services.settle_gone(wren, trip.pk)
