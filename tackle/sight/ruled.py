"""What anglers rule to be one colour or two, and which is found first, held against the fish's eye; and who is right
where the two part."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Light, Stain
from tackle.colours.colour import Colour
from tackle.colours.palette import house_palette
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.sight.below import outlines, sky_above
from tackle.sight.look import View
from tackle.sight.parted import IN_DOUBT, call_pairs, stands_out
from tackle.sight.spectra import EYES

__all__ = ["Found", "Ruled", "Rulings", "load_rulings", "ruling", "rulings"]

RULINGS_FILE: Final = FOLDER / "same-or-not.toml"


@dataclass(frozen=True, slots=True)
class Ruled:
    """Two colours that anglers rule to be `one` or `two`, seen from the side or from below. `right`: who is, where the
    eye says the opposite, `anglers` or the `eye`; and why."""

    first: Colour
    second: Colour
    below: bool
    anglers: str
    why: str
    right: str
    because: str

    def eye_says(self, view: View) -> str:
        """What the eye makes of them: `one`, `two` or `in doubt`."""
        return call_pairs((self.first, self.second), view, self.below).said(0, 1)


@dataclass(frozen=True, slots=True)
class Found:
    """Of two colours the one that anglers say is found first, in a water of the entry's own."""

    found: Colour
    before: Colour
    below: bool
    there: View
    why: str
    right: str
    because: str

    def holds(self) -> bool:
        """Whether the eye says so too."""
        pair = (self.found, self.before)
        if self.below:
            first, other = outlines(pair, self.there, sky_above(self.there.light))
        else:
            first, other = stands_out(pair, self.there)
        return bool(first > other)


@dataclass(frozen=True, slots=True)
class Rulings:
    """All of them, and the water in which the eye is asked."""

    there: View
    pairs: tuple[Ruled, ...]
    first: tuple[Found, ...]

    def parting(self) -> tuple[Ruled, ...]:
        """Those in which eye and anglers say the opposite."""
        return tuple(pair for pair in self.pairs if pair.eye_says(self.there) not in (pair.anglers, IN_DOUBT))


def rulings() -> Rulings:
    """The rulings that ship with the app, loaded once."""
    return loaded(load_rulings, RULINGS_FILE)


def ruling(first: Colour, second: Colour) -> Ruled | None:
    """What anglers rule of two colours that are seen from the side, where the list tells."""
    meant = {first.id, second.id}
    return next((one for one in rulings().pairs if not one.below and {one.first.id, one.second.id} == meant), None)


def load_rulings(path: Path) -> Rulings:
    """The rulings in a TOML file. Raises DataError naming file and entry."""
    file = Entry(read_toml(path), path.name, "file", ("there", "pair", "first"))
    there = _view(
        Entry(file.table("there"), file.file, "there", ("eye", "visibility_in", "stain", "depth_ft", "light"))
    )
    pairs = tuple(_read_pair(entry) for entry in _entries(file, "pair"))
    return Rulings(there, pairs, tuple(_read_found(entry, there) for entry in _entries(file, "first")))


def _entries(file: Entry, name: str) -> Iterator[Entry]:
    for number, raw in enumerate(file.raw.get(name, ()), 1):
        yield Entry(raw, file.file, f"{name} {number}")


def _view(told: Entry) -> View:
    (eye,) = told.words("eye", [told.text("eye")], EYES)
    visibility, depth = told.number("visibility_in", 1.0), told.number("depth_ft", 0.0)
    return View(eye, visibility, told.one("stain", Stain), depth, told.one("light", Light))


def _read_pair(entry: Entry) -> Ruled:
    ruled = _choice(entry, "anglers", ("one", "two"))
    below = _choice(entry, "seen", ("side", "below"), "side") == "below"
    return Ruled(
        _card(entry, "first"), _card(entry, "second"), below, ruled, entry.text("why"), *_who_is_right(entry)
    )  # fmt: skip


def _read_found(entry: Entry, there: View) -> Found:
    changed: dict[str, Any] = entry.raw.get("there", {})
    if not set(changed) <= {"visibility_in", "stain", "depth_ft", "light"}:
        raise entry.error("there", "changes visibility_in, stain, depth_ft or light")
    below = _choice(entry, "seen", ("side", "below"), "side") == "below"
    return Found(
        _card(entry, "found"), _card(entry, "before"), below, replace(there, **changed), entry.text("why"),
        *_who_is_right(entry),
    )  # fmt: skip


def _who_is_right(entry: Entry) -> tuple[str, str]:
    right = _choice(entry, "right", ("anglers", "eye"), "")
    return right, entry.text("because") if right else ""


def _choice(entry: Entry, field: str, allowed: tuple[str, ...], otherwise: str | None = None) -> str:
    said = entry.raw.get(field, otherwise)
    if said not in (*allowed, otherwise):
        raise entry.error(field, f"is none of {', '.join(allowed)}")
    return str(said)


def _card(entry: Entry, field: str) -> Colour:
    try:
        return house_palette().card(entry.text(field), field)
    except InvalidInput as error:
        raise entry.error(field, error.wrong) from None
