"""What records leave open is asked about, and what they say is read: each file small, its answer written beside it."""

import contextlib
import io
import json

import pytest

from tackle.commands.record import record
from tackle.records.choices import settle
from tackle.records.reading import Record
from tackle.records.table import read_tables

DAYS = [f"2020-05-{day:02}" for day in (3, 9, 17, 21)]


def ask(tmp_path, text, *options, suffix="csv"):
    path = tmp_path / f"mine.{suffix}"
    path.write_text(text, encoding="utf-8")
    out = io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(io.StringIO()):
        record([str(path), *options])
    return json.loads(out.getvalue())


def rows(heading, values, days=DAYS):
    return "\n".join([heading, *(f"{day},{value}" for day, value in zip(days, values, strict=True))])


def usual(answer, month=5):
    found = next(one for one in answer["months"] if one["month"] == month)
    return found["visibility_in"]["usual"] if "visibility_in" in found else found["usual"]


def fields(answer):
    return {one["field"]: (one["taken"], one["others"]) for one in answer["ask"]}


def test_a_clean_record_asks_nothing(tmp_path):
    answer = ask(tmp_path, rows("Date,Secchi (m)", [1, 1.5, 1.5, 2]))
    assert answer["ask"] == []
    assert "provisional" not in answer
    assert usual(answer) == pytest.approx(59.06, abs=0.01)


@pytest.mark.parametrize(
    ("heading", "values", "inches"),
    [
        ("Date,Secchi (ft)", [4, 5, 5, 6], 60), ("Date,secchi_ft", [4, 5, 5, 6], 60),
        ("Date,Visibility_in", [20, 30, 30, 40], 30), ("Date,SecchiCm", [50, 100, 100, 150], 39.37),
        ("All depths in feet\nDate,Secchi depth", [4, 5, 5, 6], 60), ("Date,Secchi\nyyyy-mm-dd,ft", [4, 5, 5, 6], 60),
        ("Datum;Sichttiefe [m]", ["1,0", "1,5", "1,5", "2,0"], 59.06),
        ("Fecha,00078", [1, 1.5, 1.5, 2], 59.06),
    ],
)  # fmt: skip
def test_a_unit_is_read_where_it_is_said(tmp_path, heading, values, inches):
    mark = ";" if ";" in heading else ","
    answer = ask(tmp_path, "\n".join([heading, *(f"{day}{mark}{one}" for day, one in zip(DAYS, values, strict=True))]))
    assert usual(answer) == pytest.approx(inches, abs=0.01)
    assert answer["ask"] == []


@pytest.mark.parametrize("heading", ["Secchi", "Sight in the water", "Water clarity"])
def test_a_unit_that_nothing_tells_is_asked_and_can_be_settled(tmp_path, heading):
    text = rows(f"Date,{heading}", [4, 5, 5, 6])
    answer = ask(tmp_path, text)
    assert answer["provisional"] is True
    assert fields(answer) == {"unit": ("m", ["ft", "in"])}
    assert answer["ask"][0]["column"] == heading
    assert answer["ask"][0]["rows"] == 4
    settled = ask(tmp_path, text, "--unit", "ft")
    assert usual(settled) == 60
    assert settled["ask"] == []


def test_days_that_may_be_months_are_asked(tmp_path):
    text = rows("Date,Secchi (m)", [1, 2, 3], ["01/05/2020", "02/05/2020", "03/06/2020"])
    assert fields(ask(tmp_path, text)) == {"day_order": ("mdy", ["dmy"])}
    settled = ask(tmp_path, text, "--day-order", "dmy")
    assert [one["month"] for one in settled["months"]] == [5, 6]
    assert settled["ask"] == []
    assert ask(tmp_path, text.replace("03/06", "23/06"))["ask"] == []


def test_the_uppermost_metre_counts_of_a_profile(tmp_path):
    text = "Date,Depth (m),Water temperature (C)\n" + "\n".join(f"2020-07-01,{at},{26 - at}" for at in (0.5, 1, 3, 9))
    answer = ask(tmp_path, text)
    assert answer["months"][0]["usual"] == pytest.approx(77.45)
    assert answer["understood"]["other"] == 2
    assert ask(tmp_path, text, "--depth-to", "3")["understood"]["used"] == 3
    assert "depth" in fields(ask(tmp_path, text.replace("Depth (m)", "Depth").replace("Water", "Lake")))


def test_of_several_statistics_the_median_then_the_mean_and_a_maximum_alone_is_asked(tmp_path):
    days = "\n".join(f"{day},{20 + at},{10 + at},{5 + at}" for at, day in enumerate(DAYS))
    answer = ask(tmp_path, f"Date,Max water temp (C),Mean water temp (C),Min water temp (C)\n{days}")
    assert answer["understood"]["columns"]["value"] == "Mean water temp (C)"
    answer = ask(tmp_path, f"Date,Max water temp (C),Air temp (C),Min water temp (C)\n{days}")
    assert fields(answer) == {"statistic": ("maximum", ["minimum"])}


def test_what_is_marked_as_rejected_blank_or_double_is_not_used(tmp_path):
    text = "Date,Secchi (m),Result Status,Activity Type,Comments\n" + "\n".join([
        "2020-05-01,1.2,Accepted,Sample-Routine,", "2020-05-02,9,Rejected,Sample-Routine,",
        "2020-05-03,8,Accepted,Quality Control Sample-Field Replicate,", "2020-05-04,7,Accepted,Field Blank,",
        "2020-05-05,1.2,Accepted,Sample-Routine,rough"])  # fmt: skip
    answer = ask(tmp_path, text)
    assert (answer["understood"]["used"], answer["understood"]["flagged"]) == (2, 3)
    assert usual(answer) == pytest.approx(47.24, abs=0.01)


def test_bounds_enter_as_what_they_are(tmp_path):
    answer = ask(tmp_path, rows("Date,Secchi (m)", [">2.5", "1.5", "2.0", ">2.5"]))
    assert answer["understood"]["censored"] == 2
    assert "usual_bound" not in answer["months"][0]["visibility_in"]
    mostly = ask(tmp_path, rows("Date,Secchi (m)", [">2.5", "1.5", ">2.5", ">2.5"]))
    assert mostly["months"][0]["visibility_in"]["usual_bound"] == "at least"
    low, high = mostly["months"][0]["visibility_in"]["usual_interval"]
    assert high > 98.4 > low
    assert ask(tmp_path, rows("Date,Secchi (m)", [">2.5", "1.5", "2.0", "2"]), "--censored", "leave")["understood"][
        "flagged"] == 1  # fmt: skip
    seen = "Date,Secchi (m),On bottom\n" + "\n".join(f"{day},2,{said}" for day, said in zip(DAYS, "YNNY", strict=True))
    assert ask(tmp_path, seen)["understood"]["censored"] == 2


def test_thousands_are_no_decimals(tmp_path):
    text = 'Date,Turbidity (NTU)\n2020-05-01,"1,250"\n2020-05-02,12.5\n2020-05-04,30\n'
    assert ask(tmp_path, text, "--what", "turbidity")["understood"]["used"] == 3
    level = 'Date,Water level (ft)\n2020-05-01,"1,250.5"\n2020-05-02,"1,251.5"\n'
    assert ask(tmp_path, level)["months"][0]["high"] == pytest.approx(1251.4)


def test_numbers_that_stand_for_nothing_are_none(tmp_path):
    days = [f"2020-05-{day:02}" for day in range(1, 21)]
    text = rows("Date,Water temp (C)", [15 + at / 10 if at < 16 else 99.9 for at in range(20)], days)
    answer = ask(tmp_path, text)
    assert answer["understood"]["used"] == 16
    assert answer["months"][0]["high"] < 63


def test_ratings_and_codes_and_directions_are_no_measures(tmp_path):
    text = "Date,Secchi condition code,Water clarity rating (1-5),Secchi depth (m)\n2020-05-01,1,3,1.2\n"
    assert ask(tmp_path, text)["understood"]["columns"]["value"] == "Secchi depth (m)"
    wind = "Date,Wind direction (deg),Wind speed (m/s)\n2020-05-01,270,3\n2020-05-02,90,3\n"
    assert ask(tmp_path, wind)["months"][0]["usual"] == pytest.approx(6.71, abs=0.01)
    air = "Date,Visibility (km),Wind speed (m/s)\n2020-05-01,12,3\n"
    assert ask(tmp_path, air)["understood"]["what"] == "wind"


def test_the_samples_day_comes_before_the_entrys(tmp_path):
    text = "Date entered,Sample Date,Secchi (m)\n2021-01-05,2020-05-01,1.2\n2021-01-05,2020-06-01,1.3\n"
    assert ask(tmp_path, text)["understood"]["columns"]["date"] == "Sample Date"


def test_numbers_for_days_are_asked_unless_their_heading_says_from_when(tmp_path):
    text = rows("Date,Secchi (m)", [1, 2, 3, 4], ["43952", "43953", "43954", "43990"])
    answer = ask(tmp_path, text)
    assert [one["month"] for one in answer["months"]] == [5, 6]
    assert fields(answer)["kind_of_day"][0] == "days since 1899-12-30"
    told = ask(tmp_path, rows("time (days since 1970-01-01),Secchi (m)", [1, 2], ["18383", "18414"]))
    assert [one["month"] for one in told["months"]] == [5, 6]
    assert told["ask"] == []


def test_several_stations_are_asked(tmp_path):
    text = "Station,Date,Secchi (m)\nA,2020-05-01,1.2\nB,2020-06-01,1.3\n"
    assert fields(ask(tmp_path, text)) == {"station": ("all", ["A", "B"])}
    assert ask(tmp_path, text, "--station", "A")["ask"] == []


@pytest.mark.parametrize(("heading", "open_zone"), [("Date Time", True), ("Date Time (UTC)", False)])
def test_the_zone_of_hours_is_asked_where_the_hour_counts(tmp_path, heading, open_zone):
    text = "\n".join([f"{heading},Water level (m)", *(f"2020-05-01 {hour:02}:00,1.{hour}" for hour in range(9))])
    assert ("zone" in fields(ask(tmp_path, text))) is open_zone
    assert "zone" not in fields(ask(tmp_path, text, "--zone", "-5"))
    assert "error" in ask(tmp_path, text, "--zone", "nowhere")


def test_json_as_services_of_sensors_and_tides_give_it(tmp_path):
    hours = [{"t": f"2020-05-01 {hour:02}:00", "v": f"{hour / 10}", "q": "v"} for hour in range(24)]
    answer = ask(tmp_path, json.dumps({"metadata": {"id": "1"}, "data": hours}), suffix="json")
    assert set(fields(answer)) == {"unit", "zone", "meaning"}
    assert answer["understood"]["used"] == 24
    seen = [{"phenomenonTime": f"2020-05-{day:02}T10:00:00Z", "result": 1.5, "resultTime": "2021-01-01T00:00:00Z"}
            for day in range(1, 9)]  # fmt: skip
    streams = [{"name": "Secchi depth", "unitOfMeasurement": {"symbol": "m"}, "Observations": seen},
               {"name": "pH", "Observations": seen[:2]}]  # fmt: skip
    answer = ask(tmp_path, json.dumps({"value": streams}), suffix="json")
    assert (answer["understood"]["used"], answer["understood"]["other"], answer["ask"]) == (8, 2, [])
    assert answer["understood"]["other_lists"] == {"value": 2}
    assert usual(answer) == pytest.approx(59.06, abs=0.01)
    hourly = {"time": [f"2020-05-01T{hour:02}:00" for hour in range(24)], "cloud_cover": [50] * 24}
    clouds = {"hourly_units": {"cloud_cover": "%"}, "hourly": hourly}
    assert ask(tmp_path, json.dumps(clouds), "--zone", "UTC", suffix="json")["ask"] == []


@pytest.mark.parametrize(
    "text",
    [
        "Datum;Wassertemperatur [°C]\n14. Mai 2020;14,5\n", "Fecha;Temperatura del agua (°C)\n14 mayo 2020;14,5\n",
        "Date;Température de l'eau (°C)\n14 mai 2020;14,5\n", "Date;Water temp (°C)\n14 May 2020;14,5\n",
    ],
)  # fmt: skip
def test_headings_in_four_languages(tmp_path, text):
    answer = ask(tmp_path, text)
    assert (answer["months"][0]["month"], answer["months"][0]["usual"]) == (5, pytest.approx(58.1))
    assert answer["ask"] == []


def test_a_bare_temperature_beside_weather_may_be_the_airs(tmp_path):
    text = "Date,Temp (F),Rain (in)\n2020-05-01,80,0\n2020-05-02,82,0.2\n"
    assert fields(ask(tmp_path, text))["meaning"] == ("water", ["air"])
    assert ask(tmp_path, text, "--what", "temperature", "--meaning", "air")["understood"]["used"] == 0


def test_each_question_is_settled_by_its_own_key(tmp_path):
    """What is asked is not asked again once any of its answers was taken."""
    hours = [{"t": f"2020-05-01 {hour:02}:00", "v": f"{hour / 10}"} for hour in range(24)]
    days = "\n".join(f"{day},{20 + at},{30 + at}" for at, day in enumerate(DAYS))
    profile = "Date,Depth,Lake water temperature (C)\n" + "\n".join(f"{DAYS[0]},{at},{26 - at}" for at in (2, 3, 9))
    texts = [
        json.dumps({"data": hours}), f"Date,Secchi 1 (m),Secchi 2 (m)\n{days}".replace(",2", ",1").replace(",3", ",2"),
        f"Date,Max water temp (C),Min water temp (C)\n{days}", profile, rows("Date,Secchi", [-4, -5, -5, -6]),
        "Date,Temp (F),Rain (in)\n2020-05-01,80,0\n", rows("Date,Secchi (m)", [1, 2], ["43952", "43953"]),
        "\n".join(["Date Time,Wind speed", *(f"01/02/2020 {hour:02}:00,{hour}" for hour in range(9))]),
    ]  # fmt: skip
    for text in texts:
        table = read_tables(text.encode())
        asked = Record(table[0]).read().ask
        assert asked, text
        for choice in (0, -1):
            given = {}
            for _ in range(6):
                left = Record(table[0], settle(given)).read().ask
                assert not {one.key for one in left} & set(given), text
                given |= {one.key: (one.taken, *one.others)[choice] for one in left}
            assert not left, text


def test_a_unit_of_each_measure_is_settled(tmp_path):
    text = "Date,Secchi,Lake temp\n2020-05-01,4,60\n2020-06-01,5,34\n"
    assert {one["column"] for one in ask(tmp_path, text)["ask"]} >= {"Secchi"}
    answer = ask(tmp_path, text, "--unit", "ft", "--unit", "F")
    assert answer["ask"] == []
    assert usual(answer) == 48


def test_days_that_no_heading_names_are_asked(tmp_path):
    text = "Probe,Told,Clarity (in)\n2024-05-01,2024-05-03,30\n2024-05-08,2024-05-09,28\n"
    answer = ask(tmp_path, text)
    (asked,) = answer["ask"]
    assert (asked["field"], asked["taken"], asked["others"]) == ("meaning", "Probe", ["Told"])
    assert (answer["understood"]["used"], answer["provisional"]) == (2, True)
    settled = ask(tmp_path, text, "--days-column", "Told")
    assert (settled["ask"], settled["understood"]["columns"]["date"]) == ([], "Told")
