"""Numbers to take along, as a table."""

import csv
from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpResponse

__all__ = ["as_csv"]


def as_csv(name: str, heading: Sequence[str], rows: Iterable[Sequence[Any]]) -> HttpResponse:
    """A CSV file to download, `name` without its ending."""
    headers = {"Content-Disposition": f'attachment; filename="{name}.csv"'}
    response = HttpResponse(content_type="text/csv; charset=utf-8", headers=headers)
    writer = csv.writer(response)
    writer.writerow(heading)
    writer.writerows(rows)
    return response
