"""What to begin with over some days: the colour that leads on most of them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from tackle.colours.colour import Colour
from tackle.cover.opinions import Opinions
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import are_as_good
from tackle.situations.rows import to_millionths

__all__ = ["Leading", "leading_over"]


@dataclass(frozen=True, slots=True)
class Leading:
    """A colour that leads on most of some days, and what is said of it on most of these, by whom."""

    card: Colour
    book: Rulebook
    call: Rule


def leading_over(opinions: Opinions, days: Sequence[float], have: Collection[str]) -> Leading | None:
    """The colour to begin with on most days; of what one has, by the cards' ids, what is as good that day. None where
    no rulebook has a first choice on any of them. `days` (n,) go with the situations."""
    votes, millionths = opinions.votes, opinions.by_kind(to_millionths(days))
    good = are_as_good(votes.family, votes.most[:, None]) & (opinions.best > 0)
    mine = good & np.array([card.id in have for card in opinions.cards], dtype=np.bool_)
    total: dict[int, int] = {}
    longest: dict[int, int] = {}
    for kind in np.flatnonzero(good.any(axis=1) & (millionths > 0)).tolist():
        able = mine[kind] if mine[kind].any() else good[kind]
        place = opinions.leader(kind, np.flatnonzero(able).tolist())
        assert place is not None
        total[place] = total.get(place, 0) + int(millionths[kind])
        if millionths[kind] > millionths[longest.setdefault(place, kind)]:
            longest[place] = kind
    if not total:
        return None
    best = max(total, key=lambda place: total[place])
    return Leading(opinions.cards[best], *opinions.advice_for(longest[best], best))
