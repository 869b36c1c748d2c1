"""Lures as people write them: in a line, in a table."""

import json
from pathlib import Path

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tackle.base.errors import DataError, InvalidInput
from tackle.colours.palette import house_palette
from tackle.intake.columns import by_heading, guess_columns
from tackle.intake.kinds import match_categories
from tackle.intake.limits import combined_limits, load_limits
from tackle.intake.line import read_line
from tackle.intake.naming import find_colour
from tackle.intake.sheet import Sheet, headed, with_units
from tackle.intake.sheet_rows import FIELDS, as_cells, read_row
from tackle.intake.sheet_things import read_thing
from tackle.intake.words import load_words, normal
from tackle.situations.depth import load_depths

PALETTE = house_palette()


@pytest.mark.parametrize(
    ("line", "count", "category", "card", "size", "weight"),
    [
        ("3 worm green pumpkin red fleck 6in", 3, "worm", "green-pumpkin-red", 6.0, None),
        ("2 sq crank chart blk back 2.5", 2, "shallow-crankbait", "chartreuse-black", 2.5, None),
        ("jerkbait silvr blue bck 4.5 3/8oz", 1, "jerkbait", "silver-blue", 4.5, 0.375),
        ("4 trailers green pumkin orange", 4, "jig-trailer", "green-pumpkin-orange", None, None),
        ("2 walkin bait bone 10 cm", 2, "walking-topwater", "bone", 3.94, None),
        ("12 lipless red craw 14g", 12, "lipless-crankbait", "red-craw", None, 0.4938),
        ("bladed jig chart white 3/8", 1, "bladed-jig", "chartreuse-white", None, 0.375),
        ("2 dozen worms watermelon red 7", 24, "worm", "watermelon-red", 7.0, None),
        ("4 red craw squarebill", 4, "shallow-crankbait", "red-craw", None, None),
        ("6 craw black blue fleck 4", 6, "creature", "black-blue-fleck", 4.0, None),
    ],
)
def test_a_line_is_understood(line, count, category, card, size, weight):
    guess = read_line(line, PALETTE)
    assert (guess.count, guess.category, guess.size_in, guess.weight_oz) == (count, category, size, weight)
    assert guess.sure.id == card


def test_depth_and_sound_are_no_words_of_the_colour():
    guess = read_line("2 sq crank gold black back 10 ft rattling 3", PALETTE)
    assert (guess.depth_ft, guess.sound, guess.size_in, guess.colour) == (10.0, "rattle", 3.0, "gold black back")
    assert read_line("jerkbait bone 2m silent", PALETTE).depth_ft == 6.6


def test_a_bare_number_is_in_the_readers_units():
    assert read_line("worm black 18", PALETTE, "metric").size_in == pytest.approx(7.09)
    assert read_line("worm black 6", PALETTE, "imperial").size_in == 6


def test_what_was_chosen_before_is_certain():
    known = {("worm", normal("swamp thing")): "black-plain"}
    assert read_line("2 worm swamp thing", PALETTE, remembered=known).sure.id == "black-plain"
    assert read_line("2 popper swamp thing", PALETTE, remembered=known).sure is None


def judged(case):
    """What is wrong with the reading of a case, and what is asked that the line tells."""
    guess = read_line(case["line"], PALETTE)
    card, wanted = guess.card, case["colour"]
    wrong: list[str] = []
    if guess.thing:
        return ([] if "?" in case["category"] else ["category"]), set()
    if "category" not in guess.unsure and guess.category not in case["category"]:
        wrong.append("category")
    if "colour" not in guess.unsure and not {card.id, f"tone:{card.tone}"} & {*wanted}:
        wrong.append("colour")
    for name in ("count", "size_in", "weight_oz", "depth_ft"):
        told = case.get(name)
        if name not in guess.unsure and getattr(guess, name) != (
            told if told is None else pytest.approx(told, abs=0.03)
        ):
            wrong.append(name)
    if (guess.sound or None) != case.get("sound"):
        wrong.append("sound")
    fair = {name for name in guess.unsure if "?" in str(case.get(name))}
    return wrong, {*guess.unsure} - fair


def test_no_line_is_silently_wrong_and_most_are_right_at_once():
    cases = [json.loads(line) for line in (Path(__file__).parent / "typed_lines.jsonl").read_text().splitlines()]
    assert len(cases) >= 120
    found = {case["line"]: judged(case) for case in cases}
    assert {line: wrong for line, (wrong, _) in found.items() if wrong} == {}
    assert sum(not asked for _, asked in found.values()) >= 0.9 * len(cases)


@pytest.mark.parametrize(
    ("line", "asked"),
    [
        ("jerkbait bone 4", {"count", "size_in"}),  # four of them, or four inches
        ("popper bone 3", {"count", "size_in"}),
        ("deep crank red craw 12", {"count", "depth_ft"}),
        ("1 1/2 oz spoon gold", {"count", "weight_oz"}),
        ("frogs black", {"count"}),
        ("swimbait pearl 4-5 in", {"size_in"}),
        ("spinnerbait white 38 oz", {"weight_oz"}),
        ("paddletail pearl", {"category"}),
        ("watermelon candy worm", {"colour"}),
        ("jerkbait ghost", {"colour"}),
        ("flibber white", {"category", "colour"}),
    ],
)
def test_what_may_mean_two_things_is_asked(line, asked):
    assert {*read_line(line, PALETTE).unsure} == asked


def test_a_list_carries_on_what_was_the_same_until_said_otherwise():
    text = "jerkbait 4.3in bone\nghost minnow x2\n\npopper white\n2 black"
    guesses = []
    for line in filter(None, text.splitlines()):
        guesses.append(read_line(line, PALETTE, before=guesses[-1] if guesses else None))
    assert [(g.category, g.count, g.size_in, g.card.id) for g in guesses] == [
        ("jerkbait", 1, 4.3, "bone"), ("jerkbait", 2, 4.3, "minnow-ghost"),
        ("popper", 1, None, "white-flat"), ("popper", 2, None, "black-plain"),
    ]  # fmt: skip
    assert guesses[1].carried == ("category", "size_in")
    assert not any(g.unsure for g in guesses)


def test_a_familys_name_is_its_plainest_card_and_only_a_family():
    assert find_colour("watermelon red", ["worm"], PALETTE).sure.id == "watermelon-red"
    assert find_colour("green pumpkin", ["worm"], PALETTE).sure.id == "green-pumpkin-black"
    assert find_colour("purple", ["worm"], PALETTE).sure is None
    assert find_colour("chrome", ["popper"], PALETTE).sure is None
    assert find_colour("peach", ["jerkbait"], PALETTE).sure is None


@given(st.sampled_from([(category, card) for card in PALETTE.cards for category in card.sold_in]))
def test_every_card_is_found_by_its_own_name(place):
    category, card = place
    meant = find_colour(card.name, [category], PALETTE)
    assert card in meant.offers
    assert meant.sure is None or meant.sure.tone is card.tone


@given(st.text(max_size=60))
def test_no_line_is_too_odd(line):
    guess = read_line(line, PALETTE)
    assert 1 <= guess.count <= 999
    assert guess.sure is None or guess.category in guess.sure.sold_in


def test_categories_by_their_short_forms_and_slips():
    assert [match_categories(word) for word in ("SQ Crank", "spinerbait", "Worms", "anvil", "", "paddle tail")] == [
        ("shallow-crankbait",), ("spinnerbait",), ("worm",), (), (), ("swimbait", "inshore-paddletail"),
    ]  # fmt: skip


def test_columns_are_told_by_heading_and_by_content():
    assert guess_columns(["Qty", "Bait type", "Color", "Length"], [], PALETTE) == [
        "count",
        "category",
        "colour",
        "size",
    ]
    rows = [["black", "worm", "3"], ["watermelon red", "jerkbait", "12"]]
    assert guess_columns(["a", "b", "c"], rows, PALETTE) == ["colour", "category", "count"]
    odd = [["1/2 oz", "rattles", "4.5 in", "$6.99", "6 ft", "worn"]]
    assert guess_columns([""] * 6, odd, PALETTE) == ["weight", "sound", "size", "price", "depth", "condition"]


def table_of(rows, system="imperial", merged=()):
    """The headings, the rows below with their units, and the columns of a sheet."""
    table = headed(Sheet("", rows, range(1, len(rows) + 1), dict(merged)), PALETTE, system)
    return table.headings, [with_units(row, table.headings, table.columns) for row in table.rows], table.columns


def test_a_list_of_lines_is_taken_apart():
    rows = [["What I own"], ["3 worm red bug 6in"], ["2 jerkbait bone 1/2 oz rattling"], ["1 frog white"], ["no idea"]]
    headings, below, columns = table_of(rows)
    assert headings == columns == ["category", "colour", "count", "size", "weight", "sound", "typed"]
    drafts = [read_row(row, columns, PALETTE, "imperial") for row in below]
    assert [(d.count, d.category, d.card, d.size_in, d.weight_oz, d.sound) for d in drafts[:2]] == [
        (3, "worm", "red-bug", 6.0, None, ""), (2, "jerkbait", "bone", None, 0.5, "rattle"),
    ]  # fmt: skip
    assert set(drafts[3].wrong) == {"category", "colour"}


def test_a_table_without_headings_loses_no_row():
    headings, below, columns = table_of([["worm", "red bug", "3"], ["popper", "bone", "2"]])
    assert (headings, len(below), columns) == (["", "", ""], 2, ["category", "colour", "count"])
    assert table_of([["Type", "Color"], ["worm", "red bug"]])[1] == [["worm", "red bug"]]
    with pytest.raises(InvalidInput):
        table_of([["Type", "Color"]])


def test_titles_totals_and_units_in_headings():
    rows = [
        ["What I own", "", "", "", ""], ["", "", "", "", ""],
        ["Type", "Color", "Qty", "Weight (g)", "Length cm"],
        ["spinnerbait", "white", "2", "14", "6"], ["jerkbait", "bone", "1", "12,5", "11"],
        ["spinnerbait", "black", "1", "3/8", ""], ["Total", "", "4", "", ""],
    ]  # fmt: skip
    _, below, columns = table_of(rows)
    assert columns == ["category", "colour", "count", "weight", "size"]
    drafts = [read_row(row, columns, PALETTE, "imperial") for row in below]
    assert [(d.weight_oz, d.size_in) for d in drafts] == [
        (pytest.approx(0.494, abs=1e-3), pytest.approx(2.36)), (pytest.approx(0.441, abs=1e-3), pytest.approx(4.33)),
        (0.375, None),
    ]  # fmt: skip
    assert not any(draft.wrong for draft in drafts)


def test_what_says_other_than_was_meant_is_found_and_what_it_may_become():
    rows = [
        ["Type", "Color", "Qty", "Weight"], ["spinnerbait", "white", "=2*3", "2026-03-08 00:00:00"],
        ["", "black", "=B2+1", "8-Mar"], ["", "=bone", "2", "2026-08-03"], ["jig", "black", "1", "=1+1/4"],
        ["jig", "white", "1", "2026-03-05"],
    ]  # fmt: skip
    merged = {(3, 0): "spinnerbait", (4, 0): "spinnerbait", (5, 0): "jig"}
    table = headed(Sheet("mine", rows, range(1, 7), merged), PALETTE, "imperial")
    assert [(one.kind, table.numbers[one.row], one.column, one.told) for one in table.mends] == [
        ("sum", 2, 2, "6"), ("date", 2, 3, "3/8"), ("merged", 3, 0, "spinnerbait"), ("formula", 3, 2, ""),
        ("date", 3, 3, "3/8"), ("merged", 4, 0, "spinnerbait"), ("date", 4, 3, "3/8"), ("sum", 5, 3, "1 1/4"),
    ]  # fmt: skip


def test_a_row_says_what_is_wrong_and_where():
    columns = ["category", "colour", "count", "size", "weight", "sound"]
    draft = read_row(["thing", "moonlight", "many", "long", "heavy", "loud"], columns, PALETTE, "imperial")
    assert set(draft.wrong) == set(columns)
    assert draft.wrong["count"] == "“many” is not a whole number from 1 to 999"
    assert "silent, rattle" in draft.wrong["sound"]
    good = read_row(["worm", "black", "3", "15 cm", "10 g", ""], columns, PALETTE, "imperial")
    assert not good.wrong
    assert (good.card, good.count, good.size_in, good.weight_oz) == ("black-plain", 3, 5.91, 0.3527)


@given(st.lists(st.text(max_size=20), max_size=len(FIELDS)))
def test_no_row_is_too_odd(cells):
    draft = read_row(cells, list(FIELDS), PALETTE, "imperial")
    assert draft.wrong or (draft.category and draft.card in PALETTE.by_id)


@example([[""], ["PICE", "EIGHT"]])
@given(st.lists(st.lists(st.text(max_size=12), min_size=1, max_size=4), max_size=6))
def test_no_table_is_too_odd(rows):
    width = max(map(len, rows), default=0)
    try:
        headings, below, columns = table_of([[*row, *[""] * (width - len(row))] for row in rows], "metric")
    except InvalidInput:
        assert len(rows) < 2 or any(by_heading(rows[-1]))  # headings, under a title or a blank row, and nothing below
        return
    assert len(headings) == len(columns)
    assert {*columns} <= {*FIELDS, ""}
    assert len(rows) - 1 <= len(below) <= len(rows)
    assert all(len(row) == len(columns) for row in below)


numbers = st.floats(0.1, 50).map(lambda value: round(value, 2))


@given(
    st.sampled_from([(category, card) for card in PALETTE.cards for category in card.sold_in]),
    st.integers(1, 999), st.none() | numbers, st.none() | numbers, st.none() | numbers,
    st.sampled_from(["", "rattle"]), st.sampled_from(["", "worn"]), st.sampled_from(["imperial", "metric"]),
)  # fmt: skip
def test_what_is_written_comes_back_the_same(place, count, size, weight, depth, sound, condition, system):
    category, card = place
    values = {
        "category": category, "card": card.id, "name": "As printed", "count": count, "size_in": size,
        "weight_oz": weight, "depth_ft": depth, "sound": sound, "price": None, "condition": condition,
        "tray": "A", "note": "",
    }  # fmt: skip
    draft = read_row(as_cells(values), list(FIELDS), PALETTE, system)
    assert not draft.wrong
    for name in ("category", "card", "name", "count", "sound", "condition", "tray"):
        assert getattr(draft, name) == values[name]
    for name in ("size_in", "weight_oz", "depth_ft"):
        assert getattr(draft, name) == pytest.approx(values[name], abs=0.01)


def test_a_broken_word_file_is_named(tmp_path):
    path = tmp_path / "words.toml"
    path.write_text('[category]\n"sq" = "square-thing"\n[colour]\n[nickname]\n[let_go]\n')
    with pytest.raises(DataError, match="square-thing"):
        load_words(path)


def test_a_broken_limits_file_is_named(tmp_path):
    path = tmp_path / "limits.toml"
    path.write_text("[worm]\nsize = [3, 16]\ncount = 9\n")
    with pytest.raises(DataError, match="categories"):
        load_limits(path)
    with pytest.raises(DataError, match="works_ft: is missing"):
        load_depths(path)
    assert combined_limits(["worm"]).size == (3, 16)
    assert combined_limits([]).count >= combined_limits(["frog"]).count


def test_a_sheet_without_headings_keeps_its_lengths_and_a_blank_count_is_asked():
    rows = [["worm", "red bug", "3", "7", "4.99", "gift of a friend"], ["jerkbait", "bone", "", "4.5", "8.99", ""]]
    _, below, columns = table_of(rows)
    assert columns == ["category", "colour", "count", "size", "price", "note"]
    drafts = [read_row(row, columns, PALETTE, "imperial", blank_is_one=False) for row in below]
    assert [(draft.size_in, draft.price, set(draft.wrong)) for draft in drafts] == [
        (7.0, 4.99, set()), (4.5, 8.99, {"count"}),
    ]  # fmt: skip
    assert drafts[0].note == "gift of a friend"


@pytest.mark.parametrize(
    ("line", "card"),
    [
        ("3 worm green pumpkin, plain", "green-pumpkin-plain"),
        ("worm green pumpkin black fleck", "green-pumpkin-black"),
        ("worm green pumpkin black-flake", "green-pumpkin-black"),
        ("lipless silver blue-back", "silver-blue"),
        ("lipless silver, blue back", "silver-blue"),
    ],
)
def test_a_colour_is_found_by_its_whole_name(line, card):
    guess = read_line(line, PALETTE)
    assert (guess.card.id, guess.unsure) == (card, ())


@pytest.mark.parametrize("card", PALETTE.cards, ids=lambda card: card.id)
def test_every_colour_is_found_by_its_own_name(card):
    for category in card.sold_in:
        guess = find_colour(card.name, [category], PALETTE)
        assert guess.sure is card or guess.sure.name == card.name


@pytest.mark.parametrize("line", ["spook bone", "2 spook black", "spook 4in"])
def test_a_word_of_another_kind_is_never_mended_into_one_of_ours(line):
    assert read_line(line, PALETTE).category is None


@pytest.mark.parametrize(
    ("line", "category"),
    [
        ("spoom silver", "spoon"),
        ("spooon gold", "spoon"),
        ("pooper bone", "popper"),
        ("spinerbait white", "spinnerbait"),
    ],
)
def test_a_slip_of_the_finger_is_forgiven(line, category):
    assert read_line(line, PALETTE).category == category


@pytest.mark.parametrize(
    ("category", "length", "ounces"),
    [("finesse-stick", 4, 0.18), ("finesse-stick", 6, 0.5), ("worm", 10, 0.75), ("worm", 6, 0.25),
     ("jerkbait", 3.5, 0.28), ("jerkbait", 6, 1.2), ("swimbait", 2.8, 0.17), ("swimbait", 5, 0.8), ("creature", 3, 0.2),
     ("shallow-crankbait", 1.5, 0.17), ("walking-topwater", 3.5, 0.33), ("inshore-paddletail", 5, 0.62)],
)  # fmt: skip
def test_what_one_weighs_is_within_a_quarter_of_what_such_lures_weigh(category, length, ounces):
    assert combined_limits([category]).about_oz(length) == pytest.approx(ounces, rel=0.25)


@pytest.mark.parametrize(
    ("row", "sheet", "thing"),
    [
        (["EWG hook", "", "3/0", ""], "", "EWG hook 3/0"),
        (["", "braid line", "30 lb", ""], "", "braid line 30 lb"),
        (["", "size 4 treble", "", ""], "Hooks", "size 4 treble hook"),
        (["other", "pliers", "", ""], "", "pliers"),
        (["worm", "black", "6 in", ""], "Hooks", None),
        (["jerkbait", "bone", "", ""], "", None),
        (["", "black", "", ""], "", None),
    ],
)
def test_rows_of_hooks_line_and_tools_are_things(row, sheet, thing):
    found = read_thing(row, ["category", "name", "size", "weight"], "imperial", sheet)
    assert (found.thing if found else None) == thing
