"""What the angler says of the crate: marks on findings, what counts as one, the score of a day."""

from typing import Any

from django.core.exceptions import ValidationError

from tackle.base.numbers import read_number
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.colours.selectors import get_palette
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
def set_yardstick(owner: User, first: str, second: str, depth: str) -> None:
    """Sets which two colours, how deep, are the measure of nearly one to the fish. Raises ValidationError."""
    known, feet = get_palette(owner).by_id, read_number(depth, 0, 60)
    if first not in known or second not in known or first == second:
        raise ValidationError("Choose two colours that are not the same.")
    if feet is None:
        raise ValidationError(f"“{depth[:20]}” is no depth from 0 to 60 ft.")
    owner.alike_first, owner.alike_second, owner.alike_depth_ft = first, second, feet
    owner.save(update_fields=["alike_first", "alike_second", "alike_depth_ft"])


@one_change
def note_score(owner: User, day: Any, answered: float, expected: float) -> None:
    """Writes down how the crate stands on a day."""
    Score.objects.update_or_create(owner=owner, day=day, defaults={"answered": answered, "expected": expected})
