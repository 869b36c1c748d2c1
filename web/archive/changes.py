"""An archive read back in: checked row by row, whole or not at all; and everything of somebody's gone for good."""

import io
import zipfile
from collections.abc import Mapping
from typing import Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError
from django.db.models import DateField, Field

from tackle.errors import DataError, Refused
from tackle.strict import read_json
from web.accounts.models import User
from web.accounts.writing import one_change
from web.archive.shelves import Shelf, shelves
from web.archive.trial import try_all
from web.archive.writing import ACCOUNT, FORMAT, TABLE
from web.stock.pictures import taken_in

MOST_BYTES, MOST_UNPACKED, MOST_ROWS = 60_000_000, 300_000_000, 300_000


@one_change
def take_in(owner: User, content: bytes) -> int:
    """Everything of an archive, into an account that has nothing yet; returns how many things. Raises ValidationError
    that says where it is wrong; then nothing of it is taken."""
    if any(shelf.model._default_manager.filter(**{shelf.owner: owner}).exists() for shelf in shelves()):
        raise ValidationError("There are things in this account already: an archive goes into an empty one.")
    table, pictures = _unpacked(content)
    things = _things(table)
    keys: dict[str, dict[int, int]] = {}

    def key(label: str, number: Any) -> int | None:
        return keys.get(label, {}).get(number) if isinstance(number, int) else None

    try:
        for shelf in shelves():
            keys[shelf.label] = _put_in(owner, shelf, things.get(shelf.label, []), key, pictures)
        _settle(owner, table.get("account"))
        try_all(owner)
    except (IntegrityError, DataError, Refused, KeyError, TypeError, AttributeError, ValueError) as error:
        raise ValidationError(f"The archive does not hold together: {str(error)[:200]}") from error
    return sum(map(len, keys.values()))


def _unpacked(content: bytes) -> tuple[dict[str, Any], Mapping[int, bytes]]:
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The archive is too large; at most {MOST_BYTES // 1_000_000} MB are taken.")
    try:
        packed = zipfile.ZipFile(io.BytesIO(content))
        if sum(one.file_size for one in packed.infolist()) > MOST_UNPACKED:
            raise ValidationError("What is packed in the archive is too large.")
        table = read_json(packed.read(TABLE), TABLE)
        names = [name for name in packed.namelist() if name.startswith("pictures/") and name.endswith(".jpg")]
        pictures = {int(name[9:-4]): packed.read(name) for name in names if name[9:-4].isdecimal()}
    except (zipfile.BadZipFile, KeyError, RuntimeError, NotImplementedError, OSError) as error:
        raise ValidationError(f"This is no archive of Wax Crate: a ZIP file with {TABLE} in it.") from error
    except Refused as refused:
        raise ValidationError(str(refused)) from refused
    if not isinstance(table, dict) or table.get("wax_crate") != FORMAT:
        raise ValidationError(f"{TABLE} is of another form; this reads form {FORMAT}.")
    return table, pictures


def _things(table: dict[str, Any]) -> dict[str, list[Any]]:
    things = table.get("things")
    if not isinstance(things, dict) or not all(isinstance(rows, list) for rows in things.values()):
        raise ValidationError(f"{TABLE}: things is not a list of rows for each table.")
    if unknown := sorted(set(things) - {shelf.label for shelf in shelves()}):
        raise ValidationError(f"{TABLE}: things.{str(unknown[0])[:40]} is no table of this version.")
    if (rows := sum(map(len, things.values()))) > MOST_ROWS:
        raise ValidationError(f"There are {rows:,} rows in the archive; at most {MOST_ROWS:,} are taken.")
    return things


def _put_in(owner: User, shelf: Shelf, rows: list[Any], key: Any, pictures: Mapping[int, bytes]) -> dict[int, int]:
    made, stamped, many = [], [], []
    for place, told in enumerate(rows, 1):
        where = f"{shelf.label}[{place}]"
        if not isinstance(told, dict):
            raise ValidationError(f"{where} is not a row.")
        row = _row(owner, shelf, shelf.inner(told, key), key, where)
        if shelf.label == "crate.Picture":
            row.jpeg, row.width, row.height = taken_in(io.BytesIO(pictures.get(place, b"")))
        made.append(row)
        stamped.append({one.attname: getattr(row, one.attname) for one in shelf.values if _stamped(one)})
        many.append({name: [key(label, one) for one in told.get(name, [])] for name, label in shelf.many.items()})
    made = shelf.model._default_manager.bulk_create(made, batch_size=500)
    for row, stamps, others in zip(made, stamped, many, strict=True):
        for name, found in others.items():
            getattr(row, name).set([one for one in found if one])
        for name, value in stamps.items():
            setattr(row, name, value)
    if stamped and stamped[0]:
        shelf.model._default_manager.bulk_update(made, list(stamped[0]), batch_size=500)
    return {place: row.pk for place, row in enumerate(made, 1)}


def _row(owner: User, shelf: Shelf, told: dict[str, Any], key: Any, where: str) -> Any:
    row = shelf.model()
    if shelf.own:
        setattr(row, shelf.own, owner.pk)
    try:
        for each in shelf.values:
            if each.attname in told:
                setattr(row, each.attname, each.to_python(told[each.attname]))
        for name, label in shelf.links.items():
            setattr(row, name, key(label, told.get(name)))
            if getattr(row, name) is None and not shelf.model._meta.get_field(name.removesuffix("_id")).null:
                raise ValidationError({name: "It leads to nothing."})
        beside = [name.removesuffix("_id") for name in shelf.links]
        # What a table may leave empty, although a form would ask for it.
        beside += [
            one.name
            for one in shelf.values
            if getattr(row, one.attname) in (None, "", [], {}) and (one.null or one.has_default())
        ]
        row.clean_fields(exclude=[*beside, "jpeg", "width", "height", "owner"])
    except ValidationError as error:
        raise ValidationError(f"{where}: {_first(error)}") from error
    return row


def _first(error: ValidationError) -> str:
    if hasattr(error, "error_dict"):
        field, words = next(iter(error.message_dict.items()))
        return f"{field}: {words[0]}"
    return str(error.messages[0])


def _stamped(field: "Field[Any, Any]") -> bool:
    """Whether a field is given the time of its writing by itself, whatever it is told."""
    return isinstance(field, DateField) and (field.auto_now or field.auto_now_add)


def _settle(owner: User, told: Any) -> None:
    for name in ACCOUNT if isinstance(told, dict) else ():
        if name in told:
            field = User._meta.get_field(name)
            assert isinstance(field, Field)
            setattr(owner, name, field.to_python(told[name]))
    owner.clean_fields(exclude=["password"])
    owner.save(update_fields=list(ACCOUNT))


def delete_account(owner: User) -> None:
    """Everything of somebody's, for good."""
    owner.delete()
