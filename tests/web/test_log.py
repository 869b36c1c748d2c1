"""The log: taps taken in, the evening after, files out and in."""

import base64
import json
import re
from datetime import date, timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from icalendar import Calendar

from tests.pages import text
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import Lure
from web.domain.history.models import Change
from web.domain.trips.evidence import logged
from web.domain.trips.models import Tap, Trip, Turn
from web.domain.trips.services import plan_trip, say_light
from web.domain.waters.models import Reading, Water, WaterMonth
from web.pages.trips import views

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}
BEGIN = {"category": "jerkbait", "card": "bone"}


@pytest.fixture
def trip(wren):
    Trip.objects.filter(owner=wren).delete()
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    return plan_trip(wren, water.pk, date=date(2026, 5, 2), categories=["jerkbait", "worm"])


def told(*taps, device="a"):
    return [
        {"id": f"{device}-{place}", "device": device, "place": place, "angler": 0, "kind": kind, "at": at, "data": data}
        for place, (at, kind, data) in enumerate(taps)
    ]


def send(client, trip, taps, **more):
    return client.post(f"/day/{trip.pk}/taps/", json.dumps({"taps": taps, **more}), content_type="application/json")


DAY = told(
    (400, "water", {"visibility_in": 30, "stain": "silt", "light": "low", "spot": "dam"}), (401, "begin", BEGIN),
    (404, "bite", {"how": "whole", "size_in": 14}), (406, "gone", {"what": "lost"}), (409, "nothing", {}),
    (410, "begin", {**BEGIN, "card": "shad-matte"}), (413, "bite", {"how": "missed"}), (418, "stop", {}),
)  # fmt: skip


def test_taps_are_taken_once_and_a_bad_one_holds_up_no_other(signed_in, wren, trip, monkeypatch):
    readings = Reading.objects.filter(water=trip.water).count()
    bad = {**DAY[0], "id": "bad", "kind": "shout"}
    answer = send(signed_in, trip, [bad, *DAY]).json()
    assert answer["taken"] == [tap["id"] for tap in DAY]
    assert "'shout' is not allowed" in answer["refused"]["bad"]
    for _ in range(2):
        assert send(signed_in, trip, DAY).json()["taken"] == [tap["id"] for tap in DAY]
    assert Tap.objects.filter(trip=trip).count() == len(DAY)
    assert [(turn.card, turn.minutes, turn.whole, turn.missed) for turn in Turn.objects.filter(trip=trip)] == [
        ("bone", 8, 1, 0), ("shad-matte", 8, 0, 1),
    ]  # fmt: skip
    assert Reading.objects.filter(water=trip.water).count() == readings + 1
    for wrong in (b"", b"[]", b'{"taps": 3}', b"{" * 90_000):
        assert signed_in.post(f"/day/{trip.pk}/taps/", wrong, content_type="application/json").status_code in (
            413,
            415,
            422,
        )
    monkeypatch.setattr("web.domain.waters.services.MOST_READINGS", 0)
    full = told((420, "water", {"visibility_in": 20}), device="c")
    assert send(signed_in, trip, full).json()["taken"] == ["c-0"]  # a water full of readings keeps no tap out
    unknown = send(signed_in, trip, told((1, "begin", {"category": "worm", "card": "mauve"}), device="b")).json()
    assert unknown["taken"] == []


def test_a_trip_goes_into_a_calendar_with_its_sheet(signed_in, trip):
    (event,) = Calendar.from_ical(signed_in.get(f"/day/{trip.pk}.ics").content).walk("VEVENT")
    assert (event.decoded("dtstart").hour, event.decoded("dtend").hour) == (6, 15)
    assert f"/day/{trip.pk}/" in event["description"]
    assert base64.b64decode(event["attach"].to_ical()).startswith(b"%PDF")


def test_a_trip_is_its_owners(signed_in, trip, client, stranger):
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert send(client, trip, DAY).status_code == 404
    for path in ("water", "log"):
        assert client.get(f"/day/{trip.pk}/{path}/").status_code == 404
    assert "bone" not in text(client.get("/day/log.json"))


def test_the_phone_gets_all_it_needs_in_bounded_queries(signed_in, trip):
    signed_in.get(f"/day/{trip.pk}/water/")
    with CaptureQueriesContext(
        connection,
    ) as asked:
        page = signed_in.get(f"/day/{trip.pk}/water/")
    data = json.loads(text(page).split('id="trip-data" type="application/json">')[1].split("</script>")[0])
    assert {*data["categories"]} <= {*data["book"]["kinds"]}
    assert all(calls for kind in data["book"]["kinds"].values() for calls in kind["calls"][:1])
    assert len(page.content) < 400_000
    assert len(asked) < 32


def test_a_turn_is_stored_with_its_minutes_by_light_and_each_bite_in_its_own(signed_in, wren, trip):
    for hour, light in ((6, "low"), (7, "overcast")):
        say_light(wren, trip.pk, hour, light)
    taps = told((410, "begin", BEGIN), (413, "bite", {"how": "whole"}), (424, "bite", {"how": "follow"}),
                (430, "water", {"visibility_in": 16}), (433, "stop", {}))  # fmt: skip
    assert send(signed_in, trip, taps).json()["refused"] == {}
    turn = Turn.objects.get(trip=trip)
    assert (turn.minutes, turn.whole, turn.follow, turn.light, turn.visibility_in) == (23, 1, 1, "low", None)
    seen = [
        (part["at"], part["water"]["light"], part["water"].get("visibility_in"), part["bites"]) for part in turn.parts
    ]
    assert seen == [
        (410, "low", None, {"whole": 1}), (418, "low", None, {}), (420, "overcast", None, {"follow": 1}),
        (428, "overcast", None, {}), (430, "overcast", 16, {}),
    ]  # fmt: skip
    turns = logged(wren, "jerkbait", get_palette(wren)).turns
    mine = [turn for turn in turns if turn.day == trip.date.isoformat()]
    assert [(turn.minutes, turn.bites, turn.situation is None) for turn in mine] == [
        (8, 1.0, True), (2, 0.0, True), (8, 0.1, True), (2, 0.0, True), (3, 0.0, False),
    ]  # fmt: skip


def test_what_is_measured_is_known_on_the_trips_page_and_what_it_changes_in_the_tray(signed_in, wren):
    trip = Trip.objects.filter(owner=wren, date__gte=timezone.localdate()).first()
    signed_in.post(f"/day/{trip.pk}/packed/", headers=HTMX)
    packed = Trip.objects.get(pk=trip.pk).packed
    assert signed_in.get(f"/day/{trip.pk}/repack/").json()["changes"] == []
    send(signed_in, trip, told((1400, "water", {"visibility_in": 9.0})))
    page = " ".join(text(signed_in.get(f"/day/{trip.pk}/")).split())
    measured = re.findall(r"([\d.]+ \w+)</b>, measured on the water at ([\d:]+ pm) · packed for", page)
    assert measured == [("9 in", "11:20 pm")]
    assert "Repack for 9" in page
    told_ways = {one["way"] for one in signed_in.get(f"/day/{trip.pk}/repack/").json()["changes"]}
    assert "in" in told_ways
    assert Trip.objects.get(pk=trip.pk).packed == packed
    signed_in.post(f"/day/{trip.pk}/repack/")
    assert Trip.objects.get(pk=trip.pk).packed["visibility_in"] == 9.0
    assert signed_in.get(f"/day/{trip.pk}/repack/").json()["changes"] == []
    send(signed_in, trip, told((1401, "drop", {"of": "a-0"}), device="b"))
    assert "measured on the water at 11:20 pm" not in " ".join(text(signed_in.get(f"/day/{trip.pk}/")).split())


def test_another_phone_hears_what_came_since(signed_in, trip):
    send(signed_in, trip, DAY[:3])
    first = signed_in.get(f"/day/{trip.pk}/taps/?after=0").json()
    assert [tap["id"] for tap in first["taps"]] == [tap["id"] for tap in DAY[:3]]
    send(signed_in, trip, DAY[3:])
    later = signed_in.get(f"/day/{trip.pk}/taps/?after={first['last']}").json()
    assert [tap["id"] for tap in later["taps"]] == [tap["id"] for tap in DAY[3:]]
    assert signed_in.get(f"/day/{trip.pk}/taps/?after={later['last']}").json() == {"taps": [], "last": later["last"]}


def test_i_am_here_now_is_one_trip_under_the_forecast_of_where_the_phone_is(signed_in, wren, trip, monkeypatch):
    asked = []
    monkeypatch.setattr(views, "forecasts", lambda water, days, position: asked.append(position) or [[]] * len(days))
    told_here = {"water": trip.water_id, "latitude": "44.5", "longitude": "-93.25"}
    first = signed_in.post("/day/here/", told_here)
    assert signed_in.post("/day/here/", told_here).url == first.url
    assert Trip.objects.filter(owner=wren).count() == 2
    assert asked[0] == (44.5, -93.25)
    signed_in.post("/day/here/", {**told_here, "latitude": "95"})
    assert asked[-1] is None


def test_what_was_packed_stays_the_promise_whatever_is_told_since(signed_in, wren, trip):
    before = text(signed_in.post(f"/day/{trip.pk}/packed/", headers=HTMX))
    assert "packed" in before
    kept = Trip.objects.get(pk=trip.pk).packed
    changed = Trip.objects.get(pk=trip.pk)
    changed.visibility_in = 6.0
    changed.save()
    after = text(signed_in.get(f"/day/{trip.pk}/"))
    assert Trip.objects.get(pk=trip.pk).packed == kept
    assert "Known now" in after
    page = text(signed_in.get(f"/day/{trip.pk}/water/"))
    told = json.loads(page.split('id="trip-data" type="application/json">')[1].split("</script>")[0])
    packed = {(category, card) for category, card, *_ in kept["pieces"]}
    assert {(category, card) for category, cards in told["tray"].items() for card in cards} == packed
    assert told["now"]["visibility_in"] == 6.0
    for category, card, _, hours, right, fallback in kept["pieces"]:
        assert hours or right or fallback, (category, card)
    anew = text(signed_in.post(f"/day/{trip.pk}/packed/", headers=HTMX))
    assert "Known now" not in anew


def test_the_evening_after_can_be_put_right_and_typed_from_paper(signed_in, trip):
    send(signed_in, trip, DAY)
    page = text(signed_in.get(f"/day/{trip.pk}/log/"))
    assert "1 fish, 1 nearly in 2 turns" in page
    lines = "7:10 8min worm black 2 whole 1 lost\njerkbait bone whole\nworm moonlight\n"
    page = text(signed_in.post(f"/day/{trip.pk}/log/lines/", {"lines": lines}, headers=HTMX))
    assert "names no colour for certain" in page
    assert ">worm moonlight</textarea>" in page  # what could not be read stays
    assert "1 turn has no minutes" in page
    typed = Turn.objects.get(trip=trip, category="worm")
    assert (typed.at, typed.minutes, typed.whole, typed.lost) == (430, 8, 2, 1)
    right = {
        "turn": typed.key,
        "category": "worm",
        "card": "red bug",
        "start": "7:20",
        "minutes": "12",
        "whole": "3",
        "lost": "0",
    }
    signed_in.post(f"/day/{trip.pk}/log/turn/", right, headers=HTMX)
    typed = Turn.objects.get(trip=trip, category="worm")
    assert (typed.card, typed.at, typed.minutes, typed.whole, typed.lost) == ("red-bug", 440, 12, 3, 0)
    for wrong in ({"minutes": "many"}, {"start": "noon"}, {"card": "moonlight"}):
        assert signed_in.post(f"/day/{trip.pk}/log/turn/", {**right, **wrong}, headers=HTMX).status_code == 422
    signed_in.post(f"/day/{trip.pk}/log/turn/", {"turn": typed.key, "drop": "1"}, headers=HTMX)
    assert not Turn.objects.filter(trip=trip, category="worm").exists()


def test_nothing_is_logged_of_a_trip_that_is_still_to_come(signed_in, wren, trip):
    later = plan_trip(wren, trip.water_id, date=timezone.localdate() + timedelta(days=3), categories=["worm"])
    page = text(signed_in.post(f"/day/{later.pk}/log/lines/", {"lines": "7:10 8min worm black 2 whole"}, headers=HTMX))
    assert "still to come" in page
    assert ">7:10 8min worm black 2 whole</textarea>" in page
    assert not later.turns.exists()


def test_what_was_lost_leaves_the_counts_at_once_and_comes_back_with_undo(signed_in, wren, trip):
    held = Lure.objects.filter(tray__owner=wren, category="jerkbait", card="bone")
    before = sum(held.values_list("count", flat=True))

    def there():
        return sum(held.values_list("count", flat=True))

    send(signed_in, trip, DAY)
    assert there() == before - 1
    assert "1 lure is out of the counts" in text(signed_in.get(f"/day/{trip.pk}/log/"))
    send(signed_in, trip, DAY)
    signed_in.post(f"/day/{trip.pk}/log/counts/")
    assert there() == before - 1
    lost = Turn.objects.get(trip=trip, gone_lost=1)
    told = {"turn": lost.key, "category": lost.category, "card": "bone", "minutes": "8"}
    signed_in.post(f"/day/{trip.pk}/log/turn/", {**told, "gone_lost": "0"}, headers=HTMX)
    assert there() == before  # it was found again
    signed_in.post(f"/day/{trip.pk}/log/turn/", {**told, "gone_lost": "2"}, headers=HTMX)
    assert there() == before - 2
    signed_in.post(f"/crate/undo/{Change.objects.filter(area='crate').first().pk}/", headers=HTMX)
    signed_in.post(f"/day/{trip.pk}/log/lines/", {"lines": "worm black"}, headers=HTMX)
    assert there() == before  # what the history undid waits for a press
    assert "Remove 2 lures" in text(signed_in.get(f"/day/{trip.pk}/log/"))
    signed_in.post(f"/day/{trip.pk}/log/counts/")
    assert there() == before - 2


@pytest.mark.parametrize("kind", ["csv", "json"])
def test_a_log_goes_out_and_comes_in_unchanged(signed_in, wren, trip, kind):
    send(signed_in, trip, DAY)
    signed_in.post(f"/day/{trip.pk}/log/lines/", {"lines": "7:10 8min worm black 2 whole 1 lost\njerkbait bone"})
    out = signed_in.get(f"/day/log.{kind}").content
    turns = Turn.objects.filter(trip__owner=wren).count()
    file = {"file": SimpleUploadedFile(f"log.{kind}", out)}
    assert "was here already" in text(signed_in.post("/day/log/in/", file, follow=True))
    assert Turn.objects.filter(trip__owner=wren).count() == turns
    Trip.objects.all().delete()
    signed_in.post("/day/log/in/", {"file": SimpleUploadedFile(f"log.{kind}", out)})
    assert sorted(signed_in.get(f"/day/log.{kind}").content.splitlines()) == sorted(out.splitlines())


def came_in(client, kind, out):
    return text(client.post("/day/log/in/", {"file": SimpleUploadedFile(f"log.{kind}", out)}, follow=True))


@pytest.mark.parametrize("kind", ["csv", "json"])
def test_a_log_comes_back_equal_with_two_trips_a_day_nights_and_what_was_taken_away(
    signed_in, wren, trip, kind, django_user_model
):
    later = plan_trip(wren, trip.water_id, date=trip.date, first_hour=20, last_hour=26, categories=["worm"])
    send(signed_in, trip, DAY)
    night = ((1460.03, "begin", {"category": "worm", "card": "red-bug"}), (1467, "nothing", {}))
    send(signed_in, later, told(*night, device="b"))
    out = signed_in.get(f"/day/log.{kind}").content
    assert "was here already" in came_in(signed_in, kind, out)
    signed_in.post(f"/day/{later.pk}/delete/")
    assert signed_in.get(f"/day/log.{kind}").content != out
    came_in(signed_in, kind, out)
    assert sorted(signed_in.get(f"/day/log.{kind}").content.splitlines()) == sorted(out.splitlines())
    assert Trip.objects.filter(owner=wren).count() == 2
    other = django_user_model.objects.create_user("other", password="x")
    there = Water.objects.get(pk=trip.water_id)
    there.pk, there.owner = None, other
    there.save()
    for month in WaterMonth.objects.filter(water=trip.water_id):
        month.pk, month.water = None, there
        month.save()
    signed_in.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
    came_in(signed_in, kind, out)
    assert sorted(signed_in.get(f"/day/log.{kind}").content.splitlines()) == sorted(out.splitlines())


def test_a_table_of_turns_in_an_anglers_own_words_comes_in(signed_in, wren, trip):
    rows = "date;water;category;colour;start;minutes\n" + 2 * "2026-05-02;Tarn Hollow;worm;red bug;9:10;8\n"
    came_in(signed_in, "csv", rows.encode())
    turns = Turn.objects.filter(trip=trip)
    assert [(turn.card, turn.at, turn.minutes) for turn in turns] == 2 * [("red-bug", 550, 8)]  # two equal rows are two
    came_in(signed_in, "csv", rows.encode())
    assert turns.count() == 2


def test_taps_of_another_date_are_taken_and_asked_about(signed_in, wren, trip):
    other = plan_trip(wren, trip.water_id, date=date(2026, 5, 4), categories=["worm"])
    late = told((2 * 1440 + 500, "begin", BEGIN), (2 * 1440 + 508, "nothing", {}))
    answer = send(signed_in, trip, late).json()
    assert (len(answer["taken"]), answer["refused"]) == (2, {})
    page = text(signed_in.get(f"/day/{trip.pk}/log/"))
    assert "Monday 4 May 2026" in page
    signed_in.post(f"/day/{trip.pk}/log/move/", {"device": "a", "to": other.pk})
    assert [(turn.trip_id, turn.at) for turn in Turn.objects.all()] == [(other.pk, 500)]
    assert send(signed_in, other, late).json()["refused"] == {}
    assert Turn.objects.count() == 1


def test_undo_takes_back_all_that_a_tap_wrote_and_can_be_undone(signed_in, wren, trip):
    before = Reading.objects.filter(water=trip.water).count()
    measured, *_ = told((400, "water", {"visibility_in": 19}))
    send(signed_in, trip, [measured])
    assert Reading.objects.filter(water=trip.water).count() == before + 1
    undo = {"id": "u", "device": "a", "place": 7, "angler": 0, "kind": "drop", "at": 401, "data": {"of": "a-0"}}
    send(signed_in, trip, [undo])
    assert Reading.objects.filter(water=trip.water).count() == before
    send(signed_in, trip, [{**undo, "id": "v", "place": 8, "data": {"of": "u"}}])
    assert Reading.objects.filter(water=trip.water).count() == before + 1


def test_a_turn_taken_out_is_brought_back(signed_in, trip):
    send(signed_in, trip, DAY)
    key = Turn.objects.get(trip=trip, card="bone").key
    signed_in.post(f"/day/{trip.pk}/log/turn/", {"turn": key, "drop": "1"}, headers=HTMX)
    assert not Turn.objects.filter(trip=trip, card="bone").exists()
    drop = Tap.objects.get(trip=trip, kind="drop")
    signed_in.post(f"/day/{trip.pk}/log/turn/", {"turn": drop.key, "drop": "1"}, headers=HTMX)
    assert Turn.objects.filter(trip=trip, card="bone").exists()


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("a.csv", b"x\n1\n", "lacks a column"), ("a.json", b"[]", "an object with trips"),
        ("a.csv", b"\xff\xfe", "not text in UTF-8"),
        ("a.csv", b"date,water,category,colour\n2026-05-02,Nowhere,worm,bone\n", "not one of your waters"),
        ("a.csv", b"date,water,category,colour\n2099-05-02,Tarn Hollow,worm,red-bug\n", "still to come"),
        ("a.csv", b"date,water,category,colour\nsoon,Tarn Hollow,worm,red-bug\n", "is not a day"),
        ("a.csv", b"date,water,category,colour,minutes\n2026-05-02,Tarn Hollow,worm,red-bug,ages\n", "is no number"),
        ("a.csv", b"date,water,category,colour\n2026-05-02,Tarn Hollow,worm,mauve\n", "2026-05-02, Tarn Hollow"),
        ("a.json", b'{"trips": [{"date": "2026-06-02", "water": "Tarn Hollow", "rods": "x", "taps": []}]}', "rods"),
        ("a.json", b'{"trips": [{"date": "2026-05-02", "water": "Tarn Hollow", "taps": [{"id": []}]}]}', "Tarn Hollow"),
    ],
)  # fmt: skip
def test_a_log_that_cannot_be_used_says_why_and_leaves_nothing(signed_in, trip, name, content, said):
    page = text(signed_in.post("/day/log/in/", {"file": SimpleUploadedFile(name, content)}, follow=True))
    assert said in page
    assert not Turn.objects.exists()


def test_what_is_told_to_be_eaten_is_kept_with_the_water_and_taken_back(signed_in, trip):
    taps = told(
        (400, "water", {"food": "leech"}), (420, "water", {"food": "leech"}), (430, "water", {"food": "unknown"})
    )
    send(signed_in, trip, taps)
    seen = trip.water.sightings.get(food="leech")
    assert (seen.food, seen.date) == ("leech", trip.date)
    drops = [{**tap, "id": f"drop-{tap['id']}", "place": 9, "kind": "drop", "data": {"of": tap["id"]}} for tap in taps]
    send(signed_in, trip, drops)
    assert not trip.water.sightings.filter(food="leech").exists()
