"""Open records, made here in the shapes that they come in, with what is true of them known."""

import csv
import io
import json
import math
import random
from datetime import date, timedelta

import numpy as np
import pytest

from tackle.base.errors import InvalidInput
from tackle.commands.record import record
from tackle.records.measured import Measured
from tackle.records.moments import detect_day_order, read_moment
from tackle.records.months import by_month, fit_pairs
from tackle.records.reading import Record
from tackle.records.table import read_tables

USUAL_IN = [20 + 12 * math.cos((month - 7) / 12 * 2 * math.pi) for month in range(12)]


def days(seed, count=300):
    pick = random.Random(seed)
    every = sorted(pick.sample(range(6 * 365), count))
    told = []
    for one in every:
        day = date(2019, 1, 1) + timedelta(days=one)
        told.append((day, USUAL_IN[day.month - 1] * math.exp(pick.gauss(0, 0.3))))
    return told


def as_long(told):
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["StationID", "SampleDate", "CharacteristicName", "ResultValue", "Units", "QCFlag"])
    for day, inches in told:
        writer.writerow(["L1", day.isoformat(), "Secchi depth", f"{inches * 0.0254:.4f}", "m", ""])
        writer.writerow(["L1", day.isoformat(), "pH", "7.4", "", ""])
    return out.getvalue()


def as_gauge(told):
    lines = ["# Water of a made-up gauge", "#", "# 40404  Water clarity, Secchi disk, centimeters",
             "site_no\tdatetime\t77_40404\t77_40404_cd", "15s\t20d\t14n\t10s"]  # fmt: skip
    return "\n".join([*lines, *(f"0001\t{day} 10:30\t{inches * 2.54:.2f}\tA" for day, inches in told)])


def as_wide(told):
    rows = [f"{day:%d.%m.%Y};{inches / 12:.4f};{68 if day.month > 5 else 50}" for day, inches in told]
    return "\n".join(["Visit date;Secchi [ft];Water temp (deg F)", *(row.replace(".", ".") for row in rows)])


def as_json(told):
    inner = [{"properties": {"obsDate": f"{day}T09:00:00Z", "secchi_in": round(inches, 3)}} for day, inches in told]
    return json.dumps({"type": "x", "features": inner})


def read(text, **asked):
    return Record(read_tables(text.encode())[0]).read(**asked)


@pytest.mark.parametrize("written", [as_long, as_gauge, as_wide, as_json])
@pytest.mark.parametrize("seed", range(3))
def test_the_same_record_comes_in_whole_in_every_shape(written, seed):
    told = days(seed)
    found = read(written(told))
    assert found.what == "secchi"
    assert (found.rows, len(found.used), found.refused) == (300, 300, [])
    for (day, inches), mine in zip(told, found.used, strict=True):
        assert (mine.moment if type(mine.moment) is date else mine.moment.date()) == day
        assert mine.value == pytest.approx(inches, rel=2e-3, abs=0.02)
    for month in by_month(found.used):
        mine = np.array([inches for day, inches in told if day.month == month.month])
        assert (month.low, month.usual, month.high) == pytest.approx(tuple(np.percentile(mine, (10, 50, 90))), rel=5e-3)
        assert month.years == len({day.year for day, _ in told if day.month == month.month})


def test_what_is_wrong_flagged_doubled_or_of_something_else_is_told_apart():
    lines = as_long(days(1, 4)).splitlines()
    bad = ["L1,2020-13-40,Secchi depth,1,m,", "L1,2020-05-01,Secchi depth,soup,m,", 
           "L1,2020-05-02,Secchi depth,1,league,",
           "L1,2020-05-03,Secchi depth,2,m,R", "L1,2020-05-04,Secchi depth,400,m,", lines[1]]  # fmt: skip
    found = read("\n".join([*lines, *bad]))
    assert (len(found.used), found.other, found.doubled, found.flagged) == (4, 4, 1, 1)
    assert [(cell.row, cell.column) for cell in found.refused] == [
        (10, "SampleDate"), (11, "ResultValue"), (12, "Units"), (14, "ResultValue"),
    ]  # fmt: skip
    assert found.rows == len(found.used) + len(found.refused) + found.doubled + found.flagged


def test_stations_are_used_together_or_one_alone():
    text = as_long(days(2, 5)) + as_long(days(3, 7)).replace("L1", "L2").split("\n", 1)[1]
    assert read(text).station is None
    assert len(read(text).used) == 12
    alone = read(text, station="L2")
    assert (alone.station, len(alone.used)) == ("L2", 7)
    with pytest.raises(InvalidInput):
        read(text, station="L9")


@pytest.mark.parametrize(
    ("text", "column", "day"),
    [("13/05/2020", ["13/05/2020"], date(2020, 5, 13)), ("05/13/2020", ["05/13/2020"], date(2020, 5, 13)),
     ("05/06/2020", ["05/06/2020"], date(2020, 5, 6)), ("05.06.2020", ["05.06.2020"], date(2020, 6, 5)),
     ("14-May-1999", [], date(1999, 5, 14)), ("May 14, 1999", [], date(1999, 5, 14)),
     ("19990514", [], date(1999, 5, 14)),
     ("2020-13-40", [], None), ("soup", [], None)],
)  # fmt: skip
def test_days_are_read_as_they_are_written(text, column, day):
    assert read_moment(text, detect_day_order(column)) == day


def test_five_pairs_make_a_curve_and_fewer_leave_the_rough_one():
    pick = random.Random(4)
    pairs = [(one, 90 * one**-0.6 * math.exp(pick.gauss(0, 0.1))) for one in (2, 5, 9, 20, 40, 80)]
    curve = fit_pairs([*pairs, (10, 900)])  # one of them is a slip
    assert not curve.rough
    assert curve.inches(12) == pytest.approx(90 * 12**-0.6, rel=0.25)
    assert fit_pairs(pairs[:4]).rough
    assert fit_pairs(pairs[:4]).spread > curve.spread


@pytest.mark.parametrize("count", [2, 5, 20])
def test_nine_intervals_of_ten_hold_the_truth(count):
    draw = np.random.default_rng(count)
    held = 0
    for _ in range(100):
        middle, spread = draw.normal(3.3, 0.5), math.exp(draw.normal(math.log(0.32), 0.3))
        years = [date(2000 + year, 5, 10) for year in range(count)]
        seen = [Measured(day, "", math.exp(draw.normal(middle, spread))) for day in years]
        low, high = by_month(seen)[0].interval
        held += low <= math.exp(middle) <= high
    assert 84 <= held <= 99


@pytest.mark.parametrize("text", ["", "a,b\n1,2", "Date,pH\n2020-01-01,7", "[]", "{}", "# only\n# notes"])
def test_what_is_no_record_is_refused(text):
    with pytest.raises(InvalidInput):
        read(text)


def test_the_command_answers_and_says_by_its_status_that_nothing_could_be_used(tmp_path, capsys):
    path = tmp_path / "mine.csv"
    path.write_text(as_wide(days(5, 40)))
    assert record([str(path)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["understood"]["used"] == 40
    assert set(told) == {"understood", "months", "temperature_f", "turbidity", "ask"}
    path.write_text("Date,Secchi (m)\nsoup,1\n")
    assert record([str(path)]) == 1
    assert json.loads(capsys.readouterr().out)["understood"]["refused"][0]["row"] == 2
    assert record([str(tmp_path / "none.csv")]) == 1


def test_a_reading_on_a_log_scale_needs_no_more_than_one():
    (month,) = by_month([Measured(date(2020, 5, 1), "", 30.0)])
    assert (month.low, month.usual, month.high) == (30, 30, 30)
    assert month.interval[0] < 30 < month.interval[1]
