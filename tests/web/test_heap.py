"""A heap of lines on the entry page: kept, asked about once, without a colour, forgotten."""

import json
import re
from html import unescape

import pytest

from tests.owner import renewed
from tests.pages import text
from tests.web.test_archive import picture as seen_picture
from web.common.accounts.models import User
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import KindWord, Lure, Printed, Thing, Tray
from web.domain.crate.selectors import get_heap
from web.domain.crate.services import keep_picture, remember_name
from web.domain.history.models import Change

pytestmark = pytest.mark.django_db
HTMX = {"headers": {"HX-Request": "true"}}


def sent(client, door, lines, **more):
    return text(client.post(f"/crate/enter/{door}", {"lines": lines, "tray": "", **more}, **HTMX))


def test_a_heap_survives_a_sign_out_with_what_was_put_right(signed_in, client, wren):
    lines = "flibber bone\npopper moonlight\n" + "\n".join(f"worm black {n % 5 + 4}in" for n in range(230))
    row = {"line-0": "flibber bone", "was-0": '{"category": ""}', "category-0": "popper"}
    sent(signed_in, "read/", lines, **row)
    signed_in.logout()
    client.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    page = text(client.get("/crate/enter/"))
    assert "flibber bone\npopper moonlight\nworm black 4in" in page
    assert "32 lines wait" in page
    assert '"category": "popper"' in unescape(page)
    page = sent(client, "", page.split("</textarea>")[0].split('id="lines"')[1].split(">", 1)[1])
    assert ">flibber bone\npopper moonlight\nworm black" in text(client.get("/crate/enter/"))


def questions(page):
    """The questions of a page: their words, the rows they are of, and what each answer puts right."""
    found = []
    for part in page.split('<li class="typed-question"')[1:]:
        rows = json.loads(unescape(re.search(r'data-rows="([^"]*)"', part)[1]))
        words = " ".join(unescape(re.sub("<[^>]+>", "", re.search(r"<p>(.*?)</p>", part, re.S)[1])).split())
        answers = {
            " ".join(said.split()): json.loads(unescape(told))
            for told, said in re.findall(r'data-told="([^"]*)"><kbd>\d</kbd>([^<]*)<', part)
        }
        found.append((words, rows, answers))
    return found


def press(client, question, said):
    """Presses one answer of a question, as its page does."""
    _, rows, answers = question
    told = [{**row, "told": told} for row, told in zip(rows, answers[said], strict=True)]
    return client.post("/crate/enter/answers/", json.dumps(told), content_type="application/json")


def test_an_unknown_word_is_asked_once_for_all_lines_and_goes_with_the_undo(signed_in, wren):
    lines = "flibber bone\n2 flibber black 3/8\npopper moonlight\npopper moonlight x2"
    first, second = questions(sent(signed_in, "read/", lines))
    assert (first[0], second[0]) == ("What is “flibber”? 2 lines", "Which popper colour is “moonlight”? 2 lines")
    assert press(signed_in, first, "Popper").json() == {"gone": 0}
    press(signed_in, second, "Flat white")
    assert not questions(page := sent(signed_in, "read/", lines))
    assert "Save 4 lines" in page
    assert "Save 5 lines" in sent(signed_in, "read/", f"{lines}\nflibber white")  # learned on the page already
    assert not KindWord.objects.filter(owner=wren).exists()  # and remembered of what was kept alone
    sent(signed_in, "", lines)
    mine = Lure.objects.filter(tray__owner=wren, category="popper", name__in=("bone", "black", "moonlight"))
    assert mine.count() >= 3
    assert "<b>flibber</b>: popper" in text(signed_in.get("/crate/enter/"))
    assert Printed.objects.filter(owner=wren, text="moonlight").exists()
    signed_in.post(f"/crate/undo/{Change.objects.filter(area='crate').first().pk}/", **HTMX)
    assert not KindWord.objects.filter(owner=wren).exists()
    assert not Printed.objects.filter(owner=wren, text="moonlight").exists()
    assert questions(sent(signed_in, "read/", lines))


def test_what_was_remembered_is_forgotten_where_one_says_so(signed_in, wren):
    remember_name(wren, "popper", "moonlight", "white-flat")
    KindWord.objects.create(owner=wren, text="flibber", category="popper")
    renewed(wren)
    assert not questions(sent(signed_in, "read/", "flibber moonlight"))
    signed_in.post("/crate/enter/forget/", {"text": "flibber"})
    signed_in.post("/crate/enter/forget/", {"text": "moonlight", "category": "popper"})
    assert questions(sent(signed_in, "read/", "flibber moonlight"))


def test_a_kind_that_may_be_several_is_asked_once_for_all_lines(signed_in):
    lines = "jig black blue 3/8\n2 jigs green pumpkin 1/2\njig brown\njerkbait bone 4\npopper bone 3"
    found = questions(sent(signed_in, "read/", lines))
    assert found[0][0] == "Which kind is “jig”? 2 lines"
    for question in found:
        press(signed_in, question, next(iter(question[2])))
    left = questions(sent(signed_in, "read/", lines))
    assert len(left) < len(found)


def test_several_lures_of_a_line_go_in_together_with_the_line_kept(signed_in, wren):
    lines = "2 popper bone + 1 popper black\nflipping jig gp 3/8 w/ gp craw\nTotal 12.40\nsquarebill red craw 4.29"
    page = sent(signed_in, "read/", lines)
    assert page.count('class="sheet typed-row') == 5
    assert "Save 4 lines" in page
    assert "with its trailer on: gp craw" in " ".join(page.split())
    sent(signed_in, "", lines)
    mine = Lure.objects.filter(tray__owner=wren)
    assert {lure.count for lure in mine.filter(typed__startswith="2 popper bone")} >= {1}
    assert mine.filter(category="popper", typed="2 popper bone + 1 popper black").count() == 2
    assert mine.get(typed__startswith="flipping jig").note == "with gp craw"
    assert float(mine.get(typed__startswith="squarebill").price) == 4.29
    assert not Thing.objects.filter(tray__owner=wren, name__icontains="total").exists()
    one = mine.filter(typed__startswith="2 pop").first()
    assert "2 popper bone + 1" in text(signed_in.get(f"/crate/lure/{one.pk}/"))
    assert "red craw 4.29" in signed_in.get("/crate/export/csv/").content.decode()


def test_one_of_several_lures_that_is_open_holds_its_line_alone(signed_in, wren):
    lines = "1 popper black + 2 topwaters bone\nfrog black"
    page = sent(signed_in, "read/", lines)
    assert "Save 1 line" in page
    sent(signed_in, "", lines)
    assert [line for line, _ in get_heap(wren).rows if "⟦" not in line] == ["1 popper black + 2 topwaters bone"]
    (question,) = questions(text(signed_in.get("/crate/enter/")))
    assert press(signed_in, question, "Walking topwater").json() == {"gone": 0}
    page = sent(signed_in, "read/", lines.splitlines()[0])
    assert "Save 1 line" in page
    assert page.count('class="sheet typed-row') == 2


def test_a_colour_that_nobody_has_is_described_in_four_presses(signed_in, wren):
    sent(signed_in, "read/", "worm moonlight")
    page = text(signed_in.get("/crate/enter/describe/?category=worm&name=moonlight"))
    assert page.count("data-step=") == 4
    told = {"category": "worm", "name": "moonlight", "tone": "smoke", "opacity": "semi", "flake": "purple", "belly": ""}
    made = signed_in.post("/crate/enter/describe/", told).json()
    assert made["called"] == "moonlight"
    card = get_palette(wren).by_id[made["card"]]
    assert (card.tone, card.opacity, card.flake_hues, card.sold_in) == ("smoke", "semi", ("purple",), ("worm",))
    rows = [{"number": 0, "line": "worm moonlight", "told": {"card": made["card"], "name": "worm:moonlight"}}]
    signed_in.post("/crate/enter/answers/", json.dumps(rows), content_type="application/json")
    assert "Save 1 line" in sent(signed_in, "read/", "worm moonlight")
    for wrong in ({"tone": "loud"}, {"opacity": ""}, {"flake": "lead"}, {"belly": "bars"}, {"category": "hat"}):
        assert signed_in.post("/crate/enter/describe/", {**told, **wrong}).status_code == 422
    assert signed_in.get("/crate/enter/describe/?category=hat").status_code == 404


def test_lines_that_are_alike_are_counted_and_put_in_each(signed_in, wren):
    lines = "popper bone\npopper bone\ntopwater bone\ntopwater bone"
    page = sent(signed_in, "read/", lines)
    assert "4 lines read" in page
    assert "Save 2 lines" in page
    answered(signed_in, 2, "topwater bone", category="popper")  # of two alike one is answered, and goes in alone
    assert "Save 3 lines" in sent(signed_in, "read/", lines)
    sent(signed_in, "", lines)
    assert [line for line, _ in get_heap(wren).rows] == ["topwater bone"]


def test_no_lure_of_a_long_line_is_lost(signed_in):
    line = "poppers: " + ", ".join(["1 bone", "1 black"] * 9)
    assert sent(signed_in, "read/", line).count('class="sheet typed-row') == 18


def test_a_name_is_remembered_only_with_the_colour_that_went_in(signed_in, wren):
    sent(signed_in, "read/", "worm black")
    rows = [{"number": 0, "line": "worm black", "told": {"card": "x" * 75, "name": "w" * 70 + ":black"}}]
    signed_in.post("/crate/enter/answers/", json.dumps(rows), content_type="application/json")
    sent(signed_in, "", "worm black")
    assert not Printed.objects.filter(owner=wren).exclude(card="black-plain").exists()


@pytest.mark.parametrize("body", ["soup", "{}", '[{"number": "many"}]', "[1]"])
def test_answers_that_are_none_are_refused_in_words(signed_in, body):
    answer = signed_in.post("/crate/enter/answers/", body, content_type="application/json")
    assert answer.status_code == 400
    assert "a list of rows" in answer.json()["wrong"]


def test_things_without_colour_go_in_as_such_and_undo_takes_them_out(signed_in, wren):
    page = sent(signed_in, "read/", "worm weights 3/8 x10\nprop bait white rusty hooks")
    assert "without a colour: goes in as such" in page
    assert "Save 2 lines" in page
    sent(signed_in, "", "worm weights 3/8 x10\nprop bait white rusty hooks")
    sent(signed_in, "", "worm weights 3/8 x5")
    thing = Thing.objects.get(tray__owner=wren)
    assert (thing.name, thing.count, thing.weight_oz) == ("worm weights", 15, 0.375)
    lure = Lure.objects.get(tray__owner=wren, name="prop bait, white")
    assert (lure.category, lure.condition) == ("walking-topwater", "rusty")
    signed_in.post(f"/crate/undo/{Change.objects.filter(area='crate').first().pk}/", **HTMX)
    assert Thing.objects.get(tray__owner=wren).count == 10


def test_a_heap_becomes_trays_by_one_press_and_undo_puts_it_back(signed_in, wren):
    tray = Tray.objects.filter(owner=wren).first()
    cards = ["red-bug", "black-plain", "green-pumpkin-black", "watermelon-red"]
    Lure.objects.bulk_create(
        Lure(tray=tray, category=("worm", "popper", "creature")[n % 3], card=cards[n % 4] if n % 3 else "red-bug",
             name=f"No {n}", position=n, weight_oz=(n % 4 + 1) / 8)
        for n in range(126)
    )  # fmt: skip
    lay = dict(Lure.objects.filter(tray__owner=wren).values_list("pk", "tray"))
    assert "Nothing has moved yet" in text(signed_in.get("/crate/sorted/"))
    page = text(signed_in.post("/crate/sorted/", follow=True))
    assert "stacks are sorted into" in page
    aboard = [tray for tray in Tray.objects.filter(owner=wren) if not tray.at_home]
    assert all(tray.lures.count() <= tray.room for tray in aboard)
    signed_in.post(f"/crate/undo/{Change.objects.filter(area='crate').first().pk}/", **HTMX)
    assert dict(Lure.objects.filter(tray__owner=wren).values_list("pk", "tray")) == lay


def test_several_chosen_are_moved_marked_counted_and_taken_out_at_once(signed_in, wren):
    lures = list(Lure.objects.filter(tray__owner=wren).order_by("pk")[:3])
    keys, tray = [lure.pk for lure in lures], Tray.objects.filter(owner=wren).last()
    mine = Lure.objects.filter(pk__in=keys)

    def done(what, **more):
        return signed_in.post("/crate/several/", {"lure": keys, "what": what, **more}, **HTMX).status_code

    assert done("move", move=tray.pk) == done("condition", condition="rusty") == done("count", count="7") == 200
    assert set(mine.values_list("tray", "condition", "count")) == {(tray.pk, "rusty", 7)}
    assert done("count", count="many") == done("condition", condition="sad") == done("burn") == 422
    stranger = User.objects.create_user("finch", "finch@example.org", "x")
    other = Tray.objects.create(owner=stranger, letter="A", name="Theirs")
    assert done("move", move=other.pk) == 404
    assert done("delete") == 200
    assert not mine.exists()
    assert signed_in.post("/crate/several/", {"what": "delete"}, **HTMX).status_code == 422


def test_a_thing_is_counted_and_missed(signed_in, wren):
    sent(signed_in, "", "worm weights 3/8 x10")
    thing = Thing.objects.get(tray__owner=wren)
    told = {"count": 4, "par": 6, "tray": thing.tray_id}
    assert "2 low" in text(signed_in.post(f"/crate/thing/{thing.pk}/", told, **HTMX))
    assert "worm weights" in text(signed_in.get("/crate/packing/"))
    assert "2 worm weights" in text(signed_in.get("/crate/bench/"))
    signed_in.post(f"/crate/thing/{thing.pk}/", {**told, "count": 0, "par": 0}, **HTMX)
    assert not Thing.objects.exists()


def test_all_firsts_of_a_picture_are_taken_as_one_change(signed_in, wren):
    picture = keep_picture(wren, *seen_picture())
    tray = Tray.objects.filter(owner=wren).first()
    told = {"category": ["jerkbait", "popper"], "first": ["bone", "black-plain"], "count": ["2", "1"], "tray": tray.pk}
    page = text(signed_in.post(f"/crate/picture/{picture.pk}/all/", told, **HTMX))
    assert "3 lures are taken from the picture" in page
    assert Lure.objects.filter(picture=picture, tray=tray).count() == 2
    for wrong in ({"count": ["0", "1"]}, {"first": ["bone"]}, {"first": ["bone", "flibber"]}):
        assert signed_in.post(f"/crate/picture/{picture.pk}/all/", {**told, **wrong}, **HTMX).status_code == 422
    signed_in.post(f"/crate/undo/{Change.objects.filter(area='crate').first().pk}/", **HTMX)
    assert not Lure.objects.filter(picture=picture).exists()


def answered(client, number, line, shown="{}", **told):
    fields = {f"{name}-{number}": value for name, value in told.items()}
    return client.post(
        "/crate/enter/answer/", {"number": number, f"line-{number}": line, f"was-{number}": shown, **fields}
    )


LINES = ["worm moonlight", "popper moonlight", "jerkbait moonlight", "frog moonlight"]


def test_answers_are_kept_row_by_row_whatever_order_they_come_in(signed_in, wren):
    signed_in.post("/crate/enter/read/", {"lines": "\n".join(LINES)})
    for number, card in ((2, "bone"), (0, "red-bug"), (3, "black-plain"), (1, "bone")):
        page = text(answered(signed_in, number, LINES[number], card=card))
        assert f'id="typed-row-{number}"' in page
    # A reading of all lines that was on its way meanwhile, as the page was before any answer, undoes none of them.
    stale = {"lines": "\n".join(LINES)} | {f"line-{n}": line for n, line in enumerate(LINES)}
    page = text(signed_in.post("/crate/enter/read/", stale))
    assert "Save 4 lines" in page
    assert [told["card"] for _, told in get_heap(wren).rows] == ["red-bug", "bone", "bone", "black-plain"]


def test_another_kind_asks_for_the_colour_anew(signed_in, wren):
    signed_in.post("/crate/enter/read/", {"lines": LINES[0]})
    answered(signed_in, 0, LINES[0], card="red-bug")
    answered(signed_in, 0, LINES[0], category="popper")
    assert get_heap(wren).rows[0][1] == {"category": "popper"}


def test_each_question_can_be_answered_with_none(signed_in, wren):
    signed_in.post("/crate/enter/read/", {"lines": "2 widgets teal\nworm moonlight"})
    page = text(signed_in.get("/crate/enter/"))
    assert page.count('value="none"') == 4  # of each line its kind and its colour
    answered(signed_in, 0, "2 widgets teal", category="none")
    page = text(answered(signed_in, 1, "worm moonlight", card="none"))
    assert "Describe it as a colour of your own" in page
    assert "Save 1 line" in page
    lines = ["2 widgets teal", "worm moonlight"]
    signed_in.post("/crate/enter/", {"lines": "\n".join(lines), "line-0": lines[0], "line-1": lines[1]})
    assert Thing.objects.get(tray__owner=wren, name="2 widgets teal").count == 2
    assert [line for line, _ in get_heap(wren).rows] == ["worm moonlight"]


def test_no_kind_is_offered_twice(signed_in):
    signed_in.post("/crate/enter/read/", {"lines": "jig black\ncrank shad\ntopwater bone"})
    for row in text(signed_in.get("/crate/enter/")).split('id="typed-row-')[1:]:
        kinds = re.findall(r'<option\s+value="([a-z-]+)"', row.split("</select>")[0])
        assert len(kinds) == len(set(kinds)) > 20


@pytest.mark.parametrize(
    ("line", "ticked"),
    [("worm black", True), ("2 worm black torn", False), ("worm black 6in", None), ("worm midnight sky", False)],
)
def test_one_more_of_what_is_there_is_ticked_only_where_it_is_the_same(signed_in, wren, line, ticked):
    tray = wren.trays.first()
    wren.trays.exclude(pk=tray.pk).delete()
    Lure.objects.filter(tray=tray).delete()
    Lure.objects.create(tray=tray, position=1, category="worm", card="black-plain", count=1, name="black")
    renewed(wren)
    remember_name(wren, "worm", "midnight sky", "black-plain")
    signed_in.post("/crate/enter/read/", {"lines": line})
    page = text(signed_in.get("/crate/enter/"))
    box = re.search(r'name="onto-0" value="yes"( checked)?>', page)
    assert (box and bool(box[1])) == ticked


def test_a_question_asked_once_can_be_answered_with_none_of_these(signed_in, wren):
    lines = "flibber bone\n2 flibber black 3/8\nworm black"
    (question,) = questions(sent(signed_in, "read/", lines))
    press(signed_in, question, "none of these: no lure")
    page = sent(signed_in, "read/", lines)
    assert not questions(page)
    assert "Save 3 lines" in page  # two of them as things without a colour, in their own words
    sent(signed_in, "", lines)
    assert not KindWord.objects.filter(owner=wren).exists()
    assert Thing.objects.filter(tray__owner=wren, name="flibber bone").exists()
