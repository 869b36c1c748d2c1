"""What to throw now: what the schools and the log say of what is left in the tray, and what the fish said."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.data import reason
from tackle.day.fish import FishRead, FishTurn, read_fish
from tackle.learn.factors import NOTED, factors_here, log_factors
from tackle.learn.log import Turn
from tackle.schools.evaluation import reached_first
from tackle.schools.first_word import Asked, Start, ask
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation

__all__ = ["KindNow", "aboard_better", "kind_now"]


@dataclass(frozen=True, slots=True)
class KindNow:
    """One kind of lure now: its situation, what the schools say of what is left of it, what the fish said, and how many
    times the average each colour gets where the log tells something."""

    situation: Situation
    asked: Asked
    read: FishRead
    log: Mapping[str, float]

    def said(self, card: Card) -> tuple[str, str | None]:
        """The reason for a colour, and who gives it: the log, a school by its id, or nobody."""
        if self.log.get(card.id, 1.0) >= NOTED:
            return reason("log-says", times=f"{self.log[card.id]:.1f}"), "log"
        voice = self.asked.voice(card)
        return (voice[1].call.why, voice[0].id) if voice else ("", None)


def kind_now(
    situation: Situation, cards: Sequence[Card], aboard: Sequence[Card], books: Sequence[Rulebook],
    fished: Sequence[FishTurn], log: Sequence[Turn], at: datetime, palette: Palette,
) -> KindNow:  # fmt: skip
    """One kind of lure at a moment: of some cards that are left of it, what else lies aboard, and the turns with it."""
    sold = palette.sold_in(situation.category)

    def listed(some: Sequence[Card]) -> list[Card]:
        return sorted(dict.fromkeys(some), key=lambda card: sold.index(card) if card in sold else len(sold))

    asked = ask(books, listed(cards), situation)
    factors = factors_here(log_factors(listed([*cards, *aboard]), log), situation)
    return KindNow(situation, asked, read_fish(asked.order(factors), fished, situation, at), factors)


def aboard_better(kind: KindNow, aboard: Sequence[Card], books: Sequence[Rulebook], palette: Palette) -> Start | None:
    """What is aboard and a first choice of a school where the tray has none of its first choices."""
    left, lacking = set(kind.read.order), []
    for book, verdicts in ask(books, palette.sold_in(kind.situation.category), kind.situation).ranked:
        first = reached_first(verdicts)
        if left.isdisjoint(verdict.card for verdict in first):
            lacking.append((book, [verdict for verdict in first if verdict.card in aboard]))
    return Asked(kind.situation, aboard, lacking).start()
