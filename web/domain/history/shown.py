"""What a form showed when it was opened, sent along with it, so that nothing changed since is overwritten unseen."""

import json
from contextlib import suppress
from typing import Any

from django.core.exceptions import ValidationError
from django.forms import BaseForm

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from web.domain.history.kinds import ChangeKind
from web.domain.history.states import Stale, states


def show(kind: ChangeKind, key: int) -> str:
    """What a thing is now, for a form's hidden field."""
    return json.dumps(states(kind, [key]).get(key, {}))


def read_shown(text: str) -> dict[str, Any] | None:
    """What the form showed; None where it does not tell."""
    with suppress(InvalidInput):
        data = read_json(text)
        return data if isinstance(data, dict) else None
    return None


def add_errors(form: BaseForm, error: ValidationError) -> int:
    """Puts what a change refused beside its fields, as far as the form has them; returns the page's status."""
    listed = error.message_dict if hasattr(error, "error_dict") else {"": error.messages}
    for field, words in listed.items():
        name = next(
            (one for one in (field, field.removesuffix("_id"), field.rsplit("_", 1)[0]) if one in form.fields), None
        )
        said = words if name or not field else [f"{field.replace('_', ' ').capitalize()}: {word}" for word in words]
        form.add_error(name, said)
    return 409 if isinstance(error, Stale) else 422
