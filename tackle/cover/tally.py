"""How some days of a plan that are looked at together are covered."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

__all__ = ["Tally"]

_MOSTLY: Final = 0.9  # days count as first choice together where so much of them is


@dataclass(slots=True)
class Tally:
    """Days that lie together: all of them, those covered, and those with a first choice, whole days."""

    days: float = 0.0
    covered: float = 0.0
    first_choice: float = 0.0

    def add(self, days: float, is_first: bool | None) -> None:
        """Counts days in; `is_first`: whether what covers them is a first choice, None where nothing covers them."""
        self.days += days
        if is_first is not None:
            self.covered += days
            self.first_choice += days * is_first

    @property
    def will_do(self) -> float:
        return self.covered - self.first_choice

    @property
    def not_covered(self) -> float:
        return round(self.days - self.covered, 2)

    @property
    def state(self) -> str:
        """not covered, will do, or first choice."""
        if self.not_covered > 0:
            return "not covered"
        return "first choice" if self.first_choice >= _MOSTLY * self.covered - 1e-9 else "will do"
