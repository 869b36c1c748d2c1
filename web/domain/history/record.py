"""Writing a change into the history, and taking one back: never at the cost of a later one."""

from collections.abc import Mapping, Sequence
from typing import Any

from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.db.models import Func, IntegerField, QuerySet
from django.shortcuts import get_object_or_404

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.history.kinds import KINDS, ChangeKind
from web.domain.history.models import Change
from web.domain.history.states import State, States, Step, states

BATCH = 500


def list_changes(owner: User, area: str) -> QuerySet[Change]:
    """The owner's changes, newest first, without what is in them."""
    return Change.objects.filter(owner=owner, area=area).defer("steps")


def list_history(owner: User, area: str) -> QuerySet[Change]:
    """The owner's changes, newest first; `step_count`: of how many steps each is, told without reading them."""
    return list_changes(owner, area).annotate(
        step_count=Func("steps", function="JSON_LENGTH", output_field=IntegerField())
    )


def undone_among(keys: Sequence[int]) -> set[int]:
    """Which of some changes, known from what they changed, are undone."""
    return set(Change.objects.filter(pk__in=keys, undone=True).values_list("pk", flat=True))


def describe_changes(keys: Sequence[int]) -> list[str]:
    """What some changes are called that stand."""
    return list(Change.objects.filter(pk__in=keys, undone=False).order_by("pk").values_list("words", flat=True))


def record(owner: User, area: str, words: str, done: Sequence[Step], water: int | None = None) -> Change:
    """Writes a change into the history."""
    return Change.objects.create(owner=owner, area=area, words=words[:200], steps=list(done), water_id=water)


@one_change
def undo(owner: User, area: str, pk: int) -> Change:
    """Takes a change back. Raises ValidationError where that would lose a later one, or cannot be."""
    change = get_object_or_404(Change, owner=owner, area=area, pk=pk, undone=False)
    touched = [(kind, [step for step in change.steps if kind.name in step]) for kind in KINDS.values()]
    now = {kind.name: states(kind, [step[kind.name] for step in done]) for kind, done in touched if done}
    for kind, done in touched:
        _check(owner, kind, done, now)
    try:
        with transaction.atomic():
            for kind, done in touched:
                _put_back(owner, kind, done, now.get(kind.name, {}))
            for kind, done in reversed(touched):
                new = [step[kind.name] for step in done if step["before"] is None]
                _of(owner, kind).filter(pk__in=new).delete()
    except IntegrityError as error:
        raise ValidationError("There is another of that name or letter by now.") from error
    change.undone = True
    change.save(update_fields=["undone"])
    return change


def _of(owner: User, kind: ChangeKind) -> QuerySet[Any]:
    return kind.model._default_manager.filter(**{kind.owner: owner})


def _check(owner: User, kind: ChangeKind, done: Sequence[Step], every: Mapping[str, States]) -> None:
    """Raises ValidationError where steps cannot be taken back, or only at the cost of what came after them. `every`:
    all that the change is of, by kind, as it is now."""
    now = every.get(kind.name, {})
    for step in done:
        here, after = now.get(step[kind.name]), step["after"]
        if after is None and step["before"] is None:
            raise ValidationError("It was written before the history kept enough to take it back.")
        if (after is None) != (here is None) or (after and here and not _still(kind, here, after)):
            raise ValidationError("It has changed again since then: take the later change back first.")
    within = [each for each in KINDS.values() if each.inside and each.inside[1] == kind.name]
    going = [step[kind.name] for step in done if step["before"] is None]
    for each in within:
        field = each.inside[0] if each.inside else ""
        staying = _of(owner, each).exclude(pk__in=every.get(each.name, {}))
        if going and staying.filter(**{f"{field}__in": going}).exists():
            raise ValidationError(f"There is something in the {kind.name}: move that first.")
    if kind.inside:
        field, holder = kind.inside
        wanted = {step["before"][field] for step in done if step["before"]}
        there = _of(owner, KINDS[holder]).filter(pk__in=wanted).count()
        if there < len(wanted):
            raise ValidationError(f"The {holder} it was in is gone: take its deletion back first.")


def _still(kind: ChangeKind, now: State, after: State) -> bool:
    """Whether something is as a change left it, as far as the change tells: early ones tell of fewer fields."""
    return all(now[name] == value for name, value in after.items() if name not in kind.loose)


def _put_back(owner: User, kind: ChangeKind, done: Sequence[Step], now: States) -> None:
    """Gives things that changed, or went, back what they were."""
    was = {step[kind.name]: step["before"] for step in done if step["before"] is not None}
    there = _of(owner, kind).in_bulk([key for key in was if key in now])
    for key, thing in there.items():
        for field, value in was[key].items():
            setattr(thing, field, value)
    owned = {"owner": owner} if kind.owner == "owner" else {}
    fields = sorted({field.removesuffix("_id") for before in was.values() for field in before})
    if there:
        kind.model.objects.bulk_update(list(there.values()), fields, batch_size=BATCH)  # type: ignore[attr-defined]
    gone = [kind.model(pk=key, **owned, **before) for key, before in was.items() if key not in there]
    kind.model.objects.bulk_create(gone, batch_size=BATCH)  # type: ignore[attr-defined]
