"""A heap of typed lines, each after the one before: what lures each is, and what it takes from those before it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Final

from tackle.base.units import System
from tackle.base.vocabulary import TRAILER
from tackle.colours.palette import Palette
from tackle.intake.extras import is_of_nothing
from tackle.intake.line import MOST_LINE, LineRead, read_line
from tackle.intake.naming import is_colour
from tackle.intake.several import again_in, lures_in, trailer_in

__all__ = ["NOTHING", "HeapReader", "read_heap"]

NOTHING: Final = "nothing"  # what a line of a receipt is of


@dataclass(slots=True)
class HeapReader:
    """Reads lines one after the other; see `tackle.intake.line.read_line` for what it goes by."""

    palette: Palette
    system: System = "imperial"
    remembered: Mapping[tuple[str, str], str] | None = None
    kinds: Mapping[str, str] | None = None
    before: LineRead | None = None

    def read(self, text: str, chosen: Mapping[int, str] = MappingProxyType({})) -> tuple[LineRead, ...]:
        """The lures of the next line, at least one. `chosen`: the categories that its reader said, by which lure of the
        line it is, from 0."""
        line = text.strip()[:MOST_LINE]
        if not chosen and is_of_nothing(line):
            self.before = None
            return (replace(self._one("", None, None), line=line, thing=NOTHING, unsure=()),)
        has_trailer = bool(trailer_in(line)[1])
        parts = (line,) if has_trailer else lures_in(line, lambda word: is_colour(word, self.palette))
        found: list[LineRead] = []
        for number, part in enumerate(parts):
            before, category = found[-1] if found else self.before, chosen.get(number)
            read = self._part(part, before, category)
            if found and not read.kind and not read.thing and found[-1].category:
                read = self._again(part, found[-1], category)
            found.append(read)
        self.before = found[-1]
        return tuple(found)

    def _part(self, part: str, before: LineRead | None, category: str | None) -> LineRead:
        again = again_in(part) if before else None
        if again and before:
            read = self._again(again.left, before, category)
            unsure = (*read.unsure, "count") if again.count_open and "count" not in read.unsure else read.unsure
            return replace(read, line=part, unsure=unsure)
        jig, soft = trailer_in(part)
        read = self._one(jig, before, category)
        if not soft or read.thing:
            return replace(read, line=part)
        trailer = self._one(soft, None, TRAILER)
        return replace(read, line=part, trailer=replace(trailer, count=max(trailer.count, read.count)))

    def _again(self, text: str, before: LineRead, category: str | None) -> LineRead:
        """A line that takes from the one before what kind and colour it does not name, and its size and weight where it
        tells neither; never how many, or what has happened to it."""
        own = self._one(text, None, category)
        if before.thing and not category:
            return replace(before, line=text, count=own.count, condition=own.condition, price=own.price)
        if own.thing:
            return own
        carried: list[str] = []
        if not own.kind and not category:
            own = self._one(text, None, before.category)
            own = replace(own, categories=before.categories, kind=before.kind, stands_for=before.stands_for)
            carried.append("category")
            if "category" in before.unsure:
                own = replace(own, unsure=("category", *own.unsure))
        if not own.colour and own.category == before.category:
            unsure = tuple(name for name in own.unsure if name != "colour" or "colour" in before.unsure)
            own = replace(own, card=before.card, colour=before.colour, offers=before.offers, unsure=unsure)
            carried.append("colour")
        sizes = {"size_in", "weight_oz"}
        if own.size_in is None and own.weight_oz is None and not sizes & {*own.unsure, *before.unsure}:
            own = replace(own, size_in=before.size_in, weight_oz=before.weight_oz)
            carried += [name for name in ("size_in", "weight_oz") if getattr(before, name) is not None]
        return replace(own, line=text, carried=tuple(carried))

    def _one(self, text: str, before: LineRead | None, category: str | None) -> LineRead:
        return read_line(text, self.palette, self.system, self.remembered, before, category, self.kinds)


def read_heap(
    lines: Sequence[str],
    palette: Palette,
    system: System = "imperial",
    remembered: Mapping[tuple[str, str], str] | None = None,
    kinds: Mapping[str, str] | None = None,
) -> list[tuple[LineRead, ...]]:
    """Lines that go on from one another, each as the lures it is; empty lines are lines of nothing."""
    reader = HeapReader(palette, system, remembered, kinds)
    return [reader.read(line) for line in lines]
