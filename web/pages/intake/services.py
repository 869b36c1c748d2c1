"""Every change to a file on its way into the crate: checked, and written in one transaction."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import asdict

from django.core.exceptions import ValidationError

from tackle.intake.sheet import SheetTable, with_units
from tackle.intake.sheet_rows import read_row
from tackle.intake.sheet_things import read_thing
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import ImportDraft, ImportRow, Tray
from web.domain.crate.selectors import get_draft, printed_names
from web.pages.intake.drafts import like

MOST_DRAFTS = 20
BATCH = 1000
FIRST_MENDED = ("merged", "date", "sum")  # a formula that cannot be worked out is asked about instead
JOINED = "equal"  # among what is mended: equal rows go in as one stack
GONE = "That row is not there any more: look at the file again."


def read_draft(
    owner: User, name: str, tables: Sequence[SheetTable], tray: Tray | None, tell: Callable[[str, int, int], None]
) -> tuple[ImportDraft, list[ImportRow]]:
    """A file's tables as a draft with its rows, not kept yet. Says how far it is."""
    draft = ImportDraft(
        owner=owner, name=name[:120], tray=tray, mended=list(FIRST_MENDED),
        sheets=[{"name": one.name, "headings": one.headings, "columns": one.columns, "wanted": True} for one in tables],
        mends=[
            [mend.kind, sheet, table.numbers[mend.row], mend.column, mend.was, mend.told]
            for sheet, table in enumerate(tables) for mend in table.mends
        ],
    )  # fmt: skip
    rows = [
        ImportRow(draft=draft, sheet=sheet, number=number, cells=list(cells))
        for sheet, table in enumerate(tables)
        for number, cells in zip(table.numbers, table.rows, strict=True)
    ]
    _write_mends(draft, rows, dict.fromkeys(FIRST_MENDED, True))
    read_into = _reader(owner, draft)
    for index, row in enumerate(rows):
        if index % BATCH == 0:
            tell("Reading the rows", index, len(rows))
        read_into(row)
    return draft, rows


@one_change
def keep_draft(owner: User, draft: ImportDraft, rows: list[ImportRow]) -> ImportDraft:
    """Keeps a file that was read, to be looked over; the oldest of too many go."""
    draft.save()
    for row in rows:
        row.draft_id = draft.pk
    ImportRow.objects.bulk_create(rows, batch_size=BATCH)
    kept = list(ImportDraft.objects.filter(owner=owner).values_list("pk", flat=True)[:MOST_DRAFTS])
    ImportDraft.objects.filter(owner=owner).exclude(pk__in=kept).delete()
    return draft


@one_change
def leave_row_out(owner: User, pk: int, row: int) -> None:
    """Takes one row out of a draft. Raises ValidationError."""
    if not get_draft(owner, pk).rows.filter(pk=row).delete()[0]:
        raise ValidationError(GONE)


@one_change
def put_row_right(owner: User, pk: int, row: int, cells: dict[int, str], alike: bool = False) -> None:
    """Writes cells of one row, by their place; with `alike`, a category or colour wherever it stood so. Raises
    ValidationError."""
    draft = get_draft(owner, pk)
    held = draft.rows.filter(pk=row).first()
    if held is None:
        raise ValidationError(GONE)
    columns = draft.sheets[held.sheet]["columns"]
    cells = {place: data for place, data in cells.items() if place < len(held.cells)}
    stood = {
        place: held.cells[place] for place in cells if alike and columns[place] in ("category", "colour")
    }  # fmt: skip
    touched = []
    for other in draft.rows.filter(sheet=held.sheet) if stood else [held]:
        if other.pk == row:
            data = cells
        else:
            data = {place: cells[place] for place, was in stood.items() if other.cells[place] == was}
        for place, text in data.items():
            other.cells[place] = text
        if data or other.pk == row:
            touched.append(other)
    _read_again(owner, draft, touched)


@one_change
def name_columns(owner: User, pk: int, sheet: int, columns: list[str]) -> None:
    """Says what the columns of one sheet of a draft hold. Raises ValidationError."""
    draft = get_draft(owner, pk)
    if sheet >= len(draft.sheets) or len(columns) != len(draft.sheets[sheet]["columns"]):
        raise ValidationError("That sheet is not there.")
    draft.sheets[sheet]["columns"] = columns
    draft.save(update_fields=["sheets"])
    _read_again(owner, draft, draft.rows.filter(sheet=sheet))


@one_change
def want_sheets(owner: User, pk: int, wanted: set[int]) -> None:
    """Says which sheets of a draft are to be taken in."""
    draft = get_draft(owner, pk)
    for index, sheet in enumerate(draft.sheets):
        sheet["wanted"] = index in wanted
    draft.save(update_fields=["sheets"])


@one_change
def mend(owner: User, pk: int, kind: str, on: bool) -> None:
    """Puts right all cells of one kind that may say other than was meant, or lets them stand as they were. Raises
    ValidationError."""
    draft = get_draft(owner, pk)
    if kind not in {one[0] for one in draft.mends}:
        raise ValidationError("There is nothing of that kind in the file.")
    if (kind in draft.mended) == on:
        return
    draft.mended = [*draft.mended, kind] if on else [one for one in draft.mended if one != kind]
    draft.save(update_fields=["mended"])
    _read_again(owner, draft, _write_mends(draft, draft.rows.all(), {kind: on}))


@one_change
def join_equal(owner: User, pk: int, on: bool) -> None:
    """Says whether rows that are equal but for their count go in as one stack."""
    draft = get_draft(owner, pk)
    draft.mended = [*(one for one in draft.mended if one != JOINED), *([JOINED] if on else [])]
    draft.save(update_fields=["mended"])


@one_change
def settle_there(owner: User, pk: int, what: str, row: int | None = None) -> None:
    """Says what becomes of lures that the crate has already: of one row, or of all. Raises ValidationError."""
    draft = get_draft(owner, pk)
    if what not in ImportDraft.There.values:
        raise ValidationError(f"{what} is not one of add, leave, apart.")
    if row is None:
        draft.there = what
        draft.save(update_fields=["there"])
    elif not draft.rows.filter(pk=row).update(there=what):
        raise ValidationError(GONE)


@one_change
def read_names_again(owner: User, pk: int) -> None:
    """Reads the rows once more whose colour was not known: one may have been told since."""
    draft = get_draft(owner, pk)
    _read_again(owner, draft, [row for row in draft.rows.filter(amiss=True) if "colour" in row.told["wrong"]])


def _reader(owner: User, draft: ImportDraft) -> Callable[[ImportRow], None]:
    palette, known = get_palette(owner), printed_names(owner)

    def read_into(row: ImportRow) -> None:
        sheet = draft.sheets[row.sheet]
        cells = with_units(row.cells, sheet["headings"], sheet["columns"])
        thing = read_thing(cells, sheet["columns"], owner.units, sheet["name"])
        data = thing or read_row(cells, sheet["columns"], palette, owner.units, known, blank_is_one=False)
        offers, data.offers = [card.id for card in data.offers], ()
        row.told = {**asdict(data), "offers": offers}
        row.amiss = bool(data.wrong)
        row.like = like(data.category, data.card, data, data.thing or data.name, data.tray.split(" · ")[0].lower())

    return read_into


def _read_again(owner: User, draft: ImportDraft, rows: Iterable[ImportRow]) -> None:
    read_into = _reader(owner, draft)
    read = list(rows)
    for row in read:
        read_into(row)
    # Many times faster than an update of many, which asks row by row which it is.
    ImportRow.objects.bulk_create(
        read, batch_size=BATCH, update_conflicts=True, update_fields=["cells", "told", "amiss", "like"]
    )


def _write_mends(draft: ImportDraft, rows: Iterable[ImportRow], kinds: dict[str, bool]) -> list[ImportRow]:
    """Writes the cells of some kinds as they are meant, or as they were; a cell put right by hand since stays."""
    by_row = {(row.sheet, row.number): row for row in rows}
    touched = {}
    for kind, sheet, number, column, was, data in draft.mends:
        row = by_row.get((sheet, number))
        if row is not None and kind in kinds and row.cells[column] == (was if kinds[kind] else data):
            row.cells[column] = data if kinds[kind] else was
            touched[sheet, number] = row
    return list(touched.values())
