"""Tables as files, in and out: CSV, TSV, XLSX, ODS and JSON. What cannot be read is told, and nothing is guessed."""

import io
import itertools
import re
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.core.exceptions import ValidationError

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.strict import plain, read_json
from tackle.intake.columns import by_heading
from tackle.intake.sheet import Sheet

KINDS = ("csv", "tsv", "xlsx", "ods", "json")
READ = (*KINDS, "txt")
MOST_BYTES = 8_000_000
_COMPOUND = bytes.fromhex("d0cf11e0a1b11ae1")  # [MS-CFB] 2.2, the header's signature
MOST_UNPACKED = 60_000_000  # a small zip may hold a huge sheet
MOST_ROWS = 20_000
MOST_COLUMNS = 60
MOST_CELL = 300
MOST_SHEETS = 40
MOST_CELLS = 800_000  # that are told of in a sheet, empty ones too
MOST_TAGS = 8 * MOST_CELLS  # of elements, whatever they are called
# What a table program would take for the beginning of a formula, and the mark that makes it text again.
_FORMULA = re.compile(r"[=+\-@\t\r']")
_TEXT_MARK = "'"
_LOOKED_AT, _LEAST_LINES, _ALIKE = (
    40,
    4,
    0.7,
)  # lines by which a list is told from a table, and how many are alike there
_ODS_NAMES = ("office", "table", "text", "manifest")


@dataclass(slots=True)
class _Raw:
    """A sheet as it stands in a file: all its rows, and the cells merged with one above, by row and column from 0."""

    name: str
    rows: list[list[str]]
    merged: dict[tuple[int, int], tuple[int, int]] = field(default_factory=dict)


def read_sheets(name: str, content: bytes) -> list[Sheet]:
    """The sheets of a file, headings and all. Raises ValidationError that says what is wrong with it."""
    kind = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    if kind not in READ:
        raise ValidationError(f"“{plain(name)[:80]}” is not a table that can be read here: {', '.join(READ)}.")
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The file is too large; at most {MOST_BYTES / 1e6:.0f} MB are taken.")
    if not content.strip():
        raise ValidationError("The file is empty.")
    raw = _packed(kind, content) if kind in ("xlsx", "ods") else [_Raw("", _text(kind, content))]
    sheets = [_checked(one) for one in raw]
    if (rows := sum(len(sheet.rows) for sheet in sheets)) - len(sheets) > MOST_ROWS:
        raise ValidationError(f"There are {rows - 1} rows; at most {MOST_ROWS} are taken at once.")
    return sheets


def _checked(raw: _Raw) -> Sheet:
    """A sheet without its empty rows, all cells bounded and of plain text. Raises ValidationError."""
    kept = [(index, row) for index, cells in enumerate(raw.rows) if (row := _trimmed(cells))]
    width = max((len(row) for _, row in kept), default=0)
    if width > MOST_COLUMNS:
        raise ValidationError(f"There are {width} columns; at most {MOST_COLUMNS} are taken.")
    for place, row in kept:
        if long := next((cell for cell in row if len(cell) > MOST_CELL), ""):
            wrong = f"“{plain(long)[:30]} …”; at most {MOST_CELL} are taken"
            raise ValidationError(f"Row {place + 1} has a cell of {len(long)} characters, {wrong}.")
    merged = {}
    for (row_at, column), (top, left) in raw.merged.items():
        if top < len(raw.rows) and left < len(raw.rows[top]) and raw.rows[top][left].strip():
            merged[row_at + 1, column] = plain(raw.rows[top][left])
    rows = [[plain(cell) for cell in (*row, *[""] * (width - len(row)))] for _, row in kept]
    return Sheet(plain(raw.name)[:60], rows, [place + 1 for place, _ in kept], merged)


def write_table(kind: str, headings: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A table as a file of one kind, such that reading it gives the same table, and no text becomes a formula."""
    clean = [[plain(cell) for cell in row] for row in rows]
    if kind in ("xlsx", "ods"):
        return (_write_xlsx if kind == "xlsx" else _write_ods)([headings, *clean])
    import tablib

    if kind in ("csv", "tsv"):
        clean = [[_TEXT_MARK + cell if _FORMULA.match(cell) else cell for cell in row] for row in clean]
    written = tablib.Dataset(*clean, headers=headings).export(kind)
    return str(written).encode("utf-8")


def _write_xlsx(rows: Sequence[Sequence[str]]) -> bytes:
    import openpyxl
    from openpyxl.cell import WriteOnlyCell

    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet("crate")

    def written(text: str) -> Any:
        if text[:1] not in ("=", "#"):
            return text
        cell = WriteOnlyCell(sheet, text)  # neither a formula nor an error
        cell.data_type = "s"
        return cell

    for row in rows:
        sheet.append([written(text) for text in row])
    held = io.BytesIO()
    book.save(held)
    return held.getvalue()


def _write_ods(rows: Sequence[Sequence[str]]) -> bytes:
    """The three parts that OpenDocument 1.3 asks of a sheet; the package that reads them writes too slowly."""
    from xml.sax.saxutils import escape

    names = " ".join(f'xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"' for name in _ODS_NAMES)
    kind = "application/vnd.oasis.opendocument.spreadsheet"
    data = "".join(
        "<table:table-row>"
        + "".join(
            f'<table:table-cell office:value-type="string"><text:p>{_spaced(escape(text))}</text:p></table:table-cell>'
            if text else "<table:table-cell/>"
            for text in row
        )
        + "</table:table-row>"
        for row in rows
    )  # fmt: skip
    content = (
        f'<office:document-content {names} office:version="1.3"><office:body><office:spreadsheet>'
        f'<table:table table:name="crate"><table:table-column table:number-columns-repeated="{len(rows[0])}"/>{data}'
        "</table:table></office:spreadsheet></office:body></office:document-content>"
    )
    manifest = (
        f'<manifest:manifest {names} manifest:version="1.3"><manifest:file-entry manifest:full-path="/" '
        f'manifest:media-type="{kind}"/><manifest:file-entry manifest:full-path="content.xml" '
        'manifest:media-type="text/xml"/></manifest:manifest>'
    )
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("mimetype", kind, zipfile.ZIP_STORED)
        packed.writestr("META-INF/manifest.xml", manifest)
        packed.writestr("content.xml", content)
    return held.getvalue()


def _spaced(text: str) -> str:
    """Spaces as OpenDocument tells several of them, which it would else take for one."""
    return text.replace("  ", " <text:s/>")


def _trimmed(row: list[str]) -> list[str]:
    """A row without the empty cells at its end."""
    width = max((index for index, cell in enumerate(row, 1) if cell.strip()), default=0)
    return row[:width]


def _text(kind: str, content: bytes) -> list[list[str]]:
    if kind == "json":
        return _records(content)
    import csv

    text = _decoded(content)
    first = text.lstrip("\n").split("\n", 1)[0]
    marks = "\t" if kind == "tsv" else max(",;\t", key=first.count)
    if _is_list(text, marks):
        return [[line.strip()] for line in text.split("\n") if line.strip()][: MOST_ROWS + 2]
    try:
        rows = []
        for row in csv.reader(io.StringIO(text), delimiter=marks, strict=True):
            rows.append([_unmarked(cell.strip()) for cell in row])
            if len(rows) > MOST_ROWS + 1:
                break
        return rows
    except csv.Error as error:
        raise ValidationError(f"The file is no {kind.upper()}: {error}.") from None


def _is_list(text: str, mark: str) -> bool:
    """Whether a text is a list of lines and no table: no two columns are named above, and its lines part at the mark
    each in their own way."""
    lines = [line for line in text.split("\n") if line.strip()][:_LOOKED_AT]
    if (
        len(lines) < _LEAST_LINES
        or mark not in text
        or '"' in text
        or sum(map(bool, by_heading(lines[0].split(mark)))) > 1
    ):
        return False
    counts = Counter(line.count(mark) for line in lines)
    return counts.most_common(1)[0][1] < _ALIKE * len(lines) or counts[0] > len(lines) / 2


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
    except InvalidInput as refused:
        raise ValidationError(f"The file {refused.wrong}: it is no JSON of lures.") from refused
    if isinstance(found, dict):  # {"lures": [...]}, or the one list that it holds
        lists = [one for one in found.values() if isinstance(one, list)]
        found = found["lures"] if isinstance(found.get("lures"), list) else lists[0] if len(lists) == 1 else found
    if not isinstance(found, list) or not all(isinstance(one, dict) for one in found):
        raise ValidationError("The JSON is not a list of objects, one for each lure.")
    headings = list(dict.fromkeys(key for one in found[: MOST_ROWS + 1] for key in one))[: MOST_COLUMNS + 1]
    return [headings, *([_cell(one.get(key)) for key in headings] for one in found)]


def _packed(kind: str, content: bytes) -> list[_Raw]:
    if content.startswith(_COMPOUND):  # an XLSX with a password is such a file; so is an XLS
        raise ValidationError("The workbook has a password, or is an old XLS: save it as XLSX without a password.")
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if kind == "ods" and _has_password(packed):
                raise ValidationError("The workbook has a password: save it as ODS without a password.")
            with_formulas = _check_size(packed)
        return _xlsx(content, with_formulas) if kind == "xlsx" else _ods(content)
    except (ValidationError, MemoryError):
        raise
    except Exception as error:  # the readers raise whatever their parsers do on a broken file
        raise ValidationError(f"The file is no {kind.upper()} that can be read: {type(error).__name__}.") from None


def _has_password(packed: zipfile.ZipFile) -> bool:
    """Whether the list of an ODS's parts tells how they are encrypted."""
    data = next((part for part in packed.infolist() if part.filename == "META-INF/manifest.xml"), None)
    return data is not None and any(b"encryption-data" in text for text in _pieces(packed, data))


def _check_size(packed: zipfile.ZipFile) -> bool:
    """Counts what the parts of a packed sheet hold before any of it is built up in memory. Raises ValidationError.

    Returns whether an XLSX has formulas: their text takes another reading.
    """
    if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED:
        raise ValidationError("The file unpacks to far more than a table of lures.")
    cells = rows = tags = 0
    formulas = False
    for part in packed.infolist():
        for text in _pieces(packed, part):
            formulas = formulas or b"<f>" in text
            cells += text.count(b"<c ") + text.count(b"<c>") + text.count(b"<si") + text.count(b":table-cell")
            rows += text.count(b"<row") + text.count(b":table-row ")
            tags += text.count(b"<")
            if cells > MOST_CELLS or rows > 4 * MOST_ROWS or tags > MOST_TAGS:
                raise ValidationError(f"The file has far more cells than a table of {MOST_ROWS:,} lures.")
    return formulas


def _pieces(packed: zipfile.ZipFile, part: zipfile.ZipInfo) -> Iterator[bytes]:
    with packed.open(part) as stream:
        while text := stream.read(1_000_000):
            yield text


def _xlsx(content: bytes, with_formulas: bool) -> list[_Raw]:
    import openpyxl

    book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    formulas = openpyxl.load_workbook(io.BytesIO(content), read_only=True) if with_formulas else None
    sheets = []
    for sheet in book.worksheets[:MOST_SHEETS]:
        raw = _Raw(sheet.title, _xlsx_rows(sheet, formulas[sheet.title] if formulas else None))
        for left, top, _, bottom in _merged_in(content, sheet):
            below = range(top, min(bottom, len(raw.rows)))
            raw.merged |= {(row, left - 1): (top - 1, left - 1) for row in below}
        sheets.append(raw)
    return sheets


def _merged_in(content: bytes, sheet: Any) -> Iterator[tuple[int, int, int, int]]:
    """The merged ranges, which the reader leaves out when it reads row by row: columns and rows from 1."""
    from openpyxl.utils import range_boundaries

    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        text = packed.read(sheet._worksheet_path)
    for data in re.findall(rb'<mergeCell ref="([A-Z]{1,3}\d{1,7}:[A-Z]{1,3}\d{1,7})"', text)[:MOST_ROWS]:
        yield range_boundaries(data.decode("ascii"))


def _xlsx_rows(sheet: Any, formulas: Any) -> list[list[str]]:
    """The cells of a sheet; of a formula without a value the formula."""
    bounds = {"values_only": True, "max_col": MOST_COLUMNS + 1, "max_row": 2 * MOST_ROWS}
    asked = formulas.iter_rows(**bounds) if formulas else itertools.repeat(())
    rows: list[list[str]] = []
    for values, written in zip(sheet.iter_rows(**bounds), asked, strict=False):
        row = [_cell(value) for value in values]
        for index, formula in enumerate(written):
            if isinstance(formula, str) and formula.startswith("=") and not row[index]:
                row[index] = formula
        rows.append(_trimmed(row))
    return rows


def _ods(content: bytes) -> list[_Raw]:
    """The sheets, cells and rows that are told once for several repeated."""
    from odf.namespaces import TEXTNS
    from odf.opendocument import load
    from odf.table import Table
    from odf.text import S

    sheets = load(io.BytesIO(content)).spreadsheet
    for spaces in sheets.getElementsByType(S):  # one element that stands for as many spaces as it likes
        spaces.setAttribute("c", str(min(_times(spaces, TEXTNS, "c"), MOST_CELL + 1)))
    tables = sheets.getElementsByType(Table)
    return [_ods_sheet(table) for table in tables[:MOST_SHEETS]]


def _ods_sheet(table: Any) -> _Raw:
    from odf.namespaces import TABLENS
    from odf.table import TableRow
    from odf.teletype import extractText

    raw = _Raw(str(table.attributes.get((TABLENS, "name"), "")), [])
    for data in table.getElementsByType(TableRow):
        row: list[str] = []
        for cell in data.childNodes:
            if cell.qname[1] not in ("table-cell", "covered-table-cell"):
                continue
            below = range(1, min(_times(cell, TABLENS, "number-rows-spanned"), MOST_ROWS))
            top, left = len(raw.rows), len(row)
            raw.merged |= {(top + down, left): (top, left) for down in below}
            times = _times(cell, TABLENS, "number-columns-repeated")
            row += [_ods_cell(cell, extractText)] * min(times, MOST_COLUMNS + 1 - len(row))
        row = _trimmed(row)
        # A sheet ends in a row that stands for a million empty ones.
        times = _times(data, TABLENS, "number-rows-repeated")
        raw.rows += [row] * (min(times, MOST_ROWS + 2 - len(raw.rows)) if row else min(times, 100))
        if len(raw.rows) > MOST_ROWS + 1:
            break
    return raw


def _times(element: Any, namespace: str, name: str) -> int:
    return read_whole(str(element.attributes.get((namespace, name), "1")), 1, 10**18) or 1


def _ods_cell(cell: Any, text_of: Callable[[Any], str]) -> str:
    """What a cell shows; of a number or a day its own value, which no format has rounded."""
    from odf.namespaces import OFFICENS, TABLENS

    data = {name[1]: value for name, value in cell.attributes.items() if name[0] == OFFICENS}
    if data.get("value-type") == "float" and "value" in data:
        return _cell(float(data["value"]))
    if data.get("value-type") == "date" and "date-value" in data:
        return str(data["date-value"])
    formula = str(cell.attributes.get((TABLENS, "formula"), "")).removeprefix("of:")
    return str(text_of(cell)).strip() or formula


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value) and abs(value) < 1e15:
        return str(int(value))
    return str(value).strip()
