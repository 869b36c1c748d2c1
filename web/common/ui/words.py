"""Ids of the vocabulary, worded for people."""

from collections.abc import Iterable, Sequence

_LABELS = {
    "bright": "Sunny", "broken": "Partly cloudy", "overcast": "Overcast", "low": "Low sun", "night": "Night",
    "unknown": "Not known", "go-to": "first choice", "works": "will do", "gin": "Gin clear", "mud": "Muddy",
}  # fmt: skip


_SKIES = {"bright": "Sunny", "broken": "Partly", "overcast": "Overcast", "low": "Low sun", "night": "Night"}


def sky(light: str) -> str:
    """A light in one short word."""
    return _SKIES[light]


def label(value: str) -> str:
    """An id as a label: "casting-jig" is "Casting jig"."""
    return _LABELS.get(value, value.replace("-", " ").capitalize())


def region_said(name: str) -> str:
    """A region's name as a label: "warm-coast-south" is "Warm coast, south"."""
    climate, _, half = name.rpartition("-")
    return f"{label(climate)}, {half}"


def days_said(value: float) -> str:
    """A number of days: whole from ten on, one digit below that where it is not whole."""
    return f"{value:.0f}" if value >= 9.95 else f"{value:.1f}".removesuffix(".0")


def adding_up(parts: Sequence[float]) -> list[str]:
    """Some days to a tenth, so that what is shown adds up to what is shown of all: what is cut off most goes up first
    (the largest remainders)."""
    tenths = [max(part, 0.0) * 10 for part in parts]
    whole = [int(tenth + 1e-9) for tenth in tenths]
    missing = round(sum(tenths)) - sum(whole)
    for place in sorted(range(len(parts)), key=lambda place: whole[place] - tenths[place])[:missing]:
        whole[place] += 1
    return [f"{one / 10:.1f}".removesuffix(".0") for one in whole]


def total_shown(shown: Sequence[str]) -> str:
    """What some days add up to, as they are shown."""
    return f"{sum(map(float, shown)):.1f}".removesuffix(".0")


def listed(words: Sequence[str]) -> str:
    """Some words as a list in a sentence: one, two and three."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def either(words: Sequence[str]) -> str:
    """Some words of which one is to be chosen: one, two or three."""
    return " or ".join([", ".join(words[:-1]), words[-1]]) if len(words) > 1 else "".join(words)


def choices(ids: Iterable[str]) -> list[tuple[str, str]]:
    """Ids with their labels, for a field's choices."""
    return [(str(one), label(one)) for one in ids]
