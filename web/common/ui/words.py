"""Ids of the vocabulary, worded for people."""

from collections.abc import Iterable, Sequence

from tackle.base.units import System

_LABELS = {
    "bright": "Sunny", "broken": "Partly cloudy", "overcast": "Overcast", "low": "Low sun", "night": "Night",
    "unknown": "Not known", "go-to": "first choice", "works": "will do", "gin": "Gin clear", "mud": "Muddy",
    "rising": "Coming in", "falling": "Going out",
}  # fmt: skip


_SKIES = {"bright": "Sunny", "broken": "Partly", "overcast": "Overcast", "low": "Low sun", "night": "Night"}


def sky(light: str) -> str:
    """A light in one short word."""
    return _SKIES[light]


def label(value: str) -> str:
    """An id as a label: "casting-jig" is "Casting jig"."""
    return _LABELS.get(value, value.replace("-", " ").capitalize())


def many(category: str) -> str:
    """A category in the plural: "casting jigs", "inshore shrimp"."""
    one = label(category).lower()
    return one if one.endswith("shrimp") else f"{one}s"


def region_said(name: str) -> str:
    """A region's name as a label: "warm-coast-south" is "Warm coast, south"."""
    climate, _, half = name.rpartition("-")
    return f"{label(climate)}, {half}"


def days_said(value: float) -> str:
    """A number of days, whole; "under 1" where that would be none."""
    whole = int(value + 0.5)
    return str(whole) if whole or value <= 0 else "under 1"


def clock_said(time: int | str, system: System) -> str:
    """An hour, or a time as "14:05", by the clock of those who use a system of units: "2 pm" and "2:05 pm", or 14:05.
    Hours are counted on through the days of a trip."""
    hour, minute = (int(part) for part in (time.split(":") if isinstance(time, str) else (time, 0)))
    if system == "metric":
        return f"{hour % 24:02}:{minute:02}"
    return f"{hour % 12 or 12}{f':{minute:02}' if minute else ''} {'am' if hour % 24 < 12 else 'pm'}"


def adding_up(parts: Sequence[float], steps: int = 1) -> list[str]:
    """Some days in whole ones, or with `steps` of 10 in tenths, that add up to what is shown of all (largest
    remainders)."""
    scaled = [max(part, 0.0) * steps for part in parts]
    shown = [int(part + 1e-9) for part in scaled]
    missing = int(sum(scaled) + 0.5) - sum(shown)
    for index in sorted(range(len(parts)), key=lambda index: shown[index] - scaled[index])[:missing]:
        shown[index] += 1
    return [f"{part / steps:g}" for part in shown]


def split_days(first_choice: float, covered: float, expected: float) -> list[str]:
    """First-choice days, those on which something will do, and those not covered, as they are shown, and all of them
    together: they add up as they stand."""
    shown = adding_up((first_choice, covered - first_choice, expected - covered))
    return [*shown, total_shown(shown)]


def total_shown(shown: Sequence[str]) -> str:
    """What some days add up to, as they are shown."""
    return f"{round(sum(map(float, shown)), 1):g}"


def listed(words: Sequence[str]) -> str:
    """Some words as a list in a sentence: one, two and three."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def either(words: Sequence[str]) -> str:
    """Some words of which one is to be chosen: one, two or three."""
    return " or ".join([", ".join(words[:-1]), words[-1]]) if len(words) > 1 else "".join(words)


def choices(ids: Iterable[str]) -> list[tuple[str, str]]:
    """Ids with their labels, for a field's choices."""
    return [(str(one), label(one)) for one in ids]
