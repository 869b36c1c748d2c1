"""A gauge of a water, asked for its open record: GET {url}?site=tarn-hollow answers a table as docs/records.md has."""

from __future__ import annotations

from typing import Final
from urllib.parse import urlencode

from tackle.devices.http import fetched

__all__ = ["fetch_gauge"]

_MOST_BYTES: Final = 20_000_000


def fetch_gauge(url: str, site: str, timeout_s: float) -> bytes:
    """The record of a site, as it comes. Raises Unreachable, or InvalidInput where the answer is no HTTP."""
    return fetched(f"{url}?{urlencode({'site': site})}", "gauge", timeout_s, _MOST_BYTES)
