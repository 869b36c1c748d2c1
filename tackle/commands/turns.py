"""The turns command: what to throw now, from what is in the tray and what the fish said."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Final

from tackle.colours.card import Card
from tackle.colours.palette import Palette, house_palette
from tackle.commands.fields import CATEGORY, SCHOOLS, rows, schools_of
from tackle.commands.learn import read_turn
from tackle.data import reason
from tackle.day.fish import FishRead, FishTurn, read_fish
from tackle.errors import Refused
from tackle.learn.assumed import assumed
from tackle.learn.book import word_of
from tackle.learn.log import Turn, cell_of, merged, telling
from tackle.learn.model import believed
from tackle.schools.evaluation import reached_first
from tackle.schools.first_word import Asked, ask
from tackle.schools.rulebook import Rulebook, house_rulebooks
from tackle.situations.conditions import CONDITIONS
from tackle.situations.situation import Situation, read_situation
from tackle.typed import ANYTHING, Maybe, Number, Record, Several, Table, Text, Whole
from tackle.vocabulary import CATEGORIES, TRAILER

__all__ = ["turns"]

_NOTED: Final = 1.15  # times the average: from here on the log is named
_WHEN: Final = Text(16, 16, re.compile(r"\d{4}-\d{2}-\d{2}T\d{2}:\d{2}"), "a time such as 2026-05-02T07:00")
_COUNT: Final = Maybe(Whole(0, 100_000), 1)
_CAME: Final = Maybe(Whole(0, 1_000), 0)
_REQUEST: Final = Record({
    "id": ANYTHING, "schools": SCHOOLS, "categories": Several(CATEGORY, 100, 1, once=True), "at": _WHEN,
    "now": ANYTHING, "tray": rows(1_000), "aboard": rows(10_000), "pace": Maybe(CONDITIONS["pace"].kind),
    "rod": Maybe(CATEGORY), "turns": rows(10_000), "log": rows(100_000),
})  # fmt: skip
_PIECE: Final = Record({"category": CATEGORY, "colour": ANYTHING, "count": _COUNT})
_TURN: Final = Record({
    "at": _WHEN, "minutes": Maybe(Number(0, 1_440), 0.0), "category": CATEGORY, "colour": ANYTHING,
    "with": ANYTHING, "whole": _CAME, "outside": _CAME, "lost": _CAME, "missed": _CAME, "gone": _CAME,
    "light": Maybe(CONDITIONS["light"].kind), "visibility_in": Maybe(CONDITIONS["visibility_in"].kind),
})  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Kind:
    """One kind of lure now: what is left of it in the tray, what the schools say, what the fish said, who says what."""

    situation: Situation
    asked: Asked
    read: FishRead
    log: Mapping[str, float]  # how many times the average bites, by colour, where the log tells something


def turns(request: Mapping[str, Any]) -> dict[str, Any]:
    """What to throw now. Raises Refused.

    >>> tray = [{"category": "worm", "colour": one} for one in ("green-pumpkin-black", "black-plain")]
    >>> now = {"visibility_in": 40, "light": "bright"}
    >>> told = turns({"categories": ["worm"], "at": "2026-05-02T07:00", "now": now, "tray": tray})
    >>> told["do"], told["colour"]
    ('begin', 'green-pumpkin-black')
    """
    asked, palette = _REQUEST.read(request), house_palette()
    at = _moment(asked["at"], "at")
    books = schools_of(asked["schools"], house_rulebooks())
    fished, gone = _turns(asked["turns"], palette)
    tray = _pieces(asked["tray"], "tray", palette, gone)
    trailers = tray.pop(TRAILER, []) if any(CATEGORIES[one].takes_trailer for one in asked["categories"]) else []
    listed = [one for one in asked["categories"] if not (one == TRAILER and trailers)]
    rod = asked["rod"]
    listed = [rod, *(one for one in listed if one != rod)] if rod else listed
    log = [_noted(entry, f"log[{place}]", listed[0]) for place, entry in enumerate(asked["log"])]
    kinds = {}
    for category in listed:
        situation = read_situation(asked["now"], category, "now")
        if asked["pace"]:
            situation = replace(situation, pace=asked["pace"])
        mine = [turn for turn in fished if turn.category == category]
        noted = [turn for where, turn in log if where in (None, category)]
        kinds[category] = _kind(category, situation, tray.get(category, []), books, mine, noted, at, palette)
    spoken = next((category for category, kind in kinds.items() if kind.read.card), listed[0])
    return _as_json(spoken, kinds, trailers, books, _pieces(asked["aboard"], "aboard", palette, {}), palette)


def _kind(
    category: str, situation: Situation, cards: list[Card], books: Sequence[Rulebook], fished: list[FishTurn],
    noted: list[Turn], at: datetime, palette: Palette,
) -> _Kind:  # fmt: skip
    sold = palette.sold_in(category)
    cards = sorted(cards, key=lambda card: sold.index(card) if card in sold else len(sold))
    asked = ask(books, cards, situation)
    order = asked.order()
    times = _log_says(category, situation, cards, books, noted)
    if times:
        order.sort(key=lambda card: -times.get(card.id, 1.0))
    return _Kind(situation, asked, read_fish(order, fished, situation, at), times)


def _log_says(
    category: str, situation: Situation, cards: list[Card], books: Sequence[Rulebook], noted: list[Turn]
) -> dict[str, float]:
    """How many times the average bites each colour has by book and log together; none where the log tells nothing."""
    ids = {card.id for card in cards}
    mine = [turn for turn in merged(noted, assumed()) if turn.colour in ids]
    if not telling(mine):
        return {}
    book = word_of(books, cards, category, [(situation, 1.0)])
    belief = believed(mine, cards, book, assumed(), cell_of(situation, assumed()))
    return {colour: math.exp(belief.middle(place)) for place, colour in enumerate(belief.colours)}


def _as_json(
    spoken: str, kinds: Mapping[str, _Kind], trailers: list[Card], books: Sequence[Rulebook],
    aboard: Mapping[str, list[Card]], palette: Palette,
) -> dict[str, Any]:  # fmt: skip
    kind = kinds[spoken]
    card = kind.read.card
    said = _said(kind, card) if card else {"why": reason("move"), "from": None}
    order = [
        {
            "category": category,
            "colour": one.id,
            "with": _with(category, one, kinds[category].situation, trailers, books),
            **_said(kinds[category], one),
            "tried": kinds[category].read.tried.get(one.id, 0),
            "failed": kinds[category].read.failed.get(one.id, 0),
        }
        for category in (spoken, *(other for other in kinds if other != spoken))
        for one in kinds[category].read.order
    ]
    return {
        "do": kind.read.do,
        "category": spoken,
        "colour": card and card.id,
        "with": card and _with(spoken, card, kind.situation, trailers, books),
        **said,
        "order": order,
        "aboard_better": _aboard_better(spoken, kind, aboard.get(spoken, []), books, palette),
    }


def _said(kind: _Kind, card: Card) -> dict[str, Any]:
    """The reason for a colour, and who gives it."""
    if kind.log.get(card.id, 1.0) >= _NOTED:
        return {"why": reason("log-says", times=f"{kind.log[card.id]:.1f}"), "from": "log"}
    voice = kind.asked.voice(card)
    return {"why": voice[1].call.why, "from": voice[0].id} if voice else {"why": "", "from": None}


def _with(
    category: str, jig: Card, situation: Situation, trailers: list[Card], books: Sequence[Rulebook]
) -> str | None:
    """The trailer to thread on a jig: the first word over those in the tray."""
    if not trailers or not CATEGORIES[category].takes_trailer:
        return None
    on_it = replace(situation, category=TRAILER, with_tone=jig.tone)
    start = ask(books, trailers, on_it).first()
    return start.card.id if start else None


def _aboard_better(
    category: str, kind: _Kind, aboard: list[Card], books: Sequence[Rulebook], palette: Palette
) -> dict[str, Any] | None:
    """What is aboard and a first choice of a school where the tray has none of its first choices."""
    left = set(kind.read.order)
    lacking = []
    for book, verdicts in ask(books, palette.sold_in(category), kind.situation).ranked:
        first = reached_first(verdicts)
        if left.isdisjoint(verdict.card for verdict in first):
            lacking.append((book, [verdict for verdict in first if verdict.card in aboard]))
    start = Asked(kind.situation, aboard, lacking).start()
    if start is None:
        return None
    return {"category": category, "colour": start.card.id, "why": start.verdict.call.why}


def _pieces(
    entries: Sequence[Any], field: str, palette: Palette, gone: Mapping[tuple[str, str], int]
) -> dict[str, list[Card]]:
    """The colours by category of which something is left."""
    counts: dict[tuple[str, Card], int] = {}
    for place, entry in enumerate(entries):
        told = _PIECE.read(entry, f"{field}[{place}]")
        where = told["category"], palette.card(told["colour"], f"{field}[{place}].colour", told["category"])
        counts[where] = counts.get(where, 0) + told["count"]
    found: dict[str, list[Card]] = {}
    for (category, card), count in counts.items():
        if count > gone.get((category, card.id), 0):
            found.setdefault(category, []).append(card)
    return found


def _turns(entries: Sequence[Any], palette: Palette) -> tuple[list[FishTurn], dict[tuple[str, str], int]]:
    """The turns, and how many of each colour are gone."""
    found, gone = [], dict[tuple[str, str], int]()
    for place, entry in enumerate(entries):
        field = f"turns[{place}]"
        told = _TURN.read(entry, field)
        category = told["category"]
        card = palette.card(told["colour"], f"{field}.colour", category)
        gone[category, card.id] = gone.get((category, card.id), 0) + told["gone"]
        came = {name: told[name] for name in ("whole", "outside", "lost", "missed", "light", "visibility_in")}
        found.append(FishTurn(_moment(told["at"], f"{field}.at"), told["minutes"], category, card, **came))
    return found, gone


def _noted(entry: Any, field: str, category: str) -> tuple[str | None, Turn]:
    """A turn of the log, and its kind where it tells one."""
    told = Table(ANYTHING, ANYTHING).read(entry, field)
    where = Maybe(CATEGORY).read(told.pop("category", None), f"{field}.category")
    return where, read_turn(told, field, where or category)


def _moment(text: str, field: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError as error:
        raise Refused(field, f"{text!r} is not a time", "a time such as 2026-05-02T07:00") from error
