"""Which colour card a printed, typed or spoken name means."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from rapidfuzz import fuzz
from rapidfuzz.distance import DamerauLevenshtein

from tackle.base.store import kept
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.intake.words import MOST_NAME, house_words, normal

__all__ = ["Meant", "find_colour", "is_colour", "closest_word"]

_OFFERED: Final = 40.0  # below this a guess only misleads
_MOST: Final = 5
_SHORTEST: Final = 5  # letters: shorter words are too near each other to forgive a slip

# Words that a name may have or lack and still be the same name; and those that name a part of the lure: these may be
# left out, but where one is written the card must have it.
_FILLING: Final = frozenset({
    "and", "with", "over", "on", "fleck", "plain", "solid", "flat", "back", "slightly", "mix", "strands", "the",
    "in", "w",
})  # fmt: skip
_PARTS: Final = frozenset(["belly", "tail", "tip", "sides", "side", "line", "gleam"])


@dataclass(frozen=True, slots=True)
class Meant:
    """The cards that a name may mean, surest first; `sure` is the one meant beyond doubt, None where one must ask."""

    offers: tuple[Colour, ...]
    sure: Colour | None = None


def find_colour(text: str, categories: Sequence[str], palette: Palette) -> Meant:
    """What a name means among the cards of some categories, or among all where none is told.

    A name is a card's own, in any order of its words; or a card's family, which means the plainest card of it; or one
    that a single card has all the words of. Slips are forgiven; a word that no colour has leaves it open.
    """
    return _match_colour(normal(text[:MOST_NAME]), tuple(categories), palette)


@dataclass(frozen=True, slots=True)
class _Called:
    """What a card is called: its names in lower case; of each its words; those of its head, of its tone, and of all."""

    names: tuple[str, ...]
    full: tuple[frozenset[str], ...]
    head: frozenset[str]
    tone: frozenset[str]
    words: frozenset[str]

    @classmethod
    def of(cls, card: Colour) -> _Called:
        names = (card.read_as or card.name, card.name, *card.also)
        full = tuple(_bare(name) for name in names)
        return cls(
            tuple(normal(name) for name in (*names, card.tone)),
            full,
            _bare(names[0].split(",")[0]),
            _bare(card.tone),
            frozenset().union(*full, _bare(card.tone), _bare(card.finish)),
        )


@dataclass(frozen=True, slots=True)
class _Spoken:
    """What the cards of a palette are called, by their ids, and every word that is part of a colour's name."""

    called: Mapping[str, _Called]
    vocabulary: frozenset[str]


@kept("names of colours")
def _spoken(palette: Palette) -> _Spoken:
    called = {card.id: _Called.of(card) for card in palette.cards}
    nicks = (word for nick in house_words().nickname for word in normal(nick).split())
    return _Spoken(called, frozenset().union(nicks, _FILLING, _PARTS, *(one.words for one in called.values())))


@kept("colour that is meant")
def _match_colour(name: str, categories: tuple[str, ...], palette: Palette) -> Meant:
    cards = _cards(categories, palette)
    let_go = house_words().let_go
    words = [mended for word in name.split() if word not in let_go for mended in _mended(word, palette).split()]
    said = frozenset(words) - _FILLING or frozenset(words)
    if not said:
        return Meant(())
    spoken = _spoken(palette)
    known = all(word in spoken.vocabulary for word in said)
    near = tuple(cards and _near(" ".join(words), cards, spoken))
    exact = [card for card in cards if name in spoken.called[card.id].names[:-1]]  # the last one is its tone
    if len(exact) == 1:
        return Meant(tuple(dict.fromkeys((*exact, *near)))[:_MOST], exact[0])
    if not known:
        return Meant(near)
    if nicked := _nicknamed(said, cards):
        return Meant(tuple(dict.fromkeys((*nicked, *near)))[:_MOST], nicked[0] if len(nicked) == 1 else None)
    found = _named(said, cards, categories, spoken)
    return Meant(tuple(dict.fromkeys((*found, *near)))[:_MOST], _one_family(found, said))


def _cards(categories: tuple[str, ...], palette: Palette) -> list[Colour]:
    if not categories:
        return list(palette.cards)
    return [card for card in palette.cards if any(category in card.sold_in for category in categories)]


def _one_family(found: Sequence[Colour], said: frozenset[str]) -> Colour | None:
    """The plainest of the found cards where all are of one tone, or of those whose tone is what was said."""
    if not found:
        return None
    if len({card.tone for card in found}) == 1:
        return found[0]
    return next((card for card in found if frozenset(normal(card.tone).split()) == said), None)


def _nicknamed(said: frozenset[str], cards: Sequence[Colour]) -> list[Colour]:
    """The cards that a nickname may mean, the likeliest first."""
    for nick, ids in house_words().nickname.items():
        if frozenset(normal(nick).split()) == said:
            return sorted((card for card in cards if card.id in ids), key=lambda card: ids.index(card.id))
    return []


def _named(said: frozenset[str], cards: Sequence[Colour], categories: tuple[str, ...], spoken: _Spoken) -> list[Colour]:
    """The cards that go by the words said, by the strictest way of going by them that any does."""
    own = frozenset(word for category in categories for word in (category.split("-")[-1],))
    called = [(card, spoken.called[card.id]) for card in cards]
    ways = [(card, _ways(one, own)) for card, one in called]
    for way in range(4):
        if found := [card for card, known in ways if said in known[way]]:
            return found
    bare = said - _PARTS
    if len(bare) < 2:
        return []
    fitting = [
        (len(one.words), card) for card, one in called
        if said <= one.words and (frozenset(normal(card.tone).split()) <= said or one.head <= said)
    ]  # fmt: skip
    least = min((extra for extra, _ in fitting), default=0)
    return [card for extra, card in fitting if extra == least]


def _ways(called: _Called, own: frozenset[str]) -> tuple[Collection[frozenset[str]], ...]:
    """The sets of words that a card goes by: its names, its head, its tone, its names without parts of the lure."""
    full = [*called.full, *(words - own for words in called.full if words - own)]
    heads = [called.head, *([called.head - own] if called.head - own else [])]
    return full, heads, [called.tone], {words - drop for words in full for drop in _dropped(words)}


def _dropped(words: frozenset[str]) -> Iterable[frozenset[str]]:
    """The parts of the lure that a name may be said without."""
    parts = words & _PARTS
    return [parts, *(parts - {part} for part in parts)]


def _bare(name: str) -> frozenset[str]:
    words = frozenset(normal(name).split())
    return words - _FILLING or words


def is_colour(word: str, palette: Palette) -> bool:
    """Whether a word is one of a colour's, written out, for short or with a slip, be the colour none of ours."""
    if word in house_words().other:
        return True
    return all(_mended(one, palette) in _spoken(palette).vocabulary for one in normal(word).split())


def closest_word(word: str, palette: Palette) -> str:
    """The word of a colour that a word is taken for, a wrong letter forgiven; empty where it is right or none."""
    meant = _mended(word, palette)
    return meant if meant not in (word, word.removesuffix("s")) and word not in house_words().colour else ""


def _mended(word: str, palette: Palette) -> str:
    """A word with its slip mended where one known word is near and it is no other colour's."""
    vocabulary = _spoken(palette).vocabulary
    if word in vocabulary or len(word) < _SHORTEST or word in house_words().other:
        return word
    if word.removesuffix("s") in vocabulary:
        return word.removesuffix("s")
    spelt = {**house_words().colour, **{known: known for known in vocabulary}}
    near = sorted(
        (distance, meant) for known, meant in spelt.items()
        if known[0] == word[0] and (distance := DamerauLevenshtein.distance(word, known)) <= 1
    )  # fmt: skip
    best = {meant for distance, meant in near if distance == near[0][0]}
    return best.pop() if len(best) == 1 else word


def _near(name: str, cards: Sequence[Colour], spoken: _Spoken) -> list[Colour]:
    """The cards whose names are nearest to one, nearest first."""
    scored = [(max(_alike(name, own) for own in spoken.called[card.id].names), card) for card in cards]
    scored.sort(key=lambda entry: -entry[0])
    return [card for score, card in scored[:_MOST] if score >= _OFFERED]


def _alike(name: str, own: str) -> float:
    return float(0.6 * fuzz.token_sort_ratio(name, own) + 0.4 * fuzz.token_set_ratio(name, own))
