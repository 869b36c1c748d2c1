"""Every school's first choices over many situations, held against what is never one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import CATEGORIES, Forage, Grade, Light, Salinity, Season, Stain, Tone
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.data import FOLDER, loaded
from tackle.schools.evaluation import evaluate, first_choices, rank
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook, load_rulebooks
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation, make_situation

__all__ = ["NeverFirst", "lattice", "never_first", "stepping_back"]

INCHES: Final = (5.0, 10.0, 14.0, 18.0, 21.0, 27.0, 40.0, 66.0, 130.0, 260.0)
_FRESH: Final = (Forage.UNKNOWN, Forage.SHAD, Forage.SUNFISH, Forage.CRAWFISH)
_SALT: Final = (Forage.UNKNOWN, Forage.MULLET, Forage.SHRIMP, Forage.KILLIFISH)
_STAINS: Final = (Stain.NONE, Stain.SILT, Stain.TANNIC)
# Soft baits whose colour only lightens as the water clears, where no food is told.
LADDERS: Final = ("worm", "finesse-stick")
_DARK: Final = (
    (Tone.BLACK, Tone.BLACK_BLUE),
    (Tone.RED_BUG, Tone.DARK_PURPLE, Tone.BRIGHT_PURPLE),
)


@dataclass(frozen=True, slots=True)
class NeverFirst:
    """A first choice that is never one: what says so, the card, one of the situations, and of how many."""

    book: Rulebook
    rule: Rule
    call: Rule
    card: Colour
    situation: Situation
    times: int


def lattice(category: str, inches: Sequence[float] = INCHES) -> list[Situation]:
    """Clarity x light x food x season x stain for a category."""
    foods = _SALT if CATEGORIES[category].waters is Salinity.SALT else _FRESH
    return [
        make_situation(category, visibility_in=there, light=light, forage=(food,), season=season, stain=stain)
        for there, light, food, season, stain in product(inches, Light, foods, (None, *Season), _STAINS)
    ]


def never_first(
    book: Rulebook, category: str, palette: Palette, situations: Sequence[Situation]
) -> Iterator[NeverFirst]:
    """The first choices of a school that are never one, each call and rule once."""
    cards, columns = palette.sold_in(category), tabulate(situations)
    deciding_rules = evaluate(book, category, cards, columns)
    first = first_choices(book, deciding_rules)
    for rules in _rules(book.id):
        ruled = evaluate(rules, category, cards, columns)
        forbids = np.array([call.grade is Grade.AVOID for call in rules.calls] + [False])[ruled]
        yield from _gathered(book, rules, cards, situations, first & forbids, deciding_rules, ruled)


def _gathered(
    book: Rulebook, rules: Rulebook, cards: Sequence[Colour], situations: Sequence[Situation], wrong: NDArray[np.bool_],
    deciding_rules: NDArray[np.int16], ruled: NDArray[np.int16],
) -> Iterator[NeverFirst]:  # fmt: skip
    found: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for row, column in np.argwhere(wrong).tolist():
        found.setdefault((int(deciding_rules[row, column]), int(ruled[row, column])), []).append((row, column))
    for (call, rule), places in found.items():
        row, column = places[0]
        yield NeverFirst(book, rules.calls[rule], book.calls[call], cards[row], situations[column], len(places))


def stepping_back(
    book: Rulebook, category: str, palette: Palette
) -> Iterator[tuple[Situation, Colour, Situation, Colour]]:
    """Where the first choice of a school grows darker again as the water clears: the two situations and their cards."""
    cards = palette.sold_in(category)
    for light, season, stain in product((Light.BRIGHT, Light.OVERCAST), (None, *Season), _STAINS):
        before: tuple[Situation, Colour, int] | None = None
        for inches in INCHES:
            there = make_situation(category, visibility_in=inches, light=light, season=season, stain=stain)
            said = rank(book, cards, there)
            if not said or said[0].grade is not Grade.GO_TO:
                continue
            card = said[0].card
            if before and _lightness(card) < before[2]:
                yield before[0], before[1], there, card
            before = there, card, _lightness(card)


def _lightness(card: Colour) -> int:
    """How far up the ladder a colour stands: black, red bug or purple, everything green and lighter."""
    return next((step for step, tones in enumerate(_DARK) if card.tone in tones), len(_DARK))


def _rules(school: str) -> tuple[Rulebook, ...]:
    """What holds for every school, and what for this one alone."""
    rules = loaded(load_rulebooks, FOLDER / "never")
    return tuple(rules[one] for one in ("never", f"never-{school}") if one in rules)
