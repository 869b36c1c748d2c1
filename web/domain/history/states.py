"""What things are: as stored, to be held against what they were, and against what somebody was shown of them."""

import json
from collections.abc import Iterable, Mapping
from typing import Any

from django.core.exceptions import ValidationError
from django.core.serializers.json import DjangoJSONEncoder
from django.db.models import Model

from web.domain.history.kinds import ChangeKind

State = dict[str, Any]
States = dict[int, State]
Step = dict[str, Any]


class Stale(ValidationError):
    """What was to be changed is not any more what it was when it was shown."""


def states(kind: ChangeKind, keys: Iterable[int]) -> States:
    """Some things as they are stored, in one query; those that are gone are not among them."""
    rows = kind.model.objects.filter(pk__in=list(keys)).values("pk", *kind.fields)  # type: ignore[attr-defined]
    return {row.pop("pk"): as_json(row) for row in rows}


def as_json(values: Mapping[str, Any]) -> State:
    """Values as they come back from JSON, so that they can be compared."""
    return dict(json.loads(json.dumps(dict(values), cls=DjangoJSONEncoder)))


def steps(kind: ChangeKind, before: States, after: States) -> list[Step]:
    """What changed of things of one kind."""
    return [
        {kind.name: key, "before": before.get(key), "after": after.get(key)}
        for key in sorted({*before, *after})
        if before.get(key) != after.get(key)
    ]


def refuse_stale(now: State, shown: Mapping[str, Any] | None, values: Mapping[str, Any]) -> None:
    """Raises Stale where something was changed since it was shown, and would be lost by these values."""
    if shown is None:
        return
    data = as_json(_as_stored(values))
    lost = {
        field: [
            f"It was “{_said(shown[field])}” when you opened this, and is “{_said(now[field])}” now; you wrote "
            f"“{_said(value)}”. Send it again to put yours in its place."
        ]
        for field, value in data.items()
        if field in now and field in shown and now[field] not in (shown[field], value)
    }
    if lost:
        raise Stale(lost)


def _as_stored(values: Mapping[str, Any]) -> dict[str, Any]:
    return {
        f"{field}_id" if isinstance(value, Model) else field: value.pk if isinstance(value, Model) else value
        for field, value in values.items()
    }


def _said(value: Any) -> str:
    return "" if value is None else str(value)[:120]
