"""What `./wax rules` finds, and prints."""

from tackle.base.vocabulary import Forage, Light, Season
from tackle.colours.palette import house_palette
from tackle.commands.rules import main
from tackle.schools.first_choices import SILENT, rows
from tackle.schools.reasons import unfounded
from tackle.schools.rulebook import house_rulebooks, on_top, read_calls, read_rulebook, to_entry
from tests.core.examples import PLAIN, call

HEAD = {"id": "club", "name": "Club", "question": "Why?", "short": "So.", "order": 9}


def test_a_reason_says_no_more_than_its_conditions_see_to():
    clear = {**call("a", "worm", {"visibility_in": {"from": 60}}, {"tone": "black"}), "why": "In clear water black."}
    anywhere = {**call("b", "worm", {}, {"tone": "black"}), "why": "In clear water black."}
    book = read_rulebook({"school": HEAD, "call": [clear, anywhere]}, "club.toml")
    assert [(found.id, words) for found, words in unfounded(book, house_palette())] == [("b", "clear water")]


def test_a_reason_names_no_trait_that_a_card_beside_it_lacks():
    plain = {**call("a", "worm", {}, {"tone": "black", "flake": "none"}), "why": "A plain black one."}
    any_one = {**call("b", "worm", {}, {"tone": "green-pumpkin"}), "why": "A plain green one."}
    book = read_rulebook({"school": HEAD, "call": [plain, any_one]}, "club.toml")
    assert [(found.id, words) for found, words in unfounded(book, house_palette())] == [("b", "plain")]


def test_the_table_is_read_clarity_by_light():
    table = list(rows(PLAIN, house_palette(), Season.SUMMER, Forage.UNKNOWN))
    assert [band for _, band, _ in table] == ["mud", "dirty", "stained", "fair", "clear", "gin"]
    assert {category for category, *_ in table} == {"worm"}
    assert all(len(firsts) == len(Light) and SILENT not in firsts for *_, firsts in table)
    assert table[0][2][0].startswith("black")
    assert table[3][2][0].startswith("green-pumpkin")


def test_the_schools_that_ship_have_no_faults(capsys):
    assert main([]) == 0
    assert "nothing wrong with them" in capsys.readouterr().out


def test_every_call_reads_back_from_its_entry():
    for book in house_rulebooks().values():
        together = {}
        for one in book.calls:
            together.setdefault(one.written, []).append(one)
        for calls in together.values():
            again = read_calls([to_entry(calls)], "again")
            assert {(c.ranges, frozenset(c.among), frozenset(c.want), c.why) for c in again} == {
                (c.ranges, frozenset(c.among), frozenset(c.want), c.why) for c in calls
            }


def test_a_rule_takes_the_place_of_the_call_of_its_id_or_silences_it():
    (black,) = read_calls([call("black", "worm", {}, {"tone": "red-bug"})], "mine", lifted=True)
    (off,) = read_calls([{**call("green", "worm", {}, {"tone": "black"}), "off": True}], "mine", lifted=True)
    assert [c.id for c in on_top(PLAIN, (black,)).calls] == ["green", "dim", "black"]
    assert on_top(PLAIN, (black,)).calls[-1] is black
    assert [c.id for c in on_top(PLAIN, (off,)).calls] == ["dim", "black"]
