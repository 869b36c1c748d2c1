"""Lengths and weights in both unit systems: read as anglers write them, written as they read them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from fractions import Fraction
from typing import Final, Literal

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number

__all__ = [
    "CM_PER_IN", "EXACT_IN", "G_PER_OZ", "M_PER_FT", "System", "read_depth_ft", "read_length_in", "read_temperature_f",
    "read_visibility_in", "read_weight_oz", "write_depth", "write_exact", "write_length", "write_range", "write_weight",
    "write_weight_exact",
]  # fmt: skip

CM_PER_IN: Final = 2.54
M_PER_FT: Final = 0.3048
G_PER_OZ: Final = 28.349523125
EXACT_IN: Final = 6  # decimals of an inch that are kept: what was typed in centimetres comes back as it was typed
System = Literal["imperial", "metric"]

# A number as anglers write it: 2.5, .5, 3/8, 1 1/2 or 1-1/2. Bounded, so that no text makes it search for long.
_NUMBER: Final = r"\d{1,4}[ -]\d{1,3}/\d{1,3}|\d{1,4}/\d{1,3}|\d{1,6}(?:[.,]\d{1,6})?|[.,]\d{1,6}"
_PART: Final = re.compile(rf"({_NUMBER})\s{{0,4}}(inches|inch|in|\"|ft|feet|foot|'|mm|cm|m)?(?![a-z])", re.IGNORECASE)
_WEIGHT: Final = re.compile(
    rf"({_NUMBER})\s{{0,4}}(oz|ounces?|lbs?|pounds?|kg|grams?|gr|g)?\.?(?![a-z])", re.IGNORECASE
)
MOST_TEXT: Final = 40
MOST_DEPTH_FT: Final = 200.0
MOST_WEIGHT_OZ: Final = 160.0  # ten pounds: past any lure
_INCHES: Final = {
    "in": 1.0, "inch": 1.0, "inches": 1.0, '"': 1.0, "ft": 12.0, "feet": 12.0, "foot": 12.0, "'": 12.0,
    "mm": 0.1 / CM_PER_IN, "cm": 1 / CM_PER_IN, "m": 100 / CM_PER_IN,
}  # fmt: skip
_OUNCES: Final = {
    **dict.fromkeys(("oz", "ounce", "ounces"), 1.0), **dict.fromkeys(("lb", "lbs", "pound", "pounds"), 16.0),
    **dict.fromkeys(("g", "gr", "gram", "grams"), 1 / G_PER_OZ), "kg": 1000 / G_PER_OZ,
}  # fmt: skip


def read_length_in(text: str, system: System, field: str) -> float:
    """Inches from "30", "30 in", "2 ft 6 in", "75 cm" or "1.2 m"; a bare number is in inches or centimetres.

    Raises InvalidInput where the text is none of these.
    """
    total = _added_up(text, _PART, _INCHES, "in" if system == "imperial" else "cm")
    if total is None:
        raise InvalidInput(field, f"{text[:MOST_TEXT]!r} is not a length", "30 in, 2 ft 6 in, 75 cm or 1.2 m")
    return total


def read_visibility_in(text: str, system: System, field: str) -> float:
    """Inches of visibility, as `read_length_in` reads a length; a bare metric number with a point, as 0.8, is in
    metres, for nobody measures tenths of a centimetre of water. Raises InvalidInput."""
    bare = text.strip().replace(",", ".")
    if system == "metric" and re.fullmatch(r"\d{0,2}\.\d{1,2}", bare):
        text = f"{bare} m"
    return read_length_in(text, system, field)


def read_depth_ft(text: str, system: System, field: str) -> float:
    """Feet from "12 ft", "3.5 m" or a bare number, which is in feet or metres, from 0 to 200 ft. Raises
    InvalidInput."""
    total = _added_up(text, _PART, _INCHES, "ft" if system == "imperial" else "m")
    if total is None or not 0 <= total / 12 <= MOST_DEPTH_FT:
        raise InvalidInput(field, f"{text[:MOST_TEXT]!r} is not a depth", "12 ft or 3.5 m, to 200 ft (60 m)")
    return round(total / 12, 3)


def read_weight_oz(text: str, system: System, field: str) -> float:
    """Ounces from "3/8 oz", "1 1/2 oz", "1 lb 2 oz", "10 g" or a bare number, in ounces or grams. Raises
    InvalidInput."""
    total = _added_up(text, _WEIGHT, _OUNCES, "oz" if system == "imperial" else "g")
    if total is None or not 0 < total <= MOST_WEIGHT_OZ:
        raise InvalidInput(field, f"{text[:MOST_TEXT]!r} is not a weight", "3/8 oz, 1 1/2 oz or 10 g, to 10 lb")
    return round(total, 4)


def _added_up(text: str, pattern: re.Pattern[str], units: Mapping[str, float], bare: str) -> float | None:
    """The parts of a text added up in the unit that `units` is told in; None where it is no such text."""
    left, total, last = text.strip()[: MOST_TEXT + 1], 0.0, 0
    if len(left) > MOST_TEXT:
        return None
    for found in pattern.finditer(left):
        number = _number(found[1])
        if left[last : found.start()].strip() or number is None:
            return None
        total += number * units[(found[2] or bare).lower()]
        last = found.end()
    return total if last and not left[last:].strip() else None


def _number(text: str) -> float | None:
    total = 0.0
    for part in text.replace(",", ".").replace("-", " ").split():
        top, _, bottom = part.partition("/")
        if bottom and not int(bottom):
            return None
        total += float(top) / (int(bottom) if bottom else 1)
    return total


def write_length(inches: float, system: System) -> str:
    """A length as it is said: inches below five feet and feet from there, or centimetres below two metres."""
    number, unit = _said(inches, inches, system)
    return f"{number} {unit}"


def read_temperature_f(text: str, system: System, field: str) -> float:
    """Degrees Fahrenheit from "65 F", "18 C" or a bare number in the system's own degrees. Raises InvalidInput."""
    cleaned = text.strip().upper().replace("°", "")
    celsius = cleaned.endswith("C") or (system == "metric" and not cleaned.endswith("F"))
    value = read_number(cleaned.rstrip("CF "), -500, 500)
    if value is None:
        raise InvalidInput(field, f"{text[:MOST_TEXT]!r} is not a temperature", "65 F or 18 C")
    return value * 9 / 5 + 32 if celsius else value


def to_degrees(temp_f: float, system: System) -> float:
    """A temperature in the degrees of a unit system."""
    return (temp_f - 32) * 5 / 9 if system == "metric" else temp_f


def write_temperature(temp_f: float, system: System) -> str:
    """A temperature as it is said."""
    return f"{to_degrees(temp_f, system):.0f} {'°C' if system == 'metric' else '°F'}"


def write_exact(inches: float, system: System) -> str:
    """A length as it goes into a field, so that reading it back changes nothing that was entered."""
    return f"{_trimmed(inches * CM_PER_IN, 5)} cm" if system == "metric" else f"{_trimmed(inches, 5)} in"


# From such a low end on, and up to such a high one, a range is said in the unit of its high end.
_LONG_LOW_IN, _LONG_IN = 24.0, 96.0


def write_range(low_in: float, below_in: float | None, system: System) -> str:
    """A range of lengths as it is said; 0 leaves it open below, None above."""
    if below_in is None:
        return f"over {write_length(low_in, system)}"
    if not low_in:
        return f"under {write_length(below_in, system)}"
    by = below_in if low_in >= _LONG_LOW_IN and below_in >= _LONG_IN else low_in  # one unit for both
    low, unit = _said(low_in, by, system)
    below, _ = _said(below_in, by, system)
    return f"{low} – {below} {unit}"


def write_depth(feet: float, system: System) -> str:
    """A depth in feet or metres, so that reading it back changes nothing that was entered."""
    return f"{_trimmed(feet * M_PER_FT, 3)} m" if system == "metric" else f"{_trimmed(feet, 3)} ft"


def write_weight_exact(ounces: float, system: System) -> str:
    """A weight as it goes into a field, so that reading it back changes nothing that was entered."""
    if system == "metric":
        return f"{_trimmed(ounces * G_PER_OZ, 2)} g"
    near = Fraction(ounces).limit_denominator(64)
    if near.denominator in (2, 4, 8, 16, 32, 64) and abs(near - Fraction(ounces)) < Fraction(1, 1000):
        whole, part = divmod(near.numerator, near.denominator)
        return f"{whole or ''} {part}/{near.denominator} oz".strip()
    return f"{_trimmed(ounces, 4)} oz"


def write_weight(ounces: float, system: System) -> str:
    """A weight as it is said: in sixteenths of an ounce where it is that, from a pound on in pounds; or grams."""
    if system == "metric":
        grams = ounces * G_PER_OZ
        if grams >= 1000:
            return f"{grams / 1000:.2f} kg"
        return f"{grams:.1f}".removesuffix(".0") + " g" if grams < 10 else f"{grams:.0f} g"
    if ounces >= 16:
        return f"{round(ounces) // 16} lb {round(ounces) % 16} oz".removesuffix(" 0 oz")
    near = Fraction(ounces).limit_denominator(16)
    if near.denominator in (2, 4, 8, 16) and abs(near - Fraction(ounces)) < Fraction(4, 1000):
        whole, part = divmod(near.numerator, near.denominator)
        return f"{whole or ''} {part}/{near.denominator} oz".strip()
    return f"{ounces:.2f}".rstrip("0").rstrip(".") + " oz"


def _said(inches: float, like_in: float, system: System) -> tuple[str, str]:
    """A length's number and unit, in the unit that a length of `like_in` inches is said in."""
    if system == "metric":
        cm = inches * CM_PER_IN
        return (f"{cm:.0f}", "cm") if like_in * CM_PER_IN < 150 else (f"{cm / 100:.2f}".rstrip("0").rstrip("."), "m")
    return (_short(inches), "in") if like_in < 60 else (_short(inches / 12), "ft")


def _trimmed(number: float, digits: int) -> str:
    """A number in plain digits, with no more of them than it needs."""
    return f"{number:.{digits}f}".rstrip("0").rstrip(".")


def _short(number: float) -> str:
    return f"{number:.1f}".removesuffix(".0")
