"""Everything that somebody owns as one file: a table of JSON for all of it, and the pictures beside it."""

import io
import json
import zipfile
from collections.abc import Iterator
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from django.utils import timezone

from web.accounts.models import User
from web.archive.shelves import Shelf, shelves

FORMAT, TABLE = 1, "wax-crate.json"
ACCOUNT = ("units", "same_within", "any_form", "alike_first", "alike_second", "alike_depth_ft", "rare_days")


def write_archive(owner: User) -> bytes:
    """The archive, as a ZIP file."""
    whole = io.BytesIO()
    with zipfile.ZipFile(whole, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(TABLE, json.dumps(table_of(owner), ensure_ascii=False, indent=1, default=_plain))
        for place, picture in enumerate(owner.pictures.order_by("pk").iterator(chunk_size=20), 1):
            packed.writestr(f"pictures/{place}.jpg", bytes(picture.jpeg), zipfile.ZIP_STORED)
    return whole.getvalue()


def table_of(owner: User) -> dict[str, Any]:
    """All rows, by table; each is numbered from 1 within its table, and others name it by that number."""
    numbers: dict[str, dict[int, int]] = {}

    def number(label: str, key: Any) -> int | None:
        return numbers.get(label, {}).get(key)

    things = {}
    for shelf in shelves():
        rows = list(_rows(owner, shelf))
        numbers[shelf.label] = {row.pk: place for place, row in enumerate(rows, 1)}
        things[shelf.label] = [_told(shelf, row, number) for row in rows]
    account = {"name": owner.username, **{field: getattr(owner, field) for field in ACCOUNT}}
    return {"wax_crate": FORMAT, "written": timezone.now(), "account": account, "things": things}


def _rows(owner: User, shelf: Shelf) -> Iterator[Any]:
    rows = shelf.model._default_manager.filter(**{shelf.owner: owner}).order_by("pk")
    return iter(rows.defer("jpeg") if shelf.label == "crate.Picture" else rows.prefetch_related(*shelf.many))


def _told(shelf: Shelf, row: Any, number: Any) -> dict[str, Any]:
    told = {field.attname: getattr(row, field.attname) for field in shelf.values}
    told |= {name: number(label, getattr(row, name)) for name, label in shelf.links.items()}
    for name, label in shelf.many.items():
        told[name] = sorted(filter(None, (number(label, other.pk) for other in getattr(row, name).all())))
    return shelf.inner(told, number)


def _plain(value: Any) -> str:
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, Decimal):
        return str(value)
    raise TypeError(f"{type(value).__name__} has no place in an archive")
