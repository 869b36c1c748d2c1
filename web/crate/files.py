"""Tables as files, in and out: CSV, TSV, XLSX, ODS and JSON. What cannot be read is told, and nothing is guessed."""

import io
import json
import zipfile
from collections.abc import Sequence

from django.core.exceptions import ValidationError

KINDS = ("csv", "tsv", "xlsx", "ods", "json")
READ = (*KINDS, "txt")
MOST_BYTES = 8_000_000
MOST_UNPACKED = 120_000_000  # a small zip may hold a huge sheet
MOST_ROWS = 10_000
MOST_COLUMNS = 60
MOST_CELL = 500


def read_table(name: str, content: bytes) -> list[list[str]]:
    """The rows of a file, headings and all. Raises ValidationError that says what is wrong with it."""
    kind = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    if kind not in READ:
        raise ValidationError(f"“{name}” is not a table that can be read here: {', '.join(READ)}.")
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
    return [[cell[:MOST_CELL] for cell in (*row, *[""] * (width - len(row)))] for row in rows]


def write_table(kind: str, headings: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A table as a file of one kind, such that reading it gives the same table."""
    import tablib

    table = tablib.Dataset(*rows, headers=headings, title="crate")
    written = table.export(kind)
    return written if isinstance(written, bytes) else written.encode("utf-8")


def _trimmed(row: list[str]) -> list[str]:
    """A row without the empty cells at its end."""
    width = max((place for place, cell in enumerate(row, 1) if cell.strip()), default=0)
    return row[:width]


def _text(kind: str, content: bytes) -> list[list[str]]:
    text = _decoded(content)
    if kind == "json":
        return _records(text)
    import csv

    first = text.lstrip("\n").split("\n", 1)[0]
    marks = "\t" if kind == "tsv" else max(",;\t", key=first.count)
    try:
        return [[cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), delimiter=marks, strict=True)]
    except csv.Error as error:
        raise ValidationError(f"The file is no {kind.upper()}: {error}.") from None


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


def _records(text: str) -> list[list[str]]:
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ValidationError(f"The file is no JSON: {error}.") from None
    if not isinstance(found, list) or not all(isinstance(one, dict) for one in found):
        raise ValidationError("The JSON is not a list of objects, one for each lure.")
    headings = list(dict.fromkeys(key for one in found for key in one))
    return [headings, *([_cell(one.get(key)) for key in headings] for one in found)]


def _sheet(kind: str, content: bytes) -> list[list[str]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED:
                raise ValidationError("The file unpacks to far more than a table of lures.")
        return _xlsx(content) if kind == "xlsx" else _ods(content)
    except ValidationError:
        raise
    except Exception as error:  # the readers raise whatever their parsers do on a broken file
        raise ValidationError(f"The file is no {kind.upper()} that can be read: {type(error).__name__}.") from None


def _xlsx(content: bytes) -> list[list[str]]:
    import openpyxl

    book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    rows = []
    for row in book.worksheets[0].iter_rows(values_only=True, max_col=MOST_COLUMNS + 1):
        rows.append([_cell(value) for value in row])
        if len(rows) > MOST_ROWS + 1:
            break
    return rows


def _ods(content: bytes) -> list[list[str]]:
    import tablib

    table = tablib.Dataset().load(io.BytesIO(content), format="ods")
    return [[_cell(value) for value in (table.headers or [])], *([_cell(value) for value in row] for row in table)]


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value) and abs(value) < 1e15:
        return str(int(value))
    return str(value).strip()
