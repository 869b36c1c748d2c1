"""A call in words, as an angler reads it: when, and what."""

from calendar import month_name
from collections.abc import Callable, Iterable, Sequence

from tackle.base.units import System, write_depth, write_range, write_temperature
from tackle.schools.rule import TRAITS, Range, Rule
from tackle.situations.conditions import CHOICES, CONDITIONS
from web.common.ui.words import label

# Lights that go together in the rulebooks, in the words an angler has for them.
_LIGHTS = {
    frozenset(("bright", "broken", "overcast", "low")): "by day, dawn and dusk",
    frozenset(("bright", "broken", "overcast")): "by day",
    frozenset(("bright", "broken")): "sunny or partly cloudy",
    frozenset(("overcast", "low")): "under cloud or low sun",
}


def describe_when(calls: Sequence[Rule], units: System) -> str:
    """What must hold for calls that were written as one."""
    first = calls[0]
    parts = [_number(name, span, units) for name, span in first.ranges]
    for name, values in first.among:
        if name == "forage" and len(calls) > 1:
            values = frozenset(
                food for call in calls for also, foods in call.among if also == "forage" for food in foods
            )
        words = _LIGHTS.get(values) or _listed(value for value in (*CHOICES[name], "unknown") if value in values)
        parts.append(f"{CONDITIONS[name].said} {words}".strip())
    said = ", ".join(parts) or "ever"
    return said[0].upper() + said[1:]


def describe_want(calls: Sequence[Rule]) -> str:
    """What is wanted, the tone first; then what is rather had."""
    first = calls[0]
    want = sorted(first.want, key=lambda pair: pair[0] != "tone")
    parts = [_traits(name, values) for name, values in want if not (name == "imitates" and len(calls) > 1)]
    if len(calls) > 1:
        parts.append("like what they eat")
    rather = [_traits(name, values) for name, values in first.wish]
    said = ", ".join(parts) + (f"; rather {', '.join(rather)}" if rather else "")
    return said[0].upper() + said[1:]


def _listed(values: Iterable[str]) -> str:
    return " or ".join(label(value).lower() for value in values)


def _traits(name: str, values: frozenset[str]) -> str:
    words = _listed(value for value in TRAITS[name] if value in values)
    if name == "imitates":
        return f"like {words}"
    if name == "flake":
        return f"{words} flake".replace("none flake", "no flake")
    return f"{words} flake" if name == "flake_hues" else words


def _number(name: str, span: Range, units: System) -> str:
    low, below = max(span.low, 0.0), None if span.below == float("inf") else span.below
    if name in ("visibility_in", "sight_in"):
        return f"{write_range(low, below, units)} of visibility" + (" at the lure" if name == "sight_in" else "")
    if name == "norm_in":
        return f"{write_range(low, below, units)} of visibility as a rule"
    if name == "month":
        last = 12 if below is None else (int(below) - 2) % 12 + 1
        return f"{month_name[max(int(low), 1)]} to {month_name[last]}"
    if name == "water_temp_f":
        return _between(low, below, lambda value: write_temperature(value, units))
    if name == "depth_ft":
        return _between(low, below, lambda value: write_depth(round(value, 1), units)) + " deep"
    if name == "depth_ratio":
        return _between(low, below, lambda value: f"{value:g} times as deep as one sees")
    return _between(low, below, lambda value: f"{value:.2g} of the water's usual visibility")


def _between(low: float, below: float | None, say: Callable[[float], str]) -> str:
    if below is None:
        return f"from {say(low)}"
    return f"{say(low)} to {say(below)}" if low else f"under {say(below)}"
