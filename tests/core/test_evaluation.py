"""The evaluator against a plain, slow, readable reference, on random rulebooks."""

import math

from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.vocabulary import CATEGORIES, Grade
from tackle.colours.palette import house_palette
from tackle.schools.evaluation import evaluate, rank
from tackle.schools.rule import TRAITS, Range, Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import CHOICES, NUMBERS, tabulate
from tests.core.examples import situations

SPANS = {
    "visibility_in": (0, 300), "sight_in": (0, 300), "water_temp_f": (35, 90), "month": (1, 13), "depth_ft": (0, 50),
    "depth_ratio": (0, 5), "norm_ratio": (0, 3), "norm_in": (1, 60),
}  # fmt: skip


@st.composite
def calls(draw, index: int) -> Rule:
    ranges = []
    for name in draw(st.lists(st.sampled_from(NUMBERS), max_size=2, unique=True)):
        low, high = sorted(draw(st.tuples(*[st.integers(*SPANS[name])] * 2)))
        ranges.append((name, Range(low, high + 1)))
    among = []
    for name in draw(st.lists(st.sampled_from([n for n in CHOICES if n != "with"]), max_size=2, unique=True)):
        words = st.sampled_from(sorted({*CHOICES[name], "unknown"}))
        among.append((name, draw(st.frozensets(words, min_size=1, max_size=4))))
    want = []
    for name in draw(st.lists(st.sampled_from(list(TRAITS)), min_size=1, max_size=2, unique=True)):
        want.append((name, draw(st.frozensets(st.sampled_from(TRAITS[name]), min_size=1, max_size=6))))
    return Rule(
        id=f"call-{index}",
        categories=frozenset(draw(st.lists(st.sampled_from(list(CATEGORIES)), min_size=1))) | {"worm"},
        names_category=draw(st.booleans()),
        ranges=tuple(ranges),
        among=tuple(among),
        want=tuple(want),
        wish=(),
        grade=draw(st.sampled_from(Grade)),
        why="Because.",
    )


@st.composite
def rulebooks(draw) -> Rulebook:
    made = tuple(draw(calls(index)) for index in range(draw(st.integers(1, 8))))
    return Rulebook("x", "X", "?", "s", 1, made)


def plainly_holds(call: Rule, columns, place: int) -> bool:
    for name, span in call.ranges:
        value = columns.numbers[name][place]
        if math.isnan(value) or not span.low <= value < span.below:
            return False
    for name, allowed in call.among:
        if name == "forage":
            eaten = {word for bit, word in enumerate(CHOICES["forage"]) if columns.forage[place] >> bit & 1}
            if not eaten & allowed:
                return False
        else:
            code = columns.choices[name][place]
            if (CHOICES[name][code] if code >= 0 else "unknown") not in allowed:
                return False
    return True


# Colours that have their orange by nature.
ORANGE_ANYWAY = {"chartreuse-black", "tiger", "orange-craw", "red-craw", "root-beer", "gold", "pink"}


def plainly_wants(call: Rule, card) -> bool:
    traits = card.traits()
    for name, allowed in call.want:
        have = traits[name] if isinstance(traits[name], list) else [traits[name]]
        if not set(have) & allowed:
            return False
    named = {one for name, values in (*call.want, *call.wish) if name == "accents" for one in values}
    put_on = {"orange-tips", "orange-belly", "chartreuse-tail", "chartreuse-belly"} & set(traits["accents"])
    return call.grade != "go-to" or traits["tone"] in ORANGE_ANYWAY or put_on <= named


@settings(max_examples=150, deadline=None)
@given(rulebooks(), st.lists(situations, min_size=1, max_size=6))
def test_equals_a_plain_reference(book, some):
    cards = house_palette().sold_in("worm")
    columns = tabulate(some)
    deciding_rules = evaluate(book, "worm", cards, columns)
    order = ["works", "go-to", "avoid"]
    for row, card in enumerate(cards):
        for place in range(len(some)):
            apply = [
                (len(call.ranges) + len(call.among) + call.names_category, order.index(call.grade), -index)
                for index, call in enumerate(book.calls)
                if "worm" in call.categories and plainly_holds(call, columns, place) and plainly_wants(call, card)
            ]
            assert deciding_rules[row, place] == (-max(apply)[2] if apply else -1)


@settings(max_examples=50, deadline=None)
@given(rulebooks(), situations)
def test_ranks_go_tos_first_and_avoids_last(book, situation):
    grades = [v.grade for v in rank(book, house_palette().sold_in(situation.category), situation)]
    assert grades == sorted(grades, key=[Grade.GO_TO, Grade.WORKS, Grade.AVOID].index)
