"""A call: what a school says of some cards under some conditions."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from types import MappingProxyType
from typing import Any, Final, TypeAlias

from tackle.base.hashing import content_hash, to_plain
from tackle.base.vocabulary import Accent, Brightness, Finish, Flake, FlakeHue, Forage, Grade, Opacity, Tone, ids

__all__ = ["TRAITS", "Rule", "Conditions", "Range", "Want", "has_trait"]

TRAITS: Final = MappingProxyType({
    "tone": ids(Tone), "opacity": ids(Opacity), "finish": ids(Finish), "flake": ids(Flake),
    "flake_hues": ids(FlakeHue), "brightness": ids(Brightness), "accents": ids(Accent), "imitates": ids(Forage),
})  # fmt: skip

# What is put on a base, and asked for by name; some tones have their orange by nature.
_ACCENTS: Final = frozenset((Accent.ORANGE_TIPS, Accent.ORANGE_BELLY, Accent.CHARTREUSE_TAIL, Accent.CHARTREUSE_BELLY))
_ORANGE_BY_NATURE: Final = frozenset((
    Tone.CHARTREUSE_BLACK, Tone.TIGER, Tone.ORANGE_CRAW, Tone.RED_CRAW, Tone.ROOT_BEER, Tone.GOLD, Tone.PINK,
))  # fmt: skip
# Of two equally specific calls the one later in this order decides: a warning is not outvoted by a
# "covers it", and of two recommendations the warmer one counts.
_GRADE_ORDER: Final = (Grade.WORKS, Grade.GO_TO, Grade.AVOID)


@dataclass(frozen=True, slots=True)
class Range:
    """A range of numbers: from `low` up to, but without, `below`."""

    low: float = -math.inf
    below: float = math.inf


Want: TypeAlias = tuple[tuple[str, frozenset[str]], ...]
Conditions: TypeAlias = tuple[tuple[tuple[str, Range], ...], tuple[tuple[str, frozenset[str]], ...]]


@dataclass(frozen=True)
class Rule:
    """One line of a rulebook.

    `ranges` and `among` are the conditions, all of which must hold; `want` the traits a card must all have,
    each by any of its values; `wish` traits that only rank. A `lifted` call is an angler's own, laid on top of a
    school: it outranks every call of the book. `among` may hold "unknown", met where the
    situation does not say.
    """

    id: str
    categories: frozenset[str]
    names_category: bool
    ranges: tuple[tuple[str, Range], ...]
    among: tuple[tuple[str, frozenset[str]], ...]
    want: tuple[tuple[str, frozenset[str]], ...]
    wish: tuple[tuple[str, frozenset[str]], ...]
    grade: Grade
    why: str
    lifted: bool = False
    written: str = ""  # the id as it stands in the file: a call written once for each food eaten is one call
    on_question: bool = False  # whether it answers what the school asks first
    off: bool = False  # an angler's own word that the book's call of this id is not to be heard
    counts: int = 0  # how many conditions more it counts as, where the school says that one thing goes before another

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash(to_plain(self))

    @property
    def specificity(self) -> int:
        """One for each condition named, one more for naming a category rather than a whole group, and what it counts as
        besides."""
        return len(self.ranges) + len(self.among) + self.names_category + self.counts

    @property
    def precedence(self) -> tuple[bool, int, int, bool]:
        """What decides between calls that both apply: the greater one wins; of equals, the earlier in the file."""
        return self.lifted, self.specificity, _GRADE_ORDER.index(self.grade), self.on_question

    @property
    def narrowness(self) -> tuple[bool, int, bool]:
        """What ranks calls of one grade: the narrow call goes before the wide one, whatever wishes either lists."""
        return self.lifted, self.specificity, self.on_question

    @property
    def conditions(self) -> Conditions:
        """All that must hold: ranges of numbers, and choices among words."""
        return self.ranges, self.among

    def wants(self, traits: Mapping[str, Any]) -> bool:
        """Whether a card with these traits has all the wanted ones. One is not reached for with an accent that the call
        does not name: an accent is no base."""
        if self.grade is Grade.GO_TO and not _named(traits).issubset(self.accents):
            return False
        return all(has_trait(traits[name], values) for name, values in self.want)

    @property
    def accents(self) -> frozenset[str]:
        """The accents that the call names, wanted or wished."""
        return frozenset(value for name, values in (*self.want, *self.wish) if name == "accents" for value in values)

    def matched(self, traits: Mapping[str, Any]) -> int:
        """How many of the wanted and wished traits a card with these traits has."""
        return sum(has_trait(traits[name], values) for name, values in (*self.want, *self.wish))


def _named(traits: Mapping[str, Any]) -> set[str]:
    """The accents of a card that a call has to name, where they are not part of what the colour is."""
    return set() if traits["tone"] in _ORANGE_BY_NATURE else {one for one in traits["accents"] if one in _ACCENTS}


def has_trait(trait: str | list[str], values: frozenset[str]) -> bool:
    """Whether a card's trait is, or has among its own, one of some values."""
    return trait in values if isinstance(trait, str) else not values.isdisjoint(trait)
