"""The crate held against plans: what is missing, what is there twice, what runs short, lies idle, is broken, or can be
made into what is missing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, replace

from tackle.base.store import STORE
from tackle.base.vocabulary import TRAILER
from tackle.check.doubles import Double, find_doubles, find_groups
from tackle.check.held import Held, HeldAlone, Thing, held, is_among
from tackle.check.idle import Idle, find_idle, find_idle_trailers
from tackle.check.mending import Way, way_for
from tackle.check.reach import Planned, Reach, Reached, on_days
from tackle.check.repairs import Repair, repaired
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.likeness import most_alike
from tackle.colours.palette import Palette
from tackle.colours.role import find_role
from tackle.cover.plan import Request
from tackle.crate.lure import Lure, target_count
from tackle.situations.hashable import HashedTable
from tackle.situations.rows import MILLION

__all__ = ["Audit", "Covered", "Fix", "Gap", "Mend", "Nearest", "Short", "audit", "nearest"]

MOST_FIXES = 12
_TRAIT_APART, _TONE_APART = 4.0, 8.0  # CIE 1976: twice and four times what is just seen side by side


@dataclass(frozen=True, slots=True)
class Fix:
    """A repair that makes a lure answer `gains` more days of the plan, be right on `right` more and a first choice on
    `first` more; what it makes."""

    lure: Lure
    repair: Repair
    made: Colour
    gains: float
    right: float
    first: float = 0.0


@dataclass(frozen=True, slots=True)
class Nearest:
    """The owned lure that looks most like what is missing: the CIE 1976 difference, and the traits that differ."""

    lure: Lure
    apart: float
    unlike: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Gap:
    """A colour that a plan wants and of whose family the crate has nothing: `days` that nothing owned answers are its
    own, each day of no other gap; buying it adds `right_days` and `first_choice_days`, on which what is owned only will
    do.

    `repair` is the fix that answers most of these days, None where none does. `beside`: where it gains nothing alone,
    the other missing colours without which it would not. `of_days`: its days by the category of the plan: of a trailer
    there may be several.
    """

    category: str
    card: Colour
    days: float
    right_days: float
    first_choice_days: float
    par: int
    nearest: Nearest | None
    repair: Fix | None
    beside: tuple[Colour, ...] = ()
    of_days: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True, slots=True)
class Mend:
    """A lure that cannot be thrown as it is: what would put it right (None: nothing), and what it would answer then."""

    lure: Lure
    way: Way | None
    gains: Reached


@dataclass(frozen=True, slots=True)
class Covered:
    """The days expected of a category, of one plan or of several together; those that what is owned answers, and those
    on which it is right and has something as good as the first word; and those that no missing colour would answer.
    Expected days = answered + those of the gaps + `no_colour`."""

    expected: float
    reached: Reached
    no_colour: float


@dataclass(frozen=True, slots=True)
class Short:
    """A family owned below par, with the days it serves in the plan (None: of a category that no plan asks for)."""

    category: str
    lures: tuple[Lure, ...]
    have: int
    par: int
    days: float | None


@dataclass(frozen=True, slots=True)
class Audit:
    """What is wrong with a crate, the gravest of each kind first, and how many expected days it answers, by category.

    `short_elsewhere`: how many colours are below par of kinds that no plan asks for. `served`: the days that each
    category and card id serves, or one of its family, in the plan that asks most of it.
    """

    gaps: tuple[Gap, ...]
    doubles: tuple[Double, ...]
    short: tuple[Short, ...]
    idle: tuple[Idle, ...]
    fixes: tuple[Fix, ...]
    mends: tuple[Mend, ...]
    covered: Mapping[str, Covered]
    served: Mapping[tuple[str, str], float]
    short_elsewhere: int = 0


def audit(
    lures: Sequence[Lure],
    planned: Sequence[Planned],
    palette: Palette,
    same_within: float | None = None,
    sizes_same: bool = False,
    par: Mapping[tuple[str, str], int] | None = None,
    eaten: Mapping[str, float] | None = None,
) -> Audit:
    """Holds lures against plans. Where several plan one category, their days are added up. What is out of use answers
    nothing, and is neither a double nor to par.

    `same_within`: where told, the CIE 1976 difference beyond which two of a family are no doubles; `sizes_same`:
    whether another size, weight or depth is the same thing; `par`: overrides by (category, card id), an empty id for
    the whole category; `eaten`: of soft baits how many of a colour a trip, by category, where a log tells.

    >>> from tackle.colours.palette import house_palette
    >>> bone = house_palette().by_id["bone"]
    >>> twice = [Lure("A1", "jerkbait", bone, "Old Ivory", 4), Lure("B2", "jerkbait", bone, "Bone", 3)]
    >>> [(double.keep.ref, double.over) for double in audit(twice, [], house_palette()).doubles]
    [('A1', 4)]
    """
    there = [lure for lure in lures if lure.count > 0]
    stocked = [lure for lure in there if lure.is_usable]
    pars = HashedTable(par or {})
    plans: dict[str, list[Planned]] = {}
    served: dict[tuple[str, str], float] = {}
    for number, each in enumerate(planned):
        if each in planned[:number]:
            continue  # a plan kept twice asks for nothing twice
        plans.setdefault(each.request.category, []).append(each)
        for (place, card), days in each.wanted.items():
            served[place, card.id] = max(days, served.get((place, card.id), 0.0))
    of_family = _of_families(planned)
    for lure in stocked:
        if (days_of := of_family.get((lure.category, family(lure.card, lure.category)))) is not None:
            served[lure.category, lure.card.id] = days_of
    owned: dict[str, list[Lure]] = {}
    for lure in stocked:
        owned.setdefault(lure.category, []).append(lure)
    trailers = tuple(owned.get(TRAILER, ()))
    jigs = tuple(each.request for listed in plans.values() for each in listed if each.request.with_trailers)
    found: dict[str, _Category] = {}
    gaps: list[Gap] = []
    for category in dict.fromkeys((*plans, *owned)):
        mine, of_it = tuple(owned.get(category, ())), tuple(plans.get(category, ()))
        here = HashedTable({where: days for where, days in served.items() if where[0] == category})
        data = _of_category(category, mine, trailers, jigs, of_it, here, palette, same_within, sizes_same, pars,
                            (eaten or {}).get(category))  # fmt: skip
        found[category] = data
        gaps += data.gaps
    asked_for = {place for each in planned for place, _ in each.wanted} | set(plans)
    shorts = [one for group in _by_family(stocked) if (one := _short(group, served, asked_for, pars)) is not None]
    doubles = (double for one in found.values() for double in one.doubles)
    fixes = (fix for one in found.values() for fix in one.fixes)
    mends = (_mend(lure, stocked, plans.get(lure.category, ()), palette) for lure in there if not lure.is_usable)
    return Audit(
        gaps=tuple(sorted(_added_up(gaps), key=lambda gap: (-gap.first_choice_days, -gap.right_days, -gap.days))),
        doubles=tuple(sorted(doubles, key=lambda one: -one.over)),
        short=tuple(sorted((short for short in shorts if short.days is not None), key=lambda one: -(one.days or 0))),
        short_elsewhere=sum(short.days is None for short in shorts),
        idle=tuple(idle for one in found.values() for idle in one.idle),
        fixes=tuple(sorted(fixes, key=lambda fix: (-fix.gains - fix.right, -fix.gains))[:MOST_FIXES]),
        mends=tuple(sorted(mends, key=lambda mend: mend.gains.worth, reverse=True)),
        covered={category: one.covered for category, one in found.items() if category in plans},
        served=served,
    )


def _of_families(planned: Sequence[Planned]) -> dict[tuple[str, Hashable], float]:
    """The days that each family that is wanted serves, in the plan that asks most of it."""
    found: dict[tuple[str, Hashable], float] = {}
    for each in planned:
        for (place, card), days in each.wanted.items():
            where = place, family(card, place)
            found[where] = max(days, found.get(where, 0.0))
    return found


@dataclass(frozen=True, slots=True)
class _Category:
    """What is found of one category by itself, and what is owned of it reaches."""

    covered: Covered
    gaps: list[Gap]
    doubles: list[Double]
    fixes: list[Fix]
    idle: list[Idle]


def _of_category(
    category: str,
    mine: tuple[Lure, ...],
    trailers: tuple[Lure, ...],
    jigs: tuple[Request, ...],
    of_it: Sequence[Planned],
    served: HashedTable[tuple[str, str], float],
    palette: Palette,
    same_within: float | None,
    sizes_same: bool,
    pars: HashedTable[tuple[str, str], int],
    eaten: float | None,
) -> _Category:
    """`trailers`: those that there are for jigs; `jigs`: the requests for jigs with trailers, of all categories."""
    alone = list(dict.fromkeys(each.alone for each in of_it))
    singles = [each for each in of_it if not each.request.with_trailers]
    paired = [each for each in of_it if each.request.with_trailers]
    threaded = trailers if paired else ()

    def find() -> _Category:
        reach = Reach(alone, palette) if alone else None
        groups = find_groups(mine, same_within, sizes_same)
        doubles = find_doubles(mine, groups, reach, served, pars, eaten)
        if reach is None:
            idle = find_idle_trailers(mine, jigs, palette) if category == TRAILER else []
            return _Category(Covered(0.0, Reached(0.0, 0.0), 0.0), [], doubles, [], idle)
        fixes = _fixes(mine, reach, palette)
        things = {(lure.category, lure.card) for lure in (*mine, *threaded)}
        gaps: list[Gap] = []
        covered = Covered(0.0, Reached(0.0, 0.0), 0.0)
        several: list[tuple[Held, list[Planned]]] = [(held(each, palette), [each]) for each in paired]
        if singles:
            several.append((HeldAlone(list(dict.fromkeys(single.request for single in singles)), palette), singles))
        for one, its_plans in several:
            wanted = {thing: days for its_plan in its_plans for thing, days in its_plan.wanted.items()}
            missing, no_colour = _gaps(category, one, wanted, things, (*mine, *threaded), fixes, pars)
            gaps += missing
            reached, expected = one.reached(things), int(one.days.sum()) / MILLION
            covered = Covered(covered.expected + expected, covered.reached + reached, covered.no_colour + no_colour)
        return _Category(covered, gaps, doubles, fixes, find_idle(mine, reach))

    of_days = [on_days(each.request) for each in of_it]
    wants = tuple((place, card, served.get((place, card.id))) for each in of_it for place, card in each.wanted)
    others = [on_days(jig) for jig in jigs] if category == TRAILER else []
    asked = of_days, others, bool(paired), wants, mine, threaded, palette, same_within, sizes_same, served, pars, eaten
    return STORE.once("found of a category", asked, find)


def _par(pars: Mapping[tuple[str, str], int], category: str, card: Colour, days: float) -> int:
    return pars.get((category, card.id), pars.get((category, ""), target_count(category, card, days)))


def _gaps(
    category: str,
    plan: Held,
    wanted: Mapping[Thing, float],
    owned: set[Thing],
    lures: Sequence[Lure],
    fixes: list[Fix],
    pars: Mapping[tuple[str, str], int],
) -> tuple[list[Gap], float]:
    """What a plan of a category wants of whose family nothing is owned, with the days that hang on it; and the days
    that nothing missing would answer either."""
    missing = [thing for thing in wanted if not is_among(thing, owned)]
    now = plan.reached(owned)
    # Some days take two missing colours together: then each is worth what leaving it out of the whole would lose. What
    # adds nothing alone and is missed by nobody is no gap.
    while True:
        whole = plan.reached(owned | set(missing))
        worth = {
            thing: plan.reached(owned | {thing}) - now
            or whole - plan.reached(owned | {one for one in missing if one is not thing})
            for thing in missing
        }
        useless = next((thing for thing in reversed(missing) if not worth[thing]), None)
        if useless is None:
            break
        missing.remove(useless)
    days, no_colour = _shared_out(plan, missing, owned)
    gaps = []
    for thing in missing:
        place, card = thing
        mine = [lure for lure in lures if lure.category == place]
        repair = _mending(thing, fixes, plan, owned) if place == category else None
        gaps.append(
            Gap(
                place, card, days[thing], worth[thing].right, worth[thing].first,
                _par(pars, place, card, wanted[thing]), nearest(card, mine), repair,
                _beside(thing, missing, plan, owned), ((category, days[thing]),),
            )
        )  # fmt: skip
    return gaps, no_colour


def _shared_out(plan: Held, missing: Sequence[Thing], owned: set[Thing]) -> tuple[dict[Thing, float], float]:
    """The days that nothing owned answers: each to the one missing thing that would answer most of them, or without
    which it could not be answered; and those that nothing missing would answer."""
    now, whole = plan.covered(owned), plan.covered(owned | set(missing))
    left = whole & ~now
    alone = {thing: plan.covered(owned | {thing}) & left for thing in missing}
    needed = {thing: left & ~plan.covered(owned | (set(missing) - {thing})) for thing in missing}
    mine = dict.fromkeys(missing, 0)
    for of_it in (alone, needed, dict.fromkeys(missing, left)):
        for thing in sorted(missing, key=lambda one: -int(plan.days[of_it[one]].sum())):
            taken = of_it[thing] & left
            mine[thing] += int(plan.days[taken].sum())
            left = left & ~taken
    return {thing: days / MILLION for thing, days in mine.items()}, int(plan.days[~whole & ~now].sum()) / MILLION


def _beside(thing: Thing, missing: Sequence[Thing], plan: Held, owned: set[Thing]) -> tuple[Colour, ...]:
    """The missing colours without which a missing one gains nothing; none where it gains alone."""
    if plan.reached(owned | {thing}) - plan.reached(owned):
        return ()
    needed = [one for one in missing if one is not thing]
    for one in list(needed):
        rest = owned | {other for other in needed if other is not one}
        if plan.reached(rest | {thing}) - plan.reached(rest):
            needed.remove(one)
    return tuple(card for _, card in needed)


def _mend(lure: Lure, stocked: Sequence[Lure], plans: Sequence[Planned], palette: Palette) -> Mend:
    """What it takes to put a lure right, and what it would answer beside all that can be thrown."""
    things = {(one.category, one.card) for one in stocked}
    gains = Reached(0.0, 0.0)
    for each in plans:
        plan = held(each, palette)
        gains += plan.reached(things | {(lure.category, lure.card)}) - plan.reached(things)
    return Mend(lure, way_for(lure), gains)


def _added_up(gaps: Sequence[Gap]) -> list[Gap]:
    """One gap for each colour, the days of several plans together."""
    found: dict[tuple[str, str], Gap] = {}
    for gap in gaps:
        where = gap.category, gap.card.id
        if known := found.get(where):
            found[where] = replace(
                known,
                days=known.days + gap.days,
                right_days=known.right_days + gap.right_days,
                first_choice_days=known.first_choice_days + gap.first_choice_days,
                of_days=(*known.of_days, *gap.of_days),
            )
        else:
            found[where] = gap
    return list(found.values())


def nearest(card: Colour, lures: Sequence[Lure]) -> Nearest | None:
    """Of some lures, the one that is most like a card to look at: of its role before any other, then least apart, a
    trait that differs counting as much as a clear difference in colour."""
    first: dict[Colour, Lure] = {}
    for lure in lures:
        first.setdefault(lure.card, lure)

    def unlikeness(data: tuple[Colour, float, tuple[str, ...]]) -> tuple[bool, float]:
        other, apart, unlike = data
        other_tone = _TONE_APART * (other.tone is not card.tone)
        return find_role(other) is not find_role(card), apart + _TRAIT_APART * len(unlike) + other_tone

    if not first:
        return None
    alike, apart, unlike = min(most_alike(card, first), key=unlikeness)
    return Nearest(first[alike], apart, unlike)


def _mending(thing: Thing, fixes: list[Fix], plan: Held, owned: set[Thing]) -> Fix | None:
    """The fix that does most of what a missing colour would do."""
    before, with_it = plan.reached(owned), plan.reached(owned | {thing})
    best, most = None, Reached(0.0, 0.0)
    for fix in fixes:
        # What the fix and the colour have in common: what having both adds less than each alone.
        made = thing[0], fix.made
        closed = (plan.reached(owned | {made}) - before) - (plan.reached(owned | {made, thing}) - with_it)
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
    return [Fix(first[one.card], one.repair, one.made, *one.gains.counts) for one in found]


@dataclass(frozen=True, slots=True)
class _Mended:
    """An owned card, a repair that would better it, what that makes of it, and what it gains."""

    card: Colour
    repair: Repair
    made: Colour
    gains: Reached


def _mended(cards: Sequence[Colour], several: int, reach: Reach, palette: Palette) -> list[_Mended]:
    """Of owned cards those that a repair would better. Of the first `several` of them there is more than one, so that
    one mended is none lost."""
    before = reach.reached(cards)
    if not reach.reached({*reach.cards, *cards}) - before:
        return []  # nothing is open, or made do with, that any colour could better
    kin = {card: family(card, reach.category) for card in cards}
    # A repair that makes of a card what it was is none.
    tried = {
        card: [way for way in repaired(card, reach.category, palette) if family(way[1], reach.category) != kin[card]]
        for card in cards
    }
    reach.learn([made for ways in tried.values() for _, made in ways])
    best: dict[tuple[Reached, bytes], _Mended] = {}
    for index, card in enumerate(cards):
        rest = set(cards) if index < several else set(cards) - {card}
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


def _by_family(lures: Sequence[Lure]) -> list[list[Lure]]:
    """Lures of one category and family together, whatever their size."""
    groups: dict[tuple[str, Hashable], list[Lure]] = {}
    for lure in lures:
        groups.setdefault((lure.category, family(lure.card, lure.category)), []).append(lure)
    return list(groups.values())


def _short(
    group: list[Lure],
    served: Mapping[tuple[str, str], float],
    planned: set[str],
    pars: Mapping[tuple[str, str], int],
) -> Short | None:
    """`planned`: the categories that plans ask something of."""
    category = group[0].category
    wanted = {card: days for (place, card), days in served.items() if place == category}
    days = max((wanted[lure.card.id] for lure in group if lure.card.id in wanted), default=None)
    if category in planned and days is None:
        return None  # a colour that the plan does without need not be kept to par
    card = max((lure.card for lure in group), key=lambda one: wanted.get(one.id, -1.0))
    par = _par(pars, category, card, days or 0.0)
    have = sum(lure.count for lure in group)
    return Short(category, tuple(group), have, par, days) if have < par else None
