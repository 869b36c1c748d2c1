"""Small things that core tests are made of."""

from dataclasses import replace

from hypothesis import strategies as st

from tackle.base.vocabulary import CATEGORIES, Cover, Forage, Light, Pace, Season, Stain, Wind
from tackle.colours.colour import Colour
from tackle.colours.palette import house_palette
from tackle.schools.rulebook import read_rulebook
from tackle.situations.situation import Situation


def card(**changes: object) -> Colour:
    return replace(house_palette().by_id["green-pumpkin-black"], **changes)


def maybe(kind: type) -> st.SearchStrategy:
    return st.none() | st.sampled_from(kind)


situations = st.builds(
    Situation,
    category=st.sampled_from(list(CATEGORIES)),
    visibility_in=st.floats(0.5, 600),
    light=st.sampled_from(Light),
    stain=st.sampled_from(Stain),
    wind=maybe(Wind),
    season=maybe(Season),
    month=st.none() | st.integers(1, 12),
    water_temp_f=st.none() | st.floats(33, 95),
    depth_ft=st.none() | st.floats(0, 60),
    norm_in=st.none() | st.floats(1, 300),
    cover=maybe(Cover),
    pace=maybe(Pace),
    forage=st.lists(st.sampled_from(Forage), min_size=1, max_size=3, unique=True).map(tuple),
)


def call(name, category, when, want, grade="go-to"):
    return {"id": name, "for": category, "when": when, "want": want, "grade": grade, "why": "So it is here."}


# A school of worms that is not ours to change: green from two feet of visibility on, purple or red bug short of that,
# black under fifteen inches.
PLAIN = read_rulebook({
    "school": {"id": "plain", "name": "Plain", "question": "How far?", "short": "As told.", "order": 9},
    "call": [
        call("green", "worm", {"visibility_in": {"from": 24}}, {"tone": "green-pumpkin"}),
        call("dim", "worm", {"visibility_in": {"from": 15, "below": 24}}, {"tone": ["dark-purple", "red-bug"]}),
        call("black", "worm", {"visibility_in": {"below": 15}}, {"tone": "black"}),
    ],
}, "plain.toml")  # fmt: skip
