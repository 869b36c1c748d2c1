"""The turn of the year: for some months, what leaves the boat, what comes in from home, what is made instead of bought.

Repairs are done in a batch: each is weighed with what comes in and with those before it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from tackle.base.store import kept
from tackle.base.vocabulary import Season
from tackle.check.idle import find_idle
from tackle.check.reach import Planned, Reach, Reached
from tackle.check.repairs import REPAIRS, Repair, repaired
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.likeness import difference, unlike_traits
from tackle.colours.palette import Palette
from tackle.cover.plan import Request
from tackle.crate.lure import Lure, target_count

__all__ = ["Bring", "Make", "Out", "Workbench", "becomes", "season_end", "lay_out", "reworkable", "season_ahead"]

MOST_MADE: Final = 4  # of one category: a few of each, not all there are
LEAST_DAYS: Final = 0.5  # that a repair must answer or make right


@dataclass(frozen=True, slots=True)
class Out:
    """Lures aboard of a colour that answers none of these days, and the other seasons in which it has days."""

    lures: tuple[Lure, ...]
    seasons: tuple[Season, ...]


@dataclass(frozen=True, slots=True)
class Bring:
    """What lies at home and is wanted aboard: how many to bring up to par, and the days that the colour serves."""

    category: str
    card: Colour
    count: int
    aboard: int
    par: int
    days: float


@dataclass(frozen=True, slots=True)
class Make:
    """A repair of one lure, what it makes, and the days it answers and makes right beyond all before it.

    `wanted`: whether what it makes is a colour that the plan wants and neither boat nor home has.
    """

    lure: Lure
    repair: Repair
    made: Colour
    wanted: bool
    days: float
    right: float


@dataclass(frozen=True, slots=True)
class Workbench:
    """One list to work off; what does most comes first. `resting`: the categories without a day in these months."""

    resting: tuple[str, ...]
    out: tuple[Out, ...]
    bring: tuple[Bring, ...]
    make: tuple[Make, ...]

    @property
    def evening(self) -> list[tuple[Repair, list[Make]]]:
        """What is made on one evening, one way of making it after the other: all sanding before all coating."""
        ways = [(repair, [one for one in self.make if one.repair.id == repair.id]) for repair in REPAIRS]
        return [(repair, listed) for repair, listed in ways if listed]


_AHEAD: Final = 3  # months that one changes over for
_WORTH_DAYS: Final = 5  # in these months, for which it is worth the evening


def season_ahead(month: int, days: Mapping[int, float]) -> tuple[int, int]:
    """The first and last of the next months, after one, that have days worth changing over for; `days` by month."""
    following = [(month + ahead) % 12 + 1 for ahead in range(12)]
    fished = [
        one for one in following if sum(days.get((one + by - 1) % 12 + 1, 0.0) for by in range(_AHEAD)) >= _WORTH_DAYS
    ]
    first = (fished or following)[0]
    return first, season_end(first)


def season_end(first: int) -> int:
    """The last month of a season that begins with one."""
    return (first + _AHEAD - 2) % 12 + 1


def lay_out(
    aboard: Sequence[Lure],
    home: Sequence[Lure],
    planned: Sequence[Planned],
    year: Sequence[Planned],
    palette: Palette,
) -> Workbench:
    """What to do for the days of some plans, one a category; `year` are the same plans for all their months.

    A plan of jigs with trailers counts the jigs alone.
    """
    resting: list[str] = []
    out: list[Out] = []
    bring: list[Bring] = []
    make: list[Make] = []
    whole = {each.request.category: each.request for each in year}
    for each in planned:
        category = each.request.category
        if not sum(each.request.days):
            resting.append(category)
            continue
        here, stored = ([one for one in lures if one.category == category] for lures in (aboard, home))
        reach = Reach([each.request], palette)
        reach.learn([one.card for one in (*here, *stored)])
        idle = find_idle(here, reach)
        coming = _coming(each, here, stored)
        made = _made(each, here, stored, coming, reach, palette)
        taken = {one.lure.ref for one in made}
        seasons = _seasons(whole.get(category), [one.lures[0].card for one in idle], palette)
        now = {situation.season for situation in each.request.situations}
        out += [
            Out(one.lures, tuple(season for season in seasons[one.lures[0].card] if season not in now))
            for one in idle
            if not any(lure.ref in taken for lure in one.lures)
        ]
        bring += coming
        make += made
    return Workbench(
        resting=tuple(resting),
        out=tuple(out),
        bring=tuple(sorted(bring, key=lambda one: -one.days)),
        make=tuple(sorted(make, key=lambda one: (-one.days - one.right, -one.days))),
    )


def becomes(made: Colour, category: str, palette: Palette) -> Colour:
    """The card of the palette that a changed one is in all that is seen of it; else the changed one itself."""
    same = [card for card in palette.sold_in(category) if card.id != made.id and _alike(card, made)]
    return min(same, key=lambda card: difference(card, made), default=made)


def _alike(one: Colour, other: Colour) -> bool:
    """Whether two cards are the same in all that is seen of them."""
    return (one.tone, one.brightness) == (other.tone, other.brightness) and not unlike_traits(one, other)


@kept("reworkable")
def reworkable(owned: frozenset[Colour], category: str, palette: Palette) -> frozenset[str]:
    """The cards of a category that lures of it could be made into, by their ids."""
    made = (becomes(card, category, palette) for one in owned for _, card in repaired(one, category, palette))
    return frozenset(card.id for card in made) & palette.ids_in(category)


def _seasons(request: Request | None, cards: Sequence[Colour], palette: Palette) -> dict[Colour, tuple[Season, ...]]:
    """In which seasons of a request's days each of some cards answers one."""
    if request is None or not cards:
        return dict.fromkeys(cards, ())
    reach = Reach([request], palette)
    reach.learn(cards)
    found = {}
    for card in cards:
        answered = reach.answers(card) & (np.array(request.days) > 0)
        there = {request.situations[row].season for row in answered.nonzero()[0].tolist()}
        found[card] = tuple(season for season in Season if season in there)
    return found


def _coming(each: Planned, here: Sequence[Lure], stored: Sequence[Lure]) -> list[Bring]:
    have, kept = _counted(here), _counted(stored)
    found = []
    for (category, card), days in each.wanted.items():
        par = target_count(category, card, days)
        count = min(kept[card.id], max(par - have[card.id], 0))
        if category == each.request.category and count:
            found.append(Bring(category, card, count, have[card.id], par, days))
    return found


def _made(
    each: Planned, here: Sequence[Lure], stored: Sequence[Lure], coming: Sequence[Bring], reach: Reach, palette: Palette
) -> list[Make]:
    category = each.request.category
    total = _counted([*here, *stored])
    cards = {one.card for one in here} | {one.card for one in coming}
    wanted = {card.id for place, card in each.wanted if place == category}
    first = {one.card: one for one in (*here, *stored)}
    ways = [
        (lure, repair, becomes(made, category, palette))
        for card, lure in first.items()
        for repair, made in repaired(card, category, palette)
        if repair.minutes and family(card, category) != family(made, category)  # a coat over its like is no work
    ]
    reach.learn([made for *_, made in ways])
    found: list[Make] = []
    used: Counter[str] = Counter()
    while ways and len(found) < MOST_MADE:
        now = reach.reached(cards)
        # The last of a colour is lost as it was.
        last = {lure.card for lure, *_ in ways if total[lure.card.id] - used[lure.card.id] == 1}
        gains = [reach.reached((cards - ({lure.card} & last)) | {made}) - now for lure, _, made in ways]
        best = max(range(len(ways)), key=lambda at: (gains[at].days + gains[at].right, gains[at].days))
        if not _worth(gains[best]):
            break
        lure, repair, made = ways.pop(best)
        new = made.id in wanted and not total[made.id]
        found.append(Make(lure, repair, made, new, gains[best].days, gains[best].right))
        cards = (cards - ({lure.card} & last)) | {made}
        used[lure.card.id] += 1
        ways = [way for way in ways if total[way[0].card.id] > used[way[0].card.id]]
    return found


def _worth(gain: Reached) -> bool:
    return gain.days >= 0 and gain.right >= 0 and gain.days + gain.right >= LEAST_DAYS


def _counted(lures: Sequence[Lure]) -> Counter[str]:
    counted: Counter[str] = Counter()
    for lure in lures:
        counted[lure.card.id] += lure.count
    return counted
