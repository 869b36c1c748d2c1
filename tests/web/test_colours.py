import pytest

from tackle.base.vocabulary import Wind
from tackle.situations.conditions import CONDITIONS, Condition
from tests.pages import text
from web.domain.colours.models import OwnCard
from web.domain.colours.selectors import get_palette
from web.domain.rulebooks.models import Rule

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}

CARD = {
    "name": "Pond mud", "code": "QM", "also": "swamp, muddy", "tone": "brown", "opacity": "opaque", "finish": "matte",
    "flake": "none", "brightness": "natural", "back": "#403020", "side": "#504030", "belly": "#605040",
    "imitates": ["goby"], "sold_in": ["worm", "creature"],
}  # fmt: skip
ASKED = {"category": "worm", "see": "48 in", "light": "broken"}


@pytest.mark.parametrize(
    ("query", "there", "not_there"),
    [
        ({"q": "melon"}, "Watermelon red-flake", "Red craw"),
        ({"q": "bug"}, "Red bug", "Bone"),
        ({"q": "chart blk"}, "Chartreuse black-back", "Chartreuse and white"),
        ({"category": "frog"}, "Frog green", "Red craw"),
        ({"forage": "goby", "finish": "matte"}, "Goby with purple and gold flake", "Plain silver"),
        ({"q": "zebra"}, "No colour by that name", "Bone"),
    ],
)
def test_colours_are_found_by_any_name(signed_in, query, there, not_there):
    page = text(signed_in.get("/colours/", query, headers=HTMX))
    assert there in page
    assert not_there not in page


def test_one_card_shows_where_each_school_stands(signed_in):
    page = text(signed_in.get("/colours/black-plain/?category=worm"))
    assert "Night: first choice" not in page
    assert "Clear water, sunny: avoid" in page
    assert "Black is not for clear water." in page
    assert signed_in.get("/colours/mauve/").status_code == 404


def test_two_cards_side_by_side(signed_in):
    page = text(signed_in.get("/colours/compare/?card=bone&card=white-flat"))
    assert "The same traits, and their colours are 11.4 apart." in page


def test_ask_answers_school_by_school(signed_in):
    page = text(signed_in.get("/colours/ask/", ASKED))
    assert "Start with green pumpkin " in page
    assert page.index("<h2>Clarity first</h2>") < page.index("<h2>Reaction colours</h2>")
    leeches = text(
        signed_in.get("/colours/ask/", {**ASKED, "see": "2 m", "category": "worm", "month": "7", "food": "leech"})
    )
    assert "They disagree" in leeches


def test_ask_knows_the_fish_their_mood_the_cover_and_the_current(signed_in):
    shallow = {"category": "inshore-paddletail", "see": "30 in", "light": "bright", "food": "mullet"}
    said = "For red drum, throw brown with copper"
    assert said in text(signed_in.get("/colours/ask/", {**shallow, "target": "red-drum"}))
    assert said not in text(signed_in.get("/colours/ask/", shallow))
    page = text(signed_in.get("/colours/ask/", {**ASKED, "density": "heavy", "mood": "idle", "current": "river"}))
    assert '<option value="heavy" selected>' in page
    assert "one of largemouth" in text(signed_in.get("/colours/ask/", {**ASKED, "target": "carp"}))


def test_a_condition_stands_on_the_form_by_its_row_alone(signed_in, monkeypatch):
    row = Condition("ruffle", Wind, asked="ruffle")
    monkeypatch.setattr("web.pages.colours.views.CONDITIONS", {**CONDITIONS, "ruffle": row})
    page = signed_in.get("/colours/ask/").content.decode()
    assert '<select name="ruffle">' in page
    assert all(page.count(f'name="{name}"') >= 1 for name in ("light", "wind", "food", "target", "mood", "current"))


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"see": "deep"}, "is not a length"),
        ({"temp": "warm"}, "is not a temperature"),
        ({"light": "noon"}, "one of bright"),
    ],
)
def test_ask_says_what_it_cannot_read(signed_in, change, said):
    response = signed_in.get("/colours/ask/", {**ASKED, **change}, headers=HTMX)
    assert response.status_code == 422
    assert said in text(response)


def test_an_own_card_is_made_used_retired_and_brought_back(signed_in, wren):
    signed_in.post("/colours/own/new/", CARD)
    made = OwnCard.objects.get(owner=wren)
    assert "Pond mud" in text(signed_in.get("/colours/?q=swamp", headers=HTMX))
    tray = wren.trays.first()
    lure = {"category": "worm", "card": made.card, "count": "1", "size": "", "tray": tray.pk, "name": ""}
    assert signed_in.post("/crate/add/", lure, headers=HTMX).status_code == 200
    signed_in.post(f"/colours/own/{made.card}/drop/")
    assert OwnCard.objects.get(owner=wren).retired
    assert made.card not in [card.id for card in get_palette(wren).sold_in("worm")]
    assert "Pond mud" in text(signed_in.get("/crate/"))
    signed_in.post(f"/colours/own/{made.card}/back/")
    wren.trays.get(pk=tray.pk).lures.filter(card=made.card).delete()
    signed_in.post(f"/colours/own/{made.card}/drop/")
    assert not OwnCard.objects.filter(owner=wren).exists()


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"code": "GP"}, "GP is the code of Green pumpkin black-flake; Z9 is free"),
        ({"code": "AU", "sold_in": ["worm"]}, "AU is the code of Gold side"),  # which no worm comes in
        ({"flake": "fine"}, "A flake has at least one hue"),
        ({"back": "brown"}, "of the form"),
        ({"sold_in": []}, "Say which categories"),
    ],
)
def test_a_wrong_card_is_refused(signed_in, change, said):
    response = signed_in.post("/colours/own/new/", {**CARD, **change})
    assert response.status_code == 422
    assert said in text(response)
    assert "Pond mud" in text(response)


def test_a_house_rule_outranks_the_school_until_it_is_off(signed_in, wren):
    rule = {**ASKED, "card": "red-bug", "school": "ladder", "grade": "go-to", "why": "It works on the Tarn."}
    assert "Rule saved" in text(signed_in.post("/colours/rules/make/", rule, headers=HTMX))
    page = text(signed_in.get("/colours/ask/", ASKED))
    assert "It works on the Tarn." in page
    made = Rule.objects.get(owner=wren)
    signed_in.post(f"/colours/rules/{made.pk}/switch/", {"to": "off"}, headers=HTMX)
    assert "It works on the Tarn." not in text(signed_in.get("/colours/ask/", ASKED))


def test_a_house_rule_holds_all_that_was_told(signed_in, wren):
    told = {
        "stain": "silt", "wind": "chop", "season": "winter", "cover": "wood", "pace": "slow", "target": "spotted",
        "mood": "idle", "density": "heavy", "current": "river", "depth": "18 ft", "temp": "44 F", "norm": "60 in",
        "food": "crawfish",
    }  # fmt: skip
    rule = {**ASKED, **told, "card": "red-bug", "school": "ladder", "grade": "go-to", "why": "It was so."}
    signed_in.post("/colours/rules/make/", rule, headers=HTMX)
    when = Rule.objects.get(owner=wren).entry["when"]
    words = {
        name: when[name]
        for name in ("stain", "wind", "season", "cover", "pace", "target", "mood", "density", "current")
    }
    assert words == {name: told[name] for name in words}
    assert when["depth_ft"] == {"from": 15, "below": 30}
    assert when["water_temp_f"] == {"from": 42, "below": 48}
    assert when["norm_ratio"] == {"from": pytest.approx(2 / 3)}
    assert "It was so." in text(signed_in.get("/colours/ask/", {**ASKED, **told}))
    for other in ({"mood": "feeding"}, {"target": ""}, {"depth": "8 ft"}, {"temp": "50 F"}, {"norm": "90 in"}):
        assert "It was so." not in text(signed_in.get("/colours/ask/", {**ASKED, **told, **other})), other


@pytest.mark.parametrize("odd", [b"2020-01-01", b'["a"]', b"5", b"true"])
def test_a_rule_whose_id_is_no_text_is_refused(signed_in, wren, odd):
    eaten = CLUB.replace(b'"all-black"', odd).replace(
        b'want = { tone = "black" }', b'when = { forage = ["shad"] }\nwant = { tone = "black", imitates = "eaten" }'
    )
    for content in (eaten, CLUB.replace(b'"all-black"', odd)):
        assert "a text of 1 to" in take_in(signed_in, content)
    assert not Rule.objects.filter(owner=wren).exists()


def test_many_calls_are_read_fifty_at_once(signed_in, wren):
    head, call = CLUB.split(b"[[call]]")
    take_in(signed_in, head + b"".join(b"[[call]]" + call.replace(b"all", b"no-%d" % n, 1) for n in range(120)))
    pages = [text(signed_in.get("/colours/rules/heron-club/read/", {"category": "worm", "page": n})) for n in (1, 2, 3)]
    assert [page.count("Herons like black.</p>") for page in pages] == [50, 50, 20]
    assert "category=worm&amp;q=&amp;page=2" in pages[0]
    wrong = {"grade": "go-to", "from": "deep", "how": "instead", "why": "x", "category": "worm"}
    answer = text(signed_in.post("/colours/rules/heron-club/no-119-black/change/", wrong))
    assert "is not a length" in answer  # on the page where the call stands


def test_rules_come_back_from_their_export(signed_in, intruder, wren, stranger):
    signed_in.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    rule = {**ASKED, "card": "red-bug", "school": "ladder", "grade": "go-to", "why": ""}
    signed_in.post("/colours/rules/make/", rule, headers=HTMX)
    exported = signed_in.get("/colours/rules/export/ladder.toml").content
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    take_in(signed_in, exported)
    mine, theirs = (Rule.objects.get(owner=owner).entry for owner in (wren, stranger))
    assert mine == theirs


def take_in(client, content, name="club.toml"):
    from django.core.files.uploadedfile import SimpleUploadedFile

    return text(client.post("/colours/rules/take-in/", {"file": SimpleUploadedFile(name, content)}, follow=True))


CLUB = b"""[school]
id = "heron-club"
name = "Heron Club"
question = "What would the heron do?"
short = "A club's own."
order = 9

[[call]]
id = "all-black"
for = "all"
want = { tone = "black" }
grade = "go-to"
why = "Herons like black."
"""


def test_a_clubs_rulebook_is_a_school_of_its_own(signed_in):
    assert "1 rules from club.toml are in" in take_in(signed_in, CLUB)
    page = text(signed_in.get("/colours/ask/", ASKED))
    assert "Heron Club" in page
    assert "Herons like black." in page
    assert "Heron Club" in text(signed_in.get("/plan/"))


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (CLUB.replace(b'"black"', b'"blak"'), "all-black: want.tone: &#x27;blak&#x27; is not allowed; allowed: one of"),
        (b"[school\n", "is not TOML"),
        (b"\xff\xfe\x00", "is not text in UTF-8"),
        (b"", "the file is empty|Choose a rulebook|is not a table"),
        (b"#" * 500_000, "is larger than"),
    ],
)
def test_a_broken_rulebook_is_refused_whole(signed_in, wren, content, said):
    page = take_in(signed_in, content)
    assert any(part in page for part in said.split("|"))
    assert not Rule.objects.filter(owner=wren).exists()


def test_another_anglers_cards_and_rules_are_not_there(signed_in, wren, stranger):
    signed_in.post("/colours/own/new/", CARD)
    take_in(signed_in, CLUB)
    card, rule = OwnCard.objects.get(owner=wren), Rule.objects.get(owner=wren)
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert signed_in.get(f"/colours/{card.card}/").status_code == 404
    assert signed_in.post(f"/colours/own/{card.card}/drop/").status_code == 404
    assert signed_in.post(f"/colours/rules/{rule.pk}/switch/").status_code == 404
    assert "Heron Club" not in text(signed_in.get("/colours/ask/", ASKED))


@pytest.mark.parametrize("address", ["/colours/", "/colours/bone/", "/colours/ask/", "/colours/rules/"])
def test_queries_are_bounded(signed_in, address, django_assert_max_num_queries):
    take_in(signed_in, CLUB)
    with django_assert_max_num_queries(16):  # of them twelve for all that is owned, once for a version of it
        signed_in.get(address)
