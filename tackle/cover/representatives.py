"""One card for each family: what of a family a set may hold, and shows."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import bits
from tackle.cover.opinions import Opinions, to_mask
from tackle.cover.plan import Request

__all__ = ["open_colours", "pairs_of_one_family", "representatives", "summed"]


def open_colours(request: Request, opinions: Opinions, days: NDArray[np.int64]) -> int:
    """The colours of a request's category that a set may hold, as a bit set: none that is banned and, where it has to
    be right, one of each family. `days` (m,) of each kind, in millionths."""
    cards, votes = opinions.cards, opinions.votes
    allowed = ((1 << len(cards)) - 1) & ~to_mask(cards, request.ban)
    if not request.right:
        return allowed
    owned, locked = to_mask(cards, request.owned), to_mask(cards, request.lock)
    answered = (days @ (opinions.best > 0)).tolist()
    return representatives(votes.kin, allowed, owned, locked, answered, summed(days, votes.own))


def representatives(
    kin: NDArray[np.intp], open_to: int, owned: int, locked: int, answered: Sequence[int], votes: Sequence[int]
) -> int:
    """Of some cards, as a bit set, one of each family; of a family with locked ones these.

    What is owned of it before what is not, if it answers anything; then what answers most days, then what has most
    votes over the days, then the first. `kin`, `answered`, `votes`: by card, the place of its family, its days and its
    votes on them.
    """
    of_kin: dict[int, list[int]] = {}
    for place in bits(open_to):
        of_kin.setdefault(int(kin[place]), []).append(place)
    found = 0
    for places in of_kin.values():
        kept = [place for place in places if locked >> place & 1] or [
            max(
                places,
                key=lambda place: (
                    bool(answered[place]) and owned >> place & 1, answered[place], votes[place], -place,
                ),
            )
        ]  # fmt: skip
        found |= sum(1 << place for place in kept)
    return found


def summed(days: NDArray[np.int64], of_kind: NDArray[np.int64]) -> list[int]:
    """For each card what there is of it over all days: whole numbers of any size. `of_kind` (m, n), `days` (m,)."""
    return (days.astype(object) @ of_kind.astype(object)).tolist() if len(days) else [0] * of_kind.shape[1]


def pairs_of_one_family(kin: NDArray[np.intp], chosen: int) -> list[tuple[int, int]]:
    """The cards of a set that are of one family with another of it, by two and two."""
    places = list(bits(chosen))
    return [(one, other) for at, one in enumerate(places) for other in places[at + 1 :] if kin[one] == kin[other]]
