"""Every change to what somebody has learned: checked, and written in one transaction. An answer is taken once."""

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime, timedelta
from typing import Any, Final

from django.core.exceptions import ValidationError
from django.utils import timezone

from tackle.base.errors import InvalidInput
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.teach.recall import answered
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.plans.selectors import get_basis
from web.pages.learn.models import Answer, Guess, Known
from web.pages.learn.selectors import every_place, make_question

MOST_AT_ONCE: Final = 200
MOST_GUESSES: Final = 2_000
MOST_ANSWERS: Final = 20_000
MOST_SEED: Final = 2**31
EARLIEST: Final = timedelta(days=60)  # before now: an answer is not older than a phone may have been without a signal


@one_change
def take_answers(owner: User, entries: Sequence[Any], clock_off_s: float = 0.0) -> tuple[list[str], dict[str, str]]:
    """Takes answers of the drill in, in the order of their own times: which of them are here now, and of the others
    what is wrong with each. `clock_off_s`: by how much the phone's clock is behind. Raises ValidationError."""
    if len(entries) > MOST_AT_ONCE:
        raise ValidationError(f"At most {MOST_AT_ONCE} answers at once.")
    there = Answer.objects.filter(owner=owner)
    if there.count() + len(entries) > MOST_ANSWERS:
        there.filter(pk__in=list(there.values_list("pk", flat=True)[:MOST_AT_ONCE])).delete()
    basis = get_basis(owner)
    places = every_place(basis)
    here = set(there.values_list("key", flat=True))
    taken: list[str] = []
    refused: dict[str, str] = {}
    read = []
    for index, entry in enumerate(entries):
        try:
            read.append(_read(entry, f"answers[{index}]", clock_off_s))
        except InvalidInput as wrong:
            refused[str(entry.get("id") if isinstance(entry, Mapping) else index)[:40]] = str(wrong)
    knowing = {one.cell: one for one in Known.objects.filter(owner=owner)}
    for key, cell, seed, card, at in sorted(read, key=lambda one: one[4]):
        taken.append(key)
        if key in here:
            continue
        question = make_question(basis, places[cell], seed) if cell in places else None
        pick = next((offer.pick for offer in question.offers if offer.card.id == card), None) if question else None
        if pick is None:  # the plan has changed since it was asked: nothing to be told from it
            continue
        here.add(key)
        Answer.objects.create(owner=owner, key=key, cell=cell, seed=seed, card=card, pick=pick, at=at)
        known = knowing.setdefault(cell, Known(owner=owner, cell=cell, state={}, first_on=timezone.localdate(at)))
        known.state = answered(known.state or None, pick, at)
        known.answers += 1
        known.save()
    return taken, refused


def _read(entry: Any, field: str, clock_off_s: float) -> tuple[str, str, int, str, datetime]:
    """One answer as a phone sends it. Raises InvalidInput."""
    if not isinstance(entry, Mapping):
        raise InvalidInput(field, "is not an object", "an object with id, cell, seed, card and at")
    for name, most in (("id", 40), ("cell", 80), ("card", 60)):
        if not isinstance(entry.get(name), str) or not 0 < len(entry[name]) <= most:
            raise InvalidInput(f"{field}.{name}", "is no text of that length", f"1 to {most} characters")
    seed, ms = entry.get("seed"), entry.get("at")
    if type(seed) is not int or not 0 <= seed < MOST_SEED:
        raise InvalidInput(f"{field}.seed", "is no whole number", f"0 to {MOST_SEED - 1}")
    now = timezone.now()
    first = (now - EARLIEST).timestamp() * 1000
    if type(ms) is not int or not first <= ms + clock_off_s * 1000 <= now.timestamp() * 1000 + 60_000:
        raise InvalidInput(f"{field}.at", "is no time of the last sixty days", "milliseconds since 1970")
    at = datetime.fromtimestamp(ms / 1000 + clock_off_s, UTC)
    return entry["id"], entry["cell"], seed, entry["card"], min(at, now)


@one_change
def keep_guess(owner: User, stain: str, light: str, true_in: float, read_in: float) -> Guess:
    """Keeps how deep a white lure was read. Raises ValidationError."""
    if not 0 < read_in <= MAX_VISIBILITY_IN:
        raise ValidationError("Let it sink first.")
    if Guess.objects.filter(owner=owner).count() >= MOST_GUESSES:
        oldest = Guess.objects.filter(owner=owner).order_by("pk").first()
        if oldest:
            oldest.delete()
    return Guess.objects.create(owner=owner, stain=stain, light=light, true_in=true_in, read_in=read_in)
