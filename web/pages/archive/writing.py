"""Everything that somebody owns as one file: a table of JSON for all of it, and the pictures beside it."""

import json
import zipfile
from collections.abc import Iterator
from datetime import date, datetime
from decimal import Decimal
from typing import IO, Any

from django.utils import timezone

from tackle.base.strict import plain_value
from web.common.accounts.models import User
from web.pages.archive.reading import FORMAT, TABLE
from web.pages.archive.shelves import Shelf, shelves

ACCOUNT = ("units", "any_form", "rare_days")


def write_archive(owner: User, file: IO[bytes]) -> None:
    """Writes the archive, a ZIP file, row by row."""
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as packed:
        with packed.open(TABLE, "w", force_zip64=True) as table:
            for text in _written(owner):
                table.write(text.encode())
        for index, picture in enumerate(owner.pictures.order_by("pk").iterator(chunk_size=20), 1):
            packed.writestr(f"pictures/{index}.jpg", bytes(picture.jpeg), zipfile.ZIP_STORED)


def _written(owner: User) -> Iterator[str]:
    """All rows, by table; each is numbered from 1 within its table, and others name it by that number."""
    numbers: dict[str, dict[int, int]] = {}

    def number(label: str, key: Any) -> int | None:
        return numbers.get(label, {}).get(key)

    account = {"name": owner.username, **{field: getattr(owner, field) for field in ACCOUNT}}
    head = {"wax_crate": FORMAT, "written": timezone.now(), "account": account}
    yield _json(head)[:-1] + ', "things": {'
    for count, shelf in enumerate(shelves()):
        yield ("," if count else "") + f"\n {json.dumps(shelf.label)}: ["
        numbers[shelf.label] = {}
        for index, row in enumerate(_rows(owner, shelf), 1):
            numbers[shelf.label][row.pk] = index
            yield ("," if index > 1 else "") + "\n  " + _json(_told(shelf, row, number))
        yield "]"
    yield "\n}}\n"


def _rows(owner: User, shelf: Shelf) -> Iterator[Any]:
    rows = shelf.model._default_manager.filter(**{shelf.owner: owner}).order_by("pk")
    if shelf.label == "crate.Picture":
        rows = rows.defer("jpeg")
    return rows.prefetch_related(*shelf.many).iterator(chunk_size=500)


def _told(shelf: Shelf, row: Any, number: Any) -> dict[str, Any]:
    data = {field.attname: getattr(row, field.attname) for field in shelf.values}
    data |= {name: number(label, getattr(row, name)) for name, label in shelf.links.items()}
    for name, label in shelf.many.items():
        data[name] = sorted(filter(None, (number(label, other.pk) for other in getattr(row, name).all())))
    return shelf.inner(data, number)


def _json(value: dict[str, Any]) -> str:
    """As JSON, with what cannot be read again left out of its texts: it came in before such texts were refused."""
    return json.dumps(plain_value(value), ensure_ascii=False, default=_plain)


def _plain(value: Any) -> str:
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, Decimal):
        return str(value)
    raise TypeError(f"{type(value).__name__} has no place in an archive")
