"""What the check finds, each finding drawn once for what it shows."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.utils.safestring import SafeString

from tackle.check.audit import Fix, Gap
from tackle.crate.lure import Lure
from tackle.units import System
from web.check.check import Check, Finding
from web.ui.drawn import drawn_once


def draw_findings(checked: Check, most: int, called: Mapping[int, str], units: System) -> list[SafeString]:
    """The findings, at most so many of each kind, the kinds in the order in which they matter."""
    kinds: tuple[tuple[str, Sequence[Finding[Any]]], ...] = (
        ("gap", checked.gaps), ("fix", checked.fixes), ("double", checked.doubles), ("short", checked.short),
        ("idle", checked.idle),
    )  # fmt: skip
    return [_drawn(kind, one, called, units) for kind, found in kinds for one in found[:most]]


def _drawn(kind: str, one: Finding[Any], called: Mapping[int, str], units: System) -> SafeString:
    places = {int(lure.ref): called.get(int(lure.ref), lure.ref) for lure in _named(one.of)}
    kept = tuple((plan.pk, plan.name) for plan in one.kept)
    shows = one.key, one.of, one.home, one.here, kept, tuple(places.values()), units
    return drawn_once(f"crate/finding_{kind}.html", shows, lambda: {"one": one, "called": places, "units": units})


def _named(found: Any) -> Iterable[Lure]:
    """The lures that a finding calls by their places."""
    if isinstance(found, Gap):
        return (one.lure for one in (found.nearest, found.repair) if one)
    return (found.lure,) if isinstance(found, Fix) else found.lures
