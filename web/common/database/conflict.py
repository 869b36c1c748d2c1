"""Two changes of one owner that met."""

from django.db import OperationalError


class ConcurrentUpdateError(OperationalError):
    """A change that met others of the same owner each time it was tried, and was not made."""
