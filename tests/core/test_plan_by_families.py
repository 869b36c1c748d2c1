"""A plan that has to be right, against plain enumeration: one of each family, first choices widened to families, then
closeness; who serves a day; the order to buy; and what no plan may do."""

from dataclasses import replace
from fractions import Fraction
from functools import cache
from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.vocabulary import CATEGORIES
from tackle.colours.family import family
from tackle.colours.palette import Palette, house_palette
from tackle.commands.advise import advise
from tackle.commands.plan import plan as plan_command
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import ask
from tackle.situations.expected import expected_days, without_rare
from tackle.situations.regions import region_at
from tackle.situations.starting import first_guess, kinds
from tackle.situations.thrown import thrown_by_default
from tests.core.by_families import accepted, first_ids, list_kept, quotient, votes_on, widened
from tests.core.examples import situations

PALETTE, BOOKS = house_palette(), house_rulebooks()


@st.composite
def requests(draw):
    category = draw(st.sampled_from(["worm", "shallow-crankbait", "popper", "finesse-stick", "swimbait"]))
    sold = [card.id for card in PALETTE.sold_in(category)]
    # Half of them of few families, so that there are several of one.
    near = [card.id for card in PALETTE.sold_in(category) if card.tone in ("green-pumpkin", "white", "bone", "shad")]
    picked = draw(st.lists(st.sampled_from(near or sold) | st.sampled_from(sold), min_size=3, max_size=8, unique=True))
    palette = Palette(card for card in PALETTE.cards if card.id in picked)
    schools = draw(st.lists(st.sampled_from(list(BOOKS)), min_size=1, max_size=4, unique=True))
    some = draw(st.lists(situations, min_size=1, max_size=5))
    lock = frozenset(draw(st.lists(st.sampled_from(picked), max_size=2)) if draw(st.integers(0, 3)) == 0 else [])
    request = Request(
        category=category,
        books=tuple(BOOKS[school] for school in schools),
        situations=tuple(replace(one, category=category) for one in some),
        days=tuple(float(draw(st.integers(1, 3))) for _ in some),
        owned=frozenset(draw(st.lists(st.sampled_from(picked), max_size=3))),
        lock=lock,
        ban=frozenset(draw(st.lists(st.sampled_from(picked), max_size=2))) - lock,
        at_most=draw(st.sampled_from([None, None, 2, 3])),
        right=Fraction(draw(st.sampled_from(["0.5", "0.9", "1"]))),
    )
    if request.at_most is not None and len(lock) > request.at_most:
        request = replace(request, at_most=len(lock))
    return request, palette


class ByHand:
    """A request read by hand, over the cards that a set may hold."""

    def __init__(self, request, palette):
        self.request, books = request, request.books
        sold = list(palette.sold_in(request.category))
        self.days = [Fraction(days) for days in request.days]
        self.works = [{c for c in sold if accepted(books, c, one)} for one in request.situations]
        told = [votes_on(books, sold, one) for one in request.situations]
        self.votes, self.most = [votes for votes, _ in told], [most for _, most in told]
        answers = {c: sum(d for d, w in zip(self.days, self.works, strict=True) if c in w) for c in sold}
        own = {c: sum(d * v[c][1] for d, v in zip(self.days, self.votes, strict=True)) for c in sold}
        allowed = [card for card in sold if card.id not in request.ban]
        self.cards = list_kept(allowed, request.category, request.owned, request.lock, answers, own)
        self.firsts = []
        for one in request.situations:
            ids = [first_ids(book, sold, one) for book in books]
            self.firsts.append([widened(mine, books, sold, one) for mine in ids if mine])

    def right(self, some):
        ids, total = {card.id for card in some}, Fraction(0)
        for days, firsts in zip(self.days, self.firsts, strict=True):
            total += days * Fraction(sum(bool(mine & ids) for mine in firsts), len(firsts) or 1)
        return total

    def answered(self, some):
        return sum(d for d, works in zip(self.days, self.works, strict=True) if works & set(some))

    def first_choice(self, some):
        total = 0
        for days, works, votes, most in zip(self.days, self.works, self.votes, self.most, strict=True):
            total += days if any(c in works and 3 * votes[c][0] >= 2 * most > 0 for c in some) else 0
        return total

    def closeness(self, some):
        total = Fraction(0)
        for days, works, votes, most in zip(self.days, self.works, self.votes, self.most, strict=True):
            total += days * max((quotient(votes[c][0], most) for c in some if c in works), default=0)
        return total

    def key(self, some):
        """Less is better, of sets that answer and are right on enough."""
        new = sum(card.id not in self.request.owned for card in some)
        places = tuple(self.cards.index(card) for card in some)
        return len(some), new, -self.right(some), -self.closeness(some), places

    def best(self):
        request, sets = self.request, []
        for size in range(len(self.cards) + 1):
            sets += [list(some) for some in combinations(self.cards, size)]
        sets = [some for some in sets if request.lock <= {card.id for card in some}]
        most_right = self.right(self.cards)
        everything = self.answered(self.cards)
        enough = [
            some for some in sets
            if self.answered(some) == everything and self.right(some) >= request.right * most_right
        ]  # fmt: skip
        best = min(enough, key=self.key)
        if request.at_most is None or len(best) <= request.at_most:
            return best
        return min(
            (some for some in sets if len(some) <= request.at_most),
            key=lambda some: (-self.answered(some), -self.right(some), *self.key(some)),
        )


@settings(max_examples=150, deadline=None)
@given(requests())
def test_a_plan_equals_enumeration_over_one_of_each_family(asked):
    request, palette = asked
    by_hand, found = ByHand(request, palette), make_plan(request, palette)
    assert found.proved
    best = by_hand.best()
    assert sorted(piece.card.id for piece in found.pieces) == sorted(card.id for card in best)
    assert found.answered_days == by_hand.answered(best)
    assert found.right_days == pytest.approx(float(by_hand.right(best)))
    assert found.most_right_days == pytest.approx(float(by_hand.right(by_hand.cards)))
    assert found.first_choice_days == by_hand.first_choice(best)
    for piece in found.pieces:
        rest = [card for card in best if card is not piece.card]
        assert piece.adds_first == by_hand.first_choice(best) - by_hand.first_choice(rest)
        assert piece.loses_right == pytest.approx(float(by_hand.right(best) - by_hand.right(rest)))


@settings(max_examples=100, deadline=None)
@given(requests())
def test_a_day_is_served_by_what_leads_then_as_ask_says_of_the_same_set(asked):
    request, palette = asked
    found = make_plan(request, palette)
    have = {piece.card.id for piece in found.pieces}
    for one in found.served:
        told = ask(request.books, palette.sold_in(request.category), request.situations[one.index])
        good = [card for card in told.as_good() if card.id in have]
        assert one.way.is_first == bool(good)
        if good:
            start = told.start(have)
            assert one.way.cards[0] is good[0] is start.card
            assert (one.way.book, one.way.call) == (start.book, start.verdict.call)


@settings(max_examples=60, deadline=None)
@given(requests())
def test_the_order_buys_what_adds_most_first_choice_days_then_right_days_then_days(asked):
    request, palette = asked
    by_hand, found = ByHand(request, palette), make_plan(request, palette)
    bought, left = [], [piece.card for piece in found.pieces]

    def does(some):
        return by_hand.first_choice(some), by_hand.right(some), by_hand.answered(some)

    for step in found.order:
        assert does([*bought, step.card]) == max(does([*bought, card]) for card in left)
        gained = [then - now for then, now in zip(does([*bought, step.card]), does(bought), strict=True)]
        assert (step.adds_first, step.adds_right, step.adds) == pytest.approx(tuple(map(float, gained)))
        bought.append(step.card)
        left.remove(step.card)
    assert not left


@pytest.mark.parametrize("kind", list(kinds()))
def test_no_default_plan_has_two_of_a_family_or_a_colour_for_nothing(kind):
    days, _ = without_rare(expected_days([first_guess(kinds()[kind], region_at(38.0))]))
    for category in kinds()[kind].throws:
        there = days.on(days.throwing(category), thrown_by_default(category))
        request = Request(
            category, tuple(BOOKS.values()), there.situations(category), there.counts,
            right=Fraction(9, 10), with_trailers=CATEGORIES[category].takes_trailer,
        )  # fmt: skip
        found = make_plan(request, PALETTE)
        families = [(piece.category, family(piece.card, piece.category)) for piece in found.pieces]
        assert len(set(families)) == len(families)
        assert not found.same_family
        assert all(piece.days >= 0.05 or piece.loses_right >= 0.5 for piece in found.pieces)


@cache
def pond_worms():
    pond = next(iter(kinds().values()))
    days, _ = without_rare(expected_days([first_guess(pond, region_at(38.0))]))
    there = days.on(days.throwing("worm"), thrown_by_default("worm"))
    return Request("worm", tuple(BOOKS.values()), there.situations("worm"), there.counts, right=Fraction(9, 10))


GREENS = ("green-pumpkin-black", "green-pumpkin-plain", "green-pumpkin-red", "green-pumpkin-purple")


@pytest.mark.parametrize("owned", GREENS)
def test_the_green_that_is_owned_is_the_one_that_is_shown(owned):
    found = make_plan(replace(pond_worms(), owned=frozenset({owned})), PALETTE)
    assert [piece.card.id for piece in found.pieces if piece.card.id in GREENS] == [owned]
    assert [piece.owned for piece in found.pieces if piece.card.id == owned] == [True]


def test_what_is_locked_may_be_two_of_a_family_and_the_plan_says_so():
    found = make_plan(replace(pond_worms(), lock=frozenset(GREENS[:2])), PALETTE)
    ((one, other),) = found.same_family
    assert {one.id, other.id} == set(GREENS[:2])


SUNNY = {"visibility_in": 40, "light": "bright", "forage": ["shad"]}


def test_a_jig_is_planned_with_trailers_unless_it_is_told_not_to():
    days = [{"situation": SUNNY, "days": 5}]
    asked = {"id": "j", "category": "casting-jig", "schools": list(BOOKS), "right": 0.9, "days": days}
    told = plan_command(asked)
    assert told["trailers"]
    assert told["pairs"]
    assert "trailers" not in plan_command({**asked, "with": None})


def test_the_plan_command_tells_first_choice_days_and_what_each_colour_adds():
    muddy = {"visibility_in": 8, "light": "overcast"}
    days = [{"situation": SUNNY, "days": 6}, {"situation": muddy, "days": 4}]
    asked = {"id": "w", "category": "swimbait", "schools": list(BOOKS), "right": 0.9, "days": days}
    told = plan_command(asked)
    assert told["first_choice_days"] == 10
    assert sum(colour["days"] for colour in told["colours"]) == 10
    assert all({"adds_first", "loses_right"} <= colour.keys() for colour in told["colours"])
    have = [colour["colour"] for colour in told["colours"]]
    for situation in (SUNNY, muddy):
        start = advise({"id": "a", "situation": {**situation, "category": "swimbait"}, "have": have})["start"]
        assert start["colour"] in have
