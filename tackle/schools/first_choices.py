"""A school's first choices over clarity and light, to be read line by line."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from tackle.base.vocabulary import CATEGORIES, Forage, Grade, Light, Season
from tackle.colours.palette import Palette
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import Rulebook
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.situation import Situation, make_situation

__all__ = ["SILENT", "first_words", "rows"]

SILENT = "-"


def rows(book: Rulebook, palette: Palette, season: Season, food: Forage) -> Iterator[tuple[str, str, list[str]]]:
    """For each category and clarity band: the first choice in each light, as the words of its card.

    Lights in the order of the vocabulary; trailers as on a green pumpkin jig. A category on which the school says
    nothing at all is left out.
    """
    for category in CATEGORIES:
        words = {}
        for band, light in product(BANDS, Light):
            there = HOUSE_LADDER.typical_in(band)
            situation = make_situation(category, visibility_in=there, light=light, season=season, forage=(food,))
            words[band, light] = first_words(book, palette, situation)
        if any(word != SILENT for word in words.values()):
            for band in BANDS:
                yield category, band, [words[band, light] for light in Light]


def first_words(book: Rulebook, palette: Palette, situation: Situation) -> str:
    """The id of the card a school would reach for first, or SILENT."""
    said = rank(book, palette.sold_in(situation.category), situation)
    return said[0].card.id if said and said[0].grade is Grade.GO_TO else SILENT
