import json
import math
import re
import threading
from datetime import date
from html import unescape

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.units import write_exact
from tackle.base.vocabulary import Forage
from tests.pages import text
from web.common.accounts.models import User
from web.demo.services import ForecastService, MeterService
from web.domain.plans.owned import get_basis
from web.domain.plans.snapshot import differences, snapshot
from web.domain.waters import devices, services
from web.domain.waters.measured import read_line
from web.domain.waters.models import Reading, Water
from web.domain.waters.selectors import core_water, get_known_year
from web.pages.waters.known_year import weekly_gain

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def tarn(wren):
    return Water.objects.get(name="Tarn Hollow")


def set_month(client, water, number, field, value):
    return client.post(f"/waters/{water.pk}/month/{number}/", {"field": field, "value": value}, headers=HTMX)


def take_in(client, address, content, name="file.csv", **more):
    entry = {"file": SimpleUploadedFile(name, content), **more}
    return text(client.post(address, entry, follow=True))


def test_the_sentence_counts_the_days(signed_in, tarn):
    page = text(signed_in.get(f"/waters/{tarn.pk}/"))
    assert "62 days</span> a year" in page
    assert "of them in clear water when it is sunny or partly cloudy" in " ".join(page.split())


@pytest.mark.parametrize(
    ("field", "value", "column", "kept"),
    [
        ("usual", "20 in", "usual_in", 20),
        ("usual", "1 m", "usual_in", 39.370079),
        ("days", "3,5", "days", 3.5),
        ("temp", "12 C", "temp_f", 53.6),
        ("stain", "tannic", "stain", "tannic"),
        ("hours", "dusk dawn", "hours", ["dawn", "dusk"]),
        ("food:perch", "main", "food", {"crawfish": "main", "shad": "main", "perch": "main"}),
        ("sky", "2 1 1, 1 1 0", "sky", [2, 1, 1, 1, 1, 0]),
    ],
)
def test_a_month_is_changed_in_place_and_undone(signed_in, tarn, field, value, column, kept):
    before = getattr(tarn.year.get(month=4), column)
    page = text(set_month(signed_in, tarn, 4, field, value))
    assert getattr(tarn.year.get(month=4), column) == kept
    undo = page.split("/waters/undo/")[1].split("/")[0]
    assert "Undone: April" in text(signed_in.post(f"/waters/undo/{undo}/", headers=HTMX))
    assert getattr(tarn.year.get(month=4), column) == before


def test_an_edge_that_overtakes_takes_the_others_along(signed_in, tarn):
    set_month(signed_in, tarn, 4, "low", "60 in")
    month = tarn.year.get(month=4)
    assert (month.low_in, month.usual_in, month.high_in) == (60, 60, 60)


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("usual", "deep", "is not a length"),
        ("usual", "0.1 in", "Visibility goes from 1"),
        ("days", "40", "Days a month go from 0 to 31"),
        ("days", "many", "is not a number"),
        ("temp", "200", "Water goes from 28 to 110 F"),
        ("sky", "1 2 3", "3 numbers"),
        ("mood", "good", "cannot be set"),
    ],
)
def test_a_wrong_value_is_refused_with_what_is_allowed(signed_in, tarn, field, value, said):
    response = set_month(signed_in, tarn, 4, field, value)
    assert response.status_code == 422
    assert said in text(response)


def test_a_new_water_starts_from_its_kind_as_a_guess(signed_in, wren):
    entry = {
        "name": "Otter Slack", "kind": "river", "salinity": "fresh", "rough": "warm-inland-south", "latitude": "",
        "longitude": "", "dryness": "0.5", "norm": "40 cm", "depth": "", "bottom_rock": "7", "bottom_mud": "3",
    }  # fmt: skip
    signed_in.post("/waters/new/", entry)
    made = Water.objects.get(name="Otter Slack")
    assert made.norm_in == pytest.approx(40 / 2.54, abs=0.01)
    assert made.bottom == {"rock": 7, "mud": 3}
    assert "rock and mud" in text(signed_in.get(f"/waters/{made.pk}/"))
    assert made.year.filter(guess=True).count() == 12
    assert made.year.get(month=1).temp_f > made.year.get(month=7).temp_f
    rules = {"rules_told": "1", "forbids_lead": "on", "closed_months": ["3", "4"], "forbids_categories": ["worm"]}
    shown = re.search(r'name="shown" value="([^"]+)"', text(signed_in.get(f"/waters/{made.pk}/edit/")))[1]
    signed_in.post(f"/waters/{made.pk}/edit/", {**entry, **rules, "shown": unescape(shown)})
    made.refresh_from_db()
    assert (made.forbids_lead, made.closed_months, made.forbids_categories) == (True, [3, 4], ["worm"])
    shown = re.search(r'name="shown" value="([^"]+)"', text(signed_in.get(f"/waters/{made.pk}/edit/")))[1]
    signed_in.post(f"/waters/{made.pk}/edit/", {**entry, "target": "bass", "shown": unescape(shown)})
    made.refresh_from_db()
    assert (made.target, made.forbids_lead) == ("bass", True)  # a form that tells no rules leaves them
    wrong = signed_in.post("/waters/new/", {**entry, "norm": "deep"}, headers=HTMX)
    assert "You have a water of that name already" in text(wrong)
    assert "&#x27;deep&#x27; is not a length" in text(wrong)
    signed_in.post(f"/waters/{made.pk}/delete/")
    assert not Water.objects.filter(pk=made.pk).exists()


@pytest.mark.parametrize("month", [0, 13, 99])
def test_there_is_no_thirteenth_month(signed_in, tarn, month):
    before = list(tarn.year.values())
    answer = set_month(signed_in, tarn, month, "days", "3")
    assert (answer.status_code, "There is no such month" in text(answer)) == (422, True)
    assert signed_in.get(f"/waters/{tarn.pk}/month/{month}/form/", headers=HTMX).status_code == 404
    assert list(tarn.year.values()) == before


@pytest.mark.parametrize(
    ("units", "typed", "feet", "shown"),
    [
        ("imperial", "12", 12, "12 ft"), ("metric", "3", 9.843, "3 m"), ("imperial", "18 in", 1.5, "1.5 ft"),
        ("metric", "12 ft", 12, "3.658 m"),
    ],
)  # fmt: skip
def test_how_deep_lures_run_is_in_feet_or_metres(signed_in, wren, tarn, units, typed, feet, shown):
    wren.units = units
    wren.save()
    entry = {"name": "Deep Hole", "kind": "river", "rough": "warm-inland-south", "dryness": "0.5", "depth": typed}
    signed_in.post("/waters/new/", entry)
    made = Water.objects.get(name="Deep Hole")
    assert made.depth_ft == pytest.approx(feet, abs=0.001)
    assert f'value="{shown}"' in text(signed_in.get(f"/waters/{made.pk}/edit/"))


@pytest.mark.parametrize(("kind", "salinity"), [("river", "fresh"), ("bay-flats", "salt")])
def test_a_new_water_is_as_salt_as_its_kind_where_nothing_else_is_said(signed_in, wren, kind, salinity):
    entry = {"name": "Otter Slack", "kind": kind, "rough": "warm-inland-south", "dryness": "0.5", "salinity": ""}
    assert signed_in.post("/waters/new/", entry).status_code == 302
    assert Water.objects.get(name="Otter Slack").salinity == salinity
    signed_in.post("/waters/new/", {**entry, "name": "Otter Mouth", "salinity": "brackish"})
    assert Water.objects.get(name="Otter Mouth").salinity == "brackish"


@pytest.mark.parametrize(
    ("line", "inches", "stain", "spot", "note"),
    [
        ("30 in silt dam, after rain", 30, "silt", "dam", "after rain"),
        ("75 cm", 29.53, "", "", ""),
        ("2 ft 6 in Tannic upper end", 30, "tannic", "upper end", ""),
        ("18, low water", 18, "", "", "low water"),
    ],
)
def test_a_reading_is_one_line(line, inches, stain, spot, note):
    reading = read_line(line, "imperial", date(2026, 5, 4))
    assert reading.visibility_in == pytest.approx(inches, abs=0.01)
    assert (reading.stain, reading.spot, reading.note) == (stain, spot, note)


def test_readings_pull_the_days_and_can_be_undone(signed_in, tarn):
    before = text(signed_in.get(f"/waters/{tarn.pk}/"))
    for _ in range(5):
        page = text(signed_in.post(f"/waters/{tarn.pk}/note/", {"line": "6 in silt 2026-05-04"}, headers=HTMX))
    assert board(page) != board(before)
    assert signed_in.post(f"/waters/{tarn.pk}/note/", {"line": "murky"}, headers=HTMX).status_code == 422
    reading = tarn.readings.first()
    signed_in.post(f"/waters/{tarn.pk}/reading/{reading.pk}/delete/", headers=HTMX)
    assert not Reading.objects.filter(pk=reading.pk).exists()
    undone(signed_in, tarn)
    assert tarn.readings.filter(date=reading.date, visibility_in=reading.visibility_in).exists()


def undone(client, tarn):
    return text(client.post(f"/waters/undo/{tarn.history.filter(undone=False).first().pk}/", headers=HTMX))


def test_what_a_water_is_and_what_it_forbids_can_be_taken_back(signed_in, wren, tarn):
    entry = {
        "name": "Renamed", "kind": tarn.kind, "salinity": tarn.salinity, "latitude": "10", "longitude": "0",
        "dryness": "0.5",
    }  # fmt: skip
    page = text(signed_in.post(f"/waters/{tarn.pk}/edit/", entry, follow=True))
    assert "The water is changed. <button" in page
    signed_in.post(f"/waters/{tarn.pk}/rules/", {"forbids_trebles": "on", "rules_checked": "2026-05-01"})
    signed_in.post(f"/waters/{tarn.pk}/rules/", {"rules_checked": ""})
    undone(signed_in, tarn)
    now = Water.objects.get(pk=tarn.pk)
    assert (now.forbids_trebles, str(now.rules_checked)) == (True, "2026-05-01")
    undone(signed_in, tarn)
    Water.objects.create(owner=wren, name=tarn.name, kind=tarn.kind, salinity=tarn.salinity)
    assert "That cannot be taken back" in undone(signed_in, tarn)
    assert Water.objects.get(pk=tarn.pk).name == "Renamed"
    Water.objects.filter(name=tarn.name).delete()
    undone(signed_in, tarn)
    now = Water.objects.get(pk=tarn.pk)
    assert (now.name, now.latitude, now.forbids_trebles) == (tarn.name, tarn.latitude, False)


def test_only_ones_own_open_change_is_offered_for_undo(signed_in, tarn, stranger):
    change = services.edit_water(tarn.owner, tarn.pk, "The water is changed.", target="pike")
    address = f"/waters/{tarn.pk}/?changed={change.pk}"
    assert "The water is changed. <button" in text(signed_in.get(address))
    undone(signed_in, tarn)
    assert "The water is changed. <button" not in text(signed_in.get(address))
    theirs = Water.objects.create(owner=stranger, name="Elsewhere", kind=tarn.kind, salinity=tarn.salinity)
    foreign = services.edit_water(stranger, theirs.pk, "The water is changed.", target="pike")
    assert "<button" not in text(signed_in.get(f"/waters/{tarn.pk}/?changed={foreign.pk}")).split('id="notice"')[1]
    assert signed_in.get(f"/waters/{tarn.pk}/?changed=none").status_code == 200


def board(page):
    return page.split('class="days-board"')[1].split("</form>")[0]


def test_readings_come_and_go_as_csv(signed_in, tarn):
    count = tarn.readings.count()
    exported = signed_in.get(f"/waters/{tarn.pk}/export.csv").content
    assert f"{count} readings from " in take_in(signed_in, f"/waters/{tarn.pk}/take-in/", exported)
    assert tarn.readings.count() == 2 * count
    pairs = tarn.readings.values_list("date", "visibility_in", "stain", "spot", "note")
    assert len(set(pairs)) == count


@pytest.mark.parametrize(("units", "unit", "said"), [("imperial", "in", "30.7"), ("metric", "cm", "77.978")])
def test_readings_go_out_in_the_readers_units_and_come_in_equal(signed_in, wren, tarn, units, unit, said):
    wren.units = units
    wren.save()
    tarn.readings.all().delete()
    Reading.objects.create(water=tarn, date="2026-05-04", visibility_in=30.7, bound="at least", spot="dam")
    Reading.objects.create(water=tarn, date="2026-05-05", visibility_in=29.527559)  # 75 cm
    before = set(tarn.readings.values_list("date", "visibility_in", "bound", "spot"))
    exported = signed_in.get(f"/waters/{tarn.pk}/export.csv").content
    assert f"reading ({unit})" in exported.decode().splitlines()[0]
    assert f"2026-05-04,{said},at least" in exported.decode()
    assert units == "imperial" or "2026-05-05,75," in exported.decode()
    tarn.readings.all().delete()
    take_in(signed_in, f"/waters/{tarn.pk}/take-in/", exported)
    assert set(tarn.readings.values_list("date", "visibility_in", "bound", "spot")) == before


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"date,reading\n2026-05-04,deep\n2026-13-01,30\n", "Line 2: reading &#x27;deep&#x27;"),
        (b"when,what\n", "Line 1 is not a heading"),
        (b"\xff\xfe\x00", "not text in UTF-8"),
        (b"date,reading\n", "has no readings"),
    ],
)
def test_a_wrong_csv_writes_nothing(signed_in, tarn, content, said):
    count = tarn.readings.count()
    assert said in take_in(signed_in, f"/waters/{tarn.pk}/take-in/", content)
    assert tarn.readings.count() == count


def test_what_was_seen_of_the_sky_comes_in_as_csv(signed_in, tarn):
    page = take_in(signed_in, f"/waters/{tarn.pk}/take-in/", b"month,sky,wind\n6,bright,calm\n", what="sky")
    assert "Sky and wind now go by what you saw" in page
    assert "Now 100 % sun" in text(signed_in.get(f"/waters/{tarn.pk}/month/6/form/", headers=HTMX))


def test_a_water_comes_back_from_its_export(signed_in, tarn, stranger):
    exported = signed_in.get(f"/waters/{tarn.pk}/export.json").content
    before = board(text(signed_in.get(f"/waters/{tarn.pk}/")))
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    take_in(signed_in, "/waters/take-in/", exported, "water.json")
    again = Water.objects.get(owner=stranger)
    assert board(text(signed_in.get(f"/waters/{again.pk}/"))).replace(f"/{again.pk}/", f"/{tarn.pk}/") == before


@pytest.mark.parametrize(
    "spoil",
    [
        lambda raw: raw.update(format="other"),
        lambda raw: raw["months"].pop(),
        lambda raw: raw["months"][0].update(low_in=-3),
        lambda raw: raw["months"][0].update(food={"pizza": "main"}),
        lambda raw: raw["water"].update(cover="grass"),
        lambda raw: raw["water"].update(bottom={"cheese": 1}),
        lambda raw: raw["water"].update(bottom=7),
        lambda raw: raw["water"].update(latitude="north"),
        lambda raw: raw["months"][0].update(sky=[1, 2]),
        lambda raw: raw["readings"][0].update(date="yesterday"),
        lambda raw: raw.pop("water"),
    ],
)
def test_a_broken_water_file_writes_nothing(signed_in, tarn, spoil):
    raw = json.loads(signed_in.get(f"/waters/{tarn.pk}/export.json").content)
    spoil(raw)
    count = Water.objects.count()
    page = take_in(signed_in, "/waters/take-in/", json.dumps(raw).encode(), "water.json")
    assert "Nothing was changed" in page
    assert Water.objects.count() == count


def test_copy_and_compare(signed_in, tarn):
    signed_in.post(f"/waters/{tarn.pk}/copy/")
    copy = Water.objects.get(name="Tarn Hollow 2")
    assert copy.year.get(month=5).days == 10
    page = text(signed_in.get(f"/waters/compare/?water={tarn.pk}&water={copy.pk}"))
    assert page.count("62 days, mostly clear") == 2


def test_the_plan_never_proposes_what_is_forbidden_and_says_so(signed_in, tarn):
    signed_in.post(f"/waters/{tarn.pk}/rules/", {"forbids_trebles": "on", "closed_months": ["3", "4"]})
    page = text(signed_in.get("/plan/?category=jerkbait"))
    assert "on Tarn Hollow" in page
    assert "treble hooks are forbidden there, as you noted" in page
    assert "48 days</span> a year" in text(signed_in.get(f"/waters/{tarn.pk}/"))


def test_how_rare_is_too_rare_is_the_users(signed_in, tarn):
    page = text(signed_in.post(f"/waters/{tarn.pk}/rare/", {"rare_days": "3"}, headers=HTMX))
    assert "rare days are left out" in " ".join(page.split())
    none = text(signed_in.post(f"/waters/{tarn.pk}/rare/", {"rare_days": "0"}, headers=HTMX))
    assert "left out" not in none


def served(service):
    threading.Thread(target=service.serve_forever, daemon=True).start()
    host, port = service.server_address[:2]
    return f"{host}:{port}"


@pytest.mark.parametrize(
    ("mode", "said"),
    [
        ("well", "3 from the meter. 1 refused: checksum"),
        ("wrong", "The meter sent no reading that makes sense. 3 refused"),
        ("down", "no reading that makes sense"),
        (None, "The clarity meter does not answer"),
    ],
)
def test_the_meter_well_and_unwell(signed_in, tarn, settings, mode, said):
    settings.METER_ADDRESS = served(MeterService(mode=mode)) if mode else "127.0.0.1:1"
    count = tarn.readings.count()
    assert said in text(signed_in.post(f"/waters/{tarn.pk}/meter/", headers=HTMX))
    assert tarn.readings.count() == count + (3 if mode == "well" else 0)


def test_a_meter_that_never_ends_holds_up_few(signed_in, tarn, settings, monkeypatch):
    """Some are waiting for it: whoever comes then is told so at once, and other pages are free."""
    asked, go_on = threading.Semaphore(0), threading.Event()

    def endless(*_):
        asked.release()
        go_on.wait(10)
        raise OSError

    monkeypatch.setattr(devices, "read_meter", endless)
    settings.METER_ADDRESS = "127.0.0.1:9"

    def ask():
        with pytest.raises(devices.NoAnswer, match="does not answer"):
            devices.heard_from_meter()

    waiting = [threading.Thread(target=ask) for _ in range(devices.MOST_WAITING)]
    for one in waiting:
        one.start()
        asked.acquire()
    assert "being asked by others" in text(signed_in.post(f"/waters/{tarn.pk}/meter/", headers=HTMX))
    go_on.set()
    for one in waiting:
        one.join()
    assert "does not answer" in text(signed_in.post(f"/waters/{tarn.pk}/meter/", headers=HTMX))


@given(st.integers(1, 300_00))
def test_what_is_typed_in_centimetres_comes_back_as_it_was_typed(hundredths):
    typed = f"{hundredths / 100:.2f}".rstrip("0").rstrip(".") + " cm"
    reading = read_line(typed, "metric", date(2026, 5, 4))
    assert write_exact(reading.visibility_in, "metric") == typed


@pytest.mark.parametrize(
    ("mode", "said"),
    [
        ("well", "from the forecast service"),
        ("wrong", "makes no sense"),
        ("down", "does not answer"),
        ("late", "not answer"),
    ],
)
def test_the_forecast_well_and_unwell(signed_in, tarn, settings, mode, said):
    settings.FORECAST_URL, settings.DEVICE_TIMEOUT_S = f"http://{served(ForecastService(mode=mode))}/", 0.4
    assert said in text(signed_in.get(f"/waters/{tarn.pk}/forecast/", headers=HTMX))
    assert signed_in.get(f"/waters/{tarn.pk}/").status_code == 200


def test_another_anglers_water_is_not_there(intruder, tarn):
    for address in ("", "edit/", "rules/", "month/4/form/", "forecast/", "export.json", "export.csv"):
        assert intruder.get(f"/waters/{tarn.pk}/{address}").status_code == 404, address
    for address in ("note/", "meter/", "copy/", "delete/", "month/4/"):
        assert intruder.post(
            f"/waters/{tarn.pk}/{address}", {"line": "30 in", "field": "days", "value": "0"}
        ).status_code in (404, 422)
    assert intruder.post(f"/waters/undo/{tarn.history.first().pk}/").status_code == 404
    assert tarn.year.get(month=4).days == 8
    assert "Tarn Hollow" not in text(intruder.get(f"/waters/compare/?water={tarn.pk}", follow=True))


def test_queries_are_bounded(signed_in, tarn, django_assert_max_num_queries):
    for _ in range(8):
        signed_in.post(f"/waters/{tarn.pk}/copy/")
    with django_assert_max_num_queries(9):
        signed_in.get(f"/waters/{tarn.pk}/")


def test_a_hundred_readings_take_as_many_queries_as_one(signed_in, tarn):
    def queries_of(count):
        rows = "".join(f"2025-05-{1 + place % 28:02},{20 + place} in\n" for place in range(count))
        file = SimpleUploadedFile("readings.csv", ("date,reading\n" + rows).encode())
        with CaptureQueriesContext(connection) as asked:
            signed_in.post(f"/waters/{tarn.pk}/take-in/", {"file": file})
        return len(asked)

    before = tarn.readings.count()
    few = queries_of(1)
    assert queries_of(100) <= few + 3
    assert tarn.readings.count() == before + 101


def test_what_was_seen_moves_the_food_of_its_month_and_is_drawn(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    before = core_water(water).months
    page = text(signed_in.post(f"/waters/{water.pk}/note/", {"line": "leeches at the dock, 14 May"}))
    assert "Leech</b>" in page
    assert "; seen 1 time" in page
    months = core_water(Water.objects.get(pk=water.pk)).months
    share = {month: told.food.get(Forage.LEECH, 0) / sum(told.food.values()) for month, told in months.items()}
    assert share[5] > max(share[4], share[6])
    assert min(share[4], share[6]) > 0  # half as much in the months beside
    assert months[9] == before[9]
    wrong = signed_in.post(f"/waters/{water.pk}/note/", {"line": "flibber at the dock"})
    assert "names nothing that fish eat" in text(wrong)
    seen = water.sightings.get(food="leech")
    signed_in.post(f"/waters/{water.pk}/seen/{seen.pk}/delete/")
    assert core_water(Water.objects.get(pk=water.pk)).months == before


def a_record():
    """Five years of a lake as a boat's crew writes it: two looks a month, one of them doubled, one flagged."""
    lines = ["Lake,Visit date,Secchi depth (m),Water temp (C),QC flag"]
    for year in range(2019, 2024):
        for month in range(1, 13):
            for day in (4, 19):
                lines.append(f"Somewhere,{year}-{month:02}-{day:02},{0.5 + month / 20:.2f},{4 + month:.1f},")
    return "\n".join([*lines, lines[1], "Somewhere,2023-12-24,9,5,R", "Somewhere,2023-13-40,1,5,", ""])


def test_an_open_record_is_looked_at_before_it_counts_and_taken_back_as_one_step(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    before, readings = core_water(water).months, water.readings.count()
    file = SimpleUploadedFile("lake.csv", a_record().encode())
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": file})
    page = " ".join(text(signed_in.get(looked.url)).split())
    assert "120 readings of visibility understood" in page
    assert "123 = 120 used + 1 refused + 1 twice + 1 flagged" in page
    assert "Row 124, Visit date: “2023-13-40”, allowed: a date" in page
    assert "10 readings of 5 years" in page
    assert "from <b>4 Jan 2019</b> to <b>19 Dec 2023</b>; the longest gap from" in page
    assert water.readings.count() == readings  # nothing counts yet
    taken = signed_in.post(f"{looked.url}take/", {"warmth": "1"})
    assert water.readings.count() == readings + 120
    months = core_water(Water.objects.get(pk=water.pk)).months
    assert months[6].temp_f == pytest.approx(50.0)
    assert abs(months[6].spread.usual_in - 0.8 * 39.37) < abs(before[6].spread.usual_in - 0.8 * 39.37)
    again = signed_in.post(f"{looked.url}take/", follow=True)
    assert "All of it is here already" in text(again)
    signed_in.post(f"/waters/undo/{taken.url.split('changed=')[1]}/")
    assert water.readings.count() == readings
    assert core_water(Water.objects.get(pk=water.pk)).months == before


def test_one_station_asked_for_is_alone_in_warmth_too(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    both = (("Dam", 10), ("Inlet", 30))
    rows = [f"{where},2024-06-{day:02},1,{warm}" for day in range(1, 9) for where, warm in both]
    content = "\n".join(["Station,Date,Secchi depth (m),Water temp (C)", *rows]).encode()
    sent = {"file": SimpleUploadedFile("two.csv", content), "station": "Dam"}
    looked = signed_in.post(f"/waters/{water.pk}/record/", sent)
    signed_in.post(f"{looked.url}take/", {"warmth": "1"})
    assert core_water(Water.objects.get(pk=water.pk)).months[6].temp_f == pytest.approx(50.0)


def test_a_file_that_is_no_record_says_why_and_changes_nothing(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    for content, said in ((b"a,b\n1,2\n", "names no column of days"), (b"Date,pH\n2020-01-01,7\n", "names nothing")):
        page = signed_in.post(f"/waters/{water.pk}/record/", {"file": SimpleUploadedFile("x.csv", content)})
        assert said in text(page)
    assert signed_in.post(f"/waters/{water.pk}/record/").status_code == 302


def test_sky_and_wind_of_a_record_count_by_day(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    lines = ["time,cloud cover (%),wind speed (m/s)"]
    for day in range(1, 11):  # sun by day, clouds by night
        lines += [f"2024-06-{day:02} 12:00,10,1", f"2024-06-{day:02} 15:00,10,3", f"2024-06-{day:02} 00:00,100,9"]
    file = SimpleUploadedFile("sky.csv", "\n".join(lines).encode())
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": file})
    settled(signed_in, looked, zone="solar")
    assert "bright 20" in " ".join(text(signed_in.get(looked.url)).split())
    taken = signed_in.post(f"{looked.url}take/", {"sky": "1"})
    shares = core_water(Water.objects.get(pk=water.pk)).sky.shares(6)
    assert (shares.bright, shares.calm) == (1.0, pytest.approx(1 / 3))
    signed_in.post(f"/waters/undo/{taken.url.split('changed=')[1]}/")
    assert core_water(Water.objects.get(pk=water.pk)).sky.shares(6).bright < 1


def test_the_gauge_is_asked_and_its_record_counts_with_how_sure_it_is(signed_in, wren, settings):
    settings.GAUGE_URL = f"http://{served(ForecastService())}/gauge"
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    address = f"/waters/{water.pk}/"
    assert "On what each month rests" not in text(signed_in.get(address))
    nobody = signed_in.post(f"{address}gauge/", {"site": "sea-of-glass"}, follow=True)
    assert "The gauge has no answer" in text(nobody)
    looked = signed_in.post(f"{address}gauge/", {"site": "tarn-hollow"})
    page = " ".join(text(signed_in.get(looked.url)).split())
    assert "they are counted together" in page
    assert "Rain is known" in page
    signed_in.post(f"{looked.url}take/", {"sky": "1", "warmth": "1"})
    page = " ".join(text(signed_in.get(address)).split())
    assert re.search(r"\d+ readings of [67] years; rain known on \d+; and what you said", page)
    assert re.search(r"counted together on \d+ days", page)
    assert re.search(r"Clear <small>\d+ to \d+</small>", page)
    before = core_water(Water.objects.get(pk=water.pk)).months[6].spread
    assert signed_in.post(f"{address}half-life/", {"years": "soup"}, headers=HTMX).status_code == 422
    signed_in.post(f"{address}half-life/", {"years": "1"}, headers=HTMX)
    assert core_water(Water.objects.get(pk=water.pk)).months[6].spread != before
    told = signed_in.get(f"{address}export.json").content
    signed_in.post("/waters/take-in/", {"file": SimpleUploadedFile("w.json", told)})
    copy = Water.objects.get(owner=wren, name="Tarn Hollow 2")
    assert core_water(copy).months == core_water(Water.objects.get(pk=water.pk)).months
    assert "the murkiest your records" not in text(signed_in.get("/plan/sure/worm/"))  # Sallow Creek has none
    signed_in.post(f"/waters/{Water.objects.get(owner=wren, name='Sallow Creek').pk}/delete/")
    assert "the murkiest your records" in " ".join(text(signed_in.get("/plan/sure/worm/")).split())


def test_a_tide_is_typed_shown_and_taken_back(signed_in, wren):
    signed_in.post("/waters/new/", {"name": "Reed Gut", "kind": "tidal-creek", "rough": "warm-coast-north",
                                    "dryness": "0.5", "salinity": ""})  # fmt: skip
    creek = Water.objects.get(owner=wren, name="Reed Gut")
    address = f"/waters/{creek.pk}/"
    page = text(signed_in.get(address))
    assert "say where Reed Gut lies" in page
    assert "Its constants" not in page
    refused = signed_in.post(f"{address}tide/", {"constants": "M2 1.5 ft 120"})
    assert refused.url == f"{address}place/"
    where = {"latitude": "31.4", "longitude": "-81.3", "time_zone": "America/New_York"}
    assert "has its place" in text(signed_in.post(f"{address}place/", where, follow=True))
    assert "Its constants" in text(signed_in.get(address))
    assert "Its constants" not in text(signed_in.get(f"/waters/{Water.objects.get(name='Tarn Hollow').pk}/"))
    wrong = signed_in.post(f"{address}tide/", {"constants": "M2 much"}, follow=True)
    assert "is no constant: write it like M2 1.2 ft 118" in text(wrong)
    signed_in.post(f"{address}tide/", {"constants": "M2 1.5 ft 120\nK1 0.3 ft 20"})
    page = text(signed_in.get(address))
    assert page.count('<li class="tide-') == 24
    assert "M2 1.5 ft 120" in page
    told = signed_in.get(f"{address}export.json").content
    signed_in.post("/waters/take-in/", {"file": SimpleUploadedFile("w.json", told)})
    creek.refresh_from_db()
    assert Water.objects.get(owner=wren, name="Reed Gut 2").tide == creek.tide
    signed_in.post("/day/here/", {"water": creek.pk})
    trip = creek.trips.get()
    assert re.search(r"<small>(▲ in|▼ out|slack)</small>", text(signed_in.get(f"/day/{trip.pk}/")))


def settled(client, looked, **given):
    """Settles what a record leaves open."""
    sent = {f"settle:{key.replace('__', ':')}": value for key, value in given.items()}
    return client.post(f"{looked.url}settle/", sent)


def test_what_a_record_leaves_open_is_settled_before_it_is_saved_and_remembered(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    readings = water.readings.count()

    def given(lines):
        file = SimpleUploadedFile("lake.csv", "\n".join(lines).encode())
        return signed_in.post(f"/waters/{water.pk}/record/", {"file": file})

    rows = [f"0{month}/0{day}/2021,{4 + month / 10}" for month in range(1, 10) for day in (1, 2)]
    looked = given(["Date,Secchi", *rows])
    page = " ".join(text(signed_in.get(looked.url)).split())
    assert "2 things are not told by the file" in page
    assert "Secchi: no unit is told. It counts for 18 rows." in page
    assert "Save record" not in page
    assert signed_in.post(f"{looked.url}take/").url == looked.url
    assert water.readings.count() == readings
    assert "is none" in text(signed_in.get(settled(signed_in, looked, day_order="ymd").url))
    settled(signed_in, looked, unit__secchi="ft")
    assert "1 thing is not told by the file" in " ".join(text(signed_in.get(looked.url)).split())
    settled(signed_in, looked, day_order="mdy")
    assert "What you settled" in text(signed_in.get(looked.url))
    signed_in.post(f"{looked.url}take/")
    assert water.readings.count() == readings + 18
    assert water.readings.filter(source="file").order_by("date").first().visibility_in == pytest.approx(49.2)
    later = given(["Date,Secchi", "02/03/2022,5", "02/09/2022,6"])
    page = " ".join(text(signed_in.get(later.url)).split())
    assert "What you settled, as last time" in page
    assert "Save record" in page
    settled(signed_in, later, unit__secchi="")
    assert "Save record" not in text(signed_in.get(later.url))


def test_a_column_that_is_something_else_is_named_by_hand(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    content = b"Date,Secchi (m),How far down (m)\n2020-05-01,1.2,2.2\n2020-06-01,1.3,2.3\n"
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": SimpleUploadedFile("l.csv", content)})
    settled(signed_in, looked, column__secchi="How far down (m)")
    signed_in.post(f"{looked.url}take/")
    assert water.readings.get(date="2020-05-01").visibility_in == pytest.approx(2.2 * 39.37, abs=0.1)


def test_a_disk_on_the_bottom_is_kept_as_a_bound(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    content = b"Date,Secchi (m)\n2020-05-01,>1.2\n2020-06-01,1.3\n"
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": SimpleUploadedFile("l.csv", content)})
    assert "at least" in text(signed_in.get(looked.url))
    signed_in.post(f"{looked.url}take/")
    assert [one.bound for one in water.readings.filter(date__year=2020).order_by("date")] == ["at least", ""]


def test_each_change_of_a_water_stands_in_its_history_and_is_taken_back_later(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    before = core_water(water).months
    services.set_month(wren, water.pk, 5, "days", "9")
    content = b"Date,Secchi (m)\n2020-05-01,1.2\n2020-06-01,1.3\n"
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": SimpleUploadedFile("l.csv", content)})
    signed_in.post(f"{looked.url}take/")
    services.set_month(wren, water.pk, 6, "days", "8")
    address = f"/waters/{water.pk}/history/"
    page = text(signed_in.get(address))
    assert "From l.csv: 2 readings." in page
    mine = list(water.history.filter(undone=False).order_by("-pk")[:3])
    for change in (mine[1], mine[2], mine[0]):  # the file first, though something came after it
        done = signed_in.post(f"/waters/undo/{change.pk}/", {"from": "history"}, follow=True)
        assert "Undone: " in text(done)
        assert done.redirect_chain[-1][0] == address
    assert core_water(Water.objects.get(pk=water.pk)).months == before
    services.set_month(wren, water.pk, 5, "days", "9")
    services.set_month(wren, water.pk, 5, "days", "7")
    earlier = water.history.filter(undone=False).order_by("-pk")[1]
    told = text(signed_in.post(f"/waters/undo/{earlier.pk}/", {"from": "history"}, follow=True))
    assert "take the later change back first" in told


def test_what_a_record_would_change_of_the_plan_is_told_and_is_what_it_then_changes(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    days = [(year, month, day) for year in range(2019, 2026) for month in range(1, 13) for day in (4, 18)]
    rows = [f"{year}-{month:02}-{day:02},0.2" for year, month, day in days]
    file = SimpleUploadedFile("murk.csv", "\n".join(["Date,Secchi (m)", *rows]).encode())
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": file})
    before = snapshot(get_basis(wren))
    told = " ".join(text(signed_in.get(f"{looked.url}effect/")).split())
    assert snapshot(get_basis(wren)) == before  # nothing counts yet
    signed_in.post(f"{looked.url}take/")
    after = snapshot(get_basis(User.objects.get(pk=wren.pk)))
    found = [one for one in differences(before, after) if one.came or one.went]
    assert found
    for each in found:
        for one in each.came:
            assert f"{one['name']} comes in." in told
        for one in each.went:
            assert f"{one['name']} goes." in told
    assert told.count(" comes in.") == sum(len(each.came) for each in found)


def test_a_gauge_of_a_tide_with_zones_flags_a_gap_and_two_units(signed_in, wren, settings):
    settings.GAUGE_URL = f"http://{served(ForecastService())}/gauge"
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    looked = signed_in.post(f"/waters/{water.pk}/gauge/", {"site": "reed-gut"})
    page = " ".join(text(signed_in.get(looked.url)).split())
    assert "not told by the file" not in page
    assert re.search(r"its tide: it makes 9\d of 100 parts", page)
    assert re.search(r"[1-9]\d* flagged", page)
    signed_in.post(f"{looked.url}take/", {"tide": "1"})
    (largest, *_) = sorted(Water.objects.get(pk=water.pk).tide["constants"].items(), key=lambda one: -one[1][0])
    assert largest[0] == "M2"
    assert largest[1][0] == pytest.approx(0.62 / 0.3048, rel=0.05)


def test_levels_that_nothing_names_can_be_settled_and_saved(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    hours = [{"t": f"2026-05-{1 + hour // 24:02} {hour % 24:02}:00", "v": str(round(math.cos(hour * 0.5059), 3))}
             for hour in range(24 * 25)]  # fmt: skip
    file = SimpleUploadedFile("tide.json", json.dumps({"data": hours}).encode())
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": file})
    assert "nowhere" in text(signed_in.get(settled(signed_in, looked, zone="nowhere").url))
    settled(signed_in, looked, meaning__level="level", unit__level="m", zone="UTC")
    assert "its tide: it makes" in " ".join(text(signed_in.get(looked.url)).split())
    signed_in.post(f"{looked.url}take/", {"tide": "1"})
    assert "M2" in Water.objects.get(pk=water.pk).tide["constants"]
    assert not wren.jobs.get(pk=looked.url.split("/")[-2]).pieces.exists()


def test_levels_wait_for_the_place_of_the_water_before_a_tide_is_looked_for(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    Water.objects.filter(pk=water.pk).update(longitude=None)
    hours = [f"2026-0{5 + day // 30}-{1 + day % 30:02}T{hour:02}:00Z,{math.cos((24 * day + hour) * 0.5059):.3f}"
             for day in range(40) for hour in range(24)]  # fmt: skip
    file = SimpleUploadedFile("gut.csv", "\n".join(["Time (UTC),Water level (m)", *hours]).encode())
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": file})
    page = " ".join(text(signed_in.get(looked.url)).split())
    assert "its tide: it makes" not in page
    (place,) = re.findall(r'href="(/waters/\d+/place/\?record=\d+)"', page)
    assert "Press where it lies" in text(signed_in.get(place))
    job = place.partition("record=")[2]
    wrong = signed_in.post(place, {"latitude": "95", "longitude": "", "time_zone": "Nowhere", "record": job})
    assert wrong.status_code == 422
    told = {"latitude": "31.4", "longitude": "-81.3", "time_zone": "America/New_York", "record": job}
    page = " ".join(text(signed_in.get(signed_in.post(place, told).url)).split())
    assert "its tide: it makes" in page
    near = text(signed_in.get("/waters/zones/", {"latitude": "31.4", "longitude": "-81.3", "home": "Mars/Base"}))
    assert "America/New_York" in near
    assert "chip" not in text(signed_in.get("/waters/zones/", {"latitude": "31.4", "longitude": "far"}))


def test_a_month_is_known_as_well_on_the_look_as_on_the_water_and_in_the_plan(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    days = [(year, month, day) for year in range(2019, 2026) for month in (5, 6) for day in (4, 11, 18)]
    rows = [f"{year}-{month:02}-{day:02},{0.7 + 0.1 * (year % 3)}" for year, month, day in days]
    file = SimpleUploadedFile("tarn.csv", "\n".join(["Date,Secchi (m)", *rows]).encode())
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": file})
    page = " ".join(text(signed_in.get(looked.url)).split())
    signed_in.post(f"{looked.url}take/")
    water = Water.objects.get(pk=water.pk)
    known = get_known_year(water)
    told = " ".join(text(signed_in.get(f"/waters/{water.pk}/")).split())
    for number, month in ((5, "May"), (6, "June")):
        low, high = (f"{edge:.0f}" for edge in known.intervals[number])
        assert re.search(rf"{month}</th>.{{0,400}}>\s*{low}\s*–\s*{high} in", page)
        assert re.search(rf"{month}</th>.{{0,200}}{low}\s*–\s*{high} in", told)
        assert core_water(water).months[number].spread == known.months[number]
    gain = weekly_gain(water, known)
    assert gain.then[1] / gain.then[0] < gain.now[1] / gain.now[0]
    assert f"would tell most of {gain.name}" in text(signed_in.get(f"/waters/{water.pk}/weekly/"))


def test_without_a_place_there_is_no_forecast_and_it_says_why(signed_in, tarn, settings):
    settings.FORECAST_URL = f"http://{served(ForecastService())}/forecast"
    Water.objects.filter(pk=tarn.pk).update(longitude=None)
    assert "where Tarn Hollow lies is not told" in " ".join(text(signed_in.get(f"/waters/{tarn.pk}/forecast/")).split())


def test_a_record_is_not_saved_onto_a_water_that_was_changed_meanwhile(signed_in, wren):
    water = Water.objects.get(owner=wren, name="Tarn Hollow")
    content = b"Date,Secchi (m)\n2020-05-01,1.2\n2020-06-01,1.3\n"
    looked = signed_in.post(f"/waters/{water.pk}/record/", {"file": SimpleUploadedFile("l.csv", content)})
    (shown,) = re.findall(r'name="shown" value="([^"]+)"', text(signed_in.get(looked.url)))
    services.set_month(wren, water.pk, 5, "temp", "61 F")
    told = signed_in.post(f"{looked.url}take/", {"shown": shown}, follow=True)
    assert "changed elsewhere meanwhile" in text(told)
    assert not water.readings.filter(date="2020-05-01").exists()
    (shown,) = re.findall(r'name="shown" value="([^"]+)"', text(told))
    signed_in.post(f"{looked.url}take/", {"shown": shown})
    assert water.readings.filter(date="2020-05-01").exists()
