"""Keeping the crate: moving, splitting, marking, typing in, photographing, printing."""

import io
import json
import re
from datetime import date, timedelta
from html import unescape

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from PIL import Image, ImageDraw

from tackle.colours.palette import house_palette
from tests.owner import renewed
from tests.pages import printed, text
from web.domain.crate.models import Lure, Mark, Picture, Printed, Score, Tray
from web.domain.history.models import Change

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def trays(wren):
    return {tray.letter: tray for tray in Tray.objects.filter(owner=wren)}


def post(client, address, **values):
    return text(client.post(f"/crate/{address}", values, headers=HTMX))


def state():
    return sorted(Lure.objects.values_list("tray", "card", "count", "size_in", "position"), key=str)


def undo_last(client):
    return post(client, f"undo/{Change.objects.filter(undone=False).first().pk}/")


def test_a_lure_is_moved_before_another_and_back(signed_in, trays):
    before = state()
    lure, other = trays["A"].lures.first(), trays["C"].lures.all()[1]
    assert "is moved to tray C" in post(signed_in, f"lure/{lure.pk}/move/", tray=trays["C"].pk, before=other.pk)
    order = list(Lure.objects.filter(tray=trays["C"]).order_by("position").values_list("pk", flat=True))
    assert order.index(lure.pk) == order.index(other.pk) - 1
    assert "Undone" in undo_last(signed_in)
    assert state() == before


def test_a_move_takes_as_many_queries_in_a_full_tray(signed_in, trays):
    def queries_of_a_move():
        last, first = trays["C"].lures.order_by("-position").first(), trays["C"].lures.order_by("position").first()
        with CaptureQueriesContext(connection) as asked:
            post(signed_in, f"lure/{last.pk}/move/", tray=trays["C"].pk, before=first.pk)
        return len(asked)

    few = queries_of_a_move()
    Lure.objects.bulk_create([
        Lure(tray=trays["C"], category="worm", card="black-plain", count=1, position=100 + place) for place in range(60)
    ])  # fmt: skip
    assert queries_of_a_move() <= few + 3
    assert few <= 45


def test_stacks_are_split_and_put_together(signed_in, trays):
    before = state()
    lure = trays["A"].lures.first()
    assert "2 Matte shad to tray E" in post(signed_in, f"lure/{lure.pk}/split/", tray=trays["E"].pk, count=2)
    made = Lure.objects.get(tray=trays["E"], card="shad-matte")
    lure.refresh_from_db()
    assert (lure.count, made.count, made.size_in) == (2, 2, 4.5)
    assert "you can split off 1 to 1" in post(signed_in, f"lure/{lure.pk}/split/", tray=trays["E"].pk, count=2)
    assert "two stacks are one" in post(signed_in, f"lure/{made.pk}/merge/", into=lure.pk)
    lure.refresh_from_db()
    assert lure.count == 4
    undo_last(signed_in)
    undo_last(signed_in)
    assert state() == before
    bone = trays["A"].lures.get(card="bone")
    assert "Only stacks of one" in post(signed_in, f"lure/{bone.pk}/merge/", into=lure.pk)


def test_stock_is_brought_from_home_to_par(signed_in, trays):
    before = state()
    page = post(signed_in, "bring/", category="jerkbait", card="shad-glass", count=3)
    assert "3 Glass shad from home to tray A" in page
    assert Lure.objects.filter(card="shad-glass").get().count == 4
    undo_last(signed_in)
    assert state() == before
    assert "none at home" in post(signed_in, "bring/", category="worm", card="red-bug", count=1)


def test_a_finding_is_dismissed_with_a_reason_and_counts_again(signed_in, wren):
    page = text(signed_in.get("/crate/"))
    key = re.search(r'value="(gap:[\w:-]+)"', page)[1]
    gaps = int(re.search(r"(\d+) gaps", page)[1])
    assert "Say why" in post(signed_in, "mark/", finding=key, words="Black", state="no", reason=" ")
    page = post(signed_in, "mark/", finding=key, words="Black", state="no", reason="never at night")
    assert f"{gaps - 1} gaps" in page
    assert "never at night" in page
    post(signed_in, "mark/", finding=key, words="Black", state="later")
    Mark.objects.update(at=date.today() - timedelta(days=31))
    renewed(wren)
    assert f"{gaps} gaps" in text(signed_in.get("/crate/"))
    post(signed_in, "mark/", finding=key, words="", state="")
    assert not Mark.objects.exists()


def test_every_kind_of_finding_is_drawn(signed_in, wren, trays):
    Lure.objects.all().delete()
    crate = [("worm", "two-melon-red", 1), ("jerkbait", "gold-dark", 9), ("jerkbait", "gold-dark", 9)]
    crate += [("walking-topwater", card.id, 1) for card in house_palette().sold_in("walking-topwater")]
    Lure.objects.bulk_create(
        Lure(tray=trays["A"], category=category, card=card, count=count, position=place)
        for place, (category, card, count) in enumerate(crate)
    )
    renewed(wren)
    page = text(signed_in.get("/crate/?findings=all"))
    for kind in ("gap", "fix", "double", "short", "idle"):
        assert f"finding-{kind}" in page
    assert re.search(r"Or rework \w+: sand it dull", page)


def test_the_score_is_held_against_last_month(signed_in, wren):
    signed_in.get("/crate/")
    assert not Score.objects.exists()  # looking writes nothing
    post(signed_in, "same-forms/")
    today = Score.objects.get()
    assert 0 < today.answered <= today.expected
    Score.objects.create(owner=wren, day=date.today() - timedelta(days=30), answered=today.answered - 12, expected=300)
    assert "more days than" in text(signed_in.get("/crate/"))


def test_finding_by_words_category_place_and_tray(signed_in, wren, trays):
    page = text(signed_in.get("/crate/", {"q": "bone"}))
    assert "Old Ivory" in page
    assert "Loud One" not in page
    assert "7 compartments" in text(signed_in.get("/crate/", {"tray": trays["A"].pk}))
    home = trays["F"].place
    assert "4 compartments" in text(signed_in.get("/crate/", {"place": home.pk}))
    assert "1 compartment" in text(signed_in.get("/crate/", {"category": "spoon"}))
    sized = text(signed_in.get("/crate/", {"q": '4.5" shad'}))
    assert "Grey Ghost Shad" in sized
    assert "Old Ivory" not in sized
    assert "No lure matches" in text(signed_in.get("/crate/", {"q": "anvil"}))


def test_a_big_crate_comes_in_pages(signed_in, trays, django_assert_max_num_queries):
    lures = [
        Lure(tray=trays["A"], category="worm", card="red-bug", name=f"No {n}", count=1, position=n) for n in range(200)
    ]
    Lure.objects.bulk_create(lures)
    signed_in.get("/crate/")
    with django_assert_max_num_queries(28):
        page = text(signed_in.get("/crate/"))
    assert "Page 1 of 4" in page
    assert page.count("data-lure=") == 60


def typed(client, door, lines, **controls):
    """The entry page's answer to lines and to what was put right in their rows, as its form sends it."""
    rows = {f"line-{number}": line for number, line in enumerate(filter(None, lines.split("\n")))}
    return text(client.post(f"/crate/enter/{door}", {"lines": lines, "tray": "", **rows, **controls}, **HTMX))


def test_a_line_goes_in_where_its_kind_lies(signed_in, wren, trays):
    page = typed(signed_in, "", "3 worm blk 6in\n3 red bug thing\nworm moonlight")
    lure = Lure.objects.get(tray=trays["C"], card="black-plain")
    assert (lure.count, lure.size_in, lure.name) == (3, 6, "blk")
    assert "Black is added" in page
    assert ">3 red bug thing\nworm moonlight</textarea>" in page
    assert "Which colour is “moonlight”?" in page


def test_two_hundred_lines_go_in_at_once_and_more_wait(signed_in, trays):
    """As a browser sends them: every field of every row that the page shows."""
    lines = "\n".join(f"{n % 5 + 2} worm black {n % 7 + 3}in" for n in range(212))
    read = typed(signed_in, "read/", lines)
    assert "12 lines wait" in read
    fields = dict(re.findall(r'<input[^>]*name="([a-z]+-\d+)"[^>]*value="([^"]*)"', read))
    fields |= dict.fromkeys(re.findall(r'<select[^>]*name="(category-\d+)"', read), "worm")
    fields |= dict.fromkeys(re.findall(r'<select[^>]*name="(card-\d+)"', read), "black-plain")
    fields |= dict.fromkeys(re.findall(r'<select[^>]*name="(tray-\d+)"', read), trays["C"].pk)
    assert len(fields) >= 1800
    page = typed(signed_in, "", lines, **{name: unescape(str(value)) for name, value in fields.items()})
    assert page.count("worm black") == 12  # left in the field to type in
    assert Lure.objects.filter(tray=trays["C"], card="black-plain").count() >= 200


def test_what_is_asked_goes_in_once_it_is_answered_and_is_remembered(signed_in, wren, trays):
    before = Lure.objects.count()
    page = typed(signed_in, "read/", "worm moonlight\njerkbait bone 4")
    assert "Is the number how many, or how long?" in page
    typed(signed_in, "", "worm moonlight\njerkbait bone 4")
    assert Lure.objects.count() == before
    right = {"was-0": '{"card": ""}', "card-0": "red-bug", "was-1": '{"count": "", "size": ""}', "count-1": "4"}
    page = typed(signed_in, "read/", "worm moonlight\njerkbait bone 4", **right)
    assert "which is “moonlight”?" not in page
    typed(signed_in, "", "worm moonlight\njerkbait bone 4", **right, **{"size-1": "11 cm"})
    assert Printed.objects.get().card == "red-bug"
    assert Lure.objects.filter(category="jerkbait", card="bone", count=4, size_in__range=(4.3, 4.4)).exists()
    assert "Save 1 line" in typed(signed_in, "read/", "worm moonlight")


def test_what_was_put_right_is_carried_on_and_bad_values_are_said(signed_in, trays):
    right = {"was-0": '{"category": ""}', "category-0": "structure-jig", "was-1": '{"size": ""}', "size-1": "soon"}
    page = " ".join(typed(signed_in, "read/", "jig 1/2 gp\nbrown orange", **right).split())
    assert page.count('value="structure-jig" selected') == 2
    assert "is not a length" in page
    assert 'value="soon"' in page


def test_one_that_is_there_is_made_more_or_lies_apart(signed_in, wren, trays):
    typed(signed_in, "", "2 popper bone 3in")
    stack = Lure.objects.get(card="bone", category="popper", size_in=3)
    assert "You have 2 in" in typed(signed_in, "read/", "popper bone 3in")
    typed(signed_in, "", "popper bone 3in")
    stack.refresh_from_db()
    assert stack.count == 3
    typed(signed_in, "", "popper bone 3in", **{"was-0": '{"onto": "yes"}'})  # the box unticked
    bones = Lure.objects.filter(card="bone", category="popper", size_in=3)
    assert sorted(bones.values_list("count", flat=True)) == [1, 3]
    signed_in.post(f"/crate/undo/{Change.objects.order_by('-pk').first().pk}/", **HTMX)
    assert bones.count() == 1


def test_the_first_lures_of_all_make_the_first_tray(client, django_user_model):
    client.force_login(django_user_model.objects.create_user("newcomer", password="x"))
    typed(client, "", "popper bone 3in\nfrog black")
    assert [lure.tray.letter for lure in Lure.objects.filter(tray__owner__username="newcomer")] == ["A", "A"]


def photograph(size=(400, 300), **exif):
    image = Image.new("RGB", size, (150, 160, 165))
    held = io.BytesIO()
    image.save(held, "JPEG", **exif)
    return held.getvalue()


def test_a_lure_has_its_own_picture_and_form(signed_in, wren, trays):
    lure = trays["A"].lures.first()
    values = {"category": "jerkbait", "card": "shad-matte", "count": "4", "size": "4.5", "tray": trays["A"].pk}
    values |= {
        "weight": "3/8 oz",
        "depth": "6 ft",
        "sound": "rattle",
        "condition": "worn",
        "price": "9.50",
        "note": "tuned",
    }
    photo = SimpleUploadedFile("lure.jpg", photograph())
    assert "is changed" in post(signed_in, f"lure/{lure.pk}/", **values, photo=photo)
    lure.refresh_from_db()
    assert (lure.weight_oz, lure.depth_ft, lure.sound, str(lure.price), lure.note) == (
        0.375,
        6,
        "rattle",
        "9.50",
        "tuned",
    )
    assert lure.picture.owner == wren
    wrong = signed_in.post(f"/crate/lure/{lure.pk}/", {**values, "weight": "heavy", "depth": "deep"}, headers=HTMX)
    assert wrong.status_code == 422
    assert "is not a weight" in text(wrong)
    assert "is not a depth" in text(wrong)
    bad = SimpleUploadedFile("lure.jpg", b"nothing")
    assert "not a picture" in post(signed_in, f"lure/{lure.pk}/", **values, photo=bad)
    undo_last(signed_in)
    lure.refresh_from_db()
    assert lure.picture is None


def test_other_sizes_count_as_the_same_when_asked(signed_in, wren):
    assert "E3 are one colour" not in text(signed_in.get("/crate/"))
    assert "E3 are one colour" in post(signed_in, "same-forms/", any_form="on")
    assert "E3 are one colour" not in post(signed_in, "same-forms/")


def test_a_picture_is_re_encoded_and_its_owners_alone(signed_in, wren, client, stranger):
    exif = Image.Exif()
    exif[0x0112] = 6  # lying on its side
    exif[0x010E] = "secret spot"
    content = photograph(exif=exif)
    assert b"secret spot" in content
    signed_in.post("/crate/picture/", {"picture": SimpleUploadedFile("tray.jpg", content)})
    picture = Picture.objects.get()
    assert (picture.width, picture.height) == (300, 400)
    assert b"secret spot" not in bytes(picture.jpeg)
    response = signed_in.get(f"/crate/picture/{picture.pk}.jpg")
    assert response["Content-Type"] == "image/jpeg"
    assert response["Cache-Control"] == "no-store"
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for address in (f"{picture.pk}.jpg", f"{picture.pk}/"):
        assert client.get(f"/crate/picture/{address}").status_code == 404
    assert client.post(f"/crate/picture/{picture.pk}/read/").status_code == 404


@pytest.mark.parametrize(
    "content", [b"no picture", b"\xff\xd8\xff\xe0 broken", b"GIF89a" + b"0" * 99, photograph((9000, 5000))]
)
def test_what_is_no_picture_or_too_large_is_refused(signed_in, wren, content):
    response = signed_in.post("/crate/picture/", {"picture": SimpleUploadedFile("tray.jpg", content)})
    assert response.status_code == 422
    assert not Picture.objects.exists()


def test_a_tray_is_photographed_read_and_taken_in(signed_in, wren, trays, settings):
    settings.DEMO_CAMERA = True
    response = signed_in.post("/crate/picture/", {"camera": "1", "tray": trays["A"].pk})
    picture = Picture.objects.get()
    assert response.url == f"/crate/picture/{picture.pk}/?tray={trays['A'].pk}&rows=4&columns=3"
    w, h = picture.width, picture.height
    grid = json.dumps(
        {
            "corners": [[0.09 * w, 0.1 * h], [0.91 * w, 0.1 * h], [0.91 * w, 0.9 * h], [0.09 * w, 0.9 * h]],
            "rows": 4,
            "columns": 3,
        }
    )
    asked = {"grid": grid, "category": "jerkbait", "tray": trays["A"].pk}
    page = text(signed_in.post(f"/crate/picture/{picture.pk}/read/", asked, headers=HTMX))
    assert "12 compartments hold a lure" in " ".join(page.split())
    assert "Tiger" in page
    assert page.count('class="crop"') == 12
    one = text(
        signed_in.post(f"/crate/picture/{picture.pk}/read/", {**asked, "one": 3, "of_one": "worm"}, headers=HTMX)
    )
    assert 'id="seen-3"' in one
    assert '<input type="hidden" name="category" value="worm">' in one  # it goes in as that
    assert 'id="seen-4"' not in one
    bone = {"tray": trays["E"].pk, "category": "jerkbait", "card": "bone", "count": "2"}
    assert "Bone is added" in text(signed_in.post(f"/crate/picture/{picture.pk}/take/", bone, headers=HTMX))
    assert Lure.objects.get(tray=trays["E"], category="jerkbait", card="bone").picture == picture
    own = {**bone, "own": "#112233 #445566 #778899"}
    assert "Seen, like bone is added" in text(signed_in.post(f"/crate/picture/{picture.pk}/take/", own, headers=HTMX))
    for wrong in ("", "{}", '{"corners": [[1,2]], "rows": 1, "columns": 1}', '{"corners": 9, "rows": "x"}', "[" * 5000):
        asked["grid"] = wrong
        response = signed_in.post(f"/crate/picture/{picture.pk}/read/", asked, headers=HTMX)
        assert response.status_code == 422
        assert "grid" in text(response)


def test_what_was_taken_for_empty_can_be_overruled(signed_in, trays):
    held = io.BytesIO()
    Image.new("RGB", (400, 300), (205, 203, 198)).save(held, "PNG")
    signed_in.post("/crate/picture/", {"picture": SimpleUploadedFile("plain.png", held.getvalue())})
    picture = Picture.objects.get()
    assert picture.corners is None
    grid = json.dumps({"corners": [[0, 0], [400, 0], [400, 300], [0, 300]], "rows": 1, "columns": 2})
    asked = {"grid": grid, "category": "jerkbait", "tray": trays["A"].pk}
    page = text(signed_in.post(f"/crate/picture/{picture.pk}/read/", asked, headers=HTMX))
    assert "There is a lure in 2" in page
    one = {**asked, "one": 2, "of_one": "jerkbait"}
    assert 'data-number="1"' in text(signed_in.post(f"/crate/picture/{picture.pk}/read/", one, headers=HTMX))
    assert signed_in.post(f"/crate/picture/{picture.pk}/read/", {**one, "one": 3}, headers=HTMX).status_code == 422


def test_lures_that_lie_loose_are_found_and_offered(signed_in, trays):
    held, picture = io.BytesIO(), Image.new("RGB", (900, 600), (226, 224, 219))
    draw = ImageDraw.Draw(picture)
    for place, colour in enumerate(("#181818", "#c23a22", "#6a7f2b")):
        draw.ellipse((80 + 270 * place, 250, 280 + 270 * place, 310), fill=colour)
    picture.save(held, "PNG")
    signed_in.post("/crate/picture/", {"picture": SimpleUploadedFile("towel.png", held.getvalue())})
    kept = Picture.objects.get()
    grid = json.dumps({"corners": [[0, 0], [9, 0], [9, 9], [0, 9]], "rows": 1, "columns": 1, "loose": True})
    asked = {"grid": grid, "category": "worm", "tray": trays["C"].pk}
    page = " ".join(text(signed_in.post(f"/crate/picture/{kept.pk}/read/", asked, headers=HTMX)).split())
    assert "3 lures lie there" in page
    assert page.count('class="crop"') == 3
    assert "Black" in page.split('id="seen-2"')[0]


def test_labels_and_packing_list_on_paper(signed_in, wren, trays):
    lure = Lure.objects.filter(tray=trays["B"]).first()
    Lure.objects.filter(pk=lure.pk).update(size_in=4.25, condition="rusty")
    renewed(wren)
    told = printed(signed_in.get("/crate/labels.pdf").content)
    assert "Jerkbaits" in told
    assert "Matte shad" in told
    one = printed(signed_in.get("/crate/labels.pdf", {"tray": trays["B"].pk}).content)
    assert "4.25 in, rusty" in " ".join(one.split())
    assert "Topwaters" in one
    assert "Jerkbaits" not in one
    sheet = printed(signed_in.get("/crate/packing.pdf").content)
    assert "low and aft" in sheet
    assert "Matte shad" in sheet  # beside its code
    page = text(signed_in.get("/crate/packing/"))
    assert page.index("Worms") < page.index("Jerkbaits")  # 36 oz before 7


def test_a_tray_is_changed_and_deleted_only_empty(signed_in, wren, trays):
    values = {"name": "Hard jerkbaits", "label": "navy", "rows": 5, "columns": 2}
    assert "Tray A is changed" in post(signed_in, f"tray/{trays['A'].pk}/", **values)
    trays["A"].refresh_from_db()
    assert (trays["A"].name, trays["A"].rows, trays["A"].place.name) == ("Hard jerkbaits", 5, "Boat")
    assert signed_in.post(f"/crate/tray/{trays['A'].pk}/", {**values, "rows": 99}, headers=HTMX).status_code == 422
    assert "There is something in it" in post(signed_in, f"tray/{trays['A'].pk}/delete/")
    post(signed_in, "tray/", name="New", label="teal")
    made = Tray.objects.get(owner=wren, letter="G")
    assert "Tray G is gone" in post(signed_in, f"tray/{made.pk}/delete/")


def test_the_history_shows_and_undoes(signed_in, trays):
    post(signed_in, f"lure/{trays['A'].lures.first().pk}/delete/")
    page = text(signed_in.get("/crate/history/"))
    assert "Matte shad is taken out." in page
    change = Change.objects.first()
    again = signed_in.post(f"/crate/undo/{change.pk}/", {"from": "history"}, follow=True)
    assert "Undone: Matte shad is taken out." in text(again)


def test_nothing_of_it_is_a_strangers(intruder, wren, trays):
    lure = trays["A"].lures.first()
    for address in ("move", "split", "merge"):
        assert (
            intruder.post(f"/crate/lure/{lure.pk}/{address}/", {"tray": trays["A"].pk, "count": 1}).status_code == 404
        )
    assert intruder.post(f"/crate/tray/{trays['A'].pk}/", {"name": "x", "label": "teal"}).status_code == 404
    assert "Matte shad" not in text(intruder.get("/crate/export/csv/"))
    assert "none at home" in text(
        intruder.post("/crate/bring/", {"category": "jerkbait", "card": "shad-glass", "count": 1})
    )
