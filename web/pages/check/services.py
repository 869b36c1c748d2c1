"""What the bench makes, written in one transaction."""

from dataclasses import replace

from tackle.check.workbench import Make
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.colours.services import keep_like
from web.domain.crate import services
from web.domain.history.models import Change


@one_change
def make_over(owner: User, make: Make, count: int) -> Change:
    """So many of a stack made over; a card that is new for it is made with them, or not at all. Raises
    ValidationError."""
    return services.make_over(owner, int(make.lure.ref), count, _made_card(owner, make), make.repair.words)


def _made_card(owner: User, make: Make) -> str:
    """The card that is made: one of the palette, or else a card of the owner's own, made now."""
    if make.made.id != make.lure.card.id:
        return make.made.id
    named = replace(make.made, name=f"{make.lure.card.name}: {make.repair.words.lower()}")
    return keep_like(owner, named, make.lure.category).card
