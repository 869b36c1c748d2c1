"""Tables as files, in and out: CSV, TSV, XLSX, ODS and JSON. What cannot be read is told, and nothing is guessed."""

import io
import re
import zipfile
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from django.core.exceptions import ValidationError

from tackle.errors import Refused
from tackle.numbers import read_whole
from tackle.strict import plain, read_json

KINDS = ("csv", "tsv", "xlsx", "ods", "json")
READ = (*KINDS, "txt")
MOST_BYTES = 8_000_000
MOST_UNPACKED = 60_000_000  # a small zip may hold a huge sheet
MOST_ROWS = 10_000
MOST_COLUMNS = 60
MOST_CELL = 300
MOST_CELLS = 400_000  # that are told of in a sheet, empty ones too
# What a table program would take for the beginning of a formula, and the mark that makes it text again.
_FORMULA = re.compile(r"[=+\-@\t\r']")
_TEXT_MARK = "'"


def read_table(name: str, content: bytes) -> list[list[str]]:
    """The rows of a file, headings and all. Raises ValidationError that says what is wrong with it."""
    kind = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    if kind not in READ:
        raise ValidationError(f"“{plain(name)[:80]}” is not a table that can be read here: {', '.join(READ)}.")
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The file is too large; at most {MOST_BYTES / 1e6:.0f} MB are taken.")
    if not content.strip():
        raise ValidationError("The file is empty.")
    rows = _sheet(kind, content) if kind in ("xlsx", "ods") else _text(kind, content)
    rows = [trimmed for row in rows if (trimmed := _trimmed(row))]
    if len(rows) - 1 > MOST_ROWS:
        raise ValidationError(f"There are {len(rows) - 1} rows; at most {MOST_ROWS} are taken at once.")
    width = max((len(row) for row in rows), default=0)
    if width > MOST_COLUMNS:
        raise ValidationError(f"There are {width} columns; at most {MOST_COLUMNS} are taken.")
    for number, row in enumerate(rows, 1):
        if long := next((cell for cell in row if len(cell) > MOST_CELL), ""):
            told = f"“{plain(long)[:30]} …”; at most {MOST_CELL} are taken"
            raise ValidationError(f"Row {number} has a cell of {len(long)} characters, {told}.")
    return [[plain(cell) for cell in (*row, *[""] * (width - len(row)))] for row in rows]


def write_table(kind: str, headings: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A table as a file of one kind, such that reading it gives the same table, and no text becomes a formula."""
    clean = [[plain(cell) for cell in row] for row in rows]
    if kind == "xlsx":
        return _xlsx_of(headings, clean)
    import tablib

    if kind in ("csv", "tsv"):
        clean = [[_TEXT_MARK + cell if _FORMULA.match(cell) else cell for cell in row] for row in clean]
    table = tablib.Dataset(*clean, headers=headings, title="crate")
    written = table.export(kind)
    return written if isinstance(written, bytes) else written.encode("utf-8")


def _xlsx_of(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    import openpyxl
    from openpyxl.cell import WriteOnlyCell

    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet("crate")
    for row in (headings, *rows):
        cells = []
        for text in row:
            cell = WriteOnlyCell(sheet, text)
            cell.data_type = "s"
            cells.append(cell)
        sheet.append(cells)
    held = io.BytesIO()
    book.save(held)
    return held.getvalue()


def _trimmed(row: list[str]) -> list[str]:
    """A row without the empty cells at its end."""
    width = max((place for place, cell in enumerate(row, 1) if cell.strip()), default=0)
    return row[:width]


def _text(kind: str, content: bytes) -> list[list[str]]:
    if kind == "json":
        return _records(content)
    import csv

    text = _decoded(content)
    first = text.lstrip("\n").split("\n", 1)[0]
    marks = "\t" if kind == "tsv" else max(",;\t", key=first.count)
    try:
        rows = []
        for row in csv.reader(io.StringIO(text), delimiter=marks, strict=True):
            rows.append([_unmarked(cell.strip()) for cell in row])
            if len(rows) > MOST_ROWS + 1:
                break
        return rows
    except csv.Error as error:
        raise ValidationError(f"The file is no {kind.upper()}: {error}.") from None


def _unmarked(cell: str) -> str:
    """A cell without the mark that kept it from being a formula."""
    return cell[1:] if cell.startswith(_TEXT_MARK) and _FORMULA.match(cell[1:]) else cell


def _decoded(content: bytes) -> str:
    wide = content.startswith((b"\xff\xfe", b"\xfe\xff"))
    for encoding in ("utf-16",) if wide else ("utf-8-sig", "cp1252"):
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if not any(ord(one) < 32 and one not in "\t\n\r" for one in text):
            return text.replace("\r\n", "\n").replace("\r", "\n")
    raise ValidationError("The file is not text in UTF-8: save it as CSV in UTF-8, or as XLSX or ODS.")


def _records(content: bytes) -> list[list[str]]:
    try:
        found = read_json(content)
    except Refused as refused:
        raise ValidationError(f"The file {refused.wrong}: it is no JSON of lures.") from refused
    if not isinstance(found, list) or not all(isinstance(one, dict) for one in found):
        raise ValidationError("The JSON is not a list of objects, one for each lure.")
    headings = list(dict.fromkeys(key for one in found[: MOST_ROWS + 1] for key in one))[: MOST_COLUMNS + 1]
    return [headings, *([_cell(one.get(key)) for key in headings] for one in found)]


def _sheet(kind: str, content: bytes) -> list[list[str]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            _check_size(packed)
        return _xlsx(content) if kind == "xlsx" else _ods(content)
    except ValidationError:
        raise
    except Exception as error:  # the readers raise whatever their parsers do on a broken file
        raise ValidationError(f"The file is no {kind.upper()} that can be read: {type(error).__name__}.") from None


def _check_size(packed: zipfile.ZipFile) -> None:
    """Counts what the parts of a packed sheet hold before any of it is built up in memory. Raises ValidationError."""
    if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED:
        raise ValidationError("The file unpacks to far more than a table of lures.")
    cells = rows = 0
    for part in packed.infolist():
        if part.filename.endswith(".xml"):
            for text in _pieces(packed, part):
                cells += text.count(b"<c ") + text.count(b"<c>") + text.count(b"<si") + text.count(b":table-cell")
                rows += text.count(b"<row") + text.count(b":table-row ")
                if cells > MOST_CELLS or rows > 4 * MOST_ROWS:
                    raise ValidationError(f"The file has far more cells than a table of {MOST_ROWS:,} lures.")


def _pieces(packed: zipfile.ZipFile, part: zipfile.ZipInfo) -> Iterator[bytes]:
    with packed.open(part) as stream:
        while text := stream.read(1_000_000):
            yield text


def _xlsx(content: bytes) -> list[list[str]]:
    import openpyxl

    book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    rows = []
    for row in book.worksheets[0].iter_rows(values_only=True, max_col=MOST_COLUMNS + 1, max_row=4 * MOST_ROWS):
        rows.append([_cell(value) for value in row])
        if len(rows) > MOST_ROWS + 1:
            break
    return rows


def _ods(content: bytes) -> list[list[str]]:
    """The first sheet, cells and rows that are told once for several repeated."""
    from odf.namespaces import TABLENS
    from odf.opendocument import load
    from odf.table import Table, TableRow
    from odf.teletype import extractText

    sheet = load(io.BytesIO(content)).spreadsheet.getElementsByType(Table)[0]
    rows: list[list[str]] = []
    for told in sheet.getElementsByType(TableRow):
        row: list[str] = []
        for cell in told.childNodes:
            if cell.qname[1] not in ("table-cell", "covered-table-cell"):
                continue
            times = _times(cell, TABLENS, "number-columns-repeated")
            row += [_ods_cell(cell, extractText)] * min(times, MOST_COLUMNS + 1 - len(row))
        row = _trimmed(row)
        # A sheet ends in a row that stands for a million empty ones.
        rows += [row] * (min(_times(told, TABLENS, "number-rows-repeated"), MOST_ROWS + 2 - len(rows)) if row else 1)
        if len(rows) > MOST_ROWS + 1:
            break
    return rows


def _times(element: Any, namespace: str, name: str) -> int:
    return read_whole(str(element.attributes.get((namespace, name), "1")), 1, 10_000_000) or 1


def _ods_cell(cell: Any, text_of: Callable[[Any], str]) -> str:
    """What a cell shows; of a number or a day its own value, which no format has rounded."""
    from odf.namespaces import OFFICENS

    told = {name[1]: value for name, value in cell.attributes.items() if name[0] == OFFICENS}
    if told.get("value-type") == "float" and "value" in told:
        return _cell(float(told["value"]))
    if told.get("value-type") == "date" and "date-value" in told:
        return str(told["date-value"])
    return str(text_of(cell)).strip()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value) and abs(value) < 1e15:
        return str(int(value))
    return str(value).strip()
