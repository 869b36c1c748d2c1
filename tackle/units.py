"""Lengths and weights in both unit systems: read as anglers write them, written as they read them."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Final, Literal

from tackle.errors import Refused

__all__ = [
    "CM_PER_IN", "G_PER_OZ", "M_PER_FT", "System", "read_length_in", "read_temperature_f", "write_depth", "write_exact",
    "write_length", "write_range", "write_weight",
]  # fmt: skip

CM_PER_IN: Final = 2.54
M_PER_FT: Final = 0.3048
G_PER_OZ: Final = 28.349523125
System = Literal["imperial", "metric"]

_PART: Final = re.compile(r"(\d+(?:[.,]\d+)?)\s*(in|inch|inches|\"|ft|feet|foot|'|mm|cm|m)?", re.IGNORECASE)
_INCHES: Final = {
    "in": 1.0, "inch": 1.0, "inches": 1.0, '"': 1.0, "ft": 12.0, "feet": 12.0, "foot": 12.0, "'": 12.0,
    "mm": 0.1 / CM_PER_IN, "cm": 1 / CM_PER_IN, "m": 100 / CM_PER_IN,
}  # fmt: skip


def read_length_in(text: str, system: System, field: str) -> float:
    """Inches from "30", "30 in", "2 ft 6 in", "75 cm" or "1.2 m"; a bare number is in inches or centimetres.

    Raises Refused where the text is none of these.
    """
    left, total, last = text.strip(), 0.0, 0
    for found in _PART.finditer(left):
        if left[last : found.start()].strip():
            break
        unit = (found[2] or ("in" if system == "imperial" else "cm")).lower()
        total += float(found[1].replace(",", ".")) * _INCHES[unit]
        last = found.end()
    if last == 0 or left[last:].strip():
        raise Refused(field, f"{text!r} is not a length", "30 in, 2 ft 6 in, 75 cm or 1.2 m")
    return total


def write_length(inches: float, system: System) -> str:
    """A length as it is said: inches below five feet and feet from there, or centimetres below two metres."""
    number, unit = _said(inches, inches, system)
    return f"{number} {unit}"


def read_temperature_f(text: str, system: System, field: str) -> float:
    """Degrees Fahrenheit from "65 F", "18 C" or a bare number in the system's own degrees. Raises Refused."""
    cleaned = text.strip().upper().replace("°", "").replace(",", ".")
    celsius = cleaned.endswith("C") or (system == "metric" and not cleaned.endswith("F"))
    try:
        value = float(cleaned.rstrip("CF "))
    except ValueError:
        raise Refused(field, f"{text!r} is not a temperature", "65 F or 18 C") from None
    return value * 9 / 5 + 32 if celsius else value


def write_exact(inches: float, system: System) -> str:
    """A length as it goes into a field, so that reading it back changes nothing that was entered."""
    return f"{inches * CM_PER_IN:.6g} cm" if system == "metric" else f"{inches:.6g} in"


def write_range(low_in: float, below_in: float | None, system: System) -> str:
    """A range of lengths as it is said; 0 leaves it open below, None above."""
    if below_in is None:
        return f"over {write_length(low_in, system)}"
    if not low_in:
        return f"under {write_length(below_in, system)}"
    low, unit = _said(low_in, low_in, system)
    below, _ = _said(below_in, low_in, system)
    return f"{low} – {below} {unit}"


def write_depth(feet: float, system: System) -> str:
    """A depth in feet or metres, so that reading it back changes nothing that was entered."""
    return f"{feet * M_PER_FT:.4g} m" if system == "metric" else f"{feet:g} ft"


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


def _short(number: float) -> str:
    return f"{number:.1f}".removesuffix(".0")
