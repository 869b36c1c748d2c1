"""Asking what stands outside: clarity meter, forecast service, gauge. Whoever is slow there holds up few of us."""

import logging
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import date, timedelta
from threading import BoundedSemaphore
from typing import Any, Final

from django.conf import settings
from django.core.exceptions import ValidationError

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from tackle.devices.forecast import ForecastHour, fetch_forecast
from tackle.devices.gauge import fetch_gauge
from tackle.devices.http import Unreachable
from tackle.devices.meter import MeterSaid, read_meter
from web.common.serving.child import TEXT, in_child
from web.common.ui.logs import event
from web.domain.waters.models import Water
from web.domain.waters.selectors import today_at

logger = logging.getLogger(__name__)
# Of the four threads of a worker at most so many wait for a device; whoever comes then is told so at once.
MOST_WAITING: Final = 2
FORECAST_DAYS: Final = 16  # ahead
_waiting = BoundedSemaphore(MOST_WAITING)


class NoAnswer(Exception):
    """A device gave nothing that can be used; says why, in words for the angler."""


@contextmanager
def _one_of_few(what: str) -> Iterator[None]:
    if not _waiting.acquire(blocking=False):
        raise NoAnswer(f"The {what} is being asked by others just now: try again in a moment.")
    try:
        yield
    finally:
        _waiting.release()


def heard_from_meter() -> MeterSaid:
    """What the clarity meter says, with at least one reading. Raises NoAnswer."""
    host, _, port = settings.METER_ADDRESS.partition(":")
    if not port:
        raise NoAnswer("No clarity meter is set up here.")
    with _one_of_few("clarity meter"):
        try:
            heard = read_meter(host, int(port), settings.DEVICE_TIMEOUT_S)
        except (OSError, ValueError) as error:
            logger.warning(event("meter-silent", why=type(error).__name__))
            raise NoAnswer("The clarity meter does not answer.") from error
    if not heard.readings:
        refused = f" {heard.refused} refused: {heard.first_reason}." if heard.refused else ""
        raise NoAnswer(f"The meter sent no reading that makes sense.{refused}")
    return heard


def forecasts(
    water: Water, days: Sequence[date], position: tuple[float, float] | None = None
) -> list[list[ForecastHour]]:
    """The hours of each of some days on a water, or where somebody stands on it (degrees north and east). Raises
    NoAnswer."""
    if max(days) > today_at(water) + timedelta(days=FORECAST_DAYS):
        raise NoAnswer(f"No forecast reaches further than {FORECAST_DAYS} days.")
    there = position or water.position
    if there is None:
        raise NoAnswer(f"No forecast: where {water.name} lies is not told.")
    latitude, longitude = there
    if not settings.FORECAST_URL:
        raise NoAnswer("No forecast service is set up here.")
    with _one_of_few("forecast service"):
        try:
            return [
                fetch_forecast(
                    settings.FORECAST_URL,
                    latitude,
                    longitude,
                    day,
                    settings.DEVICE_TIMEOUT_S,
                    _read_apart,
                )
                for day in days
            ]
        except Unreachable as error:
            logger.warning(event("forecast-silent", why=error))
            raise NoAnswer("The forecast service does not answer.") from error
        except ValidationError as error:
            logger.warning(event("forecast-refused", why=error.messages[0]))
            raise NoAnswer("The forecast makes no sense, so it is not used.") from error
        except InvalidInput as refused:
            logger.warning(event("forecast-refused", field=refused.field, why=refused.wrong))
            words = f"The forecast makes no sense ({refused.field}: {refused.wrong}), so it is not used."
            raise NoAnswer(words) from refused


def _read_apart(body: bytes, field: str) -> Any:
    return in_child(TEXT, read_json, body, field)


def record_from_gauge(site: str) -> bytes:
    """The open record of a gauge's site. Raises NoAnswer."""
    if not settings.GAUGE_URL:
        raise NoAnswer("No gauge is set up here.")
    with _one_of_few("gauge"):
        try:
            return fetch_gauge(settings.GAUGE_URL, site, settings.GAUGE_TIMEOUT_S)
        except (Unreachable, InvalidInput) as error:
            logger.warning(event("gauge-silent", why=error))
            raise NoAnswer(f"The gauge has no answer for {site!r}.") from error
