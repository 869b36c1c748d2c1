"""How some days of a plan that are looked at together are answered."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

__all__ = ["Tally"]

_MOSTLY: Final = 0.9  # days count as right together where so much of them is


@dataclass(slots=True)
class Tally:
    """Days that lie together: all of them, those answered, and those right, as shares of the schools."""

    days: float = 0.0
    answered: float = 0.0
    right: float = 0.0

    def add(self, days: float, share: float | None) -> None:
        """Counts days in; `share` is how right they are, None where nothing answers them."""
        self.days += days
        if share is not None:
            self.answered += days
            self.right += days * share

    @property
    def open(self) -> float:
        return round(self.days - self.answered, 2)

    @property
    def state(self) -> str:
        """open, made do, or right."""
        if self.open > 0:
            return "open"
        return "right" if self.right >= _MOSTLY * self.answered - 1e-9 else "made do"
