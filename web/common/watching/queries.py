"""Slow queries, told with their shape and without what was asked for."""

import logging
import re
from collections.abc import Callable
from time import perf_counter
from typing import Any, Final

from web.common.ui.logs import event
from web.common.watching.timing import SLOW_QUERIES

logger = logging.getLogger("web.queries")
SLOW_S: Final = 0.5


def tell_slow(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
    """For `connection.execute_wrapper`."""
    begun = perf_counter()
    try:
        return execute(sql, params, many, context)
    finally:
        if (took := perf_counter() - begun) > SLOW_S:
            SLOW_QUERIES.inc()
            tables = "+".join(dict.fromkeys(re.findall(r"(?:FROM|JOIN|INTO|UPDATE) `(\w+)`", sql)))
            logger.warning(event("slow-query", what=sql.split(" ", 1)[0].lower(), tables=tables, ms=int(took * 1000)))
