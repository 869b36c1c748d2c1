"""What a log makes known where there is nothing to know, and where there is; and what is tangled."""

import numpy as np
import pytest

from tackle.commands.learn import learn
from tackle.schools.rulebook import house_rulebooks

COLOURS = ("black-plain", "green-pumpkin-black", "watermelon-red", "dark-purple-green", "red-bug")


def season(seed, times=1.0, dawn=False, days=22, schools=()):
    """Days of 36 turns: no difference, or one colour so many times as good; or one thrown at dawn alone, when they
    bite more."""
    luck = np.random.default_rng(seed)
    turns = []
    for day in range(days):
        drift = np.exp(luck.normal(0, 0.3, 12))
        for turn in range(36):
            hour = turn // 3
            which = int(luck.integers(5))
            if dawn:
                which = 0 if hour < 2 else int(luck.integers(1, 5))
            rate = 0.4 * drift[hour] * (times if which == 0 else 1.0) * (1.8 if dawn and hour < 2 else 1.0)
            turns.append({
                "day": f"2026-05-{day + 1:02}", "at": f"{6 + hour:02}:{20 * (turn % 3):02}", "colour": COLOURS[which],
                "minutes": 10, "bites": int(luck.poisson(rate)),
            })  # fmt: skip
    return learn({"category": "worm", "schools": list(schools), "turns": turns})


def test_seasons_without_a_difference_name_hardly_a_pair():
    assert sum(bool(season(seed)["known"]) for seed in range(24)) <= 2


@pytest.mark.parametrize("schools", [(), tuple(house_rulebooks())], ids=["nobody", "all"])
def test_thirty_two_logs_without_a_difference_and_sixteen_with_one(schools):
    """As many as 20 trips of 36 turns come to, whatever the rulebooks had said before."""
    named = [season(seed, days=20, schools=schools)["known"] for seed in range(32)]
    assert sum(map(bool, named)) <= 4
    found = [season(100 + seed, 1.8, days=20, schools=schools)["known"] for seed in range(16)]
    assert sum(any(pair["first"] == COLOURS[0] for pair in pairs) for pairs in found) >= 15


def test_a_colour_thrown_at_dawn_alone_is_tangled_and_never_known():
    for seed in range(6):
        told = season(seed, dawn=True)
        assert [one["colour"] for one in told["tangled"]] == [COLOURS[0]]
        assert told["tangled"][0]["shares"] == "hour:6"
        assert all(COLOURS[0] not in pair.values() for pair in told["known"])


def test_a_true_difference_is_known_mostly():
    named = [season(seed, times=1.6)["known"] for seed in range(100, 112)]
    assert sum(any(pair["first"] == COLOURS[0] for pair in pairs) for pairs in named) >= 8


@pytest.mark.parametrize(
    ("mine", "others", "said"),
    [
        ({"light": "low", "visibility_in": 40}, {"light": "bright", "visibility_in": 40}, "light:low"),
        ({"light": "bright", "visibility_in": 6}, {"light": "bright", "visibility_in": 40}, "water:mud"),
        ({"light": "bright", "visibility_in": 40}, {"light": "bright", "visibility_in": 40}, None),
    ],
)
def test_what_most_of_its_turns_share_is_said(mine, others, said):
    turns = [
        {"day": f"2026-05-{day:02}", "at": f"{hour:02}:00", "colour": colour, "minutes": 10, "bites": 1,
         "situation": where}
        for day in range(1, 6) for hour in (7, 10, 13)
        for colour, where in ((COLOURS[0], mine), (COLOURS[1], others))
    ]  # fmt: skip
    tangled = learn({"category": "worm", "schools": [], "turns": turns})["tangled"]
    assert [one["shares"] for one in tangled if one["colour"] == COLOURS[0]] == ([said] if said else [])
