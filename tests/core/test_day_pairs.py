"""A jig and its trailer in the day's tray are one thing: against every tray there could be."""

import random
from fractions import Fraction
from itertools import combinations

import pytest

from tackle.base.vocabulary import TRAILER, Grade
from tackle.colours.palette import house_palette
from tackle.commands.day import day
from tackle.commands.turns import turns
from tackle.day.beside import sleeved
from tackle.day.tray import Have, Hour, pack
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_situation
from tests.core.by_families import first_ids, widened
from tests.core.test_pairs import worth_of

PALETTE, BOOKS = house_palette(), house_rulebooks()
JIGS = ("casting-jig", "finesse-jig")


def a_day(seed):
    scatter = random.Random(seed)
    categories = [*scatter.sample(JIGS, scatter.randint(1, 2)), *scatter.sample(["worm"], scatter.randint(0, 1))]
    have = [
        {"category": category, "colour": card.id, "count": scatter.randint(1, 3)}
        for category in (*categories, TRAILER)
        for card in scatter.sample(PALETTE.sold_in(category), 3)
    ]
    hours = [
        {
            "at": f"{6 + at:02}:00",
            "hours": scatter.choice((1, 2, 3)),
            "situation": {
                "visibility_in": scatter.choice((8, 14, 20, 40, 90)),
                "light": scatter.choice(("bright", "broken", "overcast", "low")),
                "season": scatter.choice(("winter", "prespawn", "summer", "fall")),
                "forage": [scatter.choice(("crawfish", "sunfish", "unknown"))],
            },
        }
        for at in range(scatter.randint(1, 4))
    ]
    schools = scatter.sample(["ladder", "menu", "calendar", "short-list"], scatter.randint(1, 3))
    return {"schools": schools, "categories": categories, "room": scatter.randint(2, 7), "hours": hours, "have": have}


def said(request):
    """For each hour and category, by school: the worth of each pair (or colour), and those that are first choices."""
    table = {}
    owned = {place: [one["colour"] for one in request["have"] if one["category"] == place]
             for place in (*request["categories"], TRAILER)}  # fmt: skip
    for place, hour in enumerate(request["hours"]):
        for category in request["categories"]:
            worth, firsts = {}, []
            situation = read_situation(hour["situation"], category)
            heard, cards = [BOOKS[school] for school in request["schools"]], PALETTE.sold_in(category)
            for book in heard:
                of_jigs = worth_of(book, cards, situation, Grade.WORKS)
                first_jigs = widened(first_ids(book, cards, situation), heard, cards, situation)
                if category not in JIGS:
                    for card in owned[category]:
                        worth[card, None] = max(worth.get((card, None), 0), of_jigs.get(card, 0))
                    if first_jigs:
                        firsts.append({(card, None) for card in first_jigs})
                    continue
                asked, first = bool(first_jigs), set()
                for jig in cards:
                    on_it = read_situation({**hour["situation"], "with": jig.tone.value}, TRAILER)
                    sold = PALETTE.sold_in(TRAILER)
                    first_trailers = widened(first_ids(book, sold, on_it), heard, sold, on_it)
                    asked |= bool(first_trailers)
                    faces = [card for card in PALETTE.cards if card.id in {c.other_face for c in sold} or card in sold]
                    of_trailers = worth_of(book, faces, on_it, Grade.WORKS)
                    for one in owned[TRAILER]:
                        shows = {one, PALETTE.by_id[one].other_face}
                        best = max(of_trailers.get(face, 0) for face in shows if face)
                        if jig.id in owned[category]:
                            pair = jig.id, one
                            worth[pair] = max(worth.get(pair, 0), min(of_jigs.get(jig.id, 0), best))
                        if (not first_jigs or jig.id in first_jigs) and (
                            (first_jigs and not first_trailers) or shows & first_trailers
                        ):
                            first.add((jig.id, one))
                if asked:
                    firsts.append(first)
            table[place, category] = worth, firsts
    return table


def reached(request, table, mine):
    """What some pieces, by category and colour, answer and are right on, and how well they suit."""
    answered = right = suit = Fraction(0)
    for (place, category), (worth, firsts) in table.items():
        hours = Fraction(request["hours"][place]["hours"])
        seconds = [one for where, one in mine if where == TRAILER] if category in JIGS else [None]
        pairs = {(one, other) for where, one in mine if where == category for other in seconds}
        most = max((worth.get(pair, 0) for pair in pairs), default=0)
        answered, suit = answered + hours * (most > 0), suit + hours * most
        if firsts:
            right += hours * Fraction(sum(bool(first & pairs) for first in firsts), len(firsts))
    return answered, right, suit


@pytest.mark.parametrize("seed", range(40))
def test_the_tray_with_trailers_is_the_best_of_all(seed):
    request = a_day(seed)
    table, told = said(request), day(request)
    owned = [(one["category"], one["colour"]) for one in request["have"]]
    best = max(
        (answered, right, -size, suit)
        for size in range(min(request["room"], len(owned)) + 1)
        for picked in combinations(owned, size)
        for answered, right, suit in (reached(request, table, picked),)
    )
    tray = [(one["category"], one["colour"]) for one in told["tray"]]
    answered, right, suit = reached(request, table, tray)
    assert told["status"] == "optimal"
    # Room left over is for what to fall back on, of which nothing is asked beyond what the best tray does.
    plain = [(one["category"], one["colour"]) for one in told["tray"] if not one.get("fallback")]
    assert (answered, right) >= best[:2]
    assert len(plain) <= request["room"]
    if tray == plain and len(tray) == -best[2]:
        assert (answered, right, -len(tray), suit) == best
    assert told["answered_hours"] == pytest.approx(float(answered))
    assert told["right_hours"] == pytest.approx(float(right), abs=1e-5)
    assert sum(one["count"] for one in told["tray"]) <= request["room"]
    assert all(one["hours"] or one["right_hours"] or one["fallback"] for one in told["tray"])
    trailers = {colour for where, colour in tray if where == TRAILER}
    for hour in told["hours"]:
        for category, first in hour["first"].items():
            assert category != TRAILER
            if first and category in JIGS:
                assert first["with"] is None or first["with"] in trailers


@pytest.mark.parametrize("seed", range(30))
def test_what_is_begun_on_the_water_is_what_the_evening_said(seed):
    request = a_day(seed)
    told = day(request)
    tray = [{name: one[name] for name in ("category", "colour", "count")} for one in told["tray"]]
    for hour, asked in zip(told["hours"], request["hours"], strict=True):
        for category, first in hour["first"].items():
            if first is None:
                continue
            now = turns({
                "schools": request["schools"], "categories": request["categories"], "rod": category,
                "at": "2026-05-02T07:00", "now": asked["situation"], "tray": tray,
            })  # fmt: skip
            assert (now["do"], now["category"], now["colour"]) == ("begin", category, first["colour"])
            assert now["with"] == first.get("with")
            assert (now["why"], now["from"]) == (first["why"], first["school"])


@pytest.mark.parametrize("seed", range(30))
def test_the_rods_with_trailers_are_the_best_of_all(seed):
    request = {**a_day(seed), "room": 12, "rods": 1 + seed % 3}
    told, table = day(request), said(request)
    count = {(one["category"], one["colour"]): one["count"] for one in told["tray"]}
    trailers = [colour for where, colour in count if where == TRAILER]
    lures = [
        (where, colour, other)
        for where, colour in count if where != TRAILER
        for other in (trailers if where in JIGS and trailers else [None])
    ]  # fmt: skip

    def worth(picked):
        total = [Fraction(0), Fraction(0)]
        for (place, category), (worths, firsts) in table.items():
            hours = Fraction(request["hours"][place]["hours"])
            mine = [(one, other) for where, one, other in picked if where == category]
            total[1] += hours * any(worths.get(pair, 0) for pair in mine)
            if firsts:
                most = max((sum(pair in first for first in firsts) for pair in mine), default=0)
                total[0] += hours * Fraction(most, len(firsts))
        return total

    able = [
        picked
        for size in range(1, request["rods"] + 1)
        for picked in combinations(lures, size)
        if all(sum(one[:2] == each[:2] for one in picked) <= count[each[:2]] for each in picked)
    ]
    best = max((worth(picked) for picked in able), default=[0, 0])
    mine = [(one["category"], one["colour"], one["with"]) for one in told["rods"]]
    assert worth(mine) == best
    assert sum(one["right_hours"] for one in told["rods"]) == pytest.approx(float(best[0]), abs=1e-5)
    assert len(mine) <= request["rods"]


def test_a_trailer_by_itself_is_a_kind_only_where_no_jig_is_thrown():
    have = [{"category": TRAILER, "colour": "green-pumpkin-plain", "count": 1},
            {"category": "casting-jig", "colour": "green-pumpkin-black", "count": 1}]  # fmt: skip
    hours = [{"at": "6:00", "hours": 1, "situation": {"visibility_in": 40, "light": "bright"}}]
    asked = {"schools": ["ladder"], "room": 4, "hours": hours, "have": have}
    alone = day({**asked, "categories": [TRAILER]})
    assert list(alone["hours"][0]["first"]) == [TRAILER]
    both = day({**asked, "categories": ["casting-jig", TRAILER]})
    assert both["hours"][0]["first"]["casting-jig"]["with"] == "green-pumpkin-plain"
    assert list(both["hours"][0]["first"]) == ["casting-jig"]
    assert both["expected_hours"] == 1
    without = day({**asked, "categories": ["casting-jig"], "have": have[1:]})
    assert without["hours"][0]["first"]["casting-jig"]["with"] is None


@pytest.mark.parametrize("seed", range(15))
def test_what_is_locked_goes_in_and_the_rest_is_the_best_beside_it(seed):
    request = a_day(seed)
    table, scatter = said(request), random.Random(seed)
    owned = [(one["category"], one["colour"]) for one in request["have"]]
    lock = scatter.sample(owned, 2)
    have = [Have(one["category"], PALETTE.by_id[one["colour"]], one["count"]) for one in request["have"]]
    hours = [Hour(one["at"], one["hours"], read_situation(one["situation"], "worm")) for one in request["hours"]]
    books = tuple(BOOKS[school] for school in request["schools"])
    room = max(request["room"], 3)
    told = pack(hours, request["categories"], have, books, PALETTE, room, lock=lock)
    tray = [(piece.category, piece.card.id) for piece in told.pieces]
    assert {*lock} <= {*tray}
    best = max(
        reached(request, table, (*lock, *more))[:2]
        for size in range(room - 1)
        for more in combinations([one for one in owned if one not in lock], size)
    )
    assert reached(request, table, tray)[:2] == best


def test_what_is_called_for_soonest_is_sleeved_first_and_what_nothing_calls_for_last():
    seen = set()
    for seed in range(40):
        request = a_day(seed)
        have = [Have(one["category"], PALETTE.by_id[one["colour"]], one["count"]) for one in request["have"]]
        hours = [Hour(one["at"], one["hours"], read_situation(one["situation"], "worm")) for one in request["hours"]]
        books = tuple(BOOKS[school] for school in request["schools"])
        lock = [(one.category, one.card.id) for one in have]
        tray = pack(hours, request["categories"], have, books, PALETTE, 30, rods=1, lock=lock)
        called = [one.at for one in sleeved(tray, hours, 30)]
        seen |= {*called}
        assert called == sorted(called, key=lambda at: at or "never")
    assert {"", "06:00", "09:00"} <= seen
