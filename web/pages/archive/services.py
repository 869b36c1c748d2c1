"""An archive read back in: checked row by row, whole or not at all; and everything of somebody's gone for good."""

from collections.abc import Callable, Iterable
from datetime import date
from itertools import islice
from typing import IO, Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError
from django.db.models import DateField, Field

from tackle.base.days import FIRST_DAY, LAST_DAY
from tackle.base.errors import DataError, InvalidInput
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.work.models import Job
from web.common.work.services import begin, forget
from web.domain.crate.pictures import taken_in
from web.pages.archive.reading import Archive, opened
from web.pages.archive.shelves import Shelf, shelves
from web.pages.archive.trial import try_all
from web.pages.archive.writing import ACCOUNT

MOST_BYTES = 60_000_000
AT_ONCE = 500  # rows that are made at once
LABELS = frozenset(shelf.label for shelf in shelves())
Tell = Callable[[str, int, int], None]
_BROKEN = (IntegrityError, DataError, InvalidInput, KeyError, TypeError, AttributeError, ValueError)


@one_change
def take_in(owner: User, file: IO[bytes], tell: Tell = lambda doing, done, total: None) -> int:
    """Everything of an archive, into an account that has nothing yet; returns how many things. Raises ValidationError
    that says where it is wrong; then nothing of it is taken."""
    if not_empty(owner):
        raise ValidationError("There are things in this account already: an archive goes into an empty one.")
    try:
        with opened(file, LABELS) as archive:
            return _put_all_in(owner, archive, tell)
    except InvalidInput as refused:
        raise ValidationError(f"{refused}.") from refused


def begin_archive(owner: User, name: str, back: str) -> Job:
    """The work of writing an archive; those that were written before go. Raises ValidationError."""
    forget(owner, "archive")
    return begin(owner, "archive", back, name=name, asked={"type": "application/zip"})


def not_empty(owner: User) -> bool:
    return any(shelf.model._default_manager.filter(**{shelf.owner: owner}).exists() for shelf in shelves())


def read_back(owner: User, file: IO[bytes]) -> None:
    """Reads an archive as it is taken in, and takes nothing. Raises ValidationError that says which row would not go
    in."""
    with opened(file, LABELS) as archive:
        for shelf in shelves():
            for index, data in enumerate(archive.rows(shelf.label), 1):
                _row(owner, shelf, shelf.inner(data, lambda label, number: number), lambda _, number: number,
                     f"{shelf.label}[{index}]")  # fmt: skip


def _put_all_in(owner: User, archive: Archive, tell: Tell) -> int:
    keys: dict[str, dict[int, int]] = {}

    def key(label: str, number: Any) -> int | None:
        return keys.get(label, {}).get(number) if isinstance(number, int) else None

    total, done = sum(archive.counts.values()), 0
    try:
        for shelf in shelves():
            tell("Reading the archive", done, total)
            keys[shelf.label] = _put_in(owner, shelf, archive, key)
            done += len(keys[shelf.label])
        tell("Trying all of it", done, total)
        _settle(owner, archive.account)
        try_all(owner)
    except _BROKEN as error:
        raise ValidationError(f"The archive does not hold together: {str(error)[:200]}") from error
    return done


def _put_in(owner: User, shelf: Shelf, archive: Archive, key: Any) -> dict[int, int]:
    found: dict[int, int] = {}
    rows = enumerate(archive.rows(shelf.label), 1)
    while some := list(islice(rows, AT_ONCE)):
        found |= _put_some_in(owner, shelf, archive, key, some)
    return found


def _put_some_in(
    owner: User, shelf: Shelf, archive: Archive, key: Any, rows: Iterable[tuple[int, dict[str, Any]]]
) -> dict[int, int]:
    made, stamped, many, places = [], [], [], []
    for place, data in rows:
        row = _row(owner, shelf, shelf.inner(data, key), key, f"{shelf.label}[{place}]")
        if shelf.label == "crate.Picture":
            with archive.picture(place) as picture:
                row.jpeg, row.width, row.height = taken_in(picture)
        made.append(row)
        places.append(place)
        stamped.append({one.attname: getattr(row, one.attname) for one in shelf.values if _stamped(one)})
        many.append({name: [key(label, one) for one in data.get(name, [])] for name, label in shelf.many.items()})
    made = shelf.model._default_manager.bulk_create(made)
    for row, stamps, others in zip(made, stamped, many, strict=True):
        for name, linked in others.items():
            getattr(row, name).set([one for one in linked if one])
        for name, value in stamps.items():
            setattr(row, name, value)
    if stamped[0]:
        shelf.model._default_manager.bulk_update(made, list(stamped[0]))
    return dict(zip(places, (row.pk for row in made), strict=True))


def _row(owner: User, shelf: Shelf, data: dict[str, Any], key: Any, where: str) -> Any:
    row = shelf.model()
    if shelf.own:
        setattr(row, shelf.own, owner.pk)
    try:
        for each in shelf.values:
            if each.attname in data:
                setattr(row, each.attname, _value(each, data[each.attname]))
        for name, label in shelf.links.items():
            setattr(row, name, key(label, data.get(name)))
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


def _value(field: "Field[Any, Any]", data: Any) -> Any:
    value = field.to_python(data)
    if isinstance(value, date) and not FIRST_DAY.year <= value.year <= LAST_DAY.year:
        raise ValidationError({field.attname: f"{data} is not from {FIRST_DAY.year} to {LAST_DAY.year}."})
    return value


def _first(error: ValidationError) -> str:
    if hasattr(error, "error_dict"):
        field, words = next(iter(error.message_dict.items()))
        return f"{field}: {words[0]}"
    return str(error.messages[0])


def _stamped(field: "Field[Any, Any]") -> bool:
    """Whether a field is given the time of its writing by itself, whatever it is told."""
    return isinstance(field, DateField) and (field.auto_now or field.auto_now_add)


def _settle(owner: User, data: Any) -> None:
    for name in ACCOUNT if isinstance(data, dict) else ():
        if name in data:
            field = User._meta.get_field(name)
            assert isinstance(field, Field)
            setattr(owner, name, field.to_python(data[name]))
    owner.clean_fields(exclude=["password"])
    owner.save(update_fields=list(ACCOUNT))


def delete_account(owner: User) -> None:
    """Everything of somebody's, for good."""
    owner.delete()
