"""What has no colour that counts: put in, counted, moved, taken out."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.core.exceptions import ValidationError

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.crate.models import Thing, Tray
from web.domain.crate.selectors import get_thing, get_tray
from web.domain.crate.services.stacks import AREA, bounded, lines_joined
from web.domain.history.kinds import THING
from web.domain.history.models import Change
from web.domain.history.record import record
from web.domain.history.states import states, steps

MOST_THINGS = 2_000


@dataclass(frozen=True, slots=True)
class NewThing:
    """A thing as it was typed, and where it goes."""

    name: str
    count: int
    weight_oz: float | None
    size_in: float | None
    tray: Tray
    typed: str = ""


def things_put_in(owner: User, new: Sequence[NewThing]) -> list[dict[str, object]]:
    """Puts things in, more of what lies in that tray already, and gives the steps of it. Raises ValidationError."""
    every = list(Thing.objects.filter(tray__owner=owner))
    if len(every) + len(new) > MOST_THINGS:
        raise ValidationError(f"A tackle box holds at most {MOST_THINGS:,} kinds of things.")
    there = {(one.tray_id, one.name.lower(), one.weight_oz, one.size_in): one for one in every}
    before, touched = states(THING, [one.pk for one in every]), []
    for one in new:
        key = (one.tray.pk, one.name.lower(), one.weight_oz, one.size_in)
        held = there.get(key)
        if held is None:
            held = Thing(tray=one.tray, name=one.name[:80], count=0, weight_oz=one.weight_oz, size_in=one.size_in)
        held.count = bounded(held.count + one.count)
        held.typed = lines_joined(held.typed, one.typed)
        held.save()
        there[key] = held
        touched.append(held.pk)
    known = {pk: before[pk] for pk in touched if pk in before}
    return steps(THING, known, states(THING, touched))


@one_change
def set_thing(owner: User, pk: int, count: int, par: int, tray_pk: int) -> Change:
    """How many there are, how many there shall be, and where. None of it: it is taken out. Raises ValidationError."""
    thing, before = get_thing(owner, pk), states(THING, [pk])
    thing.count, thing.par, thing.tray = count, par, get_tray(owner, tray_pk)
    if not count and not par:
        thing.delete()
        return record(owner, AREA, f"{thing.name.capitalize()} taken out.", steps(THING, before, {}))
    thing.full_clean()
    thing.save()
    return record(owner, AREA, f"{count} {thing.name}.", steps(THING, before, states(THING, [pk])))
