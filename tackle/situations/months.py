"""Months of the year, seen from the north."""


def northern_month(month: int, latitude: float) -> int:
    """The month 1 to 12 that stands where this one does in the northern year; half a year off south of the equator."""
    return month if latitude >= 0 else (month + 5) % 12 + 1
