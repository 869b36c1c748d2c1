"""A heap of typed lines, made with its answers by a grammar of its own words: right at once, or asked, never silent."""

import random

import pytest

from tackle.colours.palette import house_palette
from tackle.commands.lures import lures
from tackle.intake.heap import read_heap
from tackle.intake.line import read_line

PALETTE = house_palette()
KINDS = {
    "worm": (["worm", "ribbon worm", "wrm", "big worm"], True), "finesse-stick": (["stick worm", "soft stick"], True),
    "jerkbait": (["jerkbait", "jerk bait", "jb"], False), "popper": (["popper", "chugger"], False),
    "shallow-crankbait": (["squarebill", "square bill", "shallow crank"], False),
    "lipless-crankbait": (["lipless", "lipless crank"], False), "spinnerbait": (["spinnerbait", "spinner bait"], False),
    "bladed-jig": (["bladed jig", "vibrating jig"], False), "casting-jig": (["flipping jig", "casting jig"], False),
    "walking-topwater": (["walking bait", "walker"], False), "frog": (["hollow frog", "frog"], False),
}  # fmt: skip
COLOURS = {
    "worm": {"red-bug": ["red bug"], "green-pumpkin-black": ["green pumpkin", "gp", "grn pumpkin"],
             "black-plain": ["black", "blk"], "watermelon-red": ["watermelon red", "wm red flake"]},
    "finesse-stick": {"green-pumpkin-black": ["green pumpkin", "GP"], "watermelon-red": ["watermelon red"]},
    "jerkbait": {"bone": ["bone"], "minnow-ghost": ["ghost minnow"], "tiger": ["tiger", "firetiger"],
                 "silver-blue": ["silver blue", "slvr blue"]},
    "popper": {"bone": ["bone"], "black-plain": ["black"], "white-flat": ["white", "wht"]},
    "shallow-crankbait": {"red-craw": ["red craw", "red crawfish"], "chartreuse-black": ["chart black", "chart/blk"]},
    "lipless-crankbait": {"red-craw": ["red craw"], "gold-dark": ["gold black"]},
    "spinnerbait": {"white-flat": ["white"], "chartreuse-white": ["chart white", "chart/white"]},
    "bladed-jig": {"chartreuse-white": ["chart white"], "green-pumpkin-black": ["gp"]},
    "casting-jig": {"black-blue-fleck": ["black blue", "blk/blu"], "green-pumpkin-black": ["green pumpkin"]},
    "walking-topwater": {"bone": ["bone"], "black-plain": ["black"]},
    "frog": {"black-plain": ["black"], "white-flat": ["white"]},
}  # fmt: skip
DAMAGE = {"rusty hooks": "rusty", "chewed up": "chewed", "torn": "torn", "melted": "melted", "faded": "worn"}
MADE = ["gold blades", "with red hooks", "new trebles", "feathered treble", "scented", "weedless", "pro series", "old"]
THINGS = ["worm weights", "drop shot weights", "split rings", "jig heads", "worm hooks", "leader", "pliers"]
STAND = {"prop bait": "walking-topwater", "buzzbait": "walking-topwater", "tail spinner": "spoon",
         "blade bait": "spoon", "underspin": "swimbait", "soft fluke": "inshore-jerkshad"}  # fmt: skip
STRANGE = ["flibber", "wobblex", "grandad special", "zz mystery"]


def a_line(pick):
    """A line, and what it means; None: what cannot be known."""
    way = pick.random()
    if way < 0.07:
        count, thing = pick.randint(2, 40), pick.choice(THINGS)
        return f"{thing} x{count}", {"kind": "other", "count": count}
    if way < 0.14:
        word = pick.choice(list(STAND))
        return f"{word} white", {"category": STAND[word], "as": word, "count": 1}
    if way < 0.18:
        return f"{pick.choice(STRANGE)} bone", None
    category = pick.choice(list(KINDS))
    names, soft = KINDS[category]
    card = pick.choice(list(COLOURS[category]))
    parts, want = [pick.choice(names), pick.choice(COLOURS[category][card])], {"category": category, "colour": card}
    pick.shuffle(parts)
    want |= {"count": 1, "condition": None, "size_in": None, "weight_oz": None}
    if pick.random() < 0.4:
        want["count"] = pick.randint(2, 6)
        form = pick.choice(["{n} {t}", "{n}x {t}", "{t} x{n}", "{t} x {n}"])
        text = form.format(n=want["count"], t=" ".join(parts))
    else:
        text = " ".join(parts)
    if soft and pick.random() < 0.5:
        want["size_in"] = pick.choice([4, 5, 6, 7])
        text += pick.choice([' {0}"', " {0}in", " {0} inch"]).format(want["size_in"])
    if not soft and pick.random() < 0.4 and category in ("spinnerbait", "bladed-jig", "casting-jig"):
        want["weight_oz"] = pick.choice([0.375, 0.5])
        text += {0.375: " 3/8", 0.5: " 1/2 oz"}[want["weight_oz"]]
    if pick.random() < 0.15:
        said = pick.choice(list(DAMAGE))
        want["condition"] = DAMAGE[said]
        text += f" {said}"
    elif pick.random() < 0.15:
        text += f" {pick.choice(MADE)}"
    return text, want


def told(row):
    return {name: value for name, value in row.items() if name not in row["unsure"] and name != "unsure"}


@pytest.mark.parametrize("seed", range(40))
def test_a_heap_is_right_at_once_or_asked_about_and_never_silently_wrong(seed):
    pick = random.Random(seed)
    lines, wants = zip(*(a_line(pick) for _ in range(150)), strict=True)
    rows = lures({"lines": list(lines)})["rows"]
    right = questions = 0
    for line, want, row in zip(lines, wants, rows, strict=True):
        if want is None:
            assert "category" in row["unsure"], line
            questions += 1
            continue
        sure = told(row)
        assert {name: sure[name] for name in want if name in sure} == {
            name: value for name, value in want.items() if name in sure
        }, line
        right += not row["unsure"]
        questions += bool(row["unsure"])
    assert right >= 0.75 * len(lines)
    assert questions <= 25


def test_a_kind_goes_on_only_to_what_is_nothing_but_colour_count_and_size():
    rows = lures({"lines": ["swim jig black 3/8", "flibber white", "white x2", "bone torn"]})["rows"]
    assert [row["carried"] for row in rows] == [[], [], [], []]
    assert [row["category"] for row in rows] == ["swim-jig", None, None, None]
    rows = lures({"lines": ["worm red bug", "gp 7", "3 black", "worm weights", "watermelon red"]})["rows"]
    assert [(row["category"], row["size_in"], row["count"]) for row in rows] == [
        ("worm", None, 1), ("worm", 7, 1), ("worm", 3, 1), (None, None, 1), (None, None, 1),
    ]  # fmt: skip
    rows = lures({"lines": ["popper bone", "black 3", "red craw torn"]})["rows"]
    assert [(row["category"], row["count"], row["condition"]) for row in rows[:2]] == [
        ("popper", 1, None), ("popper", 3, None),
    ]  # fmt: skip


def test_one_wrong_letter_is_forgiven_and_said_and_two_are_asked():
    assert read_line("spinerbait white", PALETTE).slips == ("spinerbait",)
    assert read_line("worm watermellon red", PALETTE).slips == ("watermellon",)
    assert "category" in read_line("spinrbat white", PALETTE).unsure
    assert "colour" in read_line("worm wetermellan", PALETTE).unsure
    assert "colour" in read_line("worm moss", PALETTE).unsure  # a known word, of no colour here


@pytest.mark.parametrize(
    ("line", "colour"),
    [
        ("spinnerbait white gold colorado blade", "white-flat"),
        ("popper bone w/ red hooks", "bone"),
        ("frog black no legs", "black-plain"),
        ("jerkbait chipped paint bone", "bone"),
        ("spinnerbait black white blade", None),  # a white blade, or black and white
    ],
)
def test_damage_and_what_it_is_made_with_are_no_colour(line, colour):
    guess = read_line(line, PALETTE)
    assert (guess.sure and guess.sure.id) == colour


def test_a_heap_is_the_lines_one_after_another():
    lines = ["worm red bug 7", "black", "", "popper bone", "white"]
    before = None
    for line, (guess,) in zip(lines, read_heap(lines, PALETTE), strict=True):
        before = read_line(line, PALETTE, before=before)
        assert before == guess
