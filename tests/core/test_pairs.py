"""Jig and trailer together, against plain enumeration of all sets of pieces."""

from dataclasses import replace
from fractions import Fraction
from itertools import combinations, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.vocabulary import TRAILER, Grade, Light
from tackle.colours.palette import Palette, house_palette
from tackle.cover import pair_search
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan, plan_curve
from tackle.cover.right_search import fewest_right
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import Situation
from tests.core.by_families import accepted, first_ids, list_kept, quotient, votes_on, widened
from tests.core.examples import situations

JIG = "casting-jig"
WORTH = {Grade.GO_TO: 100, Grade.WORKS: 60, Grade.AVOID: 0}


@st.composite
def requests(draw):
    sold = {card.id: card for category in (JIG, TRAILER) for card in house_palette().sold_in(category)}
    picked = draw(st.lists(st.sampled_from(sorted(sold)), min_size=2, max_size=6, unique=True))
    faces = {sold[one].other_face for one in picked if sold[one].other_face}
    palette = Palette(card for card in house_palette().cards if card.id in {*picked, *faces})
    books = house_rulebooks()
    schools = draw(st.lists(st.sampled_from(list(books)), min_size=1, max_size=2, unique=True))
    some = draw(st.lists(situations, min_size=1, max_size=4))
    request = Request(
        category=JIG,
        with_trailers=True,
        books=tuple(books[school] for school in schools),
        situations=tuple(replace(one, category=JIG) for one in some),
        days=tuple(float(draw(st.integers(1, 3))) for _ in some),
        agree_all=draw(st.booleans()),
        accept=draw(st.sampled_from([Grade.GO_TO, Grade.WORKS])),
        owned=frozenset(draw(st.lists(st.sampled_from(picked), max_size=3))),
        at_most=draw(st.sampled_from([None, None, 2, 3])),
        right=Fraction(draw(st.sampled_from(["0", "0", "0.5", "0.9", "1"]))),
    )
    return request, palette


def worth_of(book, cards, situation, accept) -> dict[str, int]:
    verdicts = {v.card.id: v.grade for v in rank(book, cards, situation)}
    floor = 100 if accept is Grade.GO_TO else 60
    return {card: WORTH[grade] if WORTH[grade] >= floor else 0 for card, grade in verdicts.items()}


def pair_worths(request, palette):
    """For each situation and school: whether it speaks of the jigs, and the worth of each pair it accepts."""
    jigs, trailers = palette.sold_in(JIG), palette.sold_in(TRAILER)
    table = []
    for situation in request.situations:
        row = []
        for book in request.books:
            of_jigs = worth_of(book, jigs, situation, request.accept)
            pairs = {}
            for j, jig in enumerate(jigs):
                on_it = replace(situation, category=TRAILER, with_tone=jig.tone)
                faces = [*trailers, *(palette.by_id[t.other_face] for t in trailers if t.other_face)]
                of_trailers = worth_of(book, faces, on_it, request.accept)
                for t, trailer in enumerate(trailers):
                    best = max(of_trailers.get(trailer.id, 0), of_trailers.get(trailer.other_face or "", 0))
                    pairs[j, t] = min(of_jigs.get(jig.id, 0), best)
            row.append((bool(of_jigs), pairs))
        table.append(row)
    return table, jigs, trailers


def first_pairs(request, palette):
    """For each situation and school with a first choice: the pairs of jig and trailer that are one, with what is of
    their families and accepted."""
    jigs, trailers, books = palette.sold_in(JIG), palette.sold_in(TRAILER), request.books
    table = []
    for situation in request.situations:
        threaded = {jig.id: replace(situation, category=TRAILER, with_tone=jig.tone) for jig in jigs}
        row = []
        for book in request.books:
            of_jigs = widened(first_ids(book, jigs, situation), books, jigs, situation, request.accept)
            on = {
                jig: widened(first_ids(book, trailers, there), books, trailers, there, request.accept)
                for jig, there in threaded.items()
            }
            if not of_jigs and not any(on.values()):
                continue
            row.append({
                (j, t)
                for j, jig in enumerate(jigs)
                for t, trailer in enumerate(trailers)
                if (not of_jigs or jig.id in of_jigs)
                and ((of_jigs and not on[jig.id]) or {trailer.id, trailer.other_face} & on[jig.id])
            })  # fmt: skip
        table.append(row)
    return table


class Close:
    """How close each pair comes to the first word of each situation; and what of each family a set may hold."""

    def __init__(self, request, palette):
        self.jigs, self.trailers = palette.sold_in(JIG), palette.sold_in(TRAILER)
        books, by_id = request.books, palette.by_id
        worth = pair_worths(request, palette)[0]
        self.near = []
        days_of = dict.fromkeys(self.jigs, 0), dict.fromkeys(self.trailers, 0)
        votes_of = dict.fromkeys(self.jigs, 0), dict.fromkeys(self.trailers, 0)
        for situation, row, days in zip(request.situations, worth, request.days, strict=True):
            of_jigs, most = votes_on(books, self.jigs, situation)
            near = {}
            on_tone = {}
            for tone in {jig.tone for jig in self.jigs}:
                there = replace(situation, category=TRAILER, with_tone=tone)
                told, most_there = votes_on(books, self.trailers, there)
                on_tone[tone] = told, most_there
                for card in self.trailers:
                    faces = [one for one in (card, by_id.get(card.other_face)) if one]
                    days_of[1][card] += days * max(accepted(books, one, there, request.accept) for one in faces)
                    votes_of[1][card] += int(days) * max(told.get(one, (0, 0))[1] for one in faces)
            for card in self.jigs:
                days_of[0][card] += days * accepted(books, card, situation, request.accept)
                votes_of[0][card] += int(days) * of_jigs[card][1]
            for (j, jig), (t, trailer) in product(enumerate(self.jigs), enumerate(self.trailers)):
                told, most_there = on_tone[jig.tone]
                faces = [one for one in (trailer, by_id.get(trailer.other_face)) if one]
                family_votes = max(told.get(one, (0, 0))[0] for one in faces)
                both = quotient(of_jigs[jig][0], most) * quotient(family_votes, most_there)
                near[j, t] = (both + 500_000) // 1_000_000 if any(pairs[j, t] for _, pairs in row) else 0
            self.near.append(near)
        owned, lock = request.owned, request.lock
        may = [
            list_kept([c for c in cards if c.id not in request.ban], place, owned, lock, days_of[side], votes_of[side])
            for side, (place, cards) in enumerate(((JIG, list(self.jigs)), (TRAILER, list(self.trailers))))
        ]
        self.some_jigs = [j for j, jig in enumerate(self.jigs) if jig in may[0]]
        self.some_trailers = [t for t, trailer in enumerate(self.trailers) if trailer in may[1]]


def right_of(request, firsts, some_jigs, some_trailers):
    pairs = {(j, t) for j in some_jigs for t in some_trailers}
    return sum(
        Fraction(days) * sum(bool(pairs & first) for first in row) / len(row)
        for row, days in zip(firsts, request.days, strict=True)
        if row
    )


def key_of(request, table, near, jigs, trailers, some_jigs, some_trailers):
    """`near`: by situation how close pairs come, where that counts in the place of what suits."""
    days = value = 0
    for index, (row, number) in enumerate(zip(table, request.days, strict=True)):
        best = [max((p[j, t] for j in some_jigs for t in some_trailers), default=0) for _, p in row]
        speaking = [worth for worth, (speaks, _) in zip(best, row, strict=True) if speaks or not request.agree_all]
        if speaking and (all(speaking) if request.agree_all else any(speaking)):
            days += number
            close = [near[index][j, t] for j in some_jigs for t in some_trailers] if near else best
            value += number * max(close)
    new = sum(jigs[j].id not in request.owned for j in some_jigs)
    new += sum(trailers[t].id not in request.owned for t in some_trailers)
    places = (*some_jigs, *(len(jigs) + t for t in some_trailers))
    return (-days, len(places), new, -value, places) if days else (0, 0, 0, 0, ())


def best_when_right(request, keys, limit):
    """The best set where right days are asked for: keys are (size, key, right days)."""
    everything = min(key[0] for _, key, _ in keys)
    most = max(right for *_, right in keys)
    enough = [
        (key[:3], -right, key[3:]) for _, key, right in keys if key[0] == everything and right >= request.right * most
    ]
    best = min(enough)
    if best[0][1] <= limit:
        return best
    return min(((key[0], -right, key[1:3]), 0, key[3:]) for size, key, right in keys if size <= limit)


@settings(max_examples=120, deadline=None)
@given(requests())
def test_equals_enumeration_of_all_sets_of_pieces(asked):
    request, palette = asked
    table, jigs, trailers = pair_worths(request, palette)
    limit = len(jigs) + len(trailers) if request.at_most is None else request.at_most
    firsts = first_pairs(request, palette)
    close = Close(request, palette) if request.right else None
    near = close.near if close else None
    able_jigs = close.some_jigs if close else range(len(jigs))
    able_trailers = close.some_trailers if close else range(len(trailers))
    keys = [
        (
            a + b,
            key_of(request, table, near, jigs, trailers, some_jigs, some_trailers),
            right_of(request, firsts, some_jigs, some_trailers),
        )
        for a in range(len(able_jigs) + 1)
        for some_jigs in combinations(able_jigs, a)
        for b in range(len(able_trailers) + 1)
        for some_trailers in combinations(able_trailers, b)
    ]
    found = make_plan(request, palette)
    assert found.proved
    if request.right and any(key[0] for _, key, _ in keys):
        mine = (
            tuple(sorted(jigs.index(p.card) for p in iterate_pieces(found, JIG))),
            tuple(sorted(trailers.index(p.card) for p in iterate_pieces(found, TRAILER))),
        )
        key, right = key_of(request, table, near, jigs, trailers, *mine), right_of(request, firsts, *mine)
        best = best_when_right(request, keys, limit)
        assert best in (((key[:3]), -right, key[3:]), ((key[0], -right, key[1:3]), 0, key[3:]))
        assert found.right_days == pytest.approx(float(right))
        return
    best = min(key for size, key, _ in keys if size <= limit)
    chosen = (
        tuple(sorted(jigs.index(piece.card) for piece in iterate_pieces(found, JIG))),
        tuple(sorted(trailers.index(piece.card) for piece in iterate_pieces(found, TRAILER))),
    )
    assert key_of(request, table, near, jigs, trailers, *chosen) == best
    assert found.answered_days == -best[0]
    assert sum(piece.days for piece in iterate_pieces(found, JIG)) == found.answered_days
    for point in plan_curve(request, palette):
        within = [(-key[0], right if request.right else 0) for pieces, key, right in keys if pieces <= point.size]
        assert (point.days, point.right) == pytest.approx(tuple(map(float, max(within))))


def iterate_pieces(plan, category):
    return [piece for piece in plan.pieces if piece.category == category]


def test_a_two_faced_trailer_is_one_piece_with_two_faces():
    cards = house_palette().by_id
    palette = Palette([cards["green-pumpkin-red"], cards["black-blue-plain"], cards["two-green-black"]])
    request = Request(
        category=JIG,
        with_trailers=True,
        books=(house_rulebooks()["ladder"],),
        situations=(Situation(JIG, 10.0, Light.BRIGHT), Situation(JIG, 40.0, Light.BRIGHT)),
        days=(5.0, 5.0),
        ban=frozenset(),
    )
    found = make_plan(replace(request, lock=frozenset({"two-green-black"})), palette)
    assert [piece.card.id for piece in iterate_pieces(found, TRAILER)] == ["two-green-black"]
    assert found.answered_days == 10.0
    assert {(one.index, one.way.cards[0].id) for one in found.served} == {
        (0, "black-blue-plain"),
        (1, "green-pumpkin-red"),
    }


def test_a_pair_is_proved_only_where_each_of_its_steps_was(monkeypatch):
    cards = house_palette().by_id
    palette = Palette([cards["green-pumpkin-red"], cards["black-blue-plain"], cards["two-green-black"]])
    request = Request(
        category=JIG,
        with_trailers=True,
        books=(house_rulebooks()["ladder"],),
        situations=(Situation(JIG, 10.0, Light.BRIGHT), Situation(JIG, 40.0, Light.BRIGHT)),
        days=(5.0, 7.0),
    )
    assert make_plan(request, palette).proved

    def unsure(*args, **named):
        chosen, at_least, _ = fewest_right(*args, **named)
        return chosen, at_least, False

    monkeypatch.setattr(pair_search, "fewest_right", unsure)
    assert not make_plan(request, palette).proved
