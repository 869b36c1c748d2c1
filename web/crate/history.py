"""The history of the crate: what each change touched, as it was and as it became; and taking a change back."""

from collections.abc import Iterable
from typing import Any, Literal

from django.core.exceptions import ValidationError
from django.db import transaction

from web.accounts.models import User
from web.crate.models import Change, Lure, Tray
from web.crate.reads import change_of

_LURE_FIELDS = (
    "tray_id", "category", "card", "name", "count", "size_in", "weight_oz", "depth_ft", "sound", "price", "condition",
    "note", "picture_id", "position",
)  # fmt: skip
_TRAY_FIELDS = ("letter", "name", "label", "place_id", "rows", "columns")
_MODELS = {"lure": (Lure, _LURE_FIELDS), "tray": (Tray, _TRAY_FIELDS)}

Kind = Literal["lure", "tray"]
State = dict[str, Any]
Step = tuple[int, State | None, State | None]  # the key, what it was, what it is; None: it was not, or is not


def state_of(pk: int, kind: Kind = "lure") -> State | None:
    """A lure or a tray as it is stored, None where it is gone."""
    model, fields = _MODELS[kind]
    stored = model.objects.filter(pk=pk).values(*fields).first()
    if stored and stored.get("price") is not None:
        stored["price"] = str(stored["price"])
    return stored


def record(owner: User, words: str, steps: Iterable[Step], kind: Kind = "lure") -> Change:
    """Writes a change into the history."""
    listed = [{kind: pk, "before": before, "after": after} for pk, before, after in steps]
    return Change.objects.create(owner=owner, words=words[:200], steps=listed)


@transaction.atomic
def undo(owner: User, pk: int) -> str:
    """Takes one change back; returns what was done. Raises ValidationError where that would lose a later one."""
    change = change_of(owner, pk)
    for step in change.steps:
        _check(owner, step)
    new = [step for step in change.steps if step["before"] is None]
    Lure.objects.filter(tray__owner=owner, pk__in=[step["lure"] for step in new if "lure" in step]).delete()
    Tray.objects.filter(owner=owner, pk__in=[step["tray"] for step in new if "tray" in step]).delete()
    for step in change.steps:
        if step["before"] is None:
            continue
        if "tray" in step:
            Tray.objects.update_or_create(pk=step["tray"], defaults={**step["before"], "owner": owner})
        else:
            Lure.objects.update_or_create(pk=step["lure"], defaults=step["before"])
    change.undone = True
    change.save(update_fields=["undone"])
    return f"Undone: {change.words}"


def _check(owner: User, step: dict[str, Any]) -> None:
    """Raises ValidationError where a step cannot be taken back, or only at the cost of what came after it."""
    kind: Kind = "tray" if "tray" in step else "lure"
    before, after = step["before"], step["after"]
    if after and not _still(state_of(step[kind], kind), after):
        raise ValidationError("It has changed again since then: take the later change back first.")
    if kind == "tray":
        if before is None and Lure.objects.filter(tray=step["tray"]).exists():
            raise ValidationError("There is something in the tray: move that first.")
        if before and Tray.objects.filter(owner=owner, letter=before["letter"]).exclude(pk=step["tray"]).exists():
            raise ValidationError(f"There is another tray {before['letter']} by now.")
    elif before and not Tray.objects.filter(owner=owner, pk=before["tray_id"]).exists():
        raise ValidationError("The tray it was in is gone: take its deletion back first.")


def _still(now: State | None, after: State) -> bool:
    """Whether something is as a change left it, as far as the change tells: early ones tell of fewer fields.

    Moving a lure moves its neighbours up or down, which is no change to them.
    """
    return now is not None and all(now[name] == value for name, value in after.items() if name != "position")
