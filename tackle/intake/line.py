"""Typed lines understood as lures: "3 worm green pumpkin 6in", "2 sq crank chart blk back 2.5 3/8oz"."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from tackle.base.units import CM_PER_IN, G_PER_OZ, M_PER_FT, System
from tackle.base.vocabulary import CATEGORIES, Group
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.intake.amounts import Amounts, Bare, read_amounts
from tackle.intake.aside import damage_in, parts_out, thing_in
from tackle.intake.extras import Extras, read_extras
from tackle.intake.kinds import LureKind, find_kind, phrase_in
from tackle.intake.limits import MOST_COUNT, Limits, combined_limits
from tackle.intake.naming import closest_word, find_colour, is_colour
from tackle.intake.words import house_words, normal

__all__ = ["MOST_LINE", "LineRead", "read_line"]

MOST_LINE: Final = 160  # characters
_SOUNDS: Final = (
    (re.compile(r"\b(?:silent|no[ -]?rattles?|non[ -]rattling|without rattles?|rattle[ -]?less)\b", re.I), "silent"),
    (re.compile(r"\b(?:(?:one|single)[ -]knock(?:er|s)?|knock(?:s|er|ers|ing)?)\b", re.I), "knock"),
    (re.compile(r"\b(?:(?:with|w/) ?(?:a )?)?rattl(?:e|es|er|ers|ing|in)\b", re.I), "rattle"),
)  # fmt: skip
_SMALL: Final = frozenset(["the", "a", "an", "of", "in", "with", "w", "for", "my", "to", "and", "on", "x"])
_DEEP: Final = "deep-crankbait"  # the one that is told by how deep it runs
_HEAVIEST_OZ: Final = 10.0  # of a thing whose weight is written bare
_COUNTED_BEFORE: Final = range(2, 7)
_LEAST_LENGTH: Final = 2
_EQUAL: Final = 0.5  # readings no further apart than this are asked about


@dataclass(frozen=True, slots=True)
class LineRead:
    """What a line says. None and empty where it does not say.

    `kind`, `colour`: the words of each, as typed. `categories` and `offers`: what it may mean, surest first.
    `unsure`: the fields to ask about, by name; what is not among them goes in as it is. `carried`: those that the
    line before told. `condition`: what has happened to it. `thing`: what it is where it is no lure, but a thing without
    colour. `stands_for`: the kind's own word where it goes in as the nearest of ours. `slips`: the words with a wrong
    letter that was forgiven. `unknown`: the words that are no colour's, where what it is must be asked. `dropped`: the
    words that say nothing that is kept of it. `price`, `hook` (its size), `line_lb`: as `Extras` has them. `trailer`:
    what is on a jig.
    """

    line: str
    count: int
    category: str | None
    card: Colour | None
    kind: str
    colour: str
    size_in: float | None
    weight_oz: float | None
    depth_ft: float | None
    sound: str
    categories: tuple[str, ...]
    offers: tuple[Colour, ...]
    unsure: tuple[str, ...]
    carried: tuple[str, ...] = ()
    condition: str = ""
    thing: str = ""
    stands_for: str = ""
    slips: tuple[str, ...] = ()
    unknown: str = ""
    dropped: tuple[str, ...] = ()
    price: float | None = None
    hook: str = ""
    line_lb: float | None = None
    trailer: LineRead | None = None

    @property
    def name(self) -> str:
        """What a lure of it is called: its words for the colour, after its kind's own word where that is none of
        ours."""
        return f"{self.stands_for}, {self.colour}" if self.stands_for else self.colour

    @property
    def note(self) -> str:
        """What is noted of it: the trailer that is on it."""
        return f"with {self.trailer.line}" if self.trailer else ""

    @property
    def sure(self) -> Colour | None:
        """The card that is meant beyond doubt, None where one must ask."""
        return None if {"colour", "category"} & set(self.unsure) else self.card


def read_line(
    text: str,
    palette: Palette,
    system: System = "imperial",
    remembered: Mapping[tuple[str, str], str] | None = None,
    before: LineRead | None = None,
    category: str | None = None,
    kinds: Mapping[str, str] | None = None,
) -> LineRead:
    """The best guess at a typed line.

    A bare number is what is possible for the category: a count, a size in the reader's own unit or in millimetres; a
    bare fraction is a weight in ounces. `remembered`: what the user chose before, as (category, normal name) -> card
    id; it is certain. `before`: the guess at the line before, for what carries on. `category`: what the reader
    said of it, whatever the line names. `kinds`: what the user chose before for words that name no kind of ours.

    >>> from tackle.colours.palette import house_palette
    >>> guess = read_line("2x 3/8 spinnerbait chart white", house_palette())
    >>> guess.category, guess.card.id, guess.count, guess.weight_oz, guess.unsure
    ('spinnerbait', 'chartreuse-white', 2, 0.375, ())
    """
    line = text.strip()[:MOST_LINE]
    extras = read_extras(line)
    amounts = read_amounts(extras.left)
    damage = damage_in(amounts.words)
    named = find_kind(damage.left)
    if not category and (thing := thing_in(damage.left, named)):
        return _thing(line, extras, amounts, damage.condition, thing)
    sound, left = _sound(extras.left)
    if sound:
        amounts = read_amounts(left)
        damage = damage_in(amounts.words)
        named = find_kind(damage.left)
    kind = _chosen_before(damage.left, kinds or {}) or _kind(named, damage.left, before, palette)
    parts = parts_out(kind.left, [is_colour(word, palette) for word in kind.left])
    colour = " ".join(word for word in parts.left if word not in house_words().let_go)
    carried: tuple[str, ...] = ()
    if (
        not kind.named
        and before is not None
        and before.categories
        and _only_colour(colour, before, palette, remembered)
    ):
        kind = replace(kind, categories=before.categories)
        carried = ("category",)
    if category:
        kind, carried = replace(kind, categories=(category,), named=True), ()
    meant = find_colour(colour, kind.categories, palette)
    offers, card = meant.offers, meant.sure
    categories = _narrowed(kind, card)
    first = categories[0] if categories else None
    known = (remembered or {}).get((first or "", normal(colour)), "")
    if known in palette.by_id and (first is None or first in palette.by_id[known].sold_in):
        card = palette.by_id[known]
        offers = (card, *(offer for offer in offers if offer is not card))[:5]
    named_at = phrase_in(amounts.words, kind.said)[0] if kind.said else 0
    values, unsure = _values(amounts, kind, combined_limits(categories), system, "category" in carried, named_at)
    if carried and before is not None:
        more = _carried(before, values)
        values |= more
        carried += tuple(more)
    if len(categories) != 1 or (carried and before is not None and "category" in before.unsure):
        unsure.add("category")
    if card is None or parts.doubt:
        unsure.add("colour")
    return LineRead(
        line,
        min(max(int(values.get("count", 1)), 1), MOST_COUNT),
        first,
        card,
        kind.said,
        colour,
        _rounded(values.get("size_in"), 2),
        _rounded(values.get("weight_oz"), 4),
        _rounded(values.get("depth_ft"), 1),
        sound,
        categories,
        offers,
        tuple(name for name in ("category", "colour", "count", "size_in", "weight_oz", "depth_ft") if name in unsure),
        carried,
        damage.condition,
        "",
        kind.said.rstrip("s") if kind.said.rstrip("s") in house_words().stands_for else "",
        (*([kind.said] if kind.slip else []), *(word for word in colour.split() if closest_word(word, palette))),
        "" if categories else " ".join(word for word in colour.split() if not is_colour(word, palette)),
        tuple(word for word in parts.left if word in house_words().let_go and word not in _SMALL),
        extras.price,
        extras.hook,
        extras.line_lb,
    )


def _chosen_before(words: Sequence[str], kinds: Mapping[str, str]) -> LureKind | None:
    """The kind that the user chose for some of the words, the longest first."""
    for length in range(len(words), 0, -1):
        for start in range(len(words) - length + 1):
            said = " ".join(words[start : start + length])
            if said in kinds:
                return LureKind((kinds[said],), (*words[:start], *words[start + length :]), said)
    return None


def _kind(kind: LureKind, words: Sequence[str], before: LineRead | None, palette: Palette) -> LureKind:
    """The kind that the words name, as far as the line before tells. A word that names one and is a colour's too ("red
    craw") is the colour's where the line before's kind has such a colour, and else the kind's."""
    if not kind.coloured or before is None or not before.categories:
        return kind
    colour, rest = (" ".join(word for word in some if word not in house_words().let_go) for some in (words, kind.left))
    if not all(is_colour(word, palette) for word in colour.split()):
        return kind
    as_colour = find_colour(colour, before.categories, palette).sure
    as_kind = find_colour(rest, kind.categories, palette).sure if rest else None
    if as_colour is None:
        return kind
    return (
        LureKind((), tuple(words), named=False)
        if as_kind is None
        else replace(kind, categories=(*kind.categories, *before.categories))
    )


def _thing(line: str, extras: Extras, amounts: Amounts, condition: str, thing: str) -> LineRead:
    """The line as a thing without colour."""
    values = dict(amounts.told)
    for bare in amounts.bare:
        if bare.kind == "whole" and 1 <= bare.value <= MOST_COUNT:
            values.setdefault("count", bare.value)
        elif bare.kind == "fraction" or (bare.kind == "decimal" and bare.value < _HEAVIEST_OZ):
            values.setdefault("weight_oz", bare.value)
    return LineRead(
        line=line,
        count=min(max(int(values.get("count", 1)), 1), MOST_COUNT),
        category=None,
        card=None,
        kind="",
        colour="",
        size_in=_rounded(values.get("size_in"), 2),
        weight_oz=_rounded(values.get("weight_oz"), 4),
        depth_ft=None,
        sound="",
        categories=(),
        offers=(),
        unsure=("count",) if "count" in amounts.unclear else (),
        condition=condition,
        thing=thing,
        price=extras.price,
        hook=extras.hook,
        line_lb=extras.line_lb,
    )


def _only_colour(
    colour: str, before: LineRead, palette: Palette, remembered: Mapping[tuple[str, str], str] | None
) -> bool:
    """Whether a line is nothing but colour beside its numbers: only then its kind is the line before's."""
    known = ((category, normal(colour)) in (remembered or {}) for category in before.categories)
    return any(known) or all(is_colour(word, palette) for word in colour.split())


def _sound(line: str) -> tuple[str, str]:
    for pattern, sound in _SOUNDS:
        if found := pattern.search(line):
            return sound, f"{line[: found.start()]} {line[found.end() :]}"
    return "", line


def _narrowed(kind: LureKind, card: Colour | None) -> tuple[str, ...]:
    """The categories that the colour leaves: one that is sold in a single one of them settles it."""
    if card is None or len(kind.categories) < 2:
        return kind.categories
    left = tuple(category for category in kind.categories if category in card.sold_in)
    return left if len(left) == 1 else kind.categories


def _carried(before: LineRead, values: Mapping[str, float]) -> dict[str, float]:
    """The length and weight of the line before, where they are sure there and not told here."""
    data = {name: getattr(before, name) for name in ("size_in", "weight_oz") if name not in {*values, *before.unsure}}
    return {name: value for name, value in data.items() if value is not None}


def _rounded(value: float | None, digits: int) -> float | None:
    return None if value is None else round(value, digits)


# --- what a bare number is ----------------------------------------------------------------------------------------


def _values(
    amounts: Amounts, kind: LureKind, limits: Limits, system: System, carried: bool, named_at: int
) -> tuple[dict[str, float], set[str]]:
    """The values under their fields, and the fields that are not sure."""
    amounts = _settled(amounts, kind, limits, system, carried, named_at)
    values, unsure, bare = dict(amounts.told), set(amounts.unclear), list(amounts.bare)
    if bare and bare[0].leads and bare[0].kind == "whole" and kind.plural and "count" in values:
        bare = bare[1:]
        unsure.add("count")  # "12 worms, 6 bags of 2"
    readings = sorted(_readings(bare, values, kind, limits, system), key=lambda entry: entry[0])
    best = readings[0] if readings else None
    if best:
        rivals = [data for cost, data in readings if cost <= best[0] + _EQUAL]
        for data in rivals:
            unsure |= {name for name in {*data, *best[1]} if data.get(name) != best[1].get(name)}
        values |= best[1]
    elif bare:
        unsure |= {"count", "weight_oz" if any(one.kind == "fraction" for one in bare) else "size_in"}
    if kind.plural and "count" not in values:
        unsure.add("count")
    spans = {"size_in": limits.size, "weight_oz": limits.weight, "depth_ft": limits.depth, "count": (1, limits.count)}
    for name, span in spans.items():
        if name in values and not _within(values[name], span):
            unsure.add(name)
    return values, unsure


def _settled(amounts: Amounts, kind: LureKind, limits: Limits, system: System, carried: bool, named_at: int) -> Amounts:
    """What the place of a bare whole number settles: from 2 to 6 before the kind it is a count; any other on softs is a
    length; where the kind is carried on, a length on softs and else a count. A plural counts."""
    soft = all(CATEGORIES[category].group is Group.SOFT for category in kind.categories) and bool(kind.categories)
    data, left = dict(amounts.told), []
    for bare in amounts.bare:
        inches = bare.value / (CM_PER_IN if system == "metric" else 1)
        field = ""
        if bare.kind == "whole" and not kind.plural and (carried or kind.said):
            before = not carried and bare.behind <= named_at and bare.leads
            if before and bare.value in _COUNTED_BEFORE:
                field = "count"
            elif soft and _within(inches, limits.size) and bare.value >= _LEAST_LENGTH:
                field = "size_in"
            elif carried and not soft:
                field = "count"
        if field and field not in data and (field != "count" or 1 <= bare.value <= limits.count):
            data[field] = bare.value if field == "count" else inches
        else:
            left.append(bare)
    return replace(amounts, told=data, bare=left)


def _readings(
    bare: Sequence[Bare], data: Mapping[str, float], kind: LureKind, limits: Limits, system: System
) -> Iterator[tuple[float, dict[str, float]]]:
    """Every way to read the bare numbers together, each field once, with how odd it would be."""
    if not bare:
        return
    first, rest = bare[0], bare[1:]
    for cost, values in _one(first, kind, limits, system):
        if any(name in data for name in values):
            continue
        if not rest:
            yield cost, values
        for more, others in _readings(rest[:3], {**data, **values}, kind, limits, system):
            yield cost + more, {**values, **others}


def _one(bare: Bare, kind: LureKind, limits: Limits, system: System) -> Iterator[tuple[float, dict[str, float]]]:
    """The ways to read one bare number, with how odd each would be."""
    if bare.kind == "whole":
        yield from _whole(bare, kind, limits, system)
    elif bare.kind == "decimal":
        inches = bare.value / (CM_PER_IN if system == "metric" else 1)
        ounces = bare.value / (G_PER_OZ if system == "metric" else 1)
        if _within(inches, limits.size):
            yield 0.0 if _within(inches, limits.usual) else 0.4, {"size_in": inches}
        if _within(ounces, limits.weight):
            yield 0.0 if not _within(inches, limits.usual) else 1.0, {"weight_oz": ounces}
    elif bare.kind == "fraction":
        if _within(bare.value, limits.weight):
            yield 0.0, {"weight_oz": bare.value}
    else:
        yield from _mixed(bare, limits)


def _whole(bare: Bare, kind: LureKind, limits: Limits, system: System) -> Iterator[tuple[float, dict[str, float]]]:
    inches = bare.value / (CM_PER_IN if system == "metric" else 1)
    feet = bare.value / (M_PER_FT if system == "metric" else 1)
    usual = _within(inches, limits.usual)
    soft = all(CATEGORIES[category].group is Group.SOFT for category in kind.categories) and bool(kind.categories)
    if usual:
        cost = 0.0
        if bare.leads:  # "7 worm" is a size; "2 popper" a count; "7 worms" too
            long = soft and bare.value >= 7 and bare.value != 12 and system == "imperial"
            cost = 1.5 if kind.plural else 0.0 if long else 1.0 if bare.value <= 2 else 0.3
        elif bare.own_cell:
            cost = 0.3 if soft else 1.5
        yield cost, {"size_in": inches}
    if bare.value >= 30 and _within(bare.value / CM_PER_IN / 10, limits.usual or limits.size):
        yield 0.2, {"size_in": bare.value / CM_PER_IN / 10}
    if system == "metric" and limits.usual is None and _within(bare.value / G_PER_OZ, limits.weight):
        yield 0.4, {"weight_oz": bare.value / G_PER_OZ}
    if kind.categories == (_DEEP,) and not bare.leads and _within(feet, limits.depth):
        yield 0.3, {"depth_ft": feet}
    if 1 <= bare.value <= MOST_COUNT:
        cost = 0.0
        if bare.value > limits.count:
            cost = 3.0
        elif bare.leads:
            cost = 1.0 if usual and soft and not kind.plural and bare.value >= 7 and bare.value != 12 else 0.0
        elif not bare.ends:
            cost = 1.0
        elif usual and not bare.own_cell:
            cost = 1.0 if soft and not kind.plural else 0.3
        yield cost, {"count": bare.value}


def _mixed(bare: Bare, limits: Limits) -> Iterator[tuple[float, dict[str, float]]]:
    """ "2 1/2": one number, or at the head of a line so many of the other."""
    size = bare.unit == "size_in" or (bare.unit is None and limits.usual is not None)
    weight = bare.unit in (None, "weight_oz")
    if size and _within(bare.value, limits.size):
        yield 0.0 if bare.unit or _within(bare.value, limits.usual) else 0.4, {"size_in": bare.value}
    if weight and _within(bare.value, limits.weight):
        yield 0.0 if bare.unit else 0.6 if _within(bare.value, limits.usual) else 0.4, {"weight_oz": bare.value}
    if bare.unit == "depth_ft":
        yield 0.0, {"depth_ft": bare.value}
    if bare.leads and 1 <= bare.whole <= limits.count:
        if weight and _within(bare.part, limits.weight):
            yield 0.2, {"count": float(bare.whole), "weight_oz": bare.part}
        if bare.unit == "size_in" and _within(bare.part, limits.size):
            yield 0.2, {"count": float(bare.whole), "size_in": bare.part}


def _within(value: float, span: tuple[float, float] | None) -> bool:
    return span is not None and span[0] * 0.99 <= value <= span[1] * 1.01
