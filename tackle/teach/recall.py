"""When to ask again: the free spaced repetition scheduler (package fsrs), by what came of each pick."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import UTC, datetime, timedelta
from typing import Any, Final

from fsrs import Card, Rating, Scheduler
from fsrs import State as Learnt

from tackle.teach.drill import Pick, Question

__all__ = ["answered", "due_at", "is_sure", "known", "session"]

SURE: Final = 0.9  # from here on one may be said to know a place: what the scheduler aims at
_LEAST_REST: Final = timedelta(hours=1)
MOST_ASKED: Final = 15  # at a time: about five minutes
NEW_A_DAY: Final = 8

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
    """When it is to be asked again: not in the hour in which it was answered."""
    card = _card(state)
    due: datetime = card.due
    return max(due, card.last_review + _LEAST_REST) if card.last_review else due


def is_sure(state: State, at: datetime) -> bool:
    """Whether a right answer lasted: it was given again after a while, and is still likely known."""
    return _card(state).state is Learnt.Review and known(state, at) >= SURE


def known(state: State, at: datetime) -> float:
    """How likely it is still known, from 0 to 1."""
    card = _card(state)
    return float(_SCHEDULER.get_card_retrievability(card, at.astimezone(UTC))) if card.last_review else 0.0


def session(
    days: Mapping[str, float],
    states: Mapping[str, State],
    now: datetime,
    begun_today: int,
    ask: Callable[[str], Question | None],
) -> list[tuple[str, Question]]:
    """What to ask now: first what is due, by its days and how likely it is forgotten; then what is new, by its days, so
    many a day. `days`: of each place there is; `states`: of those asked before; `ask`: the question on one, if any."""
    due = [place for place, state in states.items() if place in days and due_at(state) <= now]
    due.sort(key=lambda place: -days[place] * (1.05 - known(states[place], now)))  # never quite sure: days count, too
    new = sorted((place for place in days if place not in states), key=lambda place: -days[place])
    left, found = max(NEW_A_DAY - begun_today, 0), list[tuple[str, Question]]()
    for place in (*due, *new):
        is_new = place not in states
        if len(found) == MOST_ASKED or (is_new and not left):
            break
        question = ask(place)
        if question is not None:
            found.append((place, question))
            left -= is_new
    return found


def _card(state: State | None) -> Card:
    return Card.from_dict(dict(state)) if state else Card(card_id=1)  # type: ignore[arg-type]
