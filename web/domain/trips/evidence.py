"""The log as evidence: turns weighed by how fish were hooked, what the book says beside them, what is believed."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from django.db.models import Q

from tackle.base.store import kept
from tackle.base.vocabulary import (
    TRAILER,
    Cover,
    Current,
    Density,
    Forage,
    HookUp,
    Light,
    Mood,
    Pace,
    Stain,
    Tide,
    Wind,
    ids,
)
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.day.facts import DAY_MINUTES
from tackle.learn.assumed import assumed
from tackle.learn.book import mean_advice
from tackle.learn.log import Turn, find_square, merged
from tackle.learn.model import Belief, believed
from tackle.schools.rulebook import Rulebook
from tackle.situations.depth import own_depth_ft
from tackle.situations.situation import Situation, make_situation
from web.common.accounts.models import User
from web.domain.trips import models

_WORDS = {"light": Light, "wind": Wind, "stain": Stain, "cover": Cover, "density": Density, "pace": Pace, "mood": Mood,
          "current": Current, "tide": Tide}  # fmt: skip
_SEEN = ("visibility_in", "depth_ft", "food", *_WORDS)
_FIELDS = ("trip__date", "category", "card", "trailer", "at", "minutes", *ids(HookUp), *_SEEN, "parts")


@dataclass(frozen=True, slots=True)
class Logged:
    """The turns of one category that can be counted, how many cannot, and the colours that were thrown."""

    turns: tuple[Turn, ...]
    untold: int
    cards: tuple[Colour, ...]


def categories_logged(owner: User) -> list[str]:
    """What was thrown, the most turns first."""
    rows = (
        models.Turn.objects.filter(trip__owner=owner, trip__deleted_at=None)
        .order_by()
        .values_list("category", "trailer")
    )
    counted: dict[str, int] = {}
    for category, trailer in rows:
        for one in (category, TRAILER) if trailer else (category,):
            counted[one] = counted.get(one, 0) + 1
    return sorted(counted, key=lambda category: (-counted[category], category))


def logged(owner: User, category: str, palette: Palette) -> Logged:
    """The log of one category; of trailers, those on whatever jig."""
    return logs_of(owner, [category], palette)[category]


def logs_of(owner: User, categories: Iterable[str], palette: Palette, before: date | None = None) -> dict[str, Logged]:
    """The log of each of some categories, of the days before one where that is told."""
    rows: dict[str, list[dict[str, Any]]] = {category: [] for category in categories}
    wanted = Q(category__in=rows) | (~Q(trailer="") if TRAILER in rows else Q())
    mine = models.Turn.objects.filter(wanted, trip__owner=owner, trip__deleted_at=None).order_by("trip__date", "pk")
    if before is not None:
        mine = mine.filter(trip__date__lt=before)
    for row in mine.values(*_FIELDS):
        if row["category"] in rows and row["category"] != TRAILER:
            rows[row["category"]].append(row)
        if row["trailer"] and TRAILER in rows:
            rows[TRAILER].append(row)
    return {category: _logged(category, listed, palette) for category, listed in rows.items()}


def _logged(category: str, rows: Iterable[dict[str, Any]], palette: Palette) -> Logged:
    """The turns of one category; one that went through another light, or longer than one turn, by its parts."""
    hook_up, threaded = assumed().hook_up, category == TRAILER
    turns, untold = [], 0
    for row in rows:
        card = row["trailer" if threaded else "card"]
        if row["minutes"] is None or card not in palette.by_id:
            untold += 1
            continue
        whole = {
            "at": row["at"], "minutes": row["minutes"], "bites": {how: row[how] for how in ids(HookUp)},
            "water": {name: row[name] for name in _SEEN},
        }  # fmt: skip
        for part in row["parts"] or [whole]:
            when = row["trip__date"] + timedelta(days=int((part["at"] or 0.0) // DAY_MINUTES))
            bites = sum(count * hook_up[how] for how, count in part["bites"].items())
            there = _situation(category, when, part["water"], palette.by_id.get(row["card"]) if threaded else None)
            hour = None if part["at"] is None else part["at"] / 60 % 24
            turns.append(Turn(when.isoformat(), card, part["minutes"], round(bites, 6), hour, there))
    thrown = {turn.colour for turn in turns}
    cards = tuple(card for card in palette.sold_in(category) if card.id in thrown)
    return Logged(tuple(turns), untold, cards)


def _situation(category: str, day: date, seen: dict[str, Any], jig: Colour | None) -> Situation | None:
    """What was known of the water then; None where it is too little to ask about."""
    if seen.get("visibility_in") is None or not seen.get("light"):
        return None
    data: dict[str, Any] = {name: words(seen[name]) for name, words in _WORDS.items() if seen.get(name)}
    data |= {"forage": (Forage(seen["food"]),)} if seen.get("food") else {}
    if jig:
        data["with_tone"] = jig.tone
    deepest, told = own_depth_ft(category), seen.get("depth_ft")
    depth = {} if told is None else {"depth_ft": told if deepest is None else min(told, deepest)}
    return make_situation(category, visibility_in=seen["visibility_in"], month=day.month, **data, **depth)


@kept("belief")
def compute_belief(
    category: str,
    turns: tuple[Turn, ...],
    cards: tuple[Colour, ...],
    books: tuple[Rulebook, ...],
    cell: tuple[str, str] | None,
) -> tuple[Belief, dict[str, float]]:
    """What is believed of some colours, and what the book said of them before: in a clarity and light, or on the
    whole."""
    data = assumed()
    listed = {card.id for card in cards}
    mine = [turn for turn in merged(turns, data) if turn.colour in listed]
    there = [turn for turn in mine if cell is None or find_square(turn.situation, data) == cell]
    asked = [(turn.situation, turn.minutes) for turn in there if turn.situation is not None and turn.minutes]
    book = mean_advice(books, cards, category, asked)
    return believed(mine, cards, book, data, cell), book
