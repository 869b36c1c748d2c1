"""The trays and the findings, as the templates draw them."""

from dataclasses import dataclass

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.crate.audit import Audit, Gap
from tackle.crate.lure import par_of
from tackle.crate.reach import Planned
from web.crate.models import Lure, Tray
from web.crate.reads import home_of, refs


@dataclass(frozen=True, slots=True)
class Well:
    """A compartment: its lure and card, the pips against par, and what the audit says of it."""

    lure: Lure
    ref: str
    card: Card
    pips: str
    pips_said: str
    remark: str
    kind: str


@dataclass(frozen=True, slots=True)
class Drawn:
    """A tray with its compartments, and the gaps that would go into it."""

    tray: Tray
    wells: list[Well]
    ghosts: list[Gap]


def draw(trays: list[Tray], found: Audit, planned: list[Planned], palette: Palette) -> list[Drawn]:
    """The trays as they are drawn, each gap in the tray that holds most of its category."""
    serves = {(p.request.category, c.card.id): c.days for p in planned for c in p.plan.colours}
    called = refs(trays)
    remarks = _remarks(found, called)
    drawn = []
    for tray in trays:
        wells = []
        for lure in tray.lures.all():
            card = palette.by_id.get(lure.card)
            if card is None:
                continue
            par = par_of(lure.category, card, serves.get((lure.category, card.id), 0.0))
            remark, kind = remarks.get(lure.pk, ("", ""))
            pips = "●" * min(lure.count, 9) + "○" * max(par - lure.count, 0)
            wells.append(Well(lure, called[lure.pk], card, pips, f"{lure.count} of {par}", remark, kind))
        ghosts = [gap for gap in found.gaps if home_of(trays, gap.category) is tray]
        drawn.append(Drawn(tray, wells, ghosts))
    return drawn


def _remarks(found: Audit, called: dict[int, str]) -> dict[int, tuple[str, str]]:
    remarks: dict[int, tuple[str, str]] = {}
    for short in found.short:
        for lure in short.lures:
            remarks[int(lure.ref)] = (f"short {short.par - short.have}", "low")
    for double in found.doubles:
        first = double.lures[0]
        remarks[int(first.ref)] = (f"{double.over} over", "twice")
        for lure in double.lures[1:]:
            remarks[int(lure.ref)] = (f"double of {called[int(first.ref)]}", "twice")
    return remarks
