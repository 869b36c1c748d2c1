"""What to throw now: what the schools and the log say of what is left in the tray, and what the fish said."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.data import reason
from tackle.day.fish import FishRead, FishTurn, read_fish
from tackle.learn.factors import NOTED, factors_here, log_factors
from tackle.learn.log import Turn
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import Preferences, Start, ask
from tackle.situations.situation import Situation

__all__ = ["KindNow", "aboard_better", "kind_now", "spoken_kind"]


@dataclass(frozen=True, slots=True)
class KindNow:
    """One kind of lure now: its situation, what the schools say of it, what the fish said, and how many
    times the average each colour gets where the log tells something."""

    situation: Situation
    asked: Preferences
    read: FishRead
    log: Mapping[str, float]

    def said(self, card: Colour) -> tuple[str, str | None]:
        """The reason for a colour, and who gives it: the log, a school by its id, or nobody."""
        if self.log.get(card.id, 1.0) >= NOTED:
            return reason("log-says", times=f"{self.log[card.id]:.1f}"), "log"
        voice = self.asked.advice_for(card)
        return (voice[1].call.why, voice[0].id) if voice else ("", None)


def kind_now(
    situation: Situation, cards: Sequence[Colour], aboard: Sequence[Colour], books: Sequence[Rulebook],
    fished: Sequence[FishTurn], log: Sequence[Turn], at: datetime, palette: Palette, partner: Colour | None = None,
) -> KindNow:  # fmt: skip
    """One kind of lure at a moment: of some cards that are left of it, what else lies aboard, and the turns with it;
    what a partner throws, of whatever kind."""
    sold = palette.sold_in(situation.category)

    def listed(some: Sequence[Colour]) -> list[Colour]:
        return sorted(dict.fromkeys(some), key=lambda card: sold.index(card) if card in sold else len(sold))

    there = listed([*cards, *aboard])
    asked = ask(books, (*sold, *(card for card in there if card not in sold)), situation)
    factors = factors_here(log_factors(there, log), situation)
    mine = listed(cards)
    accepted = [card for card in mine if asked.advice_for(card)]
    read = read_fish(asked.order(mine, factors), accepted, fished, situation, at, partner)
    return KindNow(situation, asked, read, factors)


def spoken_kind(kinds: Mapping[str, KindNow]) -> str:
    """Which kind is spoken of: the rod's own, the first, while it is stayed with; else one on which two came, whoever
    threw it; else the first of which something can be thrown."""
    first = next(iter(kinds))
    if kinds[first].read.do == "stay":
        return first
    shared = next((category for category, kind in kinds.items() if kind.read.shared), None)
    return shared or next((category for category, kind in kinds.items() if kind.read.card), first)


def aboard_better(kind: KindNow, aboard: Sequence[Colour]) -> Start | None:
    """What is aboard and as good as the first word, where nothing of the tray is."""
    good = [card.id for card in kind.asked.as_good()]
    if any(card.id in good for card in kind.read.order):
        return None
    mine = {card.id for card in aboard if card.id in good}
    return kind.asked.start(mine) if mine else None
