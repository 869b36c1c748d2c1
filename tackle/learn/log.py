"""A log as the model reads it: turns of a day, each a colour thrown for some minutes with some bites."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tackle.base.vocabulary import Season
from tackle.learn.assumed import Assumed
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.situation import Situation, make_situation

__all__ = ["Turn", "bite_size", "find_square", "merged", "silent", "telling", "where_thrown"]


@dataclass(frozen=True, slots=True)
class Turn:
    """One colour thrown on one day: `at` the hour of its start (None: not told), `minutes`, and `bites`, weighed."""

    day: str
    colour: str
    minutes: float
    bites: float
    at: float | None = None
    situation: Situation | None = None


def find_square(situation: Situation | None, data: Assumed) -> tuple[str, str] | None:
    """The clarity and light that a situation counts as."""
    if situation is None:
        return None
    inches = situation.visibility_in
    clarity = "murky" if inches < data.murky_below_in else "clear" if inches >= data.clear_from_in else "middling"
    return clarity, "bright" if situation.light in data.bright else "dim"


def where_thrown(turns: Sequence[Turn], colour: str, cell: tuple[str, str], data: Assumed) -> list[Situation]:
    """The water that a colour was thrown in on telling days, within a clarity and light: one situation for each band of
    clarity, light and season that there was, so that what is made of it holds no wider."""
    found: dict[tuple[str, str, Season | None], Situation] = {}
    for turn in (turn for day in telling(turns) for turn in day):
        there = turn.situation
        if turn.colour == colour and there is not None and find_square(there, data) == cell:
            band = HOUSE_LADDER.band_at(there.visibility_in)
            typical = HOUSE_LADDER.typical_in(band)
            made = make_situation(there.category, visibility_in=typical, light=there.light, season=there.phase)
            found.setdefault((band, there.light, there.phase), made)
    return list(found.values())


def merged(turns: Sequence[Turn], data: Assumed) -> list[Turn]:
    """The turns with the parts of one turn put together: one day, start, colour, clarity and light."""
    found: dict[tuple[object, ...], Turn] = {}
    for turn in turns:
        key = turn.day, turn.at, turn.colour, find_square(turn.situation, data)
        if key in found:
            one = found[key]
            turn = Turn(one.day, one.colour, one.minutes + turn.minutes, one.bites + turn.bites, one.at, one.situation)
        found[key] = turn
    return list(found.values())


def telling(turns: Sequence[Turn]) -> list[list[Turn]]:
    """The days that tell something between colours: with a bite, and more than one colour thrown."""
    days: dict[str, list[Turn]] = {}
    for turn in turns:
        if turn.minutes > 0:
            days.setdefault(turn.day, []).append(turn)
    return [
        day for _, day in sorted(days.items())
        if sum(turn.bites for turn in day) > 0 and len({turn.colour for turn in day}) > 1
    ]  # fmt: skip


def silent(turns: Sequence[Turn]) -> tuple[list[str], list[str]]:
    """The days that tell nothing between colours: those on which nothing bit, and those of one colour alone."""
    days: dict[str, list[Turn]] = {}
    for turn in turns:
        days.setdefault(turn.day, []).append(turn)
    data = {day[0].day for day in telling(turns)}
    blank = [day for day, listed in days.items() if not sum(turn.bites for turn in listed)]
    return blank, [day for day in days if day not in data and day not in blank]


def bite_size(turns: Sequence[Turn], data: Assumed) -> float:
    """How much one bite counts on average, by its weight: 1 where all are whole.

    Weighed bites carry less evidence than so many whole ones, but are no less even: each turn's weight is taken apart
    into the fewest bites that make it up, and the mean is taken over the weight.
    """
    weights = sorted((round(10 * weight) for weight in data.hook_up.values() if weight), reverse=True)
    total = squares = 0.0
    for turn in turns:
        if turn.bites <= 0:
            continue
        if abs(turn.bites - round(turn.bites)) < 1e-9:
            parts = [10] * round(turn.bites)
        else:
            parts = _fewest(round(10 * turn.bites), weights)
        total += sum(parts)
        squares += sum(part * part for part in parts) / 10
    return squares / total if total else 1.0


def _fewest(tenths: int, weights: Sequence[int]) -> list[int]:
    """The fewest weights that add up to so many tenths; what cannot be made up counts as one bite."""
    best: list[list[int] | None] = [[]] + [None] * tenths
    for amount in range(1, tenths + 1):
        for weight in weights:
            before = best[amount - weight] if weight <= amount else None
            if before is not None and (best[amount] is None or len(before) + 1 < len(best[amount] or [])):
                best[amount] = [*before, weight]
    return best[tenths] or [tenths]
