"""Errors of the core. Each says what is wrong, where, and what is allowed; the edge turns it into words."""

from __future__ import annotations

from collections.abc import Iterable

__all__ = ["DataError", "InvalidInput"]


class InvalidInput(ValueError):
    """A request that cannot be answered: the field, what was wrong with it, and what is allowed."""

    def __init__(self, field: str, wrong: str, allowed: str | Iterable[str]) -> None:
        self.field = field
        self.wrong = wrong
        self.allowed = allowed if isinstance(allowed, str) else "one of " + ", ".join(allowed)
        super().__init__(f"{field}: {wrong}; allowed: {self.allowed}")

    def __reduce__(self) -> tuple[type, tuple[str, str, str]]:
        return type(self), (self.field, self.wrong, self.allowed)


class DataError(ValueError):
    """A data file that cannot be used: the file, the entry in it, the field, and what is wrong."""

    def __init__(self, file: str, entry: str, field: str, wrong: str) -> None:
        self.file, self.entry, self.field, self.wrong = file, entry, field, wrong
        super().__init__(f"{file}: {entry}: {field}: {wrong}")

    def __reduce__(self) -> tuple[type, tuple[str, str, str, str]]:
        return type(self), (self.file, self.entry, self.field, self.wrong)
