"""Lures from a file: read, looked over row by row, taken in at once; and out again in the same form."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.core.paginator import Paginator
from django.db.models import Count
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.base.numbers import read_whole
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.palette import Palette
from tackle.intake.sheet_rows import FIELDS, Draft, as_cells, equal_rows, joined
from tackle.intake.sheet_things import NO_LURE
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.common.ui.keys import LARGEST_KEY
from web.common.work.heavy import begin, waited_for
from web.common.work.services import begin as new_job
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors
from web.domain.crate import services as crate
from web.domain.crate.models import ImportDraft, ImportRow, Tray
from web.domain.crate.selectors import Stock
from web.pages.intake import drafts, services
from web.pages.intake.files import KINDS, MOST_BYTES, MOST_CELL, READ, write_table
from web.pages.intake.forms import UploadForm
from web.pages.intake.tasks import read_file

PAGE = 40
QUICK_BYTES = 100_000  # a file that is read at once
SAMPLE = 40
_TYPES = {
    "csv": "text/csv; charset=utf-8",
    "tsv": "text/tab-separated-values; charset=utf-8",
    "json": "application/json",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
}


@dataclass(frozen=True, slots=True)
class Standing:
    """A row that is understood, the like of it that lies in the crate, and what becomes of it because of that."""

    pk: int
    like: Stock | None
    what: str  # "new", "add", "leave", "apart" or "ask"


@takes(MOST_BYTES)
def upload(request: OwnRequest) -> HttpResponse:
    """The form for a file; posted, the file is read and kept to be looked over."""
    form = UploadForm(request.user, request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        file = form.cleaned_data["file"]
        content, tray = file.read(MOST_BYTES + 1), form.cleaned_data["tray"]
        asked = {"tray": tray.pk if tray else None}
        try:
            job = new_job(request.user, "file", request.path, name=file.name, asked=asked, content=content)
            job = begin(read_file, job, at_once=len(content) <= QUICK_BYTES)
            if not job.wrong:
                return waited_for(request, job)
            form.add_error("file", job.wrong)
        except ValidationError as error:
            form.add_error("file", error)
    return render(request, "intake/upload.html", {"form": form, "kinds": READ}, status=422 if form.errors else 200)


def look_over(request: OwnRequest, pk: int) -> HttpResponse:
    """The rows as they would go in. Posted: what a column holds, which sheets, or one row put right."""
    wrong = ""
    if request.method == "POST":
        try:
            _put_right(request, selectors.get_draft(request.user, pk))
        except ValidationError as error:
            wrong = " ".join(error.messages)
    return _preview(request, selectors.get_draft(request.user, pk), wrong)


def _put_right(request: OwnRequest, kept: ImportDraft) -> None:
    owner, post = request.user, request.POST
    row = read_whole(post.get("row", ""), 0, LARGEST_KEY)
    if "mend" in post:
        services.mend(owner, kept.pk, post["mend"], post.get("on") == "1")
    elif "join" in post:
        services.join_equal(owner, kept.pk, post["join"] == "1")
    elif "sheets" in post:
        services.want_sheets(owner, kept.pk, {int(one) for one in post.getlist("sheet") if one.isdecimal()})
    elif "there" in post:
        services.settle_there(owner, kept.pk, post["there"], row)
    elif "columns" in post:
        sheet = read_whole(post["columns"], 0, len(kept.sheets) - 1) or 0
        names = [post.get(f"column-{index}", "") for index in range(len(kept.sheets[sheet]["columns"]))]
        services.name_columns(owner, kept.pk, sheet, drafts.columns_known(names))
    elif row is None:
        raise ValidationError(services.GONE)
    elif post.get("drop"):
        services.leave_row_out(owner, kept.pk, row)
    else:
        _put_cells_right(request, kept, row)


def _put_cells_right(request: OwnRequest, kept: ImportDraft, pk: int) -> None:
    owner, row = request.user, kept.rows.filter(pk=pk).first()
    if row is None:
        raise ValidationError(services.GONE)
    columns = kept.sheets[row.sheet]["columns"]
    data = {
        index: request.POST[f"cell-{index}"][:MOST_CELL]
        for index, name in enumerate(columns)
        if name and f"cell-{index}" in request.POST
    }
    services.put_row_right(owner, kept.pk, pk, data, "alike" in request.POST)
    for place, text in data.items():
        # A colour chosen for a printed name is remembered, and holds for the same name below.
        if columns[place] == "colour" and row.cells[place] != text and text in get_palette(owner).by_id:
            category = kept.rows.get(pk=pk).told["category"]
            crate.remember_name(owner, category, row.cells[place], text)
            services.read_names_again(owner, kept.pk)


@require_POST
def accept(request: OwnRequest, pk: int) -> HttpResponse:
    """Takes the rows that are understood in at once; the others stay, to be put right."""
    owner, kept = request.user, selectors.get_draft(request.user, pk)
    palette = get_palette(owner)
    standing = [one for one in _standing(owner, kept, palette) if one.what != "ask"]
    going = [one for one in standing if one.what != "leave"]
    if not standing:
        return _preview(request, kept, "No row can be taken in as it is: put one right first.")
    try:
        rows = kept.rows.in_bulk([one.pk for one in going])
        going, read = _stacks(going, [drafts.draft_from(rows[one.pk], palette) for one in going], kept)
        onto = [int(one.like.lure.ref) if one.like and one.what == "add" else None for one in going]
        words = f"{_counted(read)} from {kept.name} are in." if read else f"Nothing of {kept.name} is new."
        source = (kept, [one.pk for one in standing])
        change = crate.take_in(owner, read, _trays(owner, kept, read, palette), words, onto, source)
    except (ValidationError, KeyError) as error:
        said = " ".join(error.messages) if isinstance(error, ValidationError) else services.GONE
        return _preview(request, kept, said)
    left = kept.rows.filter(sheet__in=kept.wanted).count()
    rest = f" {left} {'row is' if left == 1 else 'rows are'} left to put right." if left else ""
    messages.success(request, f"{change.words} The history can undo it.{rest}")
    return redirect("import-draft", kept.pk) if left else redirect("crate")


def _counted(read: list[Draft]) -> str:
    """How many lures and things go in, in words."""
    lures, things = (sum(draft.count for draft in read if bool(draft.thing) is one) for one in (False, True))
    said = [f"{lures} lures"] if lures or not things else []
    return " and ".join([*said, *([f"{things} other things" if lures else f"{things} things"] if things else [])])


def _stacks(going: list[Standing], read: list[Draft], kept: ImportDraft) -> tuple[list[Standing], list[Draft]]:
    """What goes in as one stack each: each row, or equal ones together where that was said."""
    if services.JOINED not in kept.mended:
        return going, read
    groups = [
        [places[place] for place in group]
        for what in dict.fromkeys(one.what for one in going)
        if (places := [index for index, one in enumerate(going) if one.what == what])
        for group in equal_rows([read[place] for place in places])
    ]
    return [going[group[0]] for group in groups], [joined([read[place] for place in group]) for group in groups]


def _equal(kept: ImportDraft, palette: Palette) -> tuple[int, int]:
    """How many rows that are understood have an equal, and how many stacks they would be."""
    good = kept.rows.filter(amiss=False, sheet__in=kept.wanted)
    likes = good.order_by().values("like").annotate(rows=Count("pk")).filter(rows__gt=1).values_list("like", flat=True)
    read = [drafts.draft_from(row, palette) for row in good.filter(like__in=list(likes))]
    groups = [group for group in equal_rows(read) if len(group) > 1]
    return sum(map(len, groups)), len(groups)


def _standing(owner: User, kept: ImportDraft, palette: Palette) -> list[Standing]:
    """The rows that are understood, of the sheets that are wanted, each held against the crate."""
    likes = drafts.group_by_likeness(
        selectors.list_stock(owner, palette), selectors.list_trays_with_places(owner), kept
    )
    rows = kept.rows.filter(amiss=False, sheet__in=kept.wanted).values_list("pk", "like", "there")
    things = {
        drafts.like("", "", Draft(size_in=one.size_in, weight_oz=one.weight_oz), one.name, one.tray.letter.lower())
        for one in selectors.list_things(owner)
    }
    found = []
    for pk, like, there in rows:
        stock = likes.get(like)
        what = "leave" if like in things else "new"
        found.append(Standing(pk, stock, (there or kept.there or "ask") if stock else what))
    return found


def _trays(owner: User, kept: ImportDraft, read: list[Draft], palette: Palette) -> list[Tray | str]:
    """The tray of each row: the one it names by letter or name, or that name for a new one; else the one chosen, else
    where its kind lies."""
    trays = list(selectors.list_trays_with_places(owner))
    named: dict[str, Tray | str] = {key.lower(): tray for tray in trays for key in (tray.name, tray.letter)}
    homes = {} if kept.tray else selectors.list_homes(selectors.list_stock(owner, palette), trays)
    found: list[Tray | str] = []
    for draft in read:
        letter, _, name = draft.tray.partition(" · ")
        data = named.get((name or letter).lower()) or named.get(letter.lower())
        if draft.tray and data is None:
            data = named[draft.tray.lower()] = name or letter
        first: Tray | str = trays[0] if trays else crate.FIRST_TRAY
        found.append(data or kept.tray or homes.get(draft.category) or first)
    return found


def _preview(request: OwnRequest, kept: ImportDraft, wrong: str = "") -> HttpResponse:
    owner, palette = request.user, get_palette(request.user)
    amiss = list(kept.rows.filter(amiss=True, sheet__in=kept.wanted).values_list("pk", flat=True))
    standing = {one.pk: one for one in _standing(owner, kept, palette)}
    asked = [pk for pk, one in standing.items() if one.what == "ask"]
    order = [*amiss, *sorted(standing, key=lambda pk: (standing[pk].like is None, pk))]
    page = Paginator(order, PAGE).get_page(request.GET.get("page"))
    by_pk = kept.rows.in_bulk(list(page))
    shown = [by_pk[pk] for pk in page if pk in by_pk]
    read = [drafts.draft_from(row, palette) for row in shown]
    trays = _trays(owner, kept, read, palette)
    alike = _alike(kept) if any(row.amiss for row in shown) else Counter()
    rows = []
    for row, draft, tray in zip(shown, read, trays, strict=True):
        columns = kept.sheets[row.sheet]["columns"]
        cells = [
            (at, name, cell, draft.wrong.get(name, ""))
            for at, (name, cell) in enumerate(zip(columns, row.cells, strict=False))
            if name
        ]
        rows.append(
            {
                "alike": alike[_unknown(row, columns)] - 1,
                "place": row.pk,
                "number": row.number,
                "sheet": kept.sheets[row.sheet]["name"] if len(kept.sheets) > 1 else "",
                "draft": draft,
                "card": palette.by_id.get(draft.card),
                "cells": cells,
                "loose": [words for name, words in draft.wrong.items() if name not in columns],
                "tray": tray,
                "standing": standing.get(row.pk),
            }
        )
    there = [one for one in standing.values() if one.like]
    left_out = sum(one.what == "leave" for one in standing.values())
    context = {
        "kept": kept,
        "rows": rows,
        "page": page,
        "amiss": len(amiss),
        "understood": len(standing),
        "asked": len(asked),
        "waiting": len(amiss) + len(asked),
        "good": len(standing) - len(asked) - left_out,
        "left_out": left_out,
        "there": len(there),
        "sheets": _sheets(kept),
        "mends": drafts.mends_said(kept),
        "equal": _equal(kept, palette),
        "joined": services.JOINED in kept.mended,
        "fields": list(FIELDS),
        "categories": list(CATEGORIES),
        "ways": ImportDraft.There.choices[1:],
        "wrong": wrong,
    }
    template = "intake/preview_body.html" if request.htmx else "intake/preview.html"
    return render(request, template, context, status=422 if wrong else 200)


def _sheets(kept: ImportDraft) -> list[dict[str, Any]]:
    """The sheets, each column with its heading, three of its cells, and what it is taken for."""
    counts = dict(kept.rows.order_by().values_list("sheet").annotate(rows=Count("pk")))
    shown = []
    for index, sheet in enumerate(kept.sheets):
        sample = [row.cells for row in kept.rows.filter(sheet=index)[:SAMPLE]]
        columns = [
            (at, heading, name, list(dict.fromkeys(cells[at] for cells in sample if cells[at].strip()))[:3])
            for at, (heading, name) in enumerate(zip(sheet["headings"], sheet["columns"], strict=True))
        ]
        rows = counts.get(index, 0)
        shown.append({"name": sheet["name"], "wanted": sheet["wanted"], "rows": rows, "columns": columns})
    return shown


def _alike(kept: ImportDraft) -> Counter[tuple[int, int, str]]:
    """How many rows have each category or colour that is to be put right, as it stands: by sheet, column and text."""
    rows = kept.rows.filter(amiss=True, sheet__in=kept.wanted)
    return Counter(_unknown(row, kept.sheets[row.sheet]["columns"]) for row in rows)


def _unknown(row: ImportRow, columns: list[str]) -> tuple[int, int, str]:
    """Where a row's category, or else its colour, is not known, and what stands there."""
    name = next((one for one in ("category", "colour") if one in row.told["wrong"] and one in columns), "")
    place = columns.index(name) if name else -1
    return row.sheet, place, row.cells[place] if name else f"row {row.pk}"


def export(request: OwnRequest, kind: str) -> HttpResponse:
    """The whole crate as a table that comes back in unchanged."""
    if kind not in KINDS:
        raise Http404
    names = (
        "category",
        "card",
        "name",
        "count",
        "size_in",
        "weight_oz",
        "depth_ft",
        "sound",
        "price",
        "condition",
        "note",
        "typed",
    )
    lures = selectors.found_lures(request.user, get_palette(request.user), "", "", "", "").values(
        *names, "tray__letter", "tray__name"
    )
    rows = [as_cells({**lure, "tray": f"{lure['tray__letter']} · {lure['tray__name']}"}) for lure in lures]
    for thing in selectors.list_things(request.user):
        told = {name: getattr(thing, name) for name in ("name", "count", "size_in", "weight_oz", "typed")}
        tray = f"{thing.tray.letter} · {thing.tray.name}"
        rows.append(as_cells({**told, "category": NO_LURE, "card": "", "tray": tray}))
    return HttpResponse(
        write_table(kind, list(FIELDS), rows),
        content_type=_TYPES[kind],
        headers={"Content-Disposition": f'attachment; filename="crate.{kind}"'},
    )
