"""Turns on the water: which colour after which, and what a bite of each kind says.

The first turns differ in role, the exact shade comes last. A bite that was nearly one asks for the nearest step in
finish, opacity or belly; a whole one asks for nothing. Loud colours that no school asks for are thrown only in clear,
warm water, as fast as can be.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from tackle.colours.card import Card
from tackle.colours.likeness import difference, unlike_traits
from tackle.colours.palette import Palette
from tackle.colours.role import Role, role_of
from tackle.cover.opinions import Opinions, opinions_of
from tackle.schools.call import Call
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation
from tackle.vocabulary import Accent, Forage, Grade, Pace

__all__ = ["Turns", "belly_of", "by_role", "loud_turn", "nearest_step", "step_away", "turns_for"]

LOUD_FROM_IN, LOUD_FROM_F = 60.0, 60.0  # clear and warm, as the guide has it
_BELLIES: Final = frozenset((Accent.ORANGE_BELLY, Accent.PALE_BELLY, Accent.YELLOW_BELLY, Accent.CHARTREUSE_BELLY))


@dataclass(frozen=True, slots=True)
class Turns:
    """The colours of one category in the order to throw them in one situation, and who says so of the first.

    `loud`: the colour for a loud turn, where one may be thrown.
    """

    order: tuple[Card, ...]
    book: Rulebook
    call: Call
    grade: Grade
    loud: Card | None


def turns_for(
    category: str,
    situations: Sequence[Situation],
    cards: Sequence[Card],
    books: tuple[Rulebook, ...],
    palette: Palette,
) -> list[Turns | None]:
    """For each situation the turns with some cards that are aboard; None where no school has a use for any of them.

    Begun with the first word over them; then what most schools have as a first choice, then what suits best.
    """
    opinions = opinions_of(category, books, tuple(situations), False, Grade.WORKS, palette)
    places = [place for place, card in enumerate(opinions.cards) if card in cards]
    known: dict[tuple[int, tuple[Forage, ...]], Turns | None] = {}
    found: list[Turns | None] = []
    for kind, situation in zip(opinions.kind_of.tolist(), situations, strict=True):
        key = kind, situation.forage
        if key not in known:
            known[key] = _turns(opinions, kind, situation, places)
        turns = known[key]
        loud = loud_turn(situation)
        found.append(replace(turns, loud=turns.loud if loud else None) if turns else None)
    return found


def _turns(opinions: Opinions, kind: int, situation: Situation, places: Sequence[int]) -> Turns | None:
    firsts = opinions.firsts(kind)
    suits = {place: int(opinions.best[kind, place]) for place in places}
    standing = sorted(
        (place for place in places if suits[place]),
        key=lambda place: (-sum(first >> place & 1 for first in firsts), -suits[place], place),
    )
    if not standing:
        return None
    start = opinions.asked(kind, situation, places).start()
    book, call = (start.book, start.verdict.call) if start else opinions.deciding(kind, standing[0])
    ranked = [opinions.cards[place] for place in standing]
    if start:
        ranked = [start.card, *(card for card in ranked if card is not start.card)]
    quiet = [opinions.cards[place] for place in places if not suits[place]]
    loud = next((card for card in quiet if role_of(card) is Role.LOUD), None)
    rest = [card for card in quiet if role_of(card) is not Role.LOUD]
    return Turns(by_role([*ranked, *rest]), book, call, call.grade, loud)


def by_role(ranked: Sequence[Card]) -> tuple[Card, ...]:
    """The best of each role first, then the rest as ranked."""
    heads = {role_of(card): card for card in reversed(ranked)}
    first = [card for card in ranked if heads[role_of(card)] is card]
    return (*first, *(card for card in ranked if card not in first))


def loud_turn(situation: Situation) -> bool:
    """Whether a loud turn may be offered: clear, warm water, and a lure at full pace."""
    warm = situation.likely_temp_f
    fast = situation.pace is None or situation.pace is Pace.FAST
    return situation.visibility_in >= LOUD_FROM_IN and warm is not None and warm >= LOUD_FROM_F and fast


def nearest_step(card: Card, cards: Sequence[Card]) -> Card | None:
    """Of some cards the one a step away: of the same role, with as little as can be changed of finish, opacity or
    belly. None where nothing of that role is there."""
    same = [one for one in cards if one.id != card.id and role_of(one) is role_of(card)]
    return min(same, key=lambda one: step_away(card, one), default=None)


def step_away(card: Card, one: Card) -> tuple[bool, int, bool, float]:
    """How far a colour is from another of its role; less is nearer."""
    changed = (one.finish is not card.finish) + (one.opacity is not card.opacity) + (belly_of(one) != belly_of(card))
    other = set(unlike_traits(card, one)) - {"finish", "opacity", "accents"}
    # One thing changed is a step; nothing changed but the shade comes after that.
    return one.tone is not card.tone, abs(changed - 1), bool(other), difference(card, one)


def belly_of(card: Card) -> frozenset[Accent]:
    """The accents of a card's belly."""
    return frozenset(card.accents) & _BELLIES
