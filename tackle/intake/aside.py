"""What a line says beside its kind and colour: what has happened to the lure, what it is made with, or that it is of a
thing without colour."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from tackle.intake.kinds import LureKind, find_kind, phrase_in
from tackle.intake.words import LONGEST, house_words

__all__ = ["Damage", "Parts", "damage_in", "parts_out", "thing_in"]

_WITH: Final = frozenset(["with", "w"])
_MOST_WITH: Final = 4  # words between "with" and the part it names
# What can be damaged and is no part that has a look of its own; a tail may have a colour, two tails are damaged.
_TOUCHED: Final = frozenset({
    "tail", "tails", "claw", "claws", "leg", "legs", "arm", "arms", "paint", "skirt", "body", "head", "joint", "bib",
})  # fmt: skip
_LACKS: Final = frozenset(["no", "missing", "without", "lost", "gone", "off"])
_GONE: Final = _LACKS - {"no", "without"}  # said of what was there once
# What a lure is when such a part of it is not there any more; of a guard that it was made without it says nothing.
_WITHOUT: Final = {
    **dict.fromkeys(("hook", "hooks", "treble", "trebles"), "no hooks"),
    **dict.fromkeys(("leg", "legs", "tail", "tails", "claw", "claws", "arm", "arms", "skirt"), "torn"),
    **dict.fromkeys(("blade", "blades", "bill", "lip", "bib", "prop", "head"), "broken"),
    **dict.fromkeys(("eye", "eyes", "paint"), "worn"),
}
_GUARDS: Final = frozenset(["weedguard", "guard", "guards", "weedguards"])
_TOUCHED_BEFORE: Final = _TOUCHED - {"tail", "head", "body"}


@dataclass(frozen=True, slots=True)
class Damage:
    """The condition that some words say, and the words that are left."""

    condition: str
    left: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Parts:
    """The words that are left without parts and their looks; `doubt`: one of those may be the colour's."""

    left: tuple[str, ...]
    doubt: bool


def damage_in(words: Sequence[str]) -> Damage:
    """Takes out what has happened to a lure, with the part that it happened to.

    >>> damage_in("popper bone rusty hooks".split())
    Damage(condition='rusty', left=('popper', 'bone'))
    """
    known, condition, left = house_words(), "", list(words)
    data = known.condition
    if not any(word in known.of_damage or word in _LACKS for word in words):
        return Damage("", tuple(words))
    named = frozenset(find_kind(words).said.split())  # "square bill" is a kind, and no bill that was damaged
    parts, at = known.parts - named, 0
    while at < len(left):
        if lack := _lacking(left, at, parts):
            began, ended, said = lack
            condition = condition or said
            del left[began:ended]
            at = began
            continue
        length = _longest(left, at, data)
        if not length:
            at += 1
            continue
        condition = condition or data[" ".join(left[at : at + length])]
        until = at + length
        if until < len(left) and left[until] in _TOUCHED | parts:
            until += 1
        elif at and left[at - 1] in (_TOUCHED_BEFORE | parts) - named:
            at -= 1
        del left[at:until]
    return Damage(condition, tuple(left))


def _lacking(words: Sequence[str], at: int, parts: frozenset[str]) -> tuple[int, int, str] | None:
    """Where a part and the word that it is not there stand, the one at a place before the other, with what that makes
    of the lure; None where nothing is said to lack."""
    pair = words[at : at + 2]
    if len(pair) < 2:
        return None
    lack, part = pair if pair[0] in _LACKS else pair[::-1]
    behind = pair[0] not in _LACKS
    if lack not in (_GONE if behind else _LACKS - {"off"}) or part not in _TOUCHED | parts | _GUARDS:
        return None
    began, ended = at, at + 2
    while behind and began and words[began - 1] in {"one", "front", "rear", "back", "belly", "both", "all", "weed"}:
        began -= 1
    while not behind and ended < len(words) and words[ended] in _GUARDS:
        ended += 1
    guard = "torn" if lack in _GONE else ""
    return began, ended, guard if part in _GUARDS or ended - at > 2 else _WITHOUT.get(part, "")


def thing_in(words: Sequence[str], kind: LureKind) -> str:
    """The thing without colour that a line is of, in its own words; empty where it is of a lure.

    A thing is named alone, or right after what it is for; what stands behind "with", or apart from the lure that is
    named, is a part of that.
    """
    found = max(
        (
            (length, start)
            for start in range(len(words))
            if (length := _longest(words, start, house_words().things_too))
        ),
        default=None,
    )
    if found is None:
        return ""
    length, start = found
    whole = " ".join(words)
    if not kind.named:
        return whole
    began, ended = phrase_in(words, kind.said)
    if ended == start or (began < start + length and start < ended and length > ended - began):
        return whole
    return ""


def parts_out(words: Sequence[str], is_colour: Iterable[bool]) -> Parts:
    """Takes out what a lure is made with and how that looks: "white gold blades" is white.

    >>> parts_out("white with red hooks".split(), [True, False, True, False])
    Parts(left=('white',), doubt=False)
    """
    known, left, doubt = house_words(), list(zip(words, is_colour, strict=True)), False
    at = 0
    while at < len(left):
        if left[at][0] not in known.parts:
            at += 1
            continue
        began = at
        while began and (left[began - 1][0] in known.looks or left[began - 1][0] in known.parts):
            began -= 1
        behind = [index for index in range(max(0, at - _MOST_WITH), at) if left[index][0] in _WITH]
        if behind and all(colour or word in known.looks for word, colour in left[behind[-1] + 1 : at]):
            began = behind[-1]
        elif began and left[began - 1][1] and any(colour for _, colour in left[: began - 1]):
            doubt = True  # "black white blade": a white blade, or a lure in black and white
        del left[began : at + 1]
        at = began
    return Parts(tuple(word for word, _ in left), doubt)


def _longest(words: Sequence[str], start: int, known: Iterable[str]) -> int:
    """How many of the words from a place on are one known entry."""
    most = min(LONGEST, len(words) - start)
    return next((n for n in range(most, 0, -1) if " ".join(words[start : start + n]) in known), 0)
