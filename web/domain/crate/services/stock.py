"""What goes from home to the boat and back, is bought, lost or torn."""

from collections.abc import Sequence

from django.core.exceptions import ValidationError

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.crate.models import Lure, Place, Tray
from web.domain.crate.selectors import list_lures, list_trays_with_places
from web.domain.crate.services.lures import add_lure
from web.domain.crate.services.stacks import card_name, carried, recorded, set_count
from web.domain.crate.services.trays import FIRST_PLACES, make_tray, tray_made
from web.domain.history.kinds import LURE
from web.domain.history.models import Change
from web.domain.history.states import states


@one_change
def bring(owner: User, wanted: Sequence[tuple[str, str, int]]) -> Change:
    """Brings stock from home, each (category, card, count) to where it lies, or its category does. Raises
    ValidationError where home has none of them."""
    lures = list(list_lures(owner).order_by("tray__letter", "position", "pk"))
    first = next((tray for tray in list_trays_with_places(owner) if not tray.at_home), None)
    moves: list[tuple[Lure, int, Tray]] = []
    brought: list[str] = []
    there = {lure.pk: lure.count for lure in lures if lure.tray.at_home}
    for category, card, count in wanted:
        out = [lure for lure in lures if lure.category == category and not lure.tray.at_home]
        same = [lure for lure in out if lure.card == card]
        tray = (same or out)[0].tray if out else first
        home = [lure for lure in lures if (lure.category, lure.card) == (category, card) and lure.tray.at_home]
        left = count
        if tray is None:
            continue
        for lure in home:
            if one := min(left, there[lure.pk]):
                moves.append((lure, one, tray))
                there[lure.pk] -= one
                left -= one
        if left < count:
            brought.append(f"{count - left} {card_name(owner, card)} from home to tray {tray.letter}")
    if not moves:
        raise ValidationError("There is none at home to bring.")
    words = f"{brought[0]}." if len(brought) == 1 else f"{sum(count for _, count, _ in moves)} lures from home."
    return carried(owner, words, moves)


@one_change
def put_away(owner: User, category: str, card: str) -> Change:
    """Takes all of a colour that is aboard home, into the tray where its category is kept there. Raises
    ValidationError where none is aboard."""
    lures = list(list_lures(owner).filter(category=category).order_by("tray__letter", "position", "pk"))
    out = [lure for lure in lures if lure.card == card and not lure.tray.at_home]
    if not out:
        raise ValidationError("There is none in the boat to put away.")
    kept = next((lure.tray for lure in lures if lure.tray.at_home), None)
    home = kept or next((tray for tray in list_trays_with_places(owner) if tray.at_home), None)
    home = home or tray_made(make_tray(owner, FIRST_PLACES[Place.Kind.HOME], "slate", Place.Kind.HOME))
    words = f"{sum(lure.count for lure in out)} {card_name(owner, card)} home to tray {home.letter}."
    return carried(owner, words, [(lure, lure.count, home) for lure in out])


@one_change
def take_out(owner: User, gone: Sequence[tuple[str, str, int]]) -> Change:
    """Takes what was lost or torn out of the counts, each (category, card, count), from what is aboard first; of what
    there is less of, all. Raises ValidationError where there is none of it."""
    lures = list(list_lures(owner).order_by("tray__letter", "position", "pk"))
    lures.sort(key=lambda lure: lure.tray.at_home)
    left: dict[int, int] = {}
    for category, card, count in gone:
        for lure in lures:
            if (lure.category, lure.card) == (category, card) and count:
                taken = min(count, left.get(lure.pk, lure.count))
                left[lure.pk] = left.get(lure.pk, lure.count) - taken
                count -= taken
    touched = [lure for lure in lures if left.get(lure.pk, lure.count) < lure.count]
    if not touched:
        raise ValidationError("There is none of it in the tackle box.")
    before = states(LURE, [lure.pk for lure in touched])
    pieces = sum(lure.count - left[lure.pk] for lure in touched)
    for lure in touched:
        if left[lure.pk]:
            set_count(lure, left[lure.pk])
        else:
            lure.delete()
    words = f"{pieces} {'lure is' if pieces == 1 else 'lures are'} out of the counts."
    return recorded(owner, words, before, before)


@one_change
def bought(owner: User, category: str, card: str, count: int) -> Change:
    """Puts what was bought into the crate: onto the same colour where it is there, else where its category lives."""
    held = list_lures(owner).filter(category=category, card=card).first()
    if held is not None:
        before = states(LURE, [held.pk])
        set_count(held, held.count + count)
        return recorded(owner, f"{count} {card_name(owner, card)} bought.", before, [held.pk])
    trays = list(list_trays_with_places(owner))
    lives = list_lures(owner).filter(category=category).exclude(tray__place__kind=Place.Kind.HOME).first()
    tray = lives.tray if lives else next((one for one in trays if not one.at_home), trays[0] if trays else None)
    return add_lure(
        owner, tray=tray or tray_made(make_tray(owner, "Bought", "teal")), category=category, card=card, count=count
    )
