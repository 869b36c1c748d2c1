"""What happened on the water: taps, one after another, put together into turns.

A tap is never changed: what was wrong is corrected, or dropped, by a later tap. So a log that is sent twice, in parts
or from several phones comes to the same turns. A turn has a part for each light, clarity and day that it goes through,
and for each time that its length is over; each bite is of the minute in which it came.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Final

from tackle.base.typed import ANYTHING, ListOf, Number, OptionalKind, Record, Text, ValueKind, Whole, Word
from tackle.base.vocabulary import CATEGORIES, Forage, HookUp, ids
from tackle.day.facts import DAY_MINUTES, Forecast, Told, WaterSeen, facts_at, turning_points
from tackle.situations.conditions import CHOICES

__all__ = ["HOOKED", "KINDS", "LoggedTurn", "Tap", "TurnPart", "dropped_in", "make_turns", "read_tap"]

HOOKED: Final = ids(HookUp)
# begin: a colour is thrown; bite; nothing, stop: the turn is over; gone: a lure is lost or torn; water: what the water
# and the sky are now; turn: a whole turn, typed; test: a fair test of two colours begins, or ends; correct, drop: of an
# earlier tap.
KINDS: Final = ("begin", "bite", "nothing", "stop", "gone", "water", "turn", "test", "correct", "drop")
_GONE: Final = ("lost", "torn")
MOST_MINUTES: Final = 600
FAR: Final = 20_000_000  # minutes, some forty years: a tap is refused for no time that a clock may show
MOST_ID: Final = 40
MOST_SIZES: Final = 40
_INCHES: Final = Number(0, 120)
_ID: Final = Text(MOST_ID)
_COLOUR: Final = Text(60, form="the id of a colour")
_LURE: Final = {"category": Word(CATEGORIES), "card": _COLOUR}
_ON_IT: Final = {"trailer": OptionalKind(_COLOUR)}
_WATER: Final[Mapping[str, ValueKind[Any]]] = {
    "visibility_in": Number(0.5, 1200), "food": Word(ids(Forage)), "spot": Text(60, 0), "depth_ft": Number(0, 500),
    **{name: Word(CHOICES[name])
       for name in ("light", "wind", "stain", "cover", "density", "pace", "mood", "current", "tide")},
}  # fmt: skip
_TURN: Final[Mapping[str, ValueKind[Any]]] = {
    "start": Number(-FAR, FAR), "minutes": Number(0, MOST_MINUTES), "sizes": ListOf(_INCHES, MOST_SIZES),
    **dict.fromkeys((*HOOKED, *(f"gone_{what}" for what in _GONE)), Whole(0, 99)),
}  # fmt: skip


def _data(needed: Mapping[str, ValueKind[Any]], may: Mapping[str, ValueKind[Any]] | None = None) -> Record:
    return Record({**needed, **{name: OptionalKind(kind) for name, kind in (may or {}).items()}}, others=True)


# What a tap of each kind tells; of what it may tell, nothing is None.
_DATA: Final[Mapping[str, Record]] = {
    "begin": _data(_LURE, {**_ON_IT, **_WATER}),
    "bite": _data({"how": Word(HOOKED)}, {"size_in": _INCHES}),
    "nothing": _data({}),
    "stop": _data({}),
    "gone": _data({"what": Word(_GONE)}),
    "water": _data({}, _WATER),
    "turn": _data(_LURE, {**_ON_IT, **_TURN, **_WATER}),
    "test": _data({"category": Word(CATEGORIES), "first": _COLOUR, "second": _COLOUR}),
    "correct": _data({"of": _ID}, {**_LURE, **_ON_IT, **_TURN, **_WATER}),
    "drop": _data({"of": _ID}),
}
_TAP: Final = Record({
    "id": _ID, "device": _ID, "place": Whole(0, 1_000_000_000), "angler": Whole(0, 3), "kind": Word(KINDS),
    "at": Number(-FAR, FAR), "time": OptionalKind(Number(0, 1e14)), "data": OptionalKind(ANYTHING, {}),
}, others=True)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Tap:
    """One tap: its own id, the phone it was made on and its place there, whose rod, what, and when: in minutes since
    the midnight before the trip's first day, where the water is, and where it is told in milliseconds since 1970."""

    id: str
    device: str
    place: int
    angler: int
    kind: str
    at: float
    data: Mapping[str, Any]
    time: float | None = None


@dataclass(frozen=True, slots=True)
class TurnPart:
    """Some minutes of a turn with what was known of water and sky then, and what came in them."""

    at: float
    minutes: float
    water: WaterSeen
    bites: Mapping[str, int]


@dataclass(frozen=True, slots=True)
class LoggedTurn:
    """A colour thrown: `at` the minute it began, since the midnight before the trip's first day (None: not told),
    `minutes` (None: not known), the bites by how they were hooked, the sizes told of fish in inches, what was lost and
    torn, and the water when it began."""

    id: str
    device: str
    angler: int
    category: str
    card: str
    at: float | None
    minutes: float | None
    bites: Mapping[str, int] = field(default_factory=dict)
    sizes: tuple[float, ...] = ()
    gone: Mapping[str, int] = field(default_factory=dict)
    water: WaterSeen = field(default_factory=WaterSeen)
    trailer: str | None = None  # what is threaded on a jig
    came: tuple[tuple[float, str], ...] = ()  # the bites that were tapped, each with its minute
    parts: tuple[TurnPart, ...] = ()  # none where its start or its minutes are not known


def read_tap(entry: Any, field: str) -> Tap:
    """A tap as a phone sends it, checked. Raises InvalidInput naming the field."""
    given = _TAP.read(entry, field)
    # A test is ended by one that tells nothing.
    data = (
        {}
        if given["kind"] == "test" and not given["data"]
        else _DATA[given["kind"]].read(given["data"], f"{field}.data")
    )
    return Tap(**{**given, "data": {name: value for name, value in data.items() if value not in (None, "")}})


def make_turns(
    taps: Iterable[Tap], forecast: Forecast | None = None, turn_minutes: float = MOST_MINUTES
) -> list[LoggedTurn]:
    """The turns that taps make, in the order they began; of each phone and rod its own.

    A turn lasts until the next begins, or until it is stopped; one that nothing ended has no minutes. What was told of
    the water holds for every rod of every phone of the trip, what a turn was begun with for its own.
    """
    known = forecast or Forecast()
    lines: dict[tuple[str, int], list[Tap]] = {}
    corrected: dict[str, dict[str, Any]] = {}
    listed = sorted({tap.id: tap for tap in taps}.values(), key=lambda tap: (tap.device, tap.place, tap.id))
    gone = dropped_in(listed)
    for tap in listed:
        if tap.kind == "correct" and tap.id not in gone:
            corrected.setdefault(tap.data["of"], {}).update({k: v for k, v in tap.data.items() if k != "of"})
    for tap in listed:
        if tap.id not in gone and tap.kind not in ("drop", "correct"):
            lines.setdefault((tap.device, tap.angler), []).append(tap)
    waters = [tap for tap in listed if tap.kind == "water" and tap.id not in gone]
    found = []
    for line in lines.values():
        told = [Told(tap.at, _of_water(tap.data)) for tap in (*waters, *(tap for tap in line if tap.kind == "begin"))]
        for turn, typed in _line(line, told, known):
            if turn.id not in gone:
                right = corrected.get(turn.id, {})
                own = _of_water({**typed, **right})
                found.append(_parted(_corrected(turn, right), told, known, turn_minutes, own))
    return sorted(found, key=lambda turn: (turn.at is None, turn.at or 0.0, turn.device, turn.angler, turn.id))


def dropped_in(taps: Iterable[Tap]) -> set[str]:
    """The ids of what later taps took back; a drop that is itself dropped takes nothing back."""
    drops = {tap.id: str(tap.data["of"]) for tap in taps if tap.kind == "drop"}

    def holds(one: str, seen: frozenset[str] = frozenset()) -> bool:
        return not any(of == one and other not in seen and holds(other, seen | {one}) for other, of in drops.items())

    return {of for one, of in drops.items() if holds(one)}


def _of_water(data: Mapping[str, Any]) -> dict[str, Any]:
    return {name: data[name] for name in WaterSeen.__slots__ if name in data}


def _line(
    taps: Sequence[Tap], told: Sequence[Told], forecast: Forecast
) -> Iterable[tuple[LoggedTurn, Mapping[str, Any]]]:
    """The turns of one rod on one phone; of one that was typed also what was typed of it."""
    turn = None
    for tap in sorted(taps, key=lambda tap: tap.place):
        if tap.kind == "turn":
            at = tap.data.get("start")
            yield _typed(tap, WaterSeen() if at is None else facts_at(told, at, forecast)), tap.data
            continue
        if tap.kind in ("begin", "nothing", "stop") and turn is not None:
            yield replace(turn, minutes=min(max(tap.at - (turn.at or 0.0), 0.0), MOST_MINUTES)), {}
            turn = None
        if tap.kind == "begin":
            turn = LoggedTurn(tap.id, tap.device, tap.angler, tap.data["category"], tap.data["card"], tap.at, None)
            turn = replace(turn, water=facts_at(told, tap.at, forecast), trailer=tap.data.get("trailer"))
        elif tap.kind == "bite" and turn is not None:
            how = tap.data["how"]
            sizes = (*turn.sizes, tap.data["size_in"]) if "size_in" in tap.data else turn.sizes
            bites = {**turn.bites, how: turn.bites.get(how, 0) + 1}
            turn = replace(turn, bites=bites, sizes=sizes, came=(*turn.came, (tap.at, how)))
        elif tap.kind == "gone" and turn is not None:
            what = tap.data["what"]
            turn = replace(turn, gone={**turn.gone, what: turn.gone.get(what, 0) + 1})
    if turn is not None:
        yield turn, {}


def _parted(
    turn: LoggedTurn, told: Sequence[Told], forecast: Forecast, length: float, own: Mapping[str, Any]
) -> LoggedTurn:
    """A turn with its parts; what was told of its `own` water holds for all of it."""
    if turn.at is None or turn.minutes is None:
        return turn
    ends = turn.at + turn.minutes
    waters: dict[float, WaterSeen] = {turn.at: turn.water}
    for at in turning_points(told, forecast, turn.at, ends):
        water = replace(facts_at(told, at, forecast), **own)
        if water != list(waters.values())[-1] or at % DAY_MINUTES == 0:
            waters[at] = water
    parts = []
    for begins, until in zip(waters, [*list(waters)[1:], ends], strict=True):
        while until - begins > length:
            parts.append(TurnPart(begins, length, waters[max(at for at in waters if at <= begins)], {}))
            begins += length
        parts.append(TurnPart(begins, until - begins, waters[max(at for at in waters if at <= begins)], {}))
    return replace(turn, parts=tuple(_with_bites(parts, turn)))


def _with_bites(parts: Sequence[TurnPart], turn: LoggedTurn) -> Iterable[TurnPart]:
    """Each bite in the part of its minute; those of which no minute is told in the last."""
    left = dict(turn.bites)
    counts: list[dict[str, int]] = [{} for _ in parts]
    for at, how in (*turn.came, *((float("inf"), how) for how, count in turn.bites.items() for _ in range(count))):
        if left.get(how):
            left[how] -= 1
            index = max((place for place, part in enumerate(parts) if part.at <= at), default=0)
            counts[index][how] = counts[index].get(how, 0) + 1
    return (replace(part, bites=bites) for part, bites in zip(parts, counts, strict=True))


def _typed(tap: Tap, water: WaterSeen) -> LoggedTurn:
    data = tap.data
    given = replace(water, **{name: data[name] for name in WaterSeen.__slots__ if name in data})
    blank = LoggedTurn(
        tap.id, tap.device, tap.angler, data["category"], data["card"], data.get("start"), None, water=given
    )
    return _corrected(blank, data)


def _corrected(turn: LoggedTurn, data: Mapping[str, Any]) -> LoggedTurn:
    """A turn with what was told of it later."""
    bites = {**turn.bites, **{how: data[how] for how in HOOKED if how in data}}
    gone = {**turn.gone, **{what: data[f"gone_{what}"] for what in _GONE if f"gone_{what}" in data}}
    return replace(
        turn,
        category=data.get("category", turn.category),
        card=data.get("card", turn.card),
        trailer=data.get("trailer", turn.trailer),
        at=data.get("start", turn.at),
        minutes=data.get("minutes", turn.minutes),
        bites={how: count for how, count in bites.items() if count},
        sizes=tuple(data.get("sizes", turn.sizes)),
        gone={what: count for what, count in gone.items() if count},
        water=replace(turn.water, **{name: data[name] for name in WaterSeen.__slots__ if name in data}),
    )
