"""Which colour card a printed, typed or spoken name means."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Final

from rapidfuzz import fuzz
from rapidfuzz.distance import DamerauLevenshtein

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.intake.words import MOST_NAME, house_words, normal

__all__ = ["Meant", "colour_of", "is_colour", "slip_of"]

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

    offers: tuple[Card, ...]
    sure: Card | None = None


def colour_of(text: str, categories: Sequence[str], palette: Palette) -> Meant:
    """What a name means among the cards of some categories, or among all where none is told.

    A name is a card's own, in any order of its words; or a card's family, which means the plainest card of it; or one
    that a single card has all the words of. Slips are forgiven; a word that no colour has leaves it open.
    """
    return _colour_of(normal(text[:MOST_NAME]), tuple(categories), palette)


@lru_cache(maxsize=20_000)
def _colour_of(name: str, categories: tuple[str, ...], palette: Palette) -> Meant:
    cards = _cards(categories, palette)
    let_go = house_words().let_go
    words = [mended for word in name.split() if word not in let_go for mended in _mended(word, palette).split()]
    said = frozenset(words) - _FILLING or frozenset(words)
    if not said:
        return Meant(())
    known = all(word in _vocabulary(palette) for word in said)
    near = tuple(cards and _near(" ".join(words), cards))
    if not known:
        return Meant(near)
    if nicked := _nicknamed(said, cards):
        return Meant(tuple(dict.fromkeys((*nicked, *near)))[:_MOST], nicked[0] if len(nicked) == 1 else None)
    found = _named(said, cards, categories)
    return Meant(tuple(dict.fromkeys((*found, *near)))[:_MOST], _one_family(found, said))


def _cards(categories: tuple[str, ...], palette: Palette) -> list[Card]:
    if not categories:
        return list(palette.cards)
    return [card for card in palette.cards if any(category in card.sold_in for category in categories)]


def _one_family(found: Sequence[Card], said: frozenset[str]) -> Card | None:
    """The plainest of the found cards where all are of one tone, or of those whose tone is what was said."""
    if not found:
        return None
    if len({card.tone for card in found}) == 1:
        return found[0]
    return next((card for card in found if frozenset(normal(card.tone).split()) == said), None)


def _nicknamed(said: frozenset[str], cards: Sequence[Card]) -> list[Card]:
    """The cards that a nickname may mean, the likeliest first."""
    for nick, ids in house_words().nickname.items():
        if frozenset(normal(nick).split()) == said:
            return sorted((card for card in cards if card.id in ids), key=lambda card: ids.index(card.id))
    return []


def _named(said: frozenset[str], cards: Sequence[Card], categories: tuple[str, ...]) -> list[Card]:
    """The cards that go by the words said, by the strictest way of going by them that any does."""
    own = frozenset(word for category in categories for word in (category.split("-")[-1],))
    ways = [(card, _ways(card, own)) for card in cards]
    for way in range(4):
        if found := [card for card, known in ways if said in known[way]]:
            return found
    bare = said - _PARTS
    if len(bare) < 2:
        return []
    whole = [(card, _all_words(card)) for card in cards]
    fitting = [
        (len(words), card) for card, words in whole
        if said <= words and (frozenset(normal(card.tone).split()) <= said or _head(card) <= said)
    ]  # fmt: skip
    least = min((extra for extra, _ in fitting), default=0)
    return [card for extra, card in fitting if extra == least]


@lru_cache(maxsize=4_000)
def _ways(card: Card, own: frozenset[str]) -> tuple[frozenset[frozenset[str]], ...]:
    """The sets of words that a card goes by: its names, its head, its tone, its names without parts of the lure."""
    full = [_bare(name) for name in (card.name, *card.also)]
    full += [words - own for words in full if words - own]
    heads = [_head(card), *([_head(card) - own] if _head(card) - own else [])]
    return (
        frozenset(full),
        frozenset(heads),
        frozenset([_bare(card.tone)]),
        frozenset(words - drop for words in full for drop in _dropped(words)),
    )


def _dropped(words: frozenset[str]) -> Iterable[frozenset[str]]:
    """The parts of the lure that a name may be said without."""
    parts = words & _PARTS
    return [parts, *(parts - {one} for one in parts)]


def _bare(name: str) -> frozenset[str]:
    words = frozenset(normal(name).split())
    return words - _FILLING or words


def _head(card: Card) -> frozenset[str]:
    return _bare(card.name.split(",")[0])


@cache
def _all_words(card: Card) -> frozenset[str]:
    return frozenset(word for name in (card.name, *card.also, card.tone, card.finish) for word in _bare(name))


@lru_cache(maxsize=64)
def _vocabulary(palette: Palette) -> frozenset[str]:
    names = [word for card in palette.cards for word in _all_words(card)]
    nicks = [word for nick in house_words().nickname for word in normal(nick).split()]
    return frozenset((*names, *nicks, *_FILLING, *_PARTS))


def is_colour(word: str, palette: Palette) -> bool:
    """Whether a word is one of a colour's, written out, for short or with a slip, be the colour none of ours."""
    if word in house_words().other:
        return True
    return all(_mended(one, palette) in _vocabulary(palette) for one in normal(word).split())


def slip_of(word: str, palette: Palette) -> str:
    """The word of a colour that a word is taken for, a wrong letter forgiven; empty where it is right or none."""
    meant = _mended(word, palette)
    return meant if meant not in (word, word.removesuffix("s")) and word not in house_words().colour else ""


@lru_cache(maxsize=20_000)
def _mended(word: str, palette: Palette) -> str:
    """A word with its slip mended where one known word is near and it is no other colour's."""
    vocabulary = _vocabulary(palette)
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


def _near(name: str, cards: Sequence[Card]) -> list[Card]:
    """The cards whose names are nearest to one, nearest first."""
    scored = [(max(_alike(name, own) for own in _names(card)), card) for card in cards]
    scored.sort(key=lambda entry: -entry[0])
    return [card for score, card in scored[:_MOST] if score >= _OFFERED]


@cache
def _names(card: Card) -> tuple[str, ...]:
    return tuple(normal(name) for name in (card.name, *card.also, card.tone))


def _alike(name: str, own: str) -> float:
    return float(0.6 * fuzz.token_sort_ratio(name, own) + 0.4 * fuzz.token_set_ratio(name, own))
