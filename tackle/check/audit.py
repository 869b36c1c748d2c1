"""The crate held against plans: what is missing, what is there twice, what runs short, lies idle, or can be mended."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from tackle.check.doubles import Double, find_doubles, find_groups
from tackle.check.idle import Idle, find_idle
from tackle.check.reach import Planned, Reach, Reached, on_days
from tackle.check.repairs import Repair, repaired
from tackle.colours.card import Card
from tackle.colours.likeness import SAME_WITHIN, most_alike
from tackle.colours.palette import Palette
from tackle.colours.role import role_of
from tackle.cover.plan import Piece
from tackle.crate.lure import Lure, par_of
from tackle.situations.hashable import HashedTable
from tackle.store import STORE

__all__ = ["Audit", "Fix", "Gap", "Nearest", "Short", "audit", "nearest"]

MOST_FIXES = 12
_TRAIT_APART, _TONE_APART = 4.0, 8.0  # CIE 1976: twice and four times what is just seen side by side


@dataclass(frozen=True, slots=True)
class Fix:
    """A repair that makes a lure answer `gains` more days of the plan and be right on `right` more; what it makes."""

    lure: Lure
    repair: Repair
    made: Card
    gains: float
    right: float


@dataclass(frozen=True, slots=True)
class Nearest:
    """The owned lure that looks most like what is missing: the CIE 1976 difference, and the traits that differ."""

    lure: Lure
    apart: float
    unlike: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Gap:
    """A colour that a plan wants and the crate lacks: buying it answers `days` that nothing owned answers, and makes
    `right_days` right for which what is owned only makes do.

    `repair` is the fix that answers most of these days, None where none does. `beside`: where it gains nothing alone,
    the other missing colours without which it would not.
    """

    category: str
    card: Card
    days: float
    right_days: float
    par: int
    nearest: Nearest | None
    repair: Fix | None
    beside: tuple[Card, ...] = ()


@dataclass(frozen=True, slots=True)
class Short:
    """A colour owned below par, with the days it serves in the plan (None: of a category that no plan asks for)."""

    category: str
    lures: tuple[Lure, ...]
    have: int
    par: int
    days: float | None


@dataclass(frozen=True, slots=True)
class Audit:
    """What is wrong with a crate, the gravest of each kind first, how many expected days it answers and is right on.

    `short_elsewhere`: how many colours are below par of kinds that no plan asks for. `served`: the days that each
    category and card id serves, in the plan that asks most of it.
    """

    gaps: tuple[Gap, ...]
    doubles: tuple[Double, ...]
    short: tuple[Short, ...]
    idle: tuple[Idle, ...]
    fixes: tuple[Fix, ...]
    answered_days: float
    expected_days: float
    right_days: float
    served: Mapping[tuple[str, str], float]
    short_elsewhere: int = 0


def audit(
    lures: Sequence[Lure],
    planned: Sequence[Planned],
    palette: Palette,
    same_within: float = SAME_WITHIN,
    sizes_same: bool = False,
    par: Mapping[tuple[str, str], int] | None = None,
) -> Audit:
    """Holds lures against plans. Where several plan one category, their days are added up.

    `same_within`: the CIE 1976 difference of one colour; `sizes_same`: whether another size, weight or depth is the
    same thing; `par`: overrides by (category, card id), an empty id for the whole category.

    >>> from tackle.colours.palette import house_palette
    >>> bone = house_palette().by_id["bone"]
    >>> twice = [Lure("A1", "jerkbait", bone, "Old Ivory", 4), Lure("B2", "jerkbait", bone, "Bone", 3)]
    >>> [(double.keep.ref, double.over) for double in audit(twice, [], house_palette()).doubles]
    [('A1', 4)]
    """
    stocked = [lure for lure in lures if lure.count > 0]
    pars = HashedTable(par or {})
    plans: dict[str, list[Planned]] = {}
    served: dict[tuple[str, str], float] = {}
    for number, each in enumerate(planned):
        if each in planned[:number]:
            continue  # a plan kept twice asks for nothing twice
        plans.setdefault(each.request.category, []).append(each)
        for (place, card), days in each.wanted.items():
            served[place, card.id] = max(days, served.get((place, card.id), 0.0))
    owned: dict[str, list[Lure]] = {}
    for lure in stocked:
        owned.setdefault(lure.category, []).append(lure)
    found, gaps, expected = [], [], 0.0
    for category in dict.fromkeys((*plans, *owned)):
        mine, of_it = tuple(owned.get(category, ())), tuple(plans.get(category, ()))
        here = HashedTable({where: days for where, days in served.items() if where[0] == category})
        told = _of_category(mine, of_it, here, palette, same_within, sizes_same, pars)
        found.append(told)
        gaps += told.gaps
        expected += sum({each.alone: each.plan.expected_days for each in of_it}.values())
        pieces = [piece for each in of_it if each.request.with_trailers for piece in each.plan.pieces]
        gaps += _piece_gaps(pieces, stocked, pars)
    shorts = [one for group in _by_colour(stocked) if (one := _short(group, served, set(plans), pars)) is not None]
    doubles = (double for one in found for double in one.doubles)
    fixes = (fix for one in found for fix in one.fixes)
    return Audit(
        gaps=tuple(sorted(_added_up(gaps), key=lambda gap: (-gap.right_days, -gap.days))),
        doubles=tuple(sorted(doubles, key=lambda one: -one.over)),
        short=tuple(sorted((one for one in shorts if one.days is not None), key=lambda one: -(one.days or 0))),
        short_elsewhere=sum(one.days is None for one in shorts),
        idle=tuple(idle for one in found for idle in one.idle),
        fixes=tuple(sorted(fixes, key=lambda fix: (-fix.gains - fix.right, -fix.gains))[:MOST_FIXES]),
        answered_days=round(sum(one.reached.days for one in found), 6),
        expected_days=round(expected, 6),
        right_days=round(sum(one.reached.right for one in found), 6),
        served=served,
    )


@dataclass(frozen=True, slots=True)
class _Category:
    """What is found of one category by itself, and what is owned of it reaches."""

    reached: Reached
    gaps: list[Gap]
    doubles: list[Double]
    fixes: list[Fix]
    idle: list[Idle]


def _of_category(
    mine: tuple[Lure, ...],
    of_it: Sequence[Planned],
    served: HashedTable[tuple[str, str], float],
    palette: Palette,
    same_within: float,
    sizes_same: bool,
    pars: HashedTable[tuple[str, str], int],
) -> _Category:
    requests = list(dict.fromkeys(each.alone for each in of_it))
    single = [each for each in of_it if not each.request.with_trailers]
    alone = {card: served[place, card.id] for each in single for place, card in each.wanted}
    asked = [on_days(one) for one in requests], mine, palette, same_within, sizes_same

    def find() -> _Category:
        reach = Reach(requests, palette) if requests else None
        doubles = find_doubles(mine, find_groups(mine, reach, same_within, sizes_same), reach, served, pars)
        if reach is None:
            return _Category(Reached(0.0, 0.0), [], doubles, [], [])
        reached, fixes = reach.reached({lure.card for lure in mine}), _fixes(mine, reach, palette)
        return _Category(reached, _gaps(mine, alone, reach, fixes, pars), doubles, fixes, find_idle(mine, reach))

    return STORE.once("found of a category", (asked, tuple(alone), served, pars), find)


def _par(pars: Mapping[tuple[str, str], int], category: str, card: Card, days: float) -> int:
    return pars.get((category, card.id), pars.get((category, ""), par_of(category, card, days)))


def _gaps(
    lures: Sequence[Lure],
    wanted: Mapping[Card, float],
    reach: Reach,
    fixes: list[Fix],
    pars: Mapping[tuple[str, str], int],
) -> list[Gap]:
    owned = {lure.card for lure in lures}
    ids = {card.id for card in owned}
    missing = [card for card in wanted if card.id not in ids]
    if not missing:
        return []
    # Where schools must agree, two missing colours may answer a day only together: then each is worth what leaving it
    # out of the whole would lose. What adds nothing alone and is missed by nobody is no gap.
    now = reach.reached(owned)
    while True:
        whole = reach.reached(owned | set(missing))
        worth = {
            card: reach.reached(owned | {card}) - now
            or whole - reach.reached(owned | {one for one in missing if one is not card})
            for card in missing
        }
        useless = next((card for card in reversed(missing) if not worth[card]), None)
        if useless is None:
            break
        missing.remove(useless)
    return [
        Gap(
            reach.category,
            card,
            worth[card].days,
            worth[card].right,
            _par(pars, reach.category, card, wanted[card]),
            nearest(card, lures),
            _mending(card, fixes, reach, owned),
            _beside(card, missing, reach, owned),
        )
        for card in missing
    ]


def _beside(card: Card, missing: Sequence[Card], reach: Reach, owned: set[Card]) -> tuple[Card, ...]:
    """The missing colours without which a missing card gains nothing; none where it gains alone."""
    if reach.reached(owned | {card}) - reach.reached(owned):
        return ()
    needed = [one for one in missing if one is not card]
    for one in list(needed):
        rest = owned | {other for other in needed if other is not one}
        if reach.reached(rest | {card}) - reach.reached(rest):
            needed.remove(one)
    return tuple(needed)


def _piece_gaps(pieces: Sequence[Piece], lures: Sequence[Lure], pars: Mapping[tuple[str, str], int]) -> list[Gap]:
    """What a plan of jigs with trailers wants and the crate lacks, with the days that cannot do without it."""
    gaps = []
    for piece in pieces:
        mine = [lure for lure in lures if lure.category == piece.category]
        if not any(lure.card.id == piece.card.id for lure in mine):
            par = _par(pars, piece.category, piece.card, piece.days)
            days = piece.alone or piece.days
            gaps.append(Gap(piece.category, piece.card, days, piece.right, par, nearest(piece.card, mine), None))
    return gaps


def _added_up(gaps: Sequence[Gap]) -> list[Gap]:
    """One gap for each colour, the days of several plans together."""
    found: dict[tuple[str, str], Gap] = {}
    for gap in gaps:
        where = gap.category, gap.card.id
        if known := found.get(where):
            days, right = known.days + gap.days, known.right_days + gap.right_days
            found[where] = replace(known, days=days, right_days=right)
        else:
            found[where] = gap
    return list(found.values())


def nearest(card: Card, lures: Sequence[Lure]) -> Nearest | None:
    """Of some lures, the one that is most like a card to look at: of its role before any other, then least apart, a
    trait that differs counting as much as a clear difference in colour."""
    first: dict[Card, Lure] = {}
    for lure in lures:
        first.setdefault(lure.card, lure)

    def unlikeness(told: tuple[Card, float, tuple[str, ...]]) -> tuple[bool, float]:
        other, apart, unlike = told
        other_tone = _TONE_APART * (other.tone is not card.tone)
        return role_of(other) is not role_of(card), apart + _TRAIT_APART * len(unlike) + other_tone

    if not first:
        return None
    alike, apart, unlike = min(most_alike(card, first), key=unlikeness)
    return Nearest(first[alike], apart, unlike)


def _mending(card: Card, fixes: list[Fix], reach: Reach, owned: set[Card]) -> Fix | None:
    """The fix that does most of what a missing card would do."""
    before, with_card = reach.reached(owned), reach.reached(owned | {card})
    best, most = None, Reached(0.0, 0.0)
    for fix in fixes:
        # What the fix and the card have in common: what having both adds less than each alone.
        fixed = reach.reached(owned | {fix.made})
        both = reach.reached(owned | {fix.made, card})
        closed = (fixed - before) - (both - with_card)
        if (closed.right + closed.days, closed.days) > (most.right + most.days, most.days):
            best, most = fix, closed
    return best


def _fixes(lures: Sequence[Lure], reach: Reach, palette: Palette) -> list[Fix]:
    """For each lure the repair that gains most days, where one does. The last of a colour is lost as it was.

    Of several that gain the same days, the one with most of its colour to spare.
    """
    first = {lure.card: lure for lure in reversed(lures)}
    total = Counter(dict.fromkeys(first, 0))
    for lure in lures:
        total[lure.card] += lure.count
    cards = tuple(sorted(first, key=lambda card: -total[card]))
    several = sum(count > 1 for count in total.values())
    found = _mended(cards, several, reach, palette)
    return [Fix(first[one.card], one.repair, one.made, one.gains.days, one.gains.right) for one in found]


@dataclass(frozen=True, slots=True)
class _Mended:
    """An owned card, a repair that would better it, what that makes of it, and what it gains."""

    card: Card
    repair: Repair
    made: Card
    gains: Reached


def _mended(cards: Sequence[Card], several: int, reach: Reach, palette: Palette) -> list[_Mended]:
    """Of owned cards those that a repair would better. Of the first `several` of them there is more than one, so that
    one mended is none lost."""
    before = reach.reached(cards)
    if not reach.reached({*reach.cards, *cards}) - before:
        return []  # nothing is open, or made do with, that any colour could better
    tried = {card: list(repaired(card, reach.category, palette)) for card in cards}
    reach.learn([made for ways in tried.values() for _, made in ways])
    best: dict[tuple[Reached, bytes], _Mended] = {}
    for place, card in enumerate(cards):
        rest = set(cards) if place < several else set(cards) - {card}
        ways = []
        for repair, made in tried[card]:
            gains = reach.reached(rest | {made}) - before
            # Half a day lost for an hour gained is no repair.
            if gains.days >= 0 and gains.right >= 0 and gains:
                ways.append(_Mended(card, repair, made, gains))
        if ways:
            way = max(ways, key=lambda way: (way.gains.days + way.gains.right, way.gains.days))
            best.setdefault((way.gains, reach.answers(way.made).tobytes() + reach.first(way.made).tobytes()), way)
    return list(best.values())


def _by_colour(lures: Sequence[Lure]) -> list[list[Lure]]:
    """Lures of one category and card together, whatever their size."""
    groups: dict[tuple[str, str], list[Lure]] = {}
    for lure in lures:
        groups.setdefault((lure.category, lure.card.id), []).append(lure)
    return list(groups.values())


def _short(
    group: list[Lure],
    served: Mapping[tuple[str, str], float],
    planned: set[str],
    pars: Mapping[tuple[str, str], int],
) -> Short | None:
    category, card = group[0].category, group[0].card
    days = served.get((category, card.id))
    if category in planned and days is None:
        return None  # a colour that the plan does without need not be kept to par
    par = _par(pars, category, card, days or 0.0)
    have = sum(lure.count for lure in group)
    return Short(category, tuple(group), have, par, days) if have < par else None
