"""Colours' names: said in one breath, and read as they are said now and as they were written once."""

import pytest

from tackle.colours.palette import house_palette
from tackle.intake.naming import find_colour

CARDS = house_palette().cards


def test_no_name_has_a_comma():
    assert [card.name for card in CARDS if "," in card.name] == []


@pytest.mark.parametrize("card", [card for card in CARDS if card.read_as], ids=lambda card: card.id)
def test_both_names_mean_the_colour(card):
    for name in (card.name, card.read_as, card.name.replace("-", " "), card.read_as.upper()):
        assert find_colour(name, [card.sold_in[0]], house_palette()).sure == card, name
