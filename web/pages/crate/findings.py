"""What the check finds, in the order in which its kinds matter."""

from collections.abc import Sequence
from typing import Any

from web.pages.check.check import Check, Finding


def listed(checked: Check, most: int) -> list[tuple[str, Finding[Any]]]:
    """The findings with the template that draws each, at most so many of each kind."""
    kinds: tuple[tuple[str, Sequence[Finding[Any]]], ...] = (
        ("gap", checked.gaps), ("mend", checked.mends), ("fix", checked.fixes), ("double", checked.doubles),
        ("short", checked.short), ("idle", checked.idle),
    )  # fmt: skip
    return [(f"crate/finding_{kind}.html", one) for kind, found in kinds for one in found[:most]]
