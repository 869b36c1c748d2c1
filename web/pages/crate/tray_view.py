"""The trays as they are drawn: a page of compartments, with what the check says of each."""

from collections import Counter
from dataclasses import dataclass, field

from tackle.check.audit import Gap
from tackle.colours.colour import Colour
from tackle.crate.lure import target_count
from tackle.crate.storage import StorageCaution, storage_cautions
from web.domain.crate.models import Tray
from web.domain.crate.selectors import Stock
from web.pages.check.check import Check


@dataclass(frozen=True, slots=True)
class _Well:
    """A compartment: its lure and card, the pips against par, and what the audit says of it."""

    pk: int
    category: str
    name: str
    size_in: float | None
    weight_oz: float | None
    condition: str
    ref: str
    card: Colour
    pips: str
    pips_said: str
    remark: str
    kind: str


@dataclass(slots=True)
class DrawnTray:
    """A tray with its compartments on this page, the gaps that would go into it, and what should not lie in it."""

    tray: Tray
    wells: list[_Well] = field(default_factory=list)
    ghosts: list[Gap] = field(default_factory=list)
    cautions: list[StorageCaution] = field(default_factory=list)
    stacks: int = 0

    @property
    def crowded(self) -> int:
        """How many stacks there are more than compartments."""
        return max(self.stacks - self.tray.room, 0)


def draw(
    shown: list[Stock],
    trays: dict[str, Tray],
    in_view: list[Tray],
    called: dict[int, str],
    checked: Check,
    stock: tuple[Stock, ...],
    homes: dict[str, Tray],
) -> list[DrawnTray]:
    """The trays that hold some lures, and those `in_view` besides; each gap in the tray where its category lives.
    `trays`: all there are, by letter."""
    remarks = _remarks(checked, called)
    by_tray = {tray.pk: DrawnTray(tray) for tray in in_view}
    for one in shown:
        lure, pk, tray = one.lure, int(one.lure.ref), trays.get(one.letter)
        if tray is None:
            continue  # renamed or taken away since the lures were read
        par = target_count(lure.category, lure.card, checked.found.served.get((lure.category, lure.card.id), 0.0))
        remark, kind = remarks.get(pk, ("", ""))
        pips = "●" * min(lure.count, 9) + "○" * max(par - lure.count, 0)
        if one.at_home:
            pips, par = f"×{lure.count}", lure.count
        by_tray.setdefault(tray.pk, DrawnTray(tray)).wells.append(
            _Well(
                pk, lure.category, lure.name, lure.size_in, lure.weight_oz, lure.condition, called.get(pk, one.letter),
                lure.card, pips, f"{lure.count} of {par}", remark, kind,
            )
        )  # fmt: skip
    for gap in checked.gaps:
        home = homes.get(gap.of.category)
        if home and home.pk in by_tray:
            by_tray[home.pk].ghosts.append(gap.of)
    by_pk = {int(one.lure.ref): one.lure for one in stock}
    stacks = Counter(one.letter for one in stock)
    for drawn in by_tray.values():
        here = [by_pk[well.pk] for well in drawn.wells if well.pk in by_pk]
        drawn.cautions = storage_cautions(here)
        drawn.stacks = stacks[drawn.tray.letter]
    return list(by_tray.values())


def _remarks(checked: Check, called: dict[int, str]) -> dict[int, tuple[str, str]]:
    remarks: dict[int, tuple[str, str]] = {}
    for idle in checked.idle:
        remarks |= {int(lure.ref): ("idle", "quiet") for lure in idle.of.lures}
    for short in checked.short:
        for lure in short.of.lures:
            remarks[int(lure.ref)] = (f"{short.of.par - short.of.have} low", "low")
    for double in checked.doubles:
        keep = double.of.keep
        for lure in double.of.lures:
            remarks[int(lure.ref)] = (f"duplicate of {called.get(int(keep.ref), keep.ref)}", "twice")
        remarks[int(keep.ref)] = (f"{double.of.over} extra", "twice")
    return remarks
