"""The turns command: what to throw now, from what is in the tray and what the fish said."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, Id, ListOf, Number, OptionalKind, Record, Table, Text, Whole
from tackle.base.vocabulary import CATEGORIES, TRAILER, HookUp
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette, house_palette
from tackle.commands.fields import CATEGORY, SCHOOLS, read_schools, rows
from tackle.commands.learn import read_turn
from tackle.data import reason
from tackle.day.fish import Bite, FishTurn, Part
from tackle.day.log import HOOKED
from tackle.day.now import aboard_better, kind_now, log_of, spoken_kind
from tackle.learn.log import Turn
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import trailer_for
from tackle.situations.conditions import CONDITIONS
from tackle.situations.situation import read_situation

__all__ = ["turns"]

_WHEN: Final = Text(16, 16, re.compile(r"\d{4}-\d{2}-\d{2}T\d{2}:\d{2}"), "a time such as 2026-05-02T07:00")
_MOMENT: Final = Text(19, 16, re.compile(r"\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2})?"), "a time such as 2026-05-02T07:00")
_COUNT: Final = OptionalKind(Whole(0, 100_000), 1)
_CAME: Final = OptionalKind(Whole(0, 1_000), 0)
_REQUEST: Final = Record({
    "id": ANYTHING, "schools": SCHOOLS, "categories": ListOf(CATEGORY, 100, 1, once=True), "at": _WHEN,
    "now": ANYTHING, "tray": rows(1_000), "aboard": rows(10_000), "pace": OptionalKind(CONDITIONS["pace"].kind),
    "rod": OptionalKind(CATEGORY), "turns": rows(10_000), "log": rows(100_000), "partner": OptionalKind(ANYTHING),
})  # fmt: skip
_PIECE: Final = Record({"category": CATEGORY, "colour": ANYTHING, "count": _COUNT})
_LIGHT: Final = OptionalKind(CONDITIONS["light"].kind)
_SEEN: Final = OptionalKind(CONDITIONS["visibility_in"].kind)
_TURN: Final = Record({
    "at": _WHEN, "minutes": OptionalKind(Number(0, 1_440), 0.0), "category": CATEGORY, "colour": ANYTHING,
    "with": ANYTHING, **dict.fromkeys(HOOKED, _CAME), "gone": _CAME, "light": _LIGHT, "visibility_in": _SEEN,
    "bites": OptionalKind(rows(1_000)),
})  # fmt: skip
_BITE: Final = Record({"at": _MOMENT, "how": Id(HookUp), "light": _LIGHT, "visibility_in": _SEEN})
_PARTNER: Final = Record({"category": OptionalKind(CATEGORY), "colour": ANYTHING, "turns": rows(10_000)})


def turns(request: Mapping[str, Any]) -> dict[str, Any]:
    """What to throw now. Raises InvalidInput.

    >>> tray = [{"category": "worm", "colour": one} for one in ("green-pumpkin-black", "black-plain")]
    >>> now = {"visibility_in": 40, "light": "bright"}
    >>> told = turns({"categories": ["worm"], "at": "2026-05-02T07:00", "now": now, "tray": tray})
    >>> told["do"], told["colour"]
    ('begin', 'green-pumpkin-black')
    """
    asked, palette = _REQUEST.read(request), house_palette()
    at = _moment(asked["at"], "at")
    books = read_schools(asked["schools"], house_rulebooks())
    fished, gone = _turns(asked["turns"], "turns", palette)
    theirs, partner = _partner(asked["partner"], palette)
    tray = _pieces(asked["tray"], "tray", palette, gone)
    jigs = any(CATEGORIES[one].takes_trailer for one in asked["categories"])
    threaded = palette.sold_in(TRAILER)
    trailers = sorted(tray.pop(TRAILER, []) if jigs else [], key=threaded.index)
    listed = [one for one in asked["categories"] if not (one == TRAILER and trailers)]
    rod = asked["rod"]
    listed = [rod, *(one for one in listed if one != rod)] if rod else listed
    log = [_noted(entry, f"log[{index}]", listed[0]) for index, entry in enumerate(asked["log"])]
    aboard, kinds = _pieces(asked["aboard"], "aboard", palette, gone), {}
    for category in listed:
        situation = read_situation(asked["now"], category, "now")
        if asked["pace"]:
            situation = replace(situation, pace=asked["pace"])
        mine = [turn for turn in (*fished, *theirs) if turn.category == category]
        noted = [turn for where, turn in log if where in (None, category)]
        cards, lies = tray.get(category, []), aboard.get(category, [])
        said = log_of(category, [*cards, *lies], noted, palette)
        kinds[category] = kind_now(situation, cards, lies, books, mine, said, at, palette, partner)
    spoken = spoken_kind(kinds)
    better = aboard_better(kinds[spoken], aboard.get(spoken, []))

    def piece(category: str, card: Colour | None) -> dict[str, Any]:
        why, who = kinds[category].said(card) if card else (reason("move"), None)
        on_it = trailer_for(card, kinds[category].situation, trailers, threaded, books) if card else None
        return {
            "category": category,
            "colour": card and card.id,
            "with": on_it and on_it.card.id,
            "why": why,
            "from": who,
        }

    return {
        "do": kinds[spoken].read.do,
        **piece(spoken, kinds[spoken].read.card),
        "order": [
            piece(category, one)
            | {"tried": kinds[category].read.tried.get(one.id, 0), "failed": kinds[category].read.failed.get(one.id, 0)}
            for category in (spoken, *(other for other in kinds if other != spoken))
            for one in kinds[category].read.order
        ],
        "aboard_better": better and {"category": spoken, "colour": better.card.id, "why": better.verdict.call.why},
    }


def _pieces(
    entries: Sequence[Any], field: str, palette: Palette, gone: dict[tuple[str, str], int]
) -> dict[str, list[Colour]]:
    """The colours by category of which something is left; what is `gone` is taken out of these, and of it."""
    counts: dict[tuple[str, Colour], int] = {}
    for index, entry in enumerate(entries):
        data = _PIECE.read(entry, f"{field}[{index}]")
        where = data["category"], palette.card(data["colour"], f"{field}[{index}].colour", data["category"])
        counts[where] = counts.get(where, 0) + data["count"]
    found: dict[str, list[Colour]] = {}
    for (category, card), count in counts.items():
        lost = gone.get((category, card.id), 0)
        if count > lost:
            found.setdefault(category, []).append(card)
        gone[category, card.id] = max(lost - count, 0)
    return found


def _partner(entry: Any, palette: Palette) -> tuple[list[FishTurn], Colour | None]:
    """A partner's turns, and what they throw now."""
    if entry is None:
        return [], None
    data = _PARTNER.read(entry, "partner")
    fished, _ = _turns(data["turns"], "partner.turns", palette)
    on = None if data["colour"] is None else palette.card(data["colour"], "partner.colour", data["category"])
    return [replace(turn, partner=True) for turn in fished], on


def _turns(entries: Sequence[Any], field: str, palette: Palette) -> tuple[list[FishTurn], dict[tuple[str, str], int]]:
    """The turns, the parts of one put together, and how many of each colour are gone."""
    gone = dict[tuple[str, str], int]()
    found: dict[tuple[str, str, Colour], FishTurn] = {}
    for index, entry in enumerate(entries):
        where = f"{field}[{index}]"
        data = _TURN.read(entry, where)
        category = data["category"]
        card = palette.card(data["colour"], f"{where}.colour", category)
        gone[category, card.id] = gone.get((category, card.id), 0) + data["gone"]
        key = data["at"], category, card
        before = found.get(key)
        begins = before.parts[-1].until if before else _moment(data["at"], f"{where}.at")
        part = Part(begins, data["minutes"], data["light"], data["visibility_in"])
        turn = before or FishTurn(category, card, ())
        bites = tuple(_bites(data, part, where))
        found[key] = replace(turn, parts=(*turn.parts, part), bites=(*turn.bites, *bites))
    return list(found.values()), gone


def _bites(data: Mapping[str, Any], part: Part, field: str) -> Iterable[Bite]:
    """What came in a part of a turn: each as it is told, else as it is counted, at its end and in its light."""
    if data["bites"] is None:
        for how in HOOKED:
            yield from [Bite(part.until, HookUp(how), part.light)] * data[how]
        return
    for index, entry in enumerate(data["bites"]):
        told = _BITE.read(entry, f"{field}.bites[{index}]")
        yield Bite(_moment(told["at"], f"{field}.bites[{index}].at"), told["how"], told["light"] or part.light)


def _noted(entry: Any, field: str, category: str) -> tuple[str | None, Turn]:
    """A turn of the log, and its kind where it tells one."""
    data = Table(ANYTHING, ANYTHING).read(entry, field)
    where = OptionalKind(CATEGORY).read(data.pop("category", None), f"{field}.category")
    return where, read_turn(data, field, where or category)


def _moment(text: str, field: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError as error:
        raise InvalidInput(field, f"{text!r} is not a time", "a time such as 2026-05-02T07:00") from error
