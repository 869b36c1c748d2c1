"""What the angler says of the crate: marks on findings, what counts as one, the score of a day."""

from typing import Any

from django.core.exceptions import ValidationError

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.crate.models import Mark, Score


@one_change
def mark_finding(owner: User, finding: str, words: str, state: str, reason: str) -> None:
    """Says of a finding that it is done, put off, or dismissed with a reason; no state takes that back."""
    if state not in (*Mark.State.values, ""):
        raise ValidationError(f"{state} is not one of {', '.join(Mark.State.values)}.")
    if state == Mark.State.NO and not reason.strip():
        raise ValidationError("Say why: the check will respect it.")
    if not state:
        Mark.objects.filter(owner=owner, finding=finding[:120]).delete()
        return
    values = {"words": words[:200], "state": state, "reason": reason.strip()[:200]}
    Mark.objects.update_or_create(owner=owner, finding=finding[:120], defaults=values)


@one_change
def set_any_form(owner: User, any_form: bool) -> None:
    """Sets whether another size, weight or depth of a colour counts as the same thing."""
    owner.any_form = any_form
    owner.save(update_fields=["any_form"])


@one_change
def note_score(owner: User, day: Any, answered: float, expected: float) -> None:
    """Writes down how the crate stands on a day."""
    Score.objects.update_or_create(owner=owner, day=day, defaults={"answered": answered, "expected": expected})
