"""Lures from a file: read, looked over row by row, taken in at once; and out again in the same form."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.colours.palette import Palette
from tackle.errors import Refused
from tackle.intake.columns import headed
from tackle.intake.table import FIELDS, Draft, as_cells, read_row
from tackle.numbers import read_whole
from tackle.vocabulary import CATEGORIES
from web.accounts.models import User
from web.colours.reads import palette_of
from web.crate import changes, reads
from web.crate.files import KINDS, MOST_BYTES, MOST_CELL, MOST_ROWS, READ, read_table, write_table
from web.crate.forms import UploadForm
from web.crate.models import ImportDraft, Tray

PAGE = 40
_TYPES = {
    "csv": "text/csv; charset=utf-8",
    "tsv": "text/tab-separated-values; charset=utf-8",
    "json": "application/json",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
}


def upload(request: HttpRequest) -> HttpResponse:
    """The form for a file; posted, the file is read and kept to be looked over."""
    form = UploadForm(request.user, request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        file = form.cleaned_data["file"]
        try:
            table = read_table(file.name, file.read(MOST_BYTES + 1))
            headings, rows, columns = headed(table, palette_of(request.user), request.user.units)
            tray = form.cleaned_data["tray"]
            draft = changes.keep_draft(request.user, file.name, headings, rows, columns, tray)
            return redirect("import-draft", draft.pk)
        except ValidationError as error:
            form.add_error("file", error)
        except Refused as refused:
            form.add_error("file", f"The file {refused.wrong}: {refused.allowed}.")
    return render(request, "crate/upload.html", {"form": form, "kinds": READ}, status=422 if form.errors else 200)


def look_over(request: HttpRequest, pk: int) -> HttpResponse:
    """The rows as they would go in. Posted: what a column holds, or one row put right."""
    kept, wrong = reads.draft_of(request.user, pk), ""
    if request.method == "POST":
        try:
            kept = _put_right(request, kept)
        except ValidationError as error:
            wrong = " ".join(error.messages)
    return _preview(request, kept, wrong)


def _put_right(request: HttpRequest, kept: ImportDraft) -> ImportDraft:
    owner = request.user
    if "row" not in request.POST:
        names = [request.POST.get(f"column-{place}", "") for place in range(len(kept.headings))]
        known = [name if name in FIELDS and name not in names[:place] else "" for place, name in enumerate(names)]
        return changes.name_columns(owner, kept.pk, known)
    row = read_whole(request.POST["row"], 0, len(kept.rows) - 1)
    if row is None or read_whole(request.POST.get("of", ""), 0, MOST_ROWS) != len(kept.rows):
        raise ValidationError("Rows were left out elsewhere since this page was opened: look at it again.")
    if request.POST.get("drop"):
        return changes.leave_row_out(owner, kept.pk, row)
    told = {
        place: request.POST[f"cell-{place}"][:MOST_CELL]
        for place, name in enumerate(kept.columns)
        if name and f"cell-{place}" in request.POST
    }
    for place, text in told.items():
        # A colour chosen for a printed name is remembered, and holds for the same name below.
        if kept.columns[place] == "colour" and kept.rows[row][place] != text and text in palette_of(owner).by_id:
            category = read_row(kept.rows[row], kept.columns, palette_of(owner), owner.units).category
            changes.remember_name(owner, category, kept.rows[row][place], text)
    return changes.put_row_right(owner, kept.pk, row, told, "alike" in request.POST)


@require_POST
def accept(request: HttpRequest, pk: int) -> HttpResponse:
    """Takes the rows that are understood in at once; the others stay, to be put right."""
    kept = reads.draft_of(request.user, pk)
    palette = palette_of(request.user)
    drafts = _drafts(request.user, kept, palette)
    good = [draft for draft in drafts if not draft.wrong]
    left = [row for row, draft in enumerate(drafts) if draft.wrong]
    if not good:
        return _preview(request, kept, "No row can be taken in as it is: put one right first.")
    try:
        trays = _trays(request.user, kept, good, palette)
        words = f"{len(good)} lures from {kept.name} are in."
        change = changes.take_in(request.user, good, trays, words, kept, left)
    except ValidationError as error:
        return _preview(request, kept, " ".join(error.messages))
    rest = f" {len(left)} {'row is' if len(left) == 1 else 'rows are'} left to put right." if left else ""
    messages.success(request, f"{change.words} The history can undo it.{rest}")
    return redirect("import-draft", kept.pk) if left else redirect("crate")


def _trays(owner: User, kept: ImportDraft, drafts: list[Draft], palette: Palette) -> list[Tray | str]:
    """The tray of each row: the one it names by letter or name, or that name for a new one; else the one chosen, else
    where its kind lies."""
    trays = list(reads.bare_trays_of(owner))
    named: dict[str, Tray | str] = {key.lower(): tray for tray in trays for key in (tray.name, tray.letter)}
    homes = {} if kept.tray else reads.homes_of(reads.stock_of(owner, palette), trays)
    found: list[Tray | str] = []
    for draft in drafts:
        told = named.get(draft.tray.split(" · ")[0].lower()) or named.get(draft.tray.lower())
        if draft.tray and told is None:
            told = named[draft.tray.lower()] = draft.tray
        first = trays[0] if trays else changes.FIRST_TRAY
        found.append(told or kept.tray or homes.get(draft.category, first))
    return found


def _drafts(owner: User, kept: ImportDraft, palette: Palette) -> list[Draft]:
    known = reads.printed_names(owner)
    return [read_row(row, kept.columns, palette, owner.units, known) for row in kept.rows]


def _preview(request: HttpRequest, kept: ImportDraft, wrong: str = "") -> HttpResponse:
    palette = palette_of(request.user)
    drafts = _drafts(request.user, kept, palette)
    amiss = [place for place, draft in enumerate(drafts) if draft.wrong]
    order = [*amiss, *(place for place, draft in enumerate(drafts) if not draft.wrong)]
    trays = _trays(request.user, kept, drafts, palette)
    page = Paginator(order, PAGE).get_page(request.GET.get("page"))
    rows = []
    for place in page:
        draft = drafts[place]
        cells = [
            (at, name, cell, draft.wrong.get(name, ""))
            for at, (name, cell) in enumerate(zip(kept.columns, kept.rows[place], strict=False))
            if name
        ]
        loose = [words for name, words in draft.wrong.items() if name not in kept.columns]
        rows.append(
            {
                "alike": _alike(kept, place, draft),
                "place": place,
                "number": place + (2 if any(kept.headings) else 1),
                "draft": draft,
                "card": palette.by_id.get(draft.card),
                "cells": cells,
                "loose": loose,
                "tray": trays[place],
            }
        )
    context = {
        "kept": kept,
        "rows": rows,
        "page": page,
        "amiss": len(amiss),
        "good": len(drafts) - len(amiss),
        "columns": list(zip(range(len(kept.headings)), kept.headings, kept.columns, strict=False)),
        "fields": list(FIELDS),
        "categories": list(CATEGORIES),
        "wrong": wrong,
    }
    template = "crate/preview_body.html" if request.htmx else "crate/preview.html"
    return render(request, template, context, status=422 if wrong else 200)


def _alike(kept: ImportDraft, row: int, draft: Draft) -> int:
    """How many other rows have the category, or else the colour, that is to be put right in this one, as it stands."""
    name = next((one for one in ("category", "colour") if one in draft.wrong and one in kept.columns), "")
    if not name:
        return 0
    place = kept.columns.index(name)
    return sum(other[place] == kept.rows[row][place] for other in kept.rows) - 1


def export(request: HttpRequest, kind: str) -> HttpResponse:
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
    )
    lures = reads.found_lures(request.user, palette_of(request.user), "", "", "", "").values(*names, "tray__letter")
    rows = [as_cells({**lure, "tray": lure["tray__letter"]}) for lure in lures]
    return HttpResponse(
        write_table(kind, list(FIELDS), rows),
        content_type=_TYPES[kind],
        headers={"Content-Disposition": f'attachment; filename="crate.{kind}"'},
    )
