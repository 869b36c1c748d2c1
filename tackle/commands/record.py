"""The record command: an open record of a water, as the page that takes it in understands it."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from datetime import date
from typing import Any

from tackle.base.errors import InvalidInput
from tackle.base.pipes import from_caller
from tackle.records.months import Curve, by_month, clarity_from, fit_pairs, sky_shares
from tackle.records.reading import Record, RecordRead, describe_columns, pairs_in
from tackle.records.table import RecordTable, read_table
from tackle.records.words import house_record_words

__all__ = ["record"]


def record(arguments: Sequence[str]) -> int:
    """Prints what was understood; returns the exit status: 1 where nothing could be used, 2 for a wrong call."""
    asked = _parser().parse_args(arguments)
    try:
        answer = _answer(asked)
    except InvalidInput as refused:
        print(json.dumps({"error": str(refused)}, ensure_ascii=False))
        print(refused, file=sys.stderr)
        return 1
    print(json.dumps(answer, ensure_ascii=False))
    return 0 if answer["understood"]["used"] else 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="wax record", description="An open record of a water, month by month.")
    parser.add_argument("file")
    parser.add_argument("--station", help="one of the record's stations; without it, all are used")
    parser.add_argument("--water-pairs", metavar="CSV", help="turbidity and visibility of the same moments")
    parser.add_argument("--what", choices=tuple(house_record_words().measures), help="what is asked for")
    return parser


def _answer(asked: argparse.Namespace) -> dict[str, Any]:
    table = read_table(_content(asked.file))
    known = Record(table)
    read = known.read(asked.what or "", asked.station, date.today())
    curve = fit_pairs(pairs_in(read_table(_content(asked.water_pairs))) if asked.water_pairs else [])
    answer: dict[str, Any] = {"understood": _understood(table, read), "months": _months(read, curve)}
    if known.there.get("cloud"):
        sky = known.read("cloud", asked.station, date.today())
        answer["sky"] = {
            "months": [
                {"month": month, "hours": hours, "bright": round(sun, 3), "broken": round(broken, 3),
                 "overcast": round(cover, 3)}
                for month, (hours, sun, broken, cover) in sky_shares(sky.used).items()
            ]
        }  # fmt: skip
    if known.there.get("temperature"):
        warm = known.read("temperature", asked.station, date.today())
        answer["temperature_f"] = {"months": _plain_months(warm)}
    answer["turbidity"] = {"pairs": curve.pairs, "rough": curve.rough}
    return answer


def _content(path: str) -> bytes:
    try:
        return from_caller(path).read_bytes()
    except OSError as error:
        raise InvalidInput("file", f"{path!r} cannot be read: {error.strerror}", "a file") from error


def _understood(table: RecordTable, read: RecordRead) -> dict[str, Any]:
    return {
        "format": table.format,
        "layout": read.shape.layout,
        "station": read.station,
        "stations": list(read.stations),
        "columns": describe_columns(table, read),
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
    }


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
            },
        }
        for one in by_month(seen, 0.0 if read.what == "secchi" else curve.spread)
    ]


def _plain_months(read: RecordRead) -> list[dict[str, Any]]:
    """Months of what may be below nothing: no interval on a log scale is told."""
    found = []
    for month in range(1, 13):
        mine = sorted(one.value for one in read.used if one.moment.month == month)
        if mine:
            years = len({one.moment.year for one in read.used if one.moment.month == month})
            low, usual, high = (mine[round((len(mine) - 1) * share)] for share in (0.1, 0.5, 0.9))
            found.append({"month": month, "readings": len(mine), "years": years,
                          "low": round(low, 2), "usual": round(usual, 2), "high": round(high, 2)})  # fmt: skip
    return found
