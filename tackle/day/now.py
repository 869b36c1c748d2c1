"""What to throw now: what the schools and the log say of what is left in the tray, and what the fish said."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from tackle.base.vocabulary import TRAILER, Grade
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.data import reason
from tackle.day.fish import FishRead, FishTurn, read_fish
from tackle.learn.factors import NOTED, Factors, factors_here, log_factors
from tackle.learn.log import Turn
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import Preferences, Start, ask, trailer_for
from tackle.situations.situation import Situation

__all__ = ["HourBegin", "KindNow", "aboard_better", "begin_hours", "kind_now", "log_of", "spoken_kind"]


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
    fished: Sequence[FishTurn], log: Factors, at: datetime, palette: Palette, partner: Colour | None = None,
) -> KindNow:  # fmt: skip
    """One kind of lure at a moment: of some cards that are left of it, what else lies aboard, the turns with it, and
    what a log says of all these (`log_of`); what a partner throws, of whatever kind."""
    sold = palette.sold_in(situation.category)
    there = _listed([*cards, *aboard], sold)
    asked = ask(books, (*sold, *(card for card in there if card not in sold)), situation)
    factors = factors_here(log, situation)
    mine = _listed(cards, sold)
    accepted = [card for card in mine if asked.advice_for(card)]
    read = read_fish(asked.order(mine, factors), accepted, fished, situation, at, partner)
    return KindNow(situation, asked, read, factors)


def log_of(category: str, cards: Sequence[Colour], log: Sequence[Turn], palette: Palette) -> Factors:
    """What a log says of some cards of a kind."""
    return log_factors(_listed(cards, palette.sold_in(category)), log)


def _listed(cards: Sequence[Colour], sold: Sequence[Colour]) -> list[Colour]:
    """Some cards, each once, in the palette's order."""
    return sorted(dict.fromkeys(cards), key=lambda card: sold.index(card) if card in sold else len(sold))


@dataclass(frozen=True, slots=True)
class HourBegin:
    """What to begin an hour with, the trailer on a jig, how good that is, and why."""

    card: Colour
    trailer: Colour | None
    grade: Grade
    why: str


def begin_hours(
    situations: Sequence[Situation], cards: Sequence[Colour], aboard: Sequence[Colour], trailers: Sequence[Colour],
    books: Sequence[Rulebook], log: Factors, palette: Palette,
) -> list[HourBegin | None]:  # fmt: skip
    """What the phone will say at the beginning of each of some hours, before anything was fished; None where no
    rulebook accepts what there is."""
    known: dict[Situation, HourBegin | None] = {}
    for situation in situations:
        if situation not in known:
            known[situation] = _begin(situation, cards, aboard, trailers, books, log, palette)
    return [known[situation] for situation in situations]


def _begin(
    situation: Situation, cards: Sequence[Colour], aboard: Sequence[Colour], trailers: Sequence[Colour],
    books: Sequence[Rulebook], log: Factors, palette: Palette,
) -> HourBegin | None:  # fmt: skip
    kind = kind_now(situation, cards, aboard, books, [], log, datetime.min, palette)
    card = kind.read.card
    voice = kind.asked.advice_for(card) if card else None
    if card is None or voice is None:
        return None
    threaded = palette.sold_in(TRAILER)
    on_it = trailer_for(card, situation, _listed(trailers, threaded), threaded, books)
    return HourBegin(card, on_it.card if on_it else None, voice[1].grade, kind.said(card)[0])


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
