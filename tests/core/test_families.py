"""Families: what of one category is one colour for its purpose, and what is as good as the first word."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import DataError
from tackle.base.vocabulary import CATEGORIES, Brightness, Flake
from tackle.colours.family import families, family, load_family_rules
from tackle.colours.palette import house_palette
from tackle.commands.advise import advise
from tackle.data import FOLDER

PALETTE = house_palette()
CARDS = PALETTE.by_id


def one(category, *ids):
    return len({family(CARDS[card], category) for card in ids}) == 1


@pytest.mark.parametrize(
    ("category", "cards", "same"),
    [
        ("worm", ("green-pumpkin-black", "green-pumpkin-plain", "green-pumpkin-red", "green-pumpkin-purple"), True),
        ("casting-jig", ("green-pumpkin-black", "green-pumpkin-plain", "green-pumpkin-red"), True),
        ("worm", ("green-pumpkin-plain", "watermelon-red"), False),
        ("worm", ("green-pumpkin-plain", "green-pumpkin-orange"), False),
        ("walking-topwater", ("white-flat", "bone", "pearl-white"), True),
        ("shallow-crankbait", ("white-flat", "bone"), False),
        ("shallow-crankbait", ("shad-matte", "shad-dull"), False),
        ("shallow-crankbait", ("shad-matte", "shad-glass"), False),
        ("finesse-stick", ("green-pumpkin-purple", "green-pumpkin-black"), True),
        ("swimbait", ("goby-dull", "goby-white-belly"), False),
    ],
)
def test_what_anglers_take_for_one_colour_is_a_family(category, cards, same):
    assert one(category, *cards) == same


@given(st.sampled_from(PALETTE.cards), st.sampled_from(list(CATEGORIES)), st.sampled_from(Flake))
def test_flake_alone_makes_no_family_but_purple_and_gold_on_a_stick(card, category, flake):
    other = replace(card, id="another", flake=flake, flake_hues=(), flake_srgb=())
    gold = category == "finesse-stick" and {"purple", "gold"} <= set(card.flake_hues)
    parted = (category, card.id) == ("jig-trailer", "black-blue-silver")
    if card.id not in ("white-flat", "bone", "pearl-white") and not parted:
        assert (family(card, category) == family(other, category)) != gold


@given(st.sampled_from(PALETTE.cards), st.sampled_from(list(CATEGORIES)))
def test_muted_is_another_on_hard_baits_alone(card, category):
    full = replace(card, brightness=Brightness.NATURAL)
    muted = replace(card, brightness=Brightness.MUTED)
    hard = CATEGORIES[category].group == "hard" or category in ("frog", "spoon", "inline-spinner")
    assert (family(full, category) != family(muted, category)) == hard


def test_families_are_a_partition():
    for category in CATEGORIES:
        sold = PALETTE.sold_in(category)
        assert sorted(card.id for kin in families(sold, category) for card in kin) == sorted(card.id for card in sold)


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (
            '[[join]]\nfor = ["popper"]\ncolours = ["bone", "silver-plain"]\n',
            "join 2: colours: of popper are in another",
        ),
        ('[[part]]\nfor = ["popper"]\ncolours = ["bone"]\n', "are in another group as well"),
        ('[[part]]\nfor = ["popper"]\ncolours = ["mauve"]\n', "mauve"),
        ('[[join]]\nfor = ["kite"]\ncolours = ["bone"]\n', "kite"),
    ],
)
def test_groups_that_contradict_each_other_are_told(tmp_path, more, said):
    file = tmp_path / "families.toml"
    file.write_text((FOLDER / "families.toml").read_text() + more)
    with pytest.raises(DataError, match=said):
        load_family_rules(file)


WORM = {"category": "worm", "visibility_in": 45, "light": "bright", "season": "summer"}


def test_what_is_owned_is_said_where_it_is_as_good():
    told = advise({"situation": WORM})
    assert told["as_good"][0] == told["start"]["colour"]
    other = told["as_good"][1]
    mine = advise({"situation": WORM, "have": ["pink-loud", other]})["start"]
    assert (mine["colour"], mine["instead_of"]) == (other, told["start"]["colour"])
    assert mine["why"]
    assert advise({"situation": WORM, "have": ["pink-loud"]})["start"] == told["start"]
    assert "instead_of" not in advise({"situation": WORM, "have": told["as_good"]})["start"]


@pytest.mark.parametrize("category", CATEGORIES)
@pytest.mark.parametrize("sight", [6, 12, 20, 40, 80, 150])
def test_what_is_as_good_is_accepted_and_begins_with_the_first_word(category, sight):
    told = advise({"situation": {"category": category, "visibility_in": sight, "light": "broken", "season": "summer"}})
    if told["start"] is None:
        assert told["as_good"] == []
        return
    assert told["as_good"][0] == told["start"]["colour"]
    accepted = {v["colour"] for said in told["verdicts"].values() for v in said if v["grade"] != "avoid"}
    assert set(told["as_good"]) <= accepted


CLEAR = {"visibility_in": 80, "light": "bright", "season": "summer"}


@pytest.mark.parametrize(
    ("told", "tones"),
    [
        ({"category": "lipless-crankbait", "visibility_in": 26, "light": "bright", "water_temp_f": 45,
          "cover": "grass"}, ["red-craw"]),
        ({"category": "lipless-crankbait", "visibility_in": 20, "light": "overcast", "water_temp_f": 53, "month": 3,
          "cover": "rock"}, ["orange-craw"]),
        ({**CLEAR, "category": "swimbait", "forage": ["goby"]}, ["goby", "brown"]),
        ({**CLEAR, "category": "swimbait", "forage": ["crawfish"]}, ["goby", "brown", "green-pumpkin", "green-craw"]),
        ({**CLEAR, "category": "swimbait", "target": "smallmouth", "cover": "rock"},
         ["goby", "brown", "green-pumpkin"]),
        ({**CLEAR, "category": "frog", "visibility_in": 40, "forage": ["frog"]}, ["green-pumpkin", "brown"]),
        ({**CLEAR, "category": "frog", "visibility_in": 12, "forage": ["frog"]}, ["black"]),
        ({**CLEAR, "category": "worm", "visibility_in": 12}, ["black"]),
        ({**CLEAR, "category": "worm", "visibility_in": 12, "cover": "wood"}, ["black"]),
        ({**CLEAR, "category": "worm", "light": "overcast"}, ["watermelon"]),
        ({**CLEAR, "category": "walking-topwater", "visibility_in": 110, "forage": ["herring"]},
         ["silver", "shad", "bone"]),
        ({**CLEAR, "category": "casting-jig", "visibility_in": 36, "light": "broken", "cover": "grass"},
         ["black-blue"]),
        ({**CLEAR, "category": "bladed-jig", "visibility_in": 36, "light": "broken", "cover": "grass"},
         ["black-blue"]),
        ({**CLEAR, "category": "bladed-jig", "visibility_in": 10}, ["black-blue"]),
        ({**CLEAR, "category": "inshore-paddletail", "visibility_in": 11}, ["black-gold", "dark-purple", "black"]),
        ({**CLEAR, "category": "swimbait", "visibility_in": 45, "stain": "silt", "wind": "chop", "mood": "idle"},
         ["chartreuse-blue"]),
        ({"category": "shallow-crankbait", "visibility_in": 50, "light": "bright", "water_temp_f": 57, "month": 4,
          "cover": "rock"}, ["root-beer", "brown"]),
    ],
)  # fmt: skip
def test_what_was_told_counts(told, tones):
    assert CARDS[advise({"situation": told})["start"]["colour"]].tone in tones
