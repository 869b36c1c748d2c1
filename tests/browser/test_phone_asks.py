"""The phone's evaluator against the core: the same colour for the same question, without a signal."""

import json
import random
from datetime import datetime
from pathlib import Path

import pytest

from tackle.base.vocabulary import (
    CATEGORIES,
    TRAILER,
    Cover,
    Current,
    Density,
    Forage,
    Light,
    Mood,
    Pace,
    Season,
    Stain,
    Target,
    Tide,
    Wind,
    ids,
)
from tackle.colours.palette import house_palette
from tackle.commands.learn import read_turn
from tackle.commands.turns import turns
from tackle.day.facts import Forecast, Told, WaterSeen, facts_at, turning_points
from tackle.day.phone_book import book_for_phone
from tackle.learn.factors import log_factors
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import ask
from tackle.situations.conditions import CONDITIONS
from tackle.situations.situation import read_situation

PALETTE, BOOKS = house_palette(), house_rulebooks()
FOLLOWED = (list(BOOKS), ["ladder"], ["menu", "sheen"])
SCRIPTS = Path("web/pages/trips/static/day")


@pytest.fixture(scope="module")
def phone(browser):
    page = browser.new_context().new_page()
    for name in ("schools.js", "fish.js", "facts.js"):
        page.add_script_tag(path=SCRIPTS / name)
    yield page
    page.context.close()


def told_at_random(scatter):
    """What may be told on the water: a number and a sky, and now and then all else."""
    told = {"visibility_in": round(2 ** scatter.uniform(1.5, 8.4), 1), "light": scatter.choice(ids(Light))}
    for name, words in (
        ("stain", Stain), ("wind", Wind), ("season", Season), ("cover", Cover), ("pace", Pace), ("density", Density),
        ("current", Current), ("target", Target), ("tide", Tide), ("mood", Mood),
    ):  # fmt: skip
        if scatter.random() < 0.4:
            told[name] = scatter.choice(ids(words))
    for name, low, high in (("water_temp_f", 33, 90), ("depth_ft", 1, 45), ("norm_in", 6, 120)):
        if scatter.random() < 0.4:
            told[name] = round(scatter.uniform(low, high), 1)
    if scatter.random() < 0.4:
        told["month"] = scatter.randint(1, 12)
    if scatter.random() < 0.7:
        told["forage"] = scatter.sample(ids(Forage), scatter.randint(1, 2))
    return told


def as_columns(situation):
    """As the phone is told it: what rules are held against."""
    found = {name: getattr(situation, row.column or row.field) for name, row in CONDITIONS.items()}
    return json.loads(json.dumps(found))


def test_five_thousand_situations_are_answered_the_same(phone):
    scatter = random.Random(1)
    aboard = {category: list(PALETTE.sold_in(category)) for category in CATEGORIES}
    books = list(BOOKS.values())
    phone.evaluate("book => { window.asks = askSchools(book); }", book_for_phone(aboard, books, PALETTE, {}))
    cases, expected = [], []
    for category, sold in aboard.items():
        situations = []
        for _ in range(5_000 // len(aboard) + 1):
            told = told_at_random(scatter)
            if category == TRAILER and scatter.random() < 0.8:
                told["with"] = scatter.choice([card.tone.value for card in PALETTE.sold_in("casting-jig")])
            situations.append(read_situation(told, category))
        for situation in situations:
            places = sorted(scatter.sample(range(len(sold)), min(7, len(sold))))
            asked, some = ask(books, sold, situation), [sold[place] for place in places]
            order = asked.order(some)
            voice = asked.advice_for(order[0])
            cases.append([category, as_columns(situation), [card.id for card in some]])
            expected.append([
                [card.id for card in order], voice and voice[0].id, voice and voice[1].call.why,
                [card.id for card in asked.as_good()],
            ])  # fmt: skip
    assert len(cases) >= 5_000
    found = phone.evaluate(
        """cases => cases.map(([category, told, cards]) => {
          const answer = asks.ask(category, told), order = answer.order(asks.listed(category, cards), null);
          const said = asks.said(category, told, answer, order[0]);
          return [order, said.from, said.from && said.why, answer.asGood()];
        })""",
        cases,
    )
    wrong = [(case, one, other) for case, one, other in zip(cases, expected, found, strict=True) if one != other]
    assert wrong == []


def clock(minute):
    return f"2026-06-02T{minute // 60:02}:{minute % 60:02}"


def minutes(when):
    return datetime.fromisoformat(when).hour * 60 + datetime.fromisoformat(when).minute


def turns_told(entries, partner):
    """Turns as the phone has them: the parts of one together."""
    found = {}
    for turn in entries:
        key = turn["at"], turn["category"], turn["colour"]
        one = found.setdefault(key, {
            "category": turn["category"], "card": turn["colour"], "partner": partner, "parts": [], "bites": [],
        })  # fmt: skip
        begins = one["parts"][-1]["at"] + one["parts"][-1]["minutes"] if one["parts"] else minutes(turn["at"])
        one["parts"].append({**{name: turn[name] for name in ("minutes", "light", "visibility_in")}, "at": begins})
        one["bites"] += [
            {"light": turn["light"], **bite, "at": minutes(bite["at"])} for bite in turn["bites"]
        ]  # fmt: skip
    return list(found.values())


def a_trip(scatter):
    """A tray of two or three kinds, jigs with trailers among them, what was fished so far, and a log now and then."""
    kinds = scatter.sample([one for one in CATEGORIES if one != TRAILER], scatter.randint(1, 3))
    if scatter.random() < 0.5:
        kinds = [*dict.fromkeys((*kinds, scatter.choice(("casting-jig", "swim-jig", "finesse-jig"))))]
    rows = [*kinds, TRAILER] if any(CATEGORIES[one].takes_trailer for one in kinds) else kinds
    aboard = {
        category: scatter.sample(PALETTE.sold_in(category), min(9, len(PALETTE.sold_in(category)))) for category in rows
    }
    tray = {category: cards[: scatter.randint(2, 6)] for category, cards in aboard.items()}
    now = told_at_random(scatter)
    fished = []
    for place in reversed(range(scatter.choice((0, 1, 2, 4, 7)))):
        category = scatter.choice(kinds)
        began = 720 - 13 * (scatter.choice((1, 2, 4, 9)) + place)
        card = scatter.choice(tray[category]).id
        for _ in range(scatter.choice((1, 1, 2))):
            came = scatter.choice(({}, {}, {}, {"whole": 1}, {"missed": 2}, {"outside": 1}, {"lost": 1}, {"follow": 1}))
            fished.append({
                "at": clock(began), "minutes": scatter.choice((3, 8, 12)), "category": category, "colour": card,
                "bites": [
                    {"at": clock(began + 4), "how": how, **scatter.choice(({}, {"light": "overcast"}))}
                    for how, count in came.items() for _ in range(count)
                ],
                "light": scatter.choice((now["light"], now["light"], now["light"], "overcast", "night")),
                "visibility_in": scatter.choice((now["visibility_in"], now["visibility_in"] * 1.6)),
            })  # fmt: skip
    theirs = [{**turn, "at": clock(minutes(turn["at"]) + 5)} for turn in fished if scatter.random() < 0.4]
    partner = {"category": kinds[0], "colour": scatter.choice(tray[kinds[0]]).id, "turns": theirs}
    log = [
        {"day": f"2026-05-{1 + place // 4:02}", "at": f"0{6 + place % 4}:00", "category": kinds[0],
         "colour": tray[kinds[0]][place % 2].id, "minutes": 10, "bites": (place % 2) * scatter.randint(0, 3),
         "situation": {"visibility_in": 40, "light": "bright"}}
        for place in range(24 if scatter.random() < 0.02 else 0)
    ]  # fmt: skip
    return {
        "schools": scatter.choice(FOLLOWED), "categories": kinds, "at": "2026-06-02T12:20", "now": now,
        "turns": fished, "log": log, "partner": partner if scatter.random() < 0.3 else None,
        "tray": [{"category": one, "colour": card.id} for one, cards in tray.items() for card in cards],
        "aboard": [{"category": one, "colour": card.id} for one, cards in aboard.items() for card in cards],
    }  # fmt: skip


def as_on_the_phone(trip):
    """The same trip as the page tells it: what the log says, and what is asked."""

    def listed(rows):
        found = {}
        for row in rows:
            found.setdefault(row["category"], []).append(row["colour"])
        return found

    tray, aboard = listed(trip["tray"]), listed(trip["aboard"])
    logs = {}
    for category in trip["categories"]:
        mine = sorted((PALETTE.by_id[card] for card in aboard[category]), key=PALETTE.cards.index)
        noted = [read_turn({k: v for k, v in one.items() if k != "category"}, "log", category)
                 for one in trip["log"] if one["category"] == category]  # fmt: skip
        logs[category] = {"|".join(cell): dict(told) for cell, told in log_factors(mine, noted).items()}
    partner = trip["partner"] or {"turns": []}
    asked = {
        "listed": trip["categories"], "tray": tray, "aboard": aboard, "at": minutes(trip["at"]),
        "told": {one: as_columns(read_situation(trip["now"], one)) for one in trip["categories"]},
        "turns": [*turns_told(trip["turns"], partner=False), *turns_told(partner["turns"], partner=True)],
        "partner": partner.get("colour"),
    }  # fmt: skip
    return FOLLOWED.index(trip["schools"]), logs, asked


def test_a_thousand_trips_are_told_the_same(phone):
    scatter = random.Random(2)
    aboard = {category: PALETTE.sold_in(category) for category in CATEGORIES}
    books = [book_for_phone(aboard, [BOOKS[one] for one in followed], PALETTE, {}) for followed in FOLLOWED]
    phone.evaluate("books => { window.books = books; }", books)
    done = set()
    for _ in range(1_000):
        trip = a_trip(scatter)
        told = turns(trip)
        found = phone.evaluate(
            """([place, logs, asked]) => {
              for (const [category, log] of Object.entries(logs)) books[place].kinds[category].log = log;
              return throwNow(books[place])(asked);
            }""",
            as_on_the_phone(trip),
        )
        assert (found["do"], found["category"], found["card"], found["trailer"]) == (
            told["do"], told["category"], told["colour"], told["with"],
        ), trip  # fmt: skip
        assert [(one["card"], one["trailer"], one["from"], one["tried"], one["failed"]) for one in found["order"]] == [
            (one["colour"], one["with"], one["from"], one["tried"], one["failed"]) for one in told["order"]
        ], trip
        better = told["aboard_better"]
        assert (found["better"] or {}).get("card") == (better and better["colour"]), trip
        if told["from"] not in (None, "log"):
            assert found["why"] == told["why"], trip
        done.add(told["do"])
    assert done >= {"begin", "stay", "turn", "near", "back", "place"}


def test_what_was_told_holds_as_long_on_the_phone_as_in_the_log(phone):
    """A thousand days of facts told at random under random skies: the same is known of the same minute."""
    scatter, cases, expected = random.Random(3), [], []
    for _ in range(1_000):
        sky = {hour: {"light": scatter.choice(ids(Light)), "wind": scatter.choice(ids(Wind))}
               for hour in range(scatter.randint(0, 12), 30, scatter.choice((1, 3)))}  # fmt: skip
        tide = {hour: scatter.choice(ids(Tide)) for hour in range(30)} if scatter.random() < 0.5 else {}
        told = [Told(scatter.randint(300, 1700), scatter.choice((
            {"light": scatter.choice(ids(Light))}, {"visibility_in": 16.0, "light": "bright"}, {"food": "shad"},
            {"spot": scatter.choice(("dam", "creek")), "cover": "wood"}, {"wind": "chop"}, {"tide": "slack"},
        ))) for _ in range(scatter.randint(0, 5))]  # fmt: skip
        begins, length = scatter.randint(300, 1700), scatter.randint(1, 200)
        forecast = Forecast(sky, tide)
        known = facts_at(told, begins, forecast)
        expected.append([
            {name: getattr(known, name) for name in WaterSeen.__slots__ if getattr(known, name) is not None},
            turning_points(told, forecast, begins, begins + length),
        ])  # fmt: skip
        hours = [{"hour": hour, **data} for hour, data in sky.items()]
        cases.append(
            [{"hours": hours, "tide": tide}, [{"at": one.at, "data": one.data} for one in told], begins, length]
        )
    found = phone.evaluate(
        """cases => cases.map(([sky, told, begins, length]) => {
          const facts = factsOf(sky), known = Object.entries(facts.factsAt(told, begins));
          const values = Object.fromEntries(known.map(([name, { value }]) => [name, value]));
          return [values, facts.turningPoints(told, begins, begins + length)];
        })""",
        json.loads(json.dumps(cases)),
    )
    assert found == expected
