"""A made-up gauge: six years of a river and of a lake, as a table such as gauges serve; the levels of a tide, as JSON,
with zones, flags, a gap, and a unit that is another from half-way on."""

import json
import math
import random
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta, timezone
from typing import Final

from tackle.base.units import M_PER_FT

YEARS: Final = 6
# By site: what it measures, inches of visibility by month as they mostly are, degrees C of its mean year and half its
# swing.
SITES: Final = {
    "sallow-creek": ("turb_FNU", (34, 30, 22, 18, 20, 26, 32, 34, 36, 38, 36, 34), 13.0, 11.0),
    "tarn-hollow": ("secchi_m", (84, 78, 44, 24, 46, 62, 72, 76, 74, 78, 76, 80), 14.0, 12.5),
}
_HEADER: Final = """# A made-up gauge. Every figure is simulated.
# site {site}: daily at noon, local solar time
# columns: {what}; water_temp_C; cloud_pct; wind_ms; rain_mm of the day
site_no\tdatetime\t{what}\twater_temp_C\tcloud_pct\twind_ms\train_mm
5s\t16d\t8n\t6n\t4n\t5n\t6n
"""


TIDAL: Final = "reed-gut"
DAYS, GAP = 90, range(40, 52)
# Of the tide: cycles an hour, metres, and degrees on the first of January of 2024.
_WAVES: Final = ((0.0805114, 0.62, 40.0), (0.0833333, 0.17, 75.0), (0.0417807, 0.12, 10.0), (0.0387307, 0.09, 300.0))


def record_table(site: str, today: date) -> str:
    """What the gauge has of a site, the same for the same day; empty where there is no such site."""
    if site == TIDAL:
        return json.dumps({"site": site, "note": "Every figure is simulated.", "series": _levels(today)})
    if site not in SITES:
        return ""
    what, *_ = SITES[site]
    return _HEADER.format(site=site, what=what) + "".join(_rows(site, today))


def _levels(today: date) -> list[dict[str, object]]:
    pick, zone = random.Random(TIDAL), timezone(timedelta(hours=-5))
    begin = datetime(today.year, today.month, today.day, tzinfo=UTC) - timedelta(days=DAYS)
    series: list[dict[str, object]] = []
    for unit, first, last in (("m", 0, DAYS // 2), ("ft", DAYS // 2, DAYS)):
        points = []
        for hour in range(24 * first, 24 * last):
            at = begin + timedelta(hours=hour)
            since = (at - datetime(2024, 1, 1, tzinfo=UTC)).total_seconds() / 3600
            level = sum(m * math.cos(math.tau * wave * since + math.radians(deg)) for wave, m, deg in _WAVES)
            level = (level + pick.gauss(0, 0.05)) / (1.0 if unit == "m" else M_PER_FT)
            bad = pick.random() < 0.01
            if hour // 24 not in GAP:
                points.append({"time": at.astimezone(zone).isoformat(), "value": round(level + 9 * bad, 3),
                               "flag": "rejected" if bad else "good"})  # fmt: skip
        series.append({"parameter": {"name": "Water level", "unit": unit}, "points": points})
    return series


def _rows(site: str, today: date) -> Iterator[str]:
    what, usual, mean_c, swing_c = SITES[site]
    pick = random.Random(site)
    start, rains, drift = today.replace(day=1) - timedelta(days=YEARS * 365), [0.0, 0.0], 0.0
    for ahead in range(YEARS * 365):
        day = start + timedelta(days=ahead)
        turn = 2 * math.pi * (day.timetuple().tm_yday - 25) / 365
        cloud = min(max(pick.gauss(0.5 + 0.15 * math.cos(turn), 0.33), 0.0), 1.0)
        rain = pick.expovariate(1 / 9) if cloud > 0.7 and pick.random() < 0.5 else 0.0
        drift = 0.9 * drift + pick.gauss(0, 0.12)
        inches = usual[day.month - 1] * math.exp(drift - 0.03 * min(sum(rains), 30.0) + pick.gauss(0, 0.08))
        seen = ""
        if what == "turb_FNU":
            seen = f"{(inches / 110) ** (-1 / 0.7) * math.exp(pick.gauss(0, 0.12)):.1f}"
        elif pick.random() < 0.12:  # somebody rows out with the disk
            seen = f"{inches * 0.0254:.2f}"
        temp = max(mean_c - swing_c * math.cos(turn - 0.3) + pick.gauss(0, 0.8), 0.3)
        wind = max(pick.gauss(3.2 + cloud, 1.6), 0.0)
        yield f"{site}\t{day} 12:00\t{seen}\t{temp:.1f}\t{cloud * 100:.0f}\t{wind:.1f}\t{rain:.1f}\n"
        rains = [rains[1], rain]
