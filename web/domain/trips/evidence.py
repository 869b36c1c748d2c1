"""The log as evidence: turns weighed by how fish were hooked, what the book says beside them, what is believed."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

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
MINUTES_A_DAY = 1440
_SEEN = ("visibility_in", "depth_ft", "food", *_WORDS)
_FIELDS = ("trip__date", "card", "trailer", "at", "minutes", *ids(HookUp), *_SEEN, "parts")


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


def logged(owner: User, category: str, palette: Palette, before: date | None = None) -> Logged:
    """The log of one category, of the days before one where that is told; of trailers, those on whatever jig.

    A turn that went through another light, or longer than one turn, is told by its parts."""
    mine = models.Turn.objects.filter(trip__owner=owner, trip__deleted_at=None).order_by("trip__date", "pk")
    threaded = category == TRAILER
    rows = mine.exclude(trailer="") if threaded else mine.filter(category=category)
    if before is not None:
        rows = rows.filter(trip__date__lt=before)
    hook_up = assumed().hook_up
    turns, untold = [], 0
    for day, jig, trailer, at, minutes, *rest in rows.values_list(*_FIELDS):
        card = trailer if threaded else jig
        *rest, parts = rest
        if minutes is None or card not in palette.by_id:
            untold += 1
            continue
        came, seen = (
            dict(zip(ids(HookUp), rest, strict=False)),
            dict(zip(_SEEN, rest[len(ids(HookUp)) :], strict=True)),
        )
        whole = {"at": at, "minutes": minutes, "bites": came, "water": seen}
        for part in parts or [whole]:
            when = day + timedelta(days=int((part["at"] or 0.0) // MINUTES_A_DAY))
            bites = sum(count * hook_up[how] for how, count in part["bites"].items())
            there = _situation(category, when, part["water"], palette.by_id.get(jig) if threaded else None)
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
