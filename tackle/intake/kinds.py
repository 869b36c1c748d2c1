"""Which category the words of a line name: in full, in short, with slips."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Final

from rapidfuzz import process
from rapidfuzz.distance import DamerauLevenshtein

from tackle.colours.palette import house_palette
from tackle.intake.words import LONGEST, bare_words, house_words, normal

__all__ = ["LureKind", "find_kind", "match_categories", "own_kind_word", "phrase_in"]

_KEYS: Final = ("qwertyuiop", "asdfghjkl", "zxcvbnm")
_LONG: Final = 7  # letters: one wrong letter in so long a word makes no other
_SHORTEST: Final = 5  # letters: shorter words are too near each other to forgive a slip


@dataclass(frozen=True, slots=True)
class LureKind:
    """The categories that a line may mean, surest first; the words that name them, and those that do not.

    `named`: some words name a kind of lure. `plural`: they name more than one. `coloured`: the one word that names it
    is a colour's too. `slip`: it is named with a wrong letter.
    """

    categories: tuple[str, ...]
    left: tuple[str, ...]
    said: str = ""
    named: bool = True
    plural: bool = False
    coloured: bool = False
    slip: bool = False


def match_categories(text: str) -> tuple[str, ...]:
    """The categories that a cell or a phrase may stand for as a whole; none where it names none."""
    found = _look_up(bare_words(text))
    return found[0] if found else ()


def find_kind(words: Sequence[str]) -> LureKind:
    """The category that some of the words name.

    A word that no colour has goes before one that some colour has ("craw" may be either), then the longer name.
    Several names that share a category mean that one; several that share none leave it open.
    """
    best = _best(words)
    if best is None:
        return LureKind((), tuple(words), named=False)
    rank, start, length, categories, plural = best
    left = (*words[:start], *words[start + length :])
    said = list(words[start : start + length])
    while (more := _best(left)) and not more[0][0]:
        shared = tuple(category for category in categories if category in more[3])
        if not shared and (rank[2] or more[0][2] or not (categories and more[3])):
            break  # where one of the two is a slip, it may be no name at all
        categories = shared or (*categories, *more[3])
        plural = plural or more[4]
        said += left[more[1] : more[1] + more[2]]
        left = (*left[: more[1]], *left[more[1] + more[2] :])
    return LureKind(
        tuple(dict.fromkeys(categories)), left, " ".join(said), plural=plural, coloured=rank[0], slip=rank[2]
    )


def own_kind_word(name: str) -> str:
    """The word in a lure's name for a kind that goes in as the nearest of ours: "tube" of "Tube, green pumpkin"; empty
    where it names none."""
    words = bare_words(name)
    parts = (" ".join(words[at : at + length]) for length in (2, 1) for at in range(len(words)))
    own = house_words().stands_for
    return next((one.rstrip("s") for one in parts if one in own or one.rstrip("s") in own), "")


def phrase_in(words: Sequence[str], said: str) -> tuple[int, int]:
    """Where the words that name a kind stand among all: from the first of them in a row to behind the last."""
    data = said.split()
    for start in range(len(words)):
        length = 0
        while length < len(data) and list(words[start : start + length + 1]) == data[: length + 1]:
            length += 1
        if length:
            return start, start + length
    return 0, 0


_Rank = tuple[bool, int, bool]  # of a single word that is a colour's too; shorter; with a slip: the least is the surest
_Found = tuple[_Rank, int, int, tuple[str, ...], bool]


def _best(words: Sequence[str]) -> _Found | None:
    """The surest name among the words: its rank, where it starts, how long it is, what it may be, whether plural."""
    best: _Found | None = None
    for start in range(len(words)):
        for length in range(min(LONGEST, len(words) - start), 0, -1):
            part = words[start : start + length]
            found = _look_up(part)
            if found is None:
                continue
            categories, exact, plural = found
            coloured = [word in _colour_words() or word.rstrip("s") in _colour_words() for word in part]
            if (
                any(coloured)
                and not exact
                and any(word not in house_words().of_kinds for word in part if word in _colour_words())
            ):
                continue
            rank = (length == 1 and coloured[0], -length, not exact)
            if best is None or rank < best[0]:
                best = (rank, start, length, categories, plural)
    return best


def _look_up(part: Sequence[str]) -> tuple[tuple[str, ...], bool, bool] | None:
    """What some words name as a whole: the categories, whether exactly, whether more than one."""
    joined, words = "".join(part), house_words()
    table = words.joined
    if joined in table:
        return table[joined], True, False
    for ending in ("es", "s"):
        if joined.endswith(ending) and joined.removesuffix(ending) in table:
            return table[joined.removesuffix(ending)], True, True
    if len(joined) < _SHORTEST or (len(part) == 1 and (joined in words.of_no_kind or joined in _colour_words())):
        return None
    if all(word in words.let_go for word in part):
        return None
    for ending in ("", "s"):
        bare = joined.removesuffix(ending)
        lengths = range(max(len(bare) - 1, _SHORTEST), len(bare) + 2)
        alike = [name for length in lengths for name in words.by_start.get((bare[:1], length), ())]
        if not alike:
            continue
        slips = process.extract(bare, alike, scorer=DamerauLevenshtein.distance, score_cutoff=1, limit=None)
        near = {table[name] for name, *_ in slips if _is_slip(bare, name)}
        if len(near) == 1:
            return near.pop(), False, bare != joined
    return None


def _is_slip(typed: str, name: str) -> bool:
    """Whether a word is another by a slip of a finger. A short word with one letter for another may be a kind's own
    name that is not known here, unless the two keys lie side by side."""
    if typed[0] != name[0]:
        return False
    if len(typed) != len(name) or len(name) >= _LONG or sorted(typed) == sorted(name):
        return True
    (pair,) = [(one, other) for one, other in zip(typed, name, strict=True) if one != other]
    return _beside(*pair)


def _beside(one: str, other: str) -> bool:
    places = {key: (row, column + row / 2) for row, keys in enumerate(_KEYS) for column, key in enumerate(keys)}
    if one not in places or other not in places:
        return False
    (row, column), (other_row, other_column) = places[one], places[other]
    return abs(row - other_row) <= 1 and abs(column - other_column) <= 1


@cache
def _colour_words() -> frozenset[str]:
    names = [
        name for card in house_palette().cards for name in (card.read_as or card.name, card.name, card.tone, *card.also)
    ]
    short = (*house_words().colour, *house_words().nickname)
    return frozenset(word for name in (*names, *short) for word in (*normal(name).split(), *bare_words(name)))
