"""Lures that are one colour for the purpose: the same card, or of one family."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tackle.check.reach import Reach
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.likeness import difference
from tackle.crate.lure import Form, Lure, forms_differ, season_stock, target_count

__all__ = ["Double", "LookAlikes", "Sameness", "find_doubles", "find_groups"]


class Sameness(StrEnum):
    """What makes lures one: the weakest reason in the group."""

    CARD = "identical"
    FAMILY = "alike"


@dataclass(frozen=True, slots=True)
class Double:
    """Lures that are one colour for the purpose, `over` par together.

    `apart` is the largest CIE 1976 difference from the first of them (0: the same card). `keep` is the one to keep;
    `spare` says how many of which lure (by ref) can go without a day of the plan lost: none of soft baits that a season
    uses up.
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


def find_groups(lures: Sequence[Lure], same_within: float | None, sizes_same: bool) -> list[LookAlikes]:
    """The lures of one category that are one colour, two or more together. `same_within`: where told, the CIE 1976
    difference beyond which two of a family are two all the same.

    What differs in length, weight, running depth, sound or the kind's own word is no double: see `forms_differ`.
    """
    return [_group(group) for group in _gathered(lures, same_within, sizes_same) if len(group) > 1]


def find_doubles(
    lures: Sequence[Lure],
    groups: Sequence[LookAlikes],
    reach: Reach | None,
    served: Mapping[tuple[str, str], float],
    par: Mapping[tuple[str, str], int],
    eaten: float | None = None,
) -> list[Double]:
    """What of the groups that lures of one category make is beyond par; of soft baits within a season's stock too, with
    nothing over. `served`: the days that each category and card
    id serves, or one of its family, in its plan. `par` overrides, by category and card id. `eaten`: of soft
    baits, how many of a colour a trip, where a log tells.
    """
    left = Counter(lure.card for lure in lures)
    found = (_double(group, reach, served, par, left, eaten) for group in groups)
    return [double for double in found if double is not None]


def _are_one(one: Colour, other: Colour, category: str, same_within: float | None) -> bool:
    if one.id == other.id:
        return True
    if family(one, category) != family(other, category):
        return False
    return same_within is None or difference(one, other) <= same_within


def _gathered(lures: Sequence[Lure], same_within: float | None, sizes_same: bool) -> list[list[Lure]]:
    """Lures gathered around the first of each kind, no two of a group in forms that differ: one whose form is not told
    joins the first group that it fits. Looked up by form and card, so that many lures cost little."""
    groups: list[list[Lure]] = []
    forms: list[set[Form]] = []  # of each group
    known: dict[tuple[Form, Colour, str], int] = {}

    def fits(place: int, lure: Lure) -> bool:
        first = groups[place][0]
        if first.kind_word != lure.kind_word or not _are_one(first.card, lure.card, lure.category, same_within):
            return False
        return not any(forms_differ(form, lure.form, sizes_same) for form in forms[place])

    for lure in lures:
        looked_up = lure.form, lure.card, lure.kind_word
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


def _group(lures: Sequence[Lure]) -> LookAlikes:
    first = lures[0].card
    others = dict.fromkeys(lure.card for lure in lures[1:])
    same = Sameness.CARD if all(card.id == first.id for card in others) else Sameness.FAMILY
    return LookAlikes(tuple(lures), same, max(difference(first, card) for card in others))


def _double(
    group: LookAlikes,
    reach: Reach | None,
    served: Mapping[tuple[str, str], float],
    pars: Mapping[tuple[str, str], int],
    left: Counter[Colour],
    eaten: float | None,
) -> Double | None:
    """What is one too many in a group. `left`: how many stacks of each card the category still has, counted down."""
    lures, category = group.lures, group.lures[0].category
    keep = max(lures, key=lambda lure: (served.get((category, lure.card.id), 0.0), lure.count))
    days = max(served.get((category, lure.card.id), 0.0) for lure in lures)
    told, total = pars.get((category, keep.card.id), pars.get((category, ""))), sum(lure.count for lure in lures)
    usual = target_count(category, keep.card, days)
    if total <= (usual if told is None else told):
        return None
    par = max(usual, season_stock(category, eaten)) if told is None else told
    if total <= par:
        return Double(category, lures, group.same, group.apart, par, 0, keep, ())
    spare = _spare(lures, keep, total - par, reach, left)
    if not spare:
        return None
    gone = sum(count for _, count in spare)
    return Double(category, lures, group.same, group.apart, par, gone, keep, tuple(spare))


def _spare(
    group: Sequence[Lure], keep: Lure, over: int, reach: Reach | None, left: Counter[Colour]
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


def _loses(reach: Reach, left: Counter[Colour], card: Colour) -> bool:
    """Whether the last stack of a card takes a day with it."""
    cards = {one for one, stacks in left.items() if stacks}
    return reach.reached(cards) != reach.reached(cards - {card})
