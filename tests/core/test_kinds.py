"""Kinds of day: on days of one kind the schools say the same of any card."""

from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.vocabulary import (
    Cover,
    Current,
    Density,
    Forage,
    Grade,
    Light,
    Mood,
    Pace,
    Season,
    Stain,
    Target,
    Tone,
    Wind,
)
from tackle.colours.palette import house_palette
from tackle.cover.opinions import gather_opinions
from tackle.schools.evaluation import evaluate, evaluate_kinds, group_days
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import ask
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

CATEGORIES = ("worm", "jerkbait", "swim-jig", "inshore-shrimp")


def maybe(values):
    return st.none() | (values if isinstance(values, st.SearchStrategy) else st.sampled_from(values))


# On the marks that rulebooks set, and beside them: that is where days are told apart.
sights = st.sampled_from([6.0, 11.9, 12.0, 18.0, 24.0, 29.9, 30.0, 48.0, 72.0, 120.0, 300.0]) | st.floats(1, 600)
situations = st.builds(
    Situation, category=st.just(""), visibility_in=sights, light=st.sampled_from(Light), stain=st.sampled_from(Stain),
    wind=maybe(Wind), season=maybe(Season), month=maybe(st.integers(1, 12)), water_temp_f=maybe(st.floats(33, 95)),
    depth_ft=maybe(st.floats(0, 40)), norm_in=maybe(sights), cover=maybe(Cover), pace=maybe(Pace),
    forage=st.lists(st.sampled_from(Forage), min_size=1, max_size=2).map(tuple), with_tone=maybe(Tone),
    density=maybe(Density), current=maybe(Current), target=maybe(Target), mood=maybe(Mood),
)  # fmt: skip
schools = st.lists(st.sampled_from(sorted(house_rulebooks())), min_size=1, max_size=3, unique=True)


@settings(max_examples=60, deadline=None)
@given(st.lists(situations, max_size=25), schools, st.sampled_from(CATEGORIES), st.sampled_from(Tone))
def test_schools_say_of_a_kind_of_day_what_they_say_of_each_of_its_situations(some, names, category, tone):
    books = tuple(house_rulebooks()[name] for name in names)
    there = [replace(one, category=category) for one in some]
    kinds = group_days(books, category, tabulate(there))
    cards = house_palette().sold_in(category)
    cards = (*cards, *(replace(card, id=f"{card.id}-made", tone=tone) for card in cards[:6]))
    for school, book in enumerate(books):
        said = evaluate_kinds(kinds, school, cards)[:, kinds.kind_indices]
        np.testing.assert_array_equal(said, evaluate(book, category, cards, tabulate(there)))
    assert list(dict.fromkeys(kinds.kind_indices.tolist())) == list(range(len(kinds.patterns)))
    assert len(kinds.patterns) <= len(there)


@settings(max_examples=60, deadline=None)
@given(st.lists(situations, min_size=1, max_size=12), schools, st.sampled_from(CATEGORIES))
def test_votes_on_a_kind_of_day_are_those_on_each_of_its_situations(some, names, category):
    books, cards = tuple(house_rulebooks()[name] for name in names), house_palette().sold_in(category)
    there = [replace(one, category=category) for one in some]
    opinions = gather_opinions(category, books, tuple(there), False, Grade.WORKS, house_palette())
    for kind, one in zip(opinions.kind_indices.tolist(), there, strict=True):
        asked = ask(books, cards, one)
        for place, card in enumerate(cards):
            assert asked.votes(card) == (opinions.votes.family[kind, place], opinions.votes.own[kind, place])
            if opinions.best[kind, place]:
                book, call = opinions.advice_for(kind, place)
                spoken = asked.advice_for(card)
                assert (book, call) == (spoken[0], spoken[1].call)
        assert asked.most == opinions.votes.most[kind]
