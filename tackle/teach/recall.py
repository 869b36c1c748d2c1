"""When to ask again: the free spaced repetition scheduler (package fsrs), by what came of each pick."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any, Final

from fsrs import Card, Rating, Scheduler

from tackle.teach.drill import Pick

__all__ = ["answered", "due_at", "known"]

_SCHEDULER: Final = Scheduler(enable_fuzzing=False)  # the same answers, played again, come to the same
_RATING: Final = {Pick.FIRST: Rating.Good, Pick.DOES: Rating.Hard, Pick.WRONG: Rating.Again}

State = Mapping[str, Any]  # of one thing to know, as plain data


def answered(state: State | None, pick: Pick, at: datetime) -> dict[str, Any]:
    """What is known after an answer; None: it was never asked. An answer from before the last one counts as of then."""
    card = _card(state)
    if card.last_review and at < card.last_review:
        at = card.last_review
    after, _ = _SCHEDULER.review_card(card, _RATING[pick], at.astimezone(UTC))
    return dict(after.to_dict())


def due_at(state: State) -> datetime:
    """When it is to be asked again."""
    due: datetime = _card(state).due
    return due


def known(state: State, at: datetime) -> float:
    """How likely it is still known, from 0 to 1."""
    card = _card(state)
    return float(_SCHEDULER.get_card_retrievability(card, at.astimezone(UTC))) if card.last_review else 0.0


def _card(state: State | None) -> Card:
    return Card.from_dict(dict(state)) if state else Card(card_id=1)  # type: ignore[arg-type]
