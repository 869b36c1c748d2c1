"""What every change of a stack shares."""

from collections.abc import Iterable, Sequence

from django.core.exceptions import ValidationError
from django.db.models import Max

from tackle.intake.limits import MOST_COUNT
from tackle.intake.sheet_rows import MOST_TYPED
from web.common.accounts.models import User
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import Lure, Tray
from web.domain.history.kinds import LURE
from web.domain.history.models import Change
from web.domain.history.record import record
from web.domain.history.states import States, states, steps

AREA = Change.Area.CRATE
MOST_LURES = 20_000


def set_count(lure: Lure, count: int) -> None:
    lure.count = bounded(count)
    lure.save(update_fields=["count"])


def bounded(count: int) -> int:
    if count > MOST_COUNT:
        raise ValidationError(f"A stack holds at most {MOST_COUNT}.")
    return count


def lines_joined(before: str, more: str) -> str:
    """The lines that a stack was typed in as, with more of them, each once; the earliest go where they are too long."""
    lines = list(dict.fromkeys(filter(None, [*before.split("\n"), *more.split("\n")])))
    while len("\n".join(lines)) > MOST_TYPED:
        lines.pop(0)
    return "\n".join(lines)


def recorded(owner: User, words: str, before: States, keys: Iterable[int]) -> Change:
    """A change of lures written into the history, from what they were to what those with these keys are now."""
    return record(owner, AREA, words, steps(LURE, before, states(LURE, keys)))


def next_position(tray: Tray) -> int:
    return int(Lure.objects.filter(tray=tray).aggregate(last=Max("position"))["last"] or 0) + 1


def carried(owner: User, words: str, moves: Sequence[tuple[Lure, int, Tray]], card: str = "") -> Change:
    """Moves some of some stacks into trays, onto the like of each where it is there; recorded. With a `card` they are
    that from now on."""
    trays = {tray.pk for _, _, tray in moves}
    touched = {lure.pk for lure, _, _ in moves}
    touched |= set(Lure.objects.filter(tray__in=trays).values_list("pk", flat=True))
    before = states(LURE, touched)
    for lure, count, tray in moves:
        touched.add(carry(lure, count, tray, card or lure.card))
    return recorded(owner, words, before, touched)


def carry(lure: Lure, count: int, tray: Tray, card: str) -> int:
    form = {"category": lure.category, "card": card, "size_in": lure.size_in, "depth_ft": lure.depth_ft}
    form |= {"weight_oz": lure.weight_oz, "condition": lure.condition}
    there = Lure.objects.filter(tray=tray, sound=lure.sound, **form).exclude(pk=lure.pk).first()
    if there is not None:
        set_count(there, there.count + count)
    else:
        there = Lure.objects.get(pk=lure.pk)
        there.pk, there.tray, there.count, there.position = None, tray, count, next_position(tray)
        there.card = card
        there._state.adding = True
        there.save()
    if count == lure.count:
        lure.delete()
    else:
        set_count(lure, lure.count - count)
    return int(there.pk)


def card_name(owner: User, card: str) -> str:
    known = get_palette(owner).by_id.get(card)
    return known.name if known else card
