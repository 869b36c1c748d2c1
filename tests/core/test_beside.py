"""Size, weight and sound beside the colour."""

import pytest

from tackle.base.errors import DataError
from tackle.colours.palette import house_palette
from tackle.data import FOLDER
from tackle.schools.beside import beside, load_advice
from tackle.situations.situation import read_situation

CARDS = house_palette().by_id


def said(category, card, units="imperial", **told):
    situation = read_situation({"category": category, "visibility_in": 40, "light": "bright", **told})
    return " ".join(beside(CARDS[card], situation, units))


def test_what_is_said_goes_by_water_colour_and_kind():
    assert "Everything smaller" in said("worm", "green-pumpkin-plain", visibility_in=80)
    assert "Of two sizes the larger" in said("worm", "black-plain", visibility_in=12)
    assert "looks smaller than it is" in said("jerkbait", "shad-glass")
    assert "Rattles" in said("lipless-crankbait", "red-craw", visibility_in=12)
    assert "Rattles" not in said("jerkbait", "shad-glass", visibility_in=12)
    assert "As fast as it can be wound" in said("deep-crankbait", "chartreuse-black", visibility_in=60)
    assert "go down in size" in said("jerkbait", "minnow-ghost", forage=["minnow"])


def test_of_ones_own_is_what_is_not_said_of_everything():
    clear = read_situation({"category": "worm", "visibility_in": 80, "light": "bright"})
    assert beside(CARDS["green-pumpkin-plain"], clear, "imperial")
    assert beside(CARDS["green-pumpkin-plain"], clear, "imperial", own=True) == []


def test_measures_are_in_the_readers_units():
    assert "1/2 oz" in said("bladed-jig", "white-flat")
    assert "14 g" in said("bladed-jig", "white-flat", units="metric")
    assert "10 cm" in said("jerkbait", "shad-glass", units="metric")


def test_a_broken_entry_is_named(tmp_path):
    path = tmp_path / "size-and-sound.toml"
    text = (FOLDER / "size-and-sound.toml").read_text()
    path.write_text(text.replace('for = "bladed-jig"', 'for = "vibrator"'))
    with pytest.raises(DataError, match="vibrating-weight: for: 'vibrator'"):
        load_advice(path)
    path.write_text("")
    with pytest.raises(DataError, match="has no"):
        load_advice(path)
