"""Lures from files: read, put right, taken in, and out again."""

import datetime
import io
import json
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.owner import renewed
from tests.pages import text
from web.domain.crate.models import ImportDraft, ImportRow, Lure, Thing, Tray
from web.domain.history.models import Change
from web.pages.intake import files
from web.pages.intake.files import KINDS, read_sheets, write_table

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}
LIST = """Qty;Type;Color;Length;Box
3;worm;watermelon red;6 in;C
many;jerkbait;bone;4.5;
2;thing;black;;
1;worm;moonlight;;
"""


def send(client, name, content, tray):
    content = content.encode() if isinstance(content, str) else content
    data = {"file": SimpleUploadedFile(name, content), "tray": tray.pk}
    return client.post("/crate/import/", data, follow=True)


def sample_cells(draft):
    return [row.cells for row in ImportRow.objects.filter(draft=draft)]


def row_at(draft, place):
    return {"row": ImportRow.objects.filter(draft=draft)[place].pk}


@pytest.fixture
def tray(wren):
    return Tray.objects.get(owner=wren, letter="C")


def test_three_bad_rows_are_put_right_and_all_taken_in_and_undone(signed_in, wren, tray):
    before = Lure.objects.filter(tray__owner=wren).count()
    page = text(send(signed_in, "mine.csv", LIST, tray))
    assert "1 row is understood" in page
    assert "3 need a hand" in page
    draft = ImportDraft.objects.get(owner=wren)
    address = f"/crate/import/{draft.pk}/"
    assert Lure.objects.filter(tray__owner=wren).count() == before
    signed_in.post(address, {**row_at(draft, 1), "cell-0": "2"}, headers=HTMX)
    signed_in.post(address, {**row_at(draft, 2), "cell-1": "popper"}, headers=HTMX)
    page = text(signed_in.post(address, {**row_at(draft, 3), "cell-2": "red-bug"}, headers=HTMX))
    assert "4 rows are understood" in page
    assert "needs a hand" not in page
    signed_in.post(f"{address}accept/")
    assert Lure.objects.filter(tray__owner=wren).count() == before + 4
    assert Lure.objects.get(tray=tray, card="watermelon-red", count=3).size_in == 6
    assert not ImportDraft.objects.exists()
    # The colour chosen for a printed name is known next time.
    assert "2 rows are understood" in text(
        send(signed_in, "again.csv", "type,color\nworm,moonlight\nworm,black\n", tray)
    )
    signed_in.post(f"/crate/undo/{Change.objects.first().pk}/")
    assert Lure.objects.filter(tray__owner=wren).count() == before


def test_the_good_ones_are_taken_in_and_the_rest_stays(signed_in, wren, tray):
    before = Lure.objects.filter(tray__owner=wren).count()
    page = text(send(signed_in, "mine.csv", LIST, tray))
    assert "Import 1, leave 3" in page
    draft = ImportDraft.objects.get(owner=wren)
    page = text(signed_in.post(f"/crate/import/{draft.pk}/accept/", follow=True))
    assert "3 rows are left to put right" in page
    assert Lure.objects.filter(tray__owner=wren).count() == before + 1
    assert [row[1] for row in sample_cells(draft)] == ["jerkbait", "thing", "worm"]
    assert signed_in.post(f"/crate/import/{draft.pk}/accept/").status_code == 422
    assert Lure.objects.filter(tray__owner=wren).count() == before + 1


def test_what_is_put_right_once_holds_for_all_like_it_and_good_rows_can_be_changed(signed_in, wren, tray):
    rows = "Type;Color;Qty\nthing;black;1\nthing;white;2\nfrog;white;3\n"
    page = text(send(signed_in, "mine.csv", rows, tray))
    assert "the same for 1 other row like it" in page
    draft = ImportDraft.objects.get(owner=wren)
    told = {**row_at(draft, 0), "cell-0": "popper", "alike": "1"}
    page = text(signed_in.post(f"/crate/import/{draft.pk}/", told, headers=HTMX))
    assert "3 rows are understood." in page
    told = {**row_at(draft, 2), "cell-0": "frog", "cell-1": "black", "cell-2": "4"}
    signed_in.post(f"/crate/import/{draft.pk}/", told, headers=HTMX)
    assert sample_cells(draft) == [["popper", "black", "1"], ["popper", "white", "2"], ["frog", "black", "4"]]


def test_a_tray_that_is_not_there_is_made(signed_in, wren, tray):
    rows = "Type;Color;Box\nworm;black;Red box\nfrog;white;red box\npopper;bone;C\n"
    page = text(send(signed_in, "mine.csv", rows, tray))
    assert "<b>new tray</b> “Red box”" in page
    draft = ImportDraft.objects.get(owner=wren)
    signed_in.post(f"/crate/import/{draft.pk}/accept/")
    made = Tray.objects.get(owner=wren, name="Red box")
    assert sorted(made.lures.values_list("category", flat=True)) == ["frog", "worm"]


def repeated():
    """A sheet as table programs write them: cells and rows told once for several, a million empty rows below."""
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    def row(*cells, **options):
        made = TableRow(**options)
        for words, times in cells:
            cell = TableCell(numbercolumnsrepeated=times) if times > 1 else TableCell()
            if words:
                cell.addElement(P(text=words))
            made.addElement(cell)
        return made

    book, table = OpenDocumentSpreadsheet(), Table(name="mine")
    table.addElement(row(("My tackle box", 1)))
    table.addElement(row(("", 4)))
    table.addElement(row(("Type", 1), ("Color", 1), ("", 2), ("Count", 1)))
    table.addElement(row(("worm", 1), ("black", 3), ("2", 1), numberrowsrepeated=2))
    table.addElement(row(("frog", 1), ("white", 1), ("", 2), ("2", 1)))
    table.addElement(row(("", 1000), numberrowsrepeated=1_000_000))
    book.spreadsheet.addElement(table)
    held = io.BytesIO()
    book.write(held)
    return held.getvalue()


def test_cells_and_rows_told_once_for_several_are_read_as_several(signed_in, wren, tray):
    (sheet,) = read_sheets("mine.ods", repeated())
    assert sheet.rows[-3:] == [["worm", "black", "black", "black", "2"]] * 2 + [["frog", "white", "", "", "2"]]
    page = text(send(signed_in, "mine.ods", repeated(), tray))
    assert "3 rows are understood" in page  # the title and the empty row above the headings are none


def test_columns_can_be_told_and_rows_left_out(signed_in, wren, tray):
    page = text(send(signed_in, "odd.tsv", "x\ty\nred bug\tworm\nnothing\tanvil\n", tray))
    draft = ImportDraft.objects.get()
    assert draft.sheets[0]["columns"] == ["colour", "category"] or "need" in page
    address = f"/crate/import/{draft.pk}/"
    signed_in.post(address, {"columns": 0, "column-0": "colour", "column-1": "category"}, headers=HTMX)
    rows = sample_cells(draft)
    as_the_page_posts = {**row_at(draft, 0), "cell-0": "mauve", "cell-1": "popper", "drop": "1"}
    page = text(signed_in.post(address, as_the_page_posts, headers=HTMX))
    assert sample_cells(draft) == rows[1:]  # left out, and written into no other
    assert "not there any more" in text(signed_in.post(address, as_the_page_posts, headers=HTMX))
    assert sample_cells(draft) == rows[1:]
    nothing = {"columns": 0, "column-0": "", "column-1": "category"}
    assert "names no colour" in text(signed_in.post(address, nothing, headers=HTMX))


def test_a_list_of_lines_goes_where_each_kind_lies(signed_in, wren):
    lines = "3 worm red bug 6in\n2 jerkbait bone 1/2 oz rattling\n1 jerkbait tiger\n"
    file = SimpleUploadedFile("mine.txt", lines.encode())
    page = text(signed_in.post("/crate/import/", {"file": file, "tray": ""}, follow=True))
    assert "3 rows are understood." in page
    assert "1/2 oz, rattle · tray A" in page
    assert "worm, 6 in · tray C" in page


LISTED = """3 worm red bug, 6in
2 jerkbait bone, 1/2 oz, rattling, $8.99
frog white
popper bone + popper black
another, rusty
Subtotal, 12.40
"""


def test_a_list_with_commas_is_no_table_and_keeps_its_lines(signed_in, wren):
    file = SimpleUploadedFile("mine.txt", LISTED.encode())
    page = text(signed_in.post("/crate/import/", {"file": file, "tray": ""}, follow=True))
    assert "6 rows are understood." in page
    signed_in.post(f"/crate/import/{ImportDraft.objects.get().pk}/accept/")
    mine = Lure.objects.filter(tray__owner=wren)
    assert mine.filter(typed="popper bone + popper black").count() == 2
    assert float(mine.get(typed__startswith="2 jerkbait").price) == 8.99
    assert mine.get(typed="another, rusty").condition == "rusty"


@pytest.mark.parametrize(
    ("name", "content"),
    [
        ("a.csv", "Type,Color,Qty,L (in),Box no.\nworm,red bug,12 pcs,7,Red box\nfrog,white,x2,,Red box\n"),
        ("a.json", '{"made": "today", "lures": [{"type": "worm", "colour": "red bug", "qty": "12 pk", "l (in)": "7", '
         '"box no.": "Red box"}, {"type": "frog", "colour": "white", "qty": 2, "box no.": "Red box"}]}'),
    ],
)  # fmt: skip
def test_headings_and_counts_as_others_write_them(signed_in, wren, name, content):
    file = SimpleUploadedFile(name, content.encode())
    assert "2 rows are understood" in text(signed_in.post("/crate/import/", {"file": file, "tray": ""}, follow=True))
    signed_in.post(f"/crate/import/{ImportDraft.objects.get().pk}/accept/")
    lures = Tray.objects.get(owner=wren, name="Red box").lures
    assert set(lures.values_list("category", "count", "size_in")) == {("worm", 12, 7.0), ("frog", 2, None)}


def a_workbook():
    """Two sheets, as a table program writes them: merged cells, a formula whose value was never worked out, a date."""
    import openpyxl

    book = openpyxl.Workbook()
    first = book.active
    first.title = "Boat"
    rows = [["Type", "Color", "Qty", "Weight"], ["frog", "white", "=1+2", None], [None, "black", 2, None]]
    for row in [*rows, ["spinnerbait", "white", "=B2", datetime.date(2026, 3, 8)]]:
        first.append(row)
    first.merge_cells("A2:A3")
    other = book.create_sheet("Garage")
    for row in [["Color", "Bait"], ["bone", "popper"]]:
        other.append(row)
    book.create_sheet("Empty")
    held = io.BytesIO()
    book.save(held)
    return held.getvalue()


def test_sheets_merged_cells_and_formulas_without_values_are_shown_and_put_right(signed_in, wren, tray):
    page = " ".join(text(send(signed_in, "mine.xlsx", a_workbook(), tray)).split())
    for said in (
        "Boat",
        "Garage",
        "1 cell lies under a merged one",
        "1 date where a fraction",
        "worked out as <b>3</b>",
    ):
        assert said in page, said
    assert "4 rows are understood" not in page  # one formula cannot be worked out
    draft = ImportDraft.objects.get()
    address = f"/crate/import/{draft.pk}/"
    page = text(signed_in.post(address, {"mend": "formula", "on": "1"}, headers=HTMX))
    assert "is left blank: how many are there" in page  # nobody takes it for one unasked
    page = text(signed_in.post(address, {**row_at(draft, 2), "cell-2": "1"}, headers=HTMX))
    assert "4 rows are understood" in page
    assert [row[:3] for row in sample_cells(draft)[:3]] == [
        ["frog", "white", "3"], ["frog", "black", "2"], ["spinnerbait", "white", "1"],
    ]  # fmt: skip
    page = text(signed_in.post(address, {"mend": "merged", "on": "0"}, headers=HTMX))
    assert "names no category" in page
    signed_in.post(address, {"mend": "merged", "on": "1"}, headers=HTMX)
    assert signed_in.post(address, {"mend": "magic", "on": "1"}, headers=HTMX).status_code == 422
    signed_in.post(address, {"sheets": "1", "sheet": "0"}, headers=HTMX)
    signed_in.post(f"{address}accept/")
    taken = Lure.objects.filter(tray=tray, category__in=("frog", "spinnerbait", "popper")).order_by("pk")
    assert [(one.category, one.count, one.weight_oz) for one in taken][-3:] == [
        ("frog", 3, None), ("frog", 2, None), ("spinnerbait", 1, 0.375),
    ]  # fmt: skip
    assert not ImportDraft.objects.exists()  # the sheet that is not wanted keeps nothing waiting


def test_what_is_in_the_crate_already_is_asked_about(signed_in, wren, tray):
    Lure.objects.all().delete()
    held = [Lure.objects.create(tray=tray, category=what, card="black-plain", count=2) for what in ("worm", "popper")]
    rows = "Type;Color;Qty;Box\nworm;black;3;C\npopper;black;1;C\nfrog;black;1;C\nworm;black;1;B\n"
    page = text(send(signed_in, "mine.csv", rows, tray))
    assert "2 of them are in the tackle box already" in page
    assert "Import 2, leave 2" in page
    draft = ImportDraft.objects.get()
    address = f"/crate/import/{draft.pk}/"
    signed_in.post(address, {"there": "add"}, headers=HTMX)
    page = text(signed_in.post(address, {**row_at(draft, 1), "there": "leave"}, headers=HTMX))
    assert "1 row left out" in page
    signed_in.post(f"{address}accept/")
    assert [Lure.objects.get(pk=one.pk).count for one in held] == [5, 2]
    assert Lure.objects.count() == 4
    signed_in.post(f"/crate/undo/{Change.objects.first().pk}/")
    assert [one.count for one in Lure.objects.order_by("pk")] == [2, 2]


@pytest.mark.parametrize("kind", KINDS)
def test_what_goes_out_comes_back_unchanged(signed_in, wren, tray, kind):
    content = signed_in.get(f"/crate/export/{kind}/").content
    before = everything(wren)
    page = text(send(signed_in, f"crate.{kind}", content, tray))
    assert f"{len(before)} rows are understood" in page
    Lure.objects.all().delete()
    renewed(wren)
    signed_in.post(f"/crate/import/{ImportDraft.objects.get().pk}/accept/")
    assert everything(wren) == before


WORKBOOK = (
    "category;name;size;weight;count;tray\nhook;EWG hook;3/0;;12;\nworm weights;;;3/8 oz;10;C\nworm;black;6 in;;2;C\n"
)


def test_hooks_weights_and_line_are_things_and_come_and_go_with_the_lures(signed_in, wren, tray):
    rows = WORKBOOK.replace("worm;black", "worm;Black").replace("name;", "colour;", 1)
    page = text(send(signed_in, "mine.csv", rows, tray))
    assert "3 rows are understood" in page
    assert "no lure" in page
    draft = ImportDraft.objects.get(owner=wren)
    page = text(signed_in.post(f"/crate/import/{draft.pk}/accept/", follow=True))
    assert "2 lures and 22 other things from mine.csv are in" in page
    hooks = Thing.objects.get(tray__owner=wren, name__icontains="EWG")
    assert (hooks.name, hooks.count, hooks.size_in) == ("hook EWG hook 3/0", 12, None)
    assert Thing.objects.get(tray__owner=wren, name="worm weights").weight_oz == pytest.approx(0.375)
    there = things(wren)
    out = signed_in.get("/crate/export/csv/").content
    assert "C · ".encode() in out
    page = text(send(signed_in, "again.csv", out, tray))
    assert "there already: left" in " ".join(page.split())
    signed_in.post(f"/crate/undo/{Change.objects.first().pk}/")
    assert not Thing.objects.filter(tray__owner=wren, name__icontains="EWG").exists()
    draft = ImportDraft.objects.latest("pk")
    signed_in.post(f"/crate/import/{draft.pk}/", {"there": "leave"}, headers=HTMX)
    signed_in.post(f"/crate/import/{draft.pk}/accept/")
    assert things(wren) == there


def things(owner):
    return sorted(
        Thing.objects.filter(tray__owner=owner).values_list("name", "count", "size_in", "weight_oz", "tray__letter")
    )


def everything(owner):
    fields = ("tray__letter", "category", "card", "name", "count", "size_in", "weight_oz", "depth_ft", "sound", "note")
    return sorted(Lure.objects.filter(tray__owner=owner).values_list(*fields), key=str)


def a_bomb():
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b"0" * (files.MOST_UNPACKED + 1))
    return held.getvalue()


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("a.pdf", b"%PDF", "not a table that can be read"),
        ("a.csv", b"", "empty"),
        ("a.csv", b"type,colour\n", "no row below the headings"),
        ("a.csv", b"\x00\x01\x02\xff\xfe" * 40, "not text"),
        ("a.xlsx", b"PK\x03\x04 not really", "no XLSX"),
        ("a.ods", b"plain text", "no ODS"),
        ("a.json", b'{"a": 1}', "not a list of objects"),
        ("a.json", b"[" * 100_000, "no JSON"),
        ("a.csv", b"a," * 100 + b"\n" + b"1," * 100, "columns"),
        ("a.csv", b"a\n" + b"1\n" * 20_001, "20001 rows"),
    ],
)
def test_a_file_that_cannot_be_read_says_why(signed_in, tray, name, content, said):
    response = send(signed_in, name, content, tray)
    assert said in text(response)
    assert not ImportDraft.objects.exists()


def test_a_sheet_that_unpacks_to_too_much_is_refused(signed_in, tray):
    assert "unpacks to far more" in text(send(signed_in, "a.xlsx", a_bomb(), tray))


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.sampled_from(KINDS),
    st.one_of(
        st.binary(max_size=300),
        st.lists(st.lists(st.text(max_size=12), min_size=1, max_size=5), min_size=1, max_size=6),
    ),
)
def test_no_file_ends_in_a_server_error_or_half_written(signed_in, tray, kind, content):
    if isinstance(content, list):
        width = max(map(len, content))
        rows = [[*row, *[""] * (width - len(row))] for row in content]
        if kind == "json":
            content = json.dumps([dict(zip(rows[0], row, strict=True)) for row in rows[1:]]).encode()
        else:
            content = "\n".join("\t".join(row) for row in rows).encode("utf-8", "replace")
    before = Lure.objects.count()
    response = send(signed_in, f"fuzz.{kind}", content, tray)
    assert response.status_code in (200, 422)
    draft = ImportDraft.objects.first()
    if draft:
        rows = draft.rows.count()
        accepted = signed_in.post(f"/crate/import/{draft.pk}/accept/", follow=True)
        assert accepted.status_code in (200, 422)
        assert Lure.objects.count() - before in (0, rows)
        Lure.objects.filter(pk__gt=0).exclude(tray__owner=tray.owner).delete()
        ImportDraft.objects.all().delete()


@settings(max_examples=30, deadline=None)
@given(
    st.sampled_from(KINDS),
    st.lists(
        st.lists(st.text("abcæ é,;0-9", min_size=1, max_size=8).map(str.strip), min_size=2, max_size=2),
        min_size=1,
        max_size=5,
    ),
)
def test_a_written_table_reads_back(kind, rows):
    # Two spaces, marks and what a table program takes for a formula or an error go through as they are.
    rows = [*rows, ["=1+1  &  <b>", "#N/A"], ["+plus", "@at"], ["-minus", "'quoted"]]
    rows = [row for row in rows if all(row) and not row[0].isdecimal() and not row[1].isdecimal()]
    if rows:
        (sheet,) = read_sheets(f"t.{kind}", write_table(kind, ["one", "two"], rows))
        assert sheet.rows == [["one", "two"], *rows]


def test_a_draft_is_its_owners(signed_in, wren, tray, client, stranger):
    send(signed_in, "mine.csv", LIST, tray)
    draft = ImportDraft.objects.get()
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.get(f"/crate/import/{draft.pk}/").status_code == 404
    assert client.post(f"/crate/import/{draft.pk}/accept/").status_code == 404


@pytest.mark.parametrize("kind", ["xlsx", "ods"])
def test_a_workbook_with_a_password_says_so(signed_in, kind):
    locked = bytes.fromhex("d0cf11e0a1b11ae1") + b"\0" * 600
    if kind == "ods":
        whole = io.BytesIO()
        with zipfile.ZipFile(whole, "w") as packed:
            packed.writestr("content.xml", b"\x8f\x02 not to be read")
            packed.writestr("META-INF/manifest.xml", "<m:file-entry><m:encryption-data/></m:file-entry>")
        locked = whole.getvalue()
    page = text(signed_in.post("/crate/import/", {"file": SimpleUploadedFile(f"box.{kind}", locked)}, follow=True))
    assert "has a password" in page


def test_equal_rows_go_in_as_one_stack_where_that_is_said(signed_in, wren, tray):
    rows = ["2,worm,red bug,7 in,", "1,worm,red bug,7 in,", "1,worm,red bug,7 in,the old ones", "4,worm,red bug,7 in,"]
    page = text(send(signed_in, "mine.csv", "\n".join(["Qty,Type,Color,Length,Notes", *rows]), tray))
    assert "3 rows say the same as another" in page
    assert "Joined they are 1 stack" in page
    draft = ImportDraft.objects.get(owner=wren)
    before = set(Lure.objects.values_list("pk", flat=True))
    signed_in.post(f"/crate/import/{draft.pk}/", {"join": "1"}, headers=HTMX)
    page = text(signed_in.post(f"/crate/import/{draft.pk}/accept/", follow=True))
    assert "8 lures from mine.csv are in." in page
    new = Lure.objects.exclude(pk__in=before)
    assert sorted((one.count, one.note) for one in new) == [(1, "the old ones"), (7, "")]
