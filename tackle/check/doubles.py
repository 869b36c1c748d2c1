"""Lures that are one colour for the purpose: the same card, the same to the plan, or alike in all that is seen."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tackle.check.reach import Reach
from tackle.colours.card import Card
from tackle.colours.likeness import difference, never_one, one_from_below, unlike_traits
from tackle.crate.lure import Form, Lure, forms_differ, par_of
from tackle.situations.depth import on_top

__all__ = ["Double", "LookAlikes", "Sameness", "find_doubles", "find_groups"]


class Sameness(StrEnum):
    """What makes lures one: the weakest reason in the group."""

    CARD = "identical"
    LOOK = "alike"
    DAYS = "same days"


@dataclass(frozen=True, slots=True)
class Double:
    """Lures that are one colour for the purpose, `over` par together.

    `apart` is the largest CIE 1976 difference from the first of them (0: the same card). `keep` is the one to keep;
    `spare` says how many of which lure (by ref) can go without a day of the plan lost.
    """

    category: str
    lures: tuple[Lure, ...]
    same: Sameness
    apart: float
    par: int
    over: int
    keep: Lure
    spare: tuple[tuple[str, int], ...]


@dataclass(frozen=True, slots=True)
class LookAlikes:
    """Several lures that are one colour for the purpose, whatever a plan asks for; `apart` as in `Double`."""

    lures: tuple[Lure, ...]
    same: Sameness
    apart: float


def find_groups(lures: Sequence[Lure], reach: Reach | None, same_within: float, sizes_same: bool) -> list[LookAlikes]:
    """The lures of one category that are one colour, two or more together. `reach`: None where no plan asks for it.

    What differs in length, weight, running depth or sound is no double: see `forms_differ`.
    """
    if not lures:
        return []
    likeness = _Likeness(lures[0].category, reach, same_within)
    return [_group(group, likeness) for group in _gathered(lures, likeness, sizes_same) if len(group) > 1]


def find_doubles(
    lures: Sequence[Lure],
    groups: Sequence[LookAlikes],
    reach: Reach | None,
    served: Mapping[tuple[str, str], float],
    par: Mapping[tuple[str, str], int],
) -> list[Double]:
    """What of the groups that lures of one category make is beyond par. `served`: the days that each category and card
    id serves in its plan. `par` overrides, by category and card id.
    """
    left = Counter(lure.card for lure in lures)
    found = (_double(group, reach, served, par, left) for group in groups)
    return [double for double in found if double is not None]


class _Likeness:
    """Whether two cards are one, and why; each pair is looked at once."""

    def __init__(self, category: str, reach: Reach | None, same_within: float) -> None:
        self.category, self.reach, self.same_within = category, reach, same_within
        self.known: dict[tuple[Card, Card], Sameness | None] = {}
        self._days: dict[Card, tuple[bytes, bytes] | None] = {}

    def of(self, one: Card, other: Card) -> Sameness | None:
        if one is other or one.id == other.id:
            return Sameness.CARD
        if (one, other) not in self.known:
            self.known[one, other] = self._of(one, other)
        return self.known[one, other]

    def _of(self, one: Card, other: Card) -> Sameness | None:
        if not unlike_traits(one, other) and difference(one, other) <= self.same_within:
            return Sameness.LOOK
        if on_top(self.category) and one_from_below(one, other):
            return Sameness.LOOK
        if (mine := self._days_of(one)) and mine == self._days_of(other) and not never_one(one, other):
            return Sameness.DAYS
        return None

    def _days_of(self, card: Card) -> tuple[bytes, bytes] | None:
        """Where schools accept a card, and where it is a first choice of theirs; None where none accepts it."""
        if self.reach is None:
            return None
        if card not in self._days:
            accepted = self.reach.accepted(card)
            self._days[card] = (accepted.tobytes(), self.reach.first(card).tobytes()) if accepted.any() else None
        return self._days[card]


def _gathered(lures: Sequence[Lure], likeness: _Likeness, sizes_same: bool) -> list[list[Lure]]:
    """Lures gathered around the first of each kind, no two of a group in forms that differ: one whose form is not told
    joins the first group that it fits. Looked up by form and card, so that many lures cost little."""
    groups: list[list[Lure]] = []
    forms: list[set[Form]] = []  # of each group
    known: dict[tuple[Form, Card], int] = {}

    def fits(place: int, lure: Lure) -> bool:
        return likeness.of(groups[place][0].card, lure.card) is not None and not any(
            forms_differ(form, lure.form, sizes_same) for form in forms[place]
        )

    for lure in lures:
        looked_up = lure.form, lure.card
        place = known.get(looked_up)
        if place is None:
            place = next((one for one in range(len(groups)) if fits(one, lure)), len(groups))
            known[looked_up] = place
        if place == len(groups):
            groups.append([])
            forms.append(set())
        groups[place].append(lure)
        forms[place].add(lure.form)
    return groups


def _group(lures: Sequence[Lure], likeness: _Likeness) -> LookAlikes:
    first = lures[0].card
    others = dict.fromkeys(lure.card for lure in lures[1:])
    reasons = [likeness.of(first, card) for card in others]
    same = next((one for one in (Sameness.DAYS, Sameness.LOOK) if one in reasons), Sameness.CARD)
    return LookAlikes(tuple(lures), same, max(difference(first, card) for card in others))


def _double(
    group: LookAlikes,
    reach: Reach | None,
    served: Mapping[tuple[str, str], float],
    pars: Mapping[tuple[str, str], int],
    left: Counter[Card],
) -> Double | None:
    """What is one too many in a group. `left`: how many stacks of each card the category still has, counted down."""
    lures, category = group.lures, group.lures[0].category
    keep = max(lures, key=lambda lure: (served.get((category, lure.card.id), 0.0), lure.count))
    days = sum(served.get((category, card_id), 0.0) for card_id in {lure.card.id for lure in lures})
    par = pars.get((category, keep.card.id), pars.get((category, ""), par_of(category, keep.card, days)))
    over = sum(lure.count for lure in lures) - par
    spare = _spare(lures, keep, over, reach, left) if over > 0 else []
    if not spare:
        return None
    gone = sum(count for _, count in spare)
    return Double(category, lures, group.same, group.apart, par, gone, keep, tuple(spare))


def _spare(
    group: Sequence[Lure], keep: Lure, over: int, reach: Reach | None, left: Counter[Card]
) -> list[tuple[str, int]]:
    """Up to `over` pieces of a group that can go: last of the one to keep, and never one whose going loses a day."""
    found = []
    for lure in sorted(group, key=lambda lure: (lure is keep, lure.count)):
        count = min(over, lure.count)
        if count == lure.count:
            if lure is keep or (left[lure.card] == 1 and reach is not None and _loses(reach, left, lure.card)):
                count -= 1
            else:
                left[lure.card] -= 1
        if count > 0:
            found.append((lure.ref, count))
            over -= count
    return found


def _loses(reach: Reach, left: Counter[Card], card: Card) -> bool:
    """Whether the last stack of a card takes a day with it."""
    cards = {one for one, stacks in left.items() if stacks}
    return reach.reached(cards) != reach.reached(cards - {card})
