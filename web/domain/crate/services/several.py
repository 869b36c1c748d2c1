"""Several stacks at once: moved, counted, marked, taken out, or sorted into trays."""

from collections.abc import Callable, Sequence

from django.core.exceptions import ValidationError

from tackle.base.numbers import read_whole
from tackle.crate.sorted_trays import SortedTray, sort_into_trays
from tackle.intake.sheet_rows import CONDITIONS
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.ui.keys import LARGEST_KEY
from web.common.ui.words import label
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import Lure, Place, Tray
from web.domain.crate.selectors import get_tray, list_lures, list_stock, list_trays_with_places
from web.domain.crate.services.stacks import AREA, bounded, next_position
from web.domain.crate.services.trays import new_tray
from web.domain.history.kinds import LURE, TRAY
from web.domain.history.models import Change
from web.domain.history.record import record
from web.domain.history.states import States, states, steps

NEW_ROWS, NEW_COLUMNS = 6, 3
MOST_NAMED = 3  # kinds that a tray is called after


@one_change
def change_several(owner: User, keys: Sequence[int], what: str, value: str) -> Change:
    """Does one thing to several stacks: "move" to a tray by its key, "condition", "count", "delete". Raises
    ValidationError."""
    lures = list(list_lures(owner).filter(pk__in=keys))
    if not lures:
        raise ValidationError("Choose some lures first.")
    if what not in _SEVERAL:
        raise ValidationError(f"{what} cannot be done to several.")
    before = states(LURE, [lure.pk for lure in lures])
    words = _SEVERAL[what](owner, lures, value)
    return record(owner, AREA, words, steps(LURE, before, states(LURE, before)))


def _move(owner: User, lures: list[Lure], value: str) -> str:
    tray = get_tray(owner, read_whole(value, 1, LARGEST_KEY) or 0)
    for position, lure in enumerate(lures, next_position(tray)):
        lure.tray, lure.position = tray, position
    Lure.objects.bulk_update(lures, ["tray", "position"])
    return f"{len(lures)} stacks are moved to tray {tray.letter}."


def _mark(owner: User, lures: list[Lure], value: str) -> str:
    if value and value not in CONDITIONS:
        raise ValidationError(f"“{value[:20]}” is none of {', '.join(CONDITIONS)}.")
    Lure.objects.filter(pk__in=[lure.pk for lure in lures]).update(condition=value)
    return f"{len(lures)} stacks: {value or 'condition not noted'}."


def _count(owner: User, lures: list[Lure], value: str) -> str:
    count = read_whole(value, 1, 999)
    if count is None:
        raise ValidationError(f"“{value[:20]}” is no count from 1 to 999.")
    Lure.objects.filter(pk__in=[lure.pk for lure in lures]).update(count=bounded(count))
    return f"{len(lures)} stacks of {count} each."


def _delete(owner: User, lures: list[Lure], value: str) -> str:
    Lure.objects.filter(pk__in=[lure.pk for lure in lures]).delete()
    return f"{len(lures)} stacks are taken out."


_SEVERAL: dict[str, Callable[[User, list[Lure], str], str]] = {
    "move": _move, "condition": _mark, "count": _count, "delete": _delete,
}  # fmt: skip


def trays_proposed(owner: User) -> list[tuple[Tray | None, SortedTray]]:
    """What lies aboard, sorted into the trays that are aboard and as many new ones as it needs."""
    lures = [one.lure for one in list_stock(owner, get_palette(owner)) if not one.at_home]
    trays = [tray for tray in list_trays_with_places(owner) if not tray.at_home]
    proposed = sort_into_trays(lures, [tray.room for tray in trays], NEW_ROWS * NEW_COLUMNS)
    return [(None if one.owned is None else trays[one.owned], one) for one in proposed]


@one_change
def sort_trays(owner: User) -> Change:
    """Sorts what lies aboard into trays, each called after its kinds. Raises ValidationError where nothing does."""
    proposed = trays_proposed(owner)
    if not proposed:
        raise ValidationError("There is nothing in the boat to sort.")
    held = {lure.pk: lure for lure in list_lures(owner)}
    lures_before, trays_before = states(LURE, held), states(TRAY, [tray.pk for tray, _ in proposed if tray])
    new: States = {}
    touched: list[Lure] = []
    labels = Tray.Label.values
    for index, (tray, each) in enumerate(proposed):
        called = tray_name(each)
        if tray is None:
            mark = labels[index % len(labels)]
            tray = new_tray(owner, called, mark, Place.Kind.BOAT, NEW_ROWS, NEW_COLUMNS)
            new |= states(TRAY, [tray.pk])
        else:
            tray.name = called
            tray.save(update_fields=["name"])
        for position, lure in enumerate(each.lures, 1):
            one = held[int(lure.ref)]
            one.tray, one.position = tray, position
            touched.append(one)
    Lure.objects.bulk_update(touched, ["tray", "position"], batch_size=500)
    words = f"{len(touched)} stacks are sorted into {len(proposed)} trays."
    done = [
        *steps(TRAY, trays_before, states(TRAY, trays_before) | new),
        *steps(LURE, lures_before, states(LURE, lures_before)),
    ]
    return record(owner, AREA, words, done)


def tray_name(tray: SortedTray) -> str:
    """What a tray is called: after its kinds."""
    kinds = [label(category).lower() for category in tray.categories]
    more = f" and {len(kinds) - MOST_NAMED} more" if len(kinds) > MOST_NAMED else ""
    return (", ".join(kinds[:MOST_NAMED]) + more).capitalize()[:60]
