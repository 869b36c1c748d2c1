"""One typed line that is several lures, or that goes on with the one before: "2 topwaters bone + 1 black", "same in
black", "flipping jig gp 3/8 w/ gp craw"."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from tackle.base.vocabulary import CATEGORIES
from tackle.intake.aside import damage_in, parts_out, thing_in
from tackle.intake.kinds import find_kind
from tackle.intake.words import bare_words, house_words

__all__ = ["Again", "again_in", "lures_in", "trailer_in"]

_AGAIN: Final = re.compile(
    r"\s*(?:same(?: (?:again|thing|as (?:above|before|last|the last)(?: one)?|one|ones))?|ditto|dto\b\.?|as above"
    r"|another(?: one)?|one more|[\"”″〃]+(?=\s|$)|(?P<more>\d{1,2}|two|three|four|five|six) more|plus"
    r"|(?P<rest>(?:the )?rest(?: of (?:the |that |this )?(?:bag|pack|them|it|those|box))?))(?!\w)"
    r"(?P<join>[\s,:]*(?:but|in|only|with|this time|and)\b)?\s*",
    re.I,
)  # fmt: skip
_SEPARATOR: Final = re.compile(r"\s*(?:;|,|\+|&|\band\b|\bplus\b)\s*", re.I)
_COUNTED: Final = re.compile(r"\s*(?:(?:\d{1,3})\s?x?|x\s?\d{1,3}|one|two|three|four|five|six|a|an)\s+(?=[a-z])", re.I)
_LIST: Final = re.compile(r"(?P<head>[^:(]{3,60}?)(?::|\(|\s-\s)\s*(?P<list>[^()]+?)\)?\s*")
_NEXT_COUNT: Final = re.compile(r"\s+(?=\d{1,2}\s?x?\s+[a-z])", re.I)
_OF_THOSE: Final = re.compile(r"\s*(?:of (?:those|these|them|the same)\b)?[\s,]*(?:but|in|only)?\s*", re.I)
_NO_TRAILER: Final = re.compile(r"\b(?:with no|w/ ?no|without(?: a)?|w/o|no) trailers?\b", re.I)
_UNIT: Final = re.compile(
    r"\s*\d+(?:[./]\d+)?\s*(?:in|inch|inches|ins|cm|mm|oz|ounce|ounces|g|gr|grams|ft|feet|m)\b", re.I
)
_ALSO_THREADED: Final = "spinnerbait"  # beside the categories that are planned with trailers
_JOINED: Final = re.compile(r"(?P<sure>\bwith\b|\bw/|\bw\b|\+)|(?P<doubt>,|&|\band\b|\bplus\b)", re.I)
_BEHIND: Final = re.compile(r"\s(?=trailers?\b)", re.I)
_TRAILER: Final = re.compile(r"\b(?:trailers?|chunks?)\b|\bon it\b", re.I)
_SOFT: Final = re.compile(
    r"\b(?:trailers?|chunks?|craws?|grubs?|twin tails?|creatures?|swimbaits?|paddle ?tails?|split tails?)\b", re.I
)


@dataclass(frozen=True, slots=True)
class Again:
    """A line that goes on with the one before: what it says beside that; `count_open`: it is some of a bag."""

    left: str
    count_open: bool


def again_in(line: str) -> Again | None:
    """What a line says that takes kind and colour from the one before; None where it stands for itself."""
    found = _AGAIN.match(line)
    if found is None or not found[0].strip():
        return None
    left = _NO_TRAILER.sub(" ", line[found.end() :])
    left = left[_OF_THOSE.match(left).end() :]  # type: ignore[union-attr]  # it matches nothing, too
    count = f"{found['more']} " if found["more"] else ""
    return Again(f"x{left.strip()}" if left.strip().isdigit() else f"{count}{left}", bool(found["rest"]))


def trailer_in(line: str) -> tuple[str, str]:
    """A jig's line without the trailer that is on it, and that trailer's own words; empty where it has none."""
    for found in (*_JOINED.finditer(line), *_BEHIND.finditer(line)):
        jig, soft = line[: found.start()], line[found.end() :]
        named = _TRAILER if found.groupdict().get("doubt") else _SOFT
        if found.re is _BEHIND and bare_words(jig)[-1:] == find_kind(bare_words(jig)).said.split()[-1:]:
            continue  # a "swim jig trailer" is one
        if (
            named.search(soft)
            and not _NO_TRAILER.search(line)
            and not _SOFT.search(jig)
            and any(_is_threaded(category) for category in find_kind(bare_words(jig)).categories)
        ):
            return jig, re.sub(r"\bon it\b", "", soft, flags=re.I).strip(" ,")
    return line, ""


def _is_threaded(category: str) -> bool:
    return CATEGORIES[category].takes_trailer or category == _ALSO_THREADED


def lures_in(line: str, is_colour: Callable[[str], bool]) -> tuple[str, ...]:
    """The lures of one line, each in its own words; of one alone the line as it is."""
    if listed := _listed(line, is_colour):
        return listed
    parts: list[str] = []
    at = ended = 0
    for found in (*_SEPARATOR.finditer(line), None):
        piece = line[at : found.start() if found else len(line)]
        joined = line[ended:at] if parts else ""
        both = _begins_lure(piece, is_colour, joined) and _begins_lure(parts[-1], is_colour) if parts else True
        if not both and not _same_kind(parts[-1], piece):
            parts[-1] = f"{parts[-1]}{joined}{piece}"
        else:
            parts.append(piece)
        if found:
            ended, at = found.span()
    if len(parts) < 2:
        return (line,)
    kinds = [find_kind(bare_words(part)) for part in parts]
    last = next((kind.said for kind in reversed(kinds) if kind.named), "")
    if not kinds[0].named and last:
        parts = [part if kind.named else f"{part} {last}" for part, kind in zip(parts, kinds, strict=True)]
    return tuple(part.strip() for part in parts)


def _same_kind(one: str, other: str) -> bool:
    """Whether both pieces name one kind, whose name is a colour's too: "black frog and white frog"."""
    said = find_kind(bare_words(one)).said
    return bool(said) and said == find_kind(bare_words(other)).said and len(bare_words(other)) > 1


def _listed(line: str, is_colour: Callable[[str], bool]) -> tuple[str, ...]:
    """The lures of a kind that are listed behind it, "squarebills: 2 red craw, 1 chart black" or by their colours
    alone; none where it is no such list."""
    found = _LIST.fullmatch(line)
    if not found or not (named := find_kind(bare_words(found["head"]))).named:
        return ()
    each = [part.strip() for part in _SEPARATOR.split(found["list"]) if part.strip()]
    if len(each) == 1:
        each = [part.strip() for part in _NEXT_COUNT.split(found["list"])]
    kind = _COUNTED.sub("", found["head"], count=1).strip()
    counted = all(_COUNTED.match(part) for part in each)
    words = [[word for word in bare_words(part) if not word.isdigit()] for part in each]
    colours = named.plural and all(some and all(map(is_colour, some)) for some in words)
    return tuple(f"{part} {kind}" for part in each) if len(each) > 1 and (counted or colours) else ()


def _begins_lure(piece: str, is_colour: Callable[[str], bool], joined: str = "and") -> bool:
    """Whether a piece of a line is a lure for itself: it names a kind, or so many of a colour; so many bags too, but
    not behind a comma, where they may be the same ones told again."""
    words = bare_words(piece)
    kind = find_kind(words)
    if kind.named and not kind.coloured and not kind.slip:
        return not thing_in(words, kind)
    if not _COUNTED.match(piece) or _UNIT.match(piece):
        return False
    left = [word for word in damage_in(words).left if not word.isdigit()]
    rest = parts_out(left, [is_colour(word) for word in left]).left
    holders = set() if joined.strip() in ",;" else {"bag", "bags", "pack", "packs", "box", "boxes"}
    return any(word in holders or (word not in house_words().let_go and is_colour(word)) for word in rest)
