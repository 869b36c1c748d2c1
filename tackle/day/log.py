"""What happened on the water: taps, one after another, put together into turns.

A tap is never changed: what was wrong is corrected, or dropped, by a later tap. So a log that is sent twice, in parts
or from several phones comes to the same turns.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Final

from tackle.errors import Refused
from tackle.vocabulary import CATEGORIES, Forage, HookUp, Light, Stain, Wind, ids

__all__ = ["HOOKED", "KINDS", "LoggedTurn", "Tap", "Water", "read_tap", "turns_of"]

HOOKED: Final = ids(HookUp)
# begin: a colour is thrown; bite; nothing, stop: the turn is over; gone: a lure is lost or torn; water: what the water
# and the sky are now; turn: a whole turn, typed; test: a fair test of two colours begins, or ends; correct, drop: of an
# earlier tap.
KINDS: Final = ("begin", "bite", "nothing", "stop", "gone", "water", "turn", "test", "correct", "drop")
_GONE: Final = ("lost", "torn")
MOST_MINUTES: Final = 600
MOST_ID: Final = 40
MOST_SIZES: Final = 40
_CHOICES: Final[Mapping[str, tuple[str, ...]]] = {
    "light": ids(Light), "wind": ids(Wind), "stain": ids(Stain), "food": ids(Forage),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Tap:
    """One tap: its own id, the phone it was made on and its place there, whose rod, what, and when in minutes of the
    day by that phone's clock."""

    id: str
    device: str
    place: int
    angler: int
    kind: str
    at: float
    data: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Water:
    """What was told of water and sky; None: nothing."""

    visibility_in: float | None = None
    light: str | None = None
    wind: str | None = None
    stain: str | None = None
    food: str | None = None
    spot: str | None = None


@dataclass(frozen=True, slots=True)
class LoggedTurn:
    """A colour thrown: `at` the minute of the day it began (None: not told), `minutes` (None: not known), the bites by
    how they were hooked, the sizes told of fish in inches, what was lost and torn, and the water when it began."""

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
    water: Water = field(default_factory=Water)


def read_tap(entry: Any, field: str) -> Tap:
    """A tap as a phone sends it, checked. Raises Refused naming the field."""
    if not isinstance(entry, Mapping):
        raise Refused(field, "is not an object", "a tap")
    kind, data = entry.get("kind"), entry.get("data") or {}
    if kind not in KINDS:
        raise Refused(f"{field}.kind", f"{str(kind)[:20]!r} is not a kind of tap", KINDS)
    if not isinstance(data, Mapping):
        raise Refused(f"{field}.data", "is not an object", "what the tap tells")
    for name in ("id", "device"):
        if not isinstance(entry.get(name), str) or not 0 < len(entry[name]) <= MOST_ID:
            raise Refused(f"{field}.{name}", "is missing or too long", f"a text of at most {MOST_ID} characters")
    place = _number(entry, "place", field, 0, 1e9, True)
    angler = _number(entry, "angler", field, 0, 3, True)
    at = _number(entry, "at", field, -1440, 2880)
    return Tap(
        entry["id"], entry["device"], int(place or 0), int(angler or 0), kind, at or 0.0, _data(kind, data, field)
    )


def _data(kind: str, data: Mapping[str, Any], field: str) -> dict[str, Any]:
    """What a tap of one kind may tell, and nothing else."""
    told: dict[str, Any] = {}
    if kind in ("begin", "turn"):
        told |= _lure(data, field, needed=True)
    if kind == "bite":
        told["how"] = _word(data, "how", HOOKED, field)
        if (size := _number(data, "size_in", field, 0, 120, needed=False)) is not None:
            told["size_in"] = size
    if kind == "test" and data:
        told["category"] = _word(data, "category", tuple(CATEGORIES), field)
        for name in ("first", "second"):
            if not isinstance(data.get(name), str) or not 0 < len(data[name]) <= 60:
                raise Refused(f"{field}.data.{name}", "names no colour", "the id of a colour")
            told[name] = data[name]
    if kind == "gone":
        told["what"] = _word(data, "what", _GONE, field)
    if kind in ("correct", "drop"):
        told["of"] = str(data.get("of") or "")[:40]
    if kind == "correct":
        told |= _lure(data, field, needed=False)
    if kind in ("turn", "correct"):
        for name, low, high in (("start", 0, 1440), ("minutes", 0, MOST_MINUTES)):
            if (value := _number(data, name, field, low, high, needed=False)) is not None:
                told[name] = value
        for name in (*HOOKED, *(f"gone_{what}" for what in _GONE)):
            if (value := _number(data, name, field, 0, 99, whole=True, needed=False)) is not None:
                told[name] = int(value)
        if data.get("sizes") is not None:
            told["sizes"] = _sizes(data["sizes"], field)
    if kind in ("water", "begin", "turn", "correct"):
        told |= _water(data, field)
    return told


def _lure(data: Mapping[str, Any], field: str, needed: bool) -> dict[str, str]:
    told = {}
    if needed or "category" in data:
        told["category"] = _word(data, "category", tuple(CATEGORIES), field)
    if needed or "card" in data:
        card = data.get("card")
        if not isinstance(card, str) or not 0 < len(card) <= 60:
            raise Refused(f"{field}.data.card", "names no colour", "the id of a colour")
        told["card"] = card
    return told


def _water(data: Mapping[str, Any], field: str) -> dict[str, Any]:
    told: dict[str, Any] = {}
    if (inches := _number(data, "visibility_in", field, 0.5, 1200, needed=False)) is not None:
        told["visibility_in"] = inches
    for name, allowed in _CHOICES.items():
        if data.get(name) is not None:
            told[name] = _word(data, name, allowed, field)
    if data.get("spot"):
        told["spot"] = str(data["spot"])[:60]
    return told


def _sizes(value: Any, field: str) -> list[float]:
    if not isinstance(value, list | tuple) or len(value) > MOST_SIZES:
        raise Refused(f"{field}.data.sizes", "is no list of lengths", f"at most {MOST_SIZES} numbers")
    return [_number({"sizes": one}, "sizes", field, 0, 120) or 0.0 for one in value]


def _word(data: Mapping[str, Any], name: str, allowed: tuple[str, ...], field: str) -> str:
    value = data.get(name)
    if value not in allowed:
        raise Refused(f"{field}.data.{name}", f"{str(value)[:20]!r} is not one", allowed)
    return str(value)


def _number(
    data: Mapping[str, Any], name: str, field: str, low: float, high: float, whole: bool = False, needed: bool = True
) -> float | None:
    value = data.get(name)
    if value is None and not needed:
        return None
    number = value if isinstance(value, int | float) and not isinstance(value, bool) else math.nan
    if not low <= number <= high or (whole and number != int(number)):
        raise Refused(f"{field}.{name}", f"{str(value)[:20]!r} is no number there", f"{low:g} to {high:g}")
    return float(number)


def turns_of(taps: Iterable[Tap]) -> list[LoggedTurn]:
    """The turns that taps make, in the order they began; of each phone and rod its own.

    A turn lasts until the next begins, or until it is stopped; one that nothing ended has no minutes. A change of the
    water or the sky ends a turn and begins another with the same colour.
    """
    lines: dict[tuple[str, int], list[Tap]] = {}
    corrected: dict[str, dict[str, Any]] = {}
    gone: set[str] = set()
    listed = sorted({tap.id: tap for tap in taps}.values(), key=lambda tap: (tap.device, tap.place, tap.id))
    for tap in listed:
        if tap.kind == "drop":
            gone.add(tap.data["of"])
        elif tap.kind == "correct":
            corrected.setdefault(tap.data["of"], {}).update({k: v for k, v in tap.data.items() if k != "of"})
    for tap in listed:
        if tap.id not in gone and tap.kind not in ("drop", "correct"):
            lines.setdefault((tap.device, tap.angler), []).append(tap)
    waters = [tap for tap in listed if tap.kind == "water" and tap.id not in gone]
    found = [turn for line in lines.values() for turn in _line(line, waters)]
    found = [_corrected(turn, corrected[turn.id]) if turn.id in corrected else turn for turn in found]
    found = [turn for turn in found if turn.id not in gone]
    return sorted(found, key=lambda turn: (turn.at is None, turn.at or 0.0, turn.device, turn.angler, turn.id))


def _line(taps: list[Tap], waters: list[Tap]) -> Iterable[LoggedTurn]:
    """The turns of one rod on one phone; what is told of the water holds for every rod of that phone."""
    device = taps[0].device
    told = [tap for tap in waters if tap.device == device and tap not in taps]
    line = sorted([*taps, *told], key=lambda tap: tap.place)
    water, turn = Water(), None
    for tap in line:
        if tap.kind == "turn":
            yield _typed(tap, water)
            continue
        if tap.kind in ("begin", "water", "nothing", "stop") and turn is not None:
            yield replace(turn, minutes=min(max(tap.at - (turn.at or 0.0), 0.0), MOST_MINUTES))
        if tap.kind in ("begin", "water"):
            water = replace(water, **{name: tap.data[name] for name in Water.__slots__ if name in tap.data})
        if tap.kind == "begin":
            turn = LoggedTurn(tap.id, device, tap.angler, tap.data["category"], tap.data["card"], tap.at, None)
            turn = replace(turn, water=water)
        elif tap.kind == "water" and turn is not None:
            turn = replace(turn, id=f"{tap.id}.{turn.angler}", at=tap.at, bites={}, sizes=(), gone={}, water=water)
        elif tap.kind in ("nothing", "stop"):
            turn = None
        elif tap.kind == "bite" and turn is not None:
            how = tap.data["how"]
            sizes = (*turn.sizes, tap.data["size_in"]) if "size_in" in tap.data else turn.sizes
            turn = replace(turn, bites={**turn.bites, how: turn.bites.get(how, 0) + 1}, sizes=sizes)
        elif tap.kind == "gone" and turn is not None:
            what = tap.data["what"]
            turn = replace(turn, gone={**turn.gone, what: turn.gone.get(what, 0) + 1})
    if turn is not None:
        yield turn


def _typed(tap: Tap, water: Water) -> LoggedTurn:
    data = tap.data
    told = replace(water, **{name: data[name] for name in Water.__slots__ if name in data})
    blank = LoggedTurn(
        tap.id, tap.device, tap.angler, data["category"], data["card"], data.get("start"), None, water=told
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
        at=data.get("start", turn.at),
        minutes=data.get("minutes", turn.minutes),
        bites={how: count for how, count in bites.items() if count},
        sizes=tuple(data.get("sizes", turn.sizes)),
        gone={what: count for what, count in gone.items() if count},
        water=replace(turn.water, **{name: data[name] for name in Water.__slots__ if name in data}),
    )
