"""The record command: an open record of a water, as the page that takes it in understands it."""

from __future__ import annotations

import argparse
import gc
import json
import sys
from collections.abc import Sequence
from datetime import date
from typing import Any

from tackle.base.errors import InvalidInput
from tackle.base.pipes import from_caller
from tackle.records.choices import Question, Settled, settle
from tackle.records.layout import describe_columns
from tackle.records.measured import RecordRead
from tackle.records.moments import EPOCHS
from tackle.records.months import Curve, by_month, clarity_from, fit_pairs, percentile, sky_shares
from tackle.records.reading import Record, best_record, pairs_in, unite
from tackle.records.table import read_tables
from tackle.records.units import known_unit
from tackle.records.values import LEAVE_OUT
from tackle.records.words import house_record_words

__all__ = ["record"]


def record(arguments: Sequence[str]) -> int:
    """Prints what was understood; returns the exit status: 1 where nothing could be used, 2 for a wrong call."""
    asked = _parser().parse_args(arguments)
    gc.disable()  # a record is much that holds nothing but numbers
    try:
        answer = _answer(asked)
    except InvalidInput as refused:
        print(json.dumps({"error": str(refused)}, ensure_ascii=False))
        print(refused, file=sys.stderr)
        return 1
    finally:
        gc.enable()
    print(json.dumps(answer, ensure_ascii=False))
    return 0 if answer["understood"]["used"] else 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="wax record", description="An open record of a water, month by month.")
    parser.add_argument("file")
    parser.add_argument("--station", help="one of the record's stations; without it, all are used")
    parser.add_argument("--water-pairs", metavar="CSV", help="turbidity and visibility of the same moments")
    parser.add_argument("--what", choices=tuple(house_record_words().measures), help="what is asked for")
    settles = parser.add_argument_group("what the file leaves open")
    settles.add_argument(
        "--unit",
        action="append",
        default=[],
        help="of the values: ft, m, cm, in, F, C; once a measure",
    )
    settles.add_argument("--column", help="the heading of the values")
    settles.add_argument("--days-column", help="the heading of the days")
    settles.add_argument("--day-order", choices=("dmy", "mdy"), help="whether day or month comes first")
    settles.add_argument("--zone", help="of its hours: UTC, solar, hours such as -5, a name such as Europe/Paris")
    settles.add_argument("--depth-to", help="down to how many metres values count, or surface, or all")
    settles.add_argument("--statistic", choices=("median", "mean", "maximum", "minimum"), help="which of several")
    settles.add_argument("--censored", choices=("bound", "leave"), help="whether > and < are used as bounds")
    settles.add_argument("--meaning", choices=("water", "air"), help="what a bare temperature or visibility is of")
    settles.add_argument(
        "--sign", choices=("below the surface", LEAVE_OUT), help="whether numbers below nothing are depths"
    )
    settles.add_argument("--kind-of-day", choices=tuple(EPOCHS), help="from which day on its numbers count days")
    return parser


def _settled(asked: argparse.Namespace, what: str) -> Settled:
    """What the call settles, of the measure that it asks for."""
    given = {
        f"{name}:{what}": getattr(asked, name) or "" for name in ("column", "statistic", "censored", "meaning", "sign")
    }
    given["column:date"] = asked.days_column or ""
    given |= {"day_order": asked.day_order or "", "zone": asked.zone or "", "depth": asked.depth_to or ""}
    for unit in asked.unit:
        other = next((one for one in ("temperature", "cloud") if known_unit(one, unit)), what)
        given[f"unit:{what if known_unit(what, unit) else other}"] = unit
    return settle(given | {"kind_of_day": asked.kind_of_day or ""})


def _answer(asked: argparse.Namespace) -> dict[str, Any]:
    tables, today = read_tables(_content(asked.file)), date.today()
    what = asked.what or best_record(tables, Settled(), None)[0].first
    known, others = best_record(tables, _settled(asked, what), None)
    read = known.read(asked.what or "", asked.station, today)
    curve = fit_pairs(pairs_in(read_tables(_content(asked.water_pairs))[0]) if asked.water_pairs else [])
    answer: dict[str, Any] = {"understood": _understood(known, read, others), "months": _months(read, curve)}
    reads = [read]
    for name, measure in (("sky", "cloud"), ("temperature_f", "temperature")):
        if known.there.get(measure) and measure != read.what:
            reads.append(known.read(measure, asked.station, today))
        if known.there.get(measure):
            mine = read if measure == read.what else reads[-1]
            answer[name] = {"months": _sky_months(mine) if name == "sky" else _plain_months(mine)}
    answer["turbidity"] = {"pairs": curve.pairs, "rough": curve.rough}
    answer["ask"] = [_question(one) for one in unite(reads)]
    if answer["ask"]:
        answer["provisional"] = True
    return answer


def _question(one: Question) -> dict[str, Any]:
    names = ("field", "column", "taken", "others", "why", "rows")
    return {name: list(one.others) if name == "others" else getattr(one, name) for name in names}


def _sky_months(sky: RecordRead) -> list[dict[str, Any]]:
    return [
        {"month": month, "hours": hours, "bright": round(sun, 3), "broken": round(broken, 3),
         "overcast": round(cover, 3)}
        for month, (hours, sun, broken, cover) in sky_shares(sky.used).items()
    ]  # fmt: skip


def _content(path: str) -> bytes:
    try:
        return from_caller(path).read_bytes()
    except OSError as error:
        raise InvalidInput("file", f"{path!r} cannot be read: {error.strerror}", "a file") from error


def _understood(record: Record, read: RecordRead, others: dict[str, int]) -> dict[str, Any]:
    table = record.table
    return {
        "format": table.format,
        "layout": read.layout.layout,
        "station": read.station,
        "stations": list(read.stations),
        "columns": describe_columns(table, read.layout, read.place),
        "what": read.what,
        "unit": read.unit,
        "rows": read.rows,
        "used": len(read.used),
        "other": read.other,
        "refused": [
            {"row": cell.row, "column": cell.column, "wrong": cell.wrong, "allowed": cell.allowed}
            for cell in read.refused
        ],
        "doubled": read.doubled,
        "flagged": read.flagged,
        "censored": read.censored,
    } | ({"other_lists": others} if others else {})


def _months(read: RecordRead, curve: Curve) -> list[dict[str, Any]]:
    if read.what not in ("secchi", "turbidity"):
        return _plain_months(read)
    seen = read.used if read.what == "secchi" else clarity_from(read.used, curve)
    return [
        {
            "month": one.month,
            "readings": one.readings,
            "years": one.years,
            "visibility_in": {
                "low": round(one.low, 2),
                "usual": round(one.usual, 2),
                "high": round(one.high, 2),
                "usual_interval": [round(edge, 2) for edge in one.interval],
            }
            | ({"usual_bound": one.bound} if one.bound else {}),
        }
        for one in by_month(seen, 0.0 if read.what == "secchi" else curve.spread)
    ]


def _plain_months(read: RecordRead) -> list[dict[str, Any]]:
    """Months of what may be below nothing: no interval on a log scale is told."""
    found = []
    for month in range(1, 13):
        mine = [one for one in read.used if one.moment.month == month]
        if mine:
            years = len({one.moment.year for one in read.used if one.moment.month == month})
            low, usual, high = (percentile(mine, share) for share in (0.1, 0.5, 0.9))
            found.append({"month": month, "readings": len(mine), "years": years,
                          "low": round(low, 2), "usual": round(usual, 2), "high": round(high, 2)})  # fmt: skip
    return found
