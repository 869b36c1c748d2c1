"""The unit of a column: told by its heading, a row of units, a note or a title; else what its numbers allow."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Final

from tackle.records.layout import codes_in
from tackle.records.table import RecordTable
from tackle.records.words import RecordWords, heading_words, house_record_words

__all__ = ["BOUNDS", "allowed_values", "guess_unit", "known_unit", "to_our_unit", "unit_of_column"]

_IN_MARKS: Final = re.compile(r"[\[(]([^\])]*)[\])]")
_AFTER: Final = re.compile(r"[_,;:/]\s*([^_,;:/\[\]()]+)$")
_IN_A_TITLE: Final = re.compile(r"\b(?:in|en|unit|units|einheit)\b[:\s]*(?:degrees? |deg )?([a-z%/°]+)", re.I)
_IS_A_WORD: Final = ("in",)  # a unit that is a word of a sentence, too
_TEMPERATURES: Final = ("temperature", "air_temperature")
_DEGREES: Final = {"c": "c", "celsius": "c", "f": "f", "fahrenheit": "f", "k": "k", "kelvin": "k"}
# From above the first to the second is believed, in our units.
BOUNDS: Final = {
    "secchi": (0.0, 1_200.0), "turbidity": (0.0, 20_000.0), "temperature": (25.0, 115.0),
    "air_temperature": (-80.0, 140.0), "cloud": (-1e-9, 1.0 + 1e-9), "radiation": (-50.0, 1_600.0),
    "wind": (-1e-9, 250.0), "rain": (-1e-9, 60.0), "level": (-5_000.0, 30_000.0),
}  # fmt: skip
# What a bare number may be, the likeliest first, from so much for its middle one on.
_BY_SIZE: Final = {
    "secchi": ((0.0, "m"), (9.0, "ft"), (25.0, "in"), (75.0, "cm")),
    "temperature": ((-99.0, "c"), (36.0, "f")), "air_temperature": ((-99.0, "c"), (42.0, "f")),
    "cloud": ((0.0, "fraction"), (1.01, "oktas"), (8.01, "tenths"), (10.01, "%")),
    "wind": ((0.0, "m/s"), (6.0, "mph")), "rain": ((0.0, "mm"),), "level": ((-1e9, "m"),),
}  # fmt: skip
_MAY_BE: Final = {
    "secchi": ("m", "ft", "in", "cm"), "temperature": ("c", "f"), "air_temperature": ("c", "f"),
    "cloud": ("%", "oktas", "tenths", "fraction"), "wind": ("m/s", "mph", "km/h", "knots"), "rain": ("mm", "in"),
    "level": ("m", "ft"), "turbidity": ("ntu",), "radiation": ("w/m2",),
}  # fmt: skip
# Of the water's own year: what a middle and what the furthest values may be, in our units, for a unit to be possible.
_MIDDLE_IN: Final = {"secchi": (2.0, 700.0), "temperature": (33.0, 95.0), "air_temperature": (-20.0, 105.0)}


def known_unit(what: str, text: str) -> str:
    """A unit as we know it; empty where it is none for a measure."""
    plain = text.strip().lower().replace("°", "").replace("º", "").replace("²", "2").rstrip(".")
    if what in _TEMPERATURES:
        words = re.sub(r"deg(rees?)?|grad", "", plain).strip(" _")
        return _DEGREES.get(words, "")
    units = house_record_words().units.get(what, {})
    for name in (plain, plain.replace(" ", ""), " ".join(heading_words(plain))):
        if name in units:
            return name
    return ""


def unit_of_column(what: str, table: RecordTable, place: int) -> str:
    """The unit that is told of a column: by its heading's brackets, or what stands last in it; by a row of units under
    it; by a code; by a note or a title above that speaks of it."""
    heading = table.headings[place]
    said = [found[1] for found in _IN_MARKS.finditer(heading)]
    said += [found[1] for found in [_AFTER.search(_IN_MARKS.sub("", heading).strip())] if found]
    words = [word for word in heading_words(heading) if word not in _IS_A_WORD]
    said += [table.units[place].strip("[]() "), *words[-1:]]
    said += [" ".join(words[-2:])]
    for text in said:
        if text and (unit := known_unit(what, text)):
            return unit
    known = house_record_words()
    for code in codes_in(heading):
        if code in known.code_units and known.codes.get(code) == what:
            return known.code_units[code]
    mine = [note for note in table.notes if any(code in note for code in codes_in(heading))]
    above = mine or [note for note in table.notes if known.measure(note) == what or _is_general(note)]
    for note in above:
        said = [found[1] for found in _IN_MARKS.finditer(note)] + [found[1] for found in _IN_A_TITLE.finditer(note)]
        said.append(note.rpartition(",")[2])
        said += [word for word in heading_words(note)[::-1] if mine and len(word) > 2]
        for text in said:
            if text not in _IS_A_WORD and (unit := known_unit(what, text)):
                return unit
    return ""


def _is_general(note: str) -> bool:
    return bool({"all", "depths", "values", "readings", "units", "measurements"} & set(heading_words(note)))


def guess_unit(what: str, values: Sequence[float]) -> tuple[str, list[str]]:
    """What a bare number is taken for, and what else it may be: nothing else where no other unit is possible."""
    if not values:
        return _MAY_BE[what][0], []
    middle = sorted(values)[len(values) // 2]
    largest, least = max(values), min(values)
    sized = _BY_SIZE.get(what, ((-1e9, _MAY_BE[what][0]),))
    by = largest if what == "cloud" else middle
    taken = next((unit for start, unit in reversed(sized) if by >= start), sized[0][1])
    possible = [unit for unit in _MAY_BE[what] if _is_possible(what, unit, middle, least, largest)]
    if taken not in possible and possible:
        taken = possible[0]
    return taken, [unit for unit in possible if unit != taken]


def _is_possible(what: str, unit: str, middle: float, least: float, largest: float) -> bool:
    low, high = BOUNDS[what]
    low_middle, high_middle = _MIDDLE_IN.get(what, (low, high))
    ours = [to_our_unit(what, one, unit) for one in (middle, least, largest)]
    return low_middle <= ours[0] <= high_middle and all(low - 1e-6 <= one <= high for one in ours[1:])


def to_our_unit(what: str, amount: float, unit: str, known: RecordWords | None = None) -> float:
    """An amount in our unit of a measure (see the data file)."""
    if what in _TEMPERATURES:
        return {"c": amount * 1.8 + 32, "k": (amount - 273.15) * 1.8 + 32}.get(unit, amount)
    return amount * (known or house_record_words()).units[what][unit]


def allowed_values(what: str) -> str:
    """Which values of a measure are believed, in words."""
    low, high = BOUNDS[what]
    unit = {"secchi": " in", "temperature": " F", "air_temperature": " F", "wind": " mph", "rain": " in"}.get(what, "")
    return f"from {'above ' if low == 0 else ''}{low:g} to {high:g}{unit}"
