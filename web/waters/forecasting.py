"""Asking the forecast service, and what is said where it gives nothing that can be used."""

import logging
from collections.abc import Sequence
from datetime import date

from django.conf import settings

from tackle.devices.forecast import Hour, Unreachable, fetch_forecast
from tackle.errors import Refused
from web.ui.logs import event
from web.waters.models import Water

logger = logging.getLogger(__name__)


class NoForecast(Exception):
    """There is no forecast; says why, in words for the angler."""


def forecasts(water: Water, days: Sequence[date]) -> list[list[Hour]]:
    """The hours of each of some days on a water. Raises NoForecast."""
    if not settings.FORECAST_URL:
        raise NoForecast("No forecast service is set up here.")
    try:
        return [
            fetch_forecast(settings.FORECAST_URL, water.latitude, water.longitude, day, settings.DEVICE_TIMEOUT_S)
            for day in days
        ]
    except Unreachable as error:
        logger.warning(event("forecast-silent", why=error))
        raise NoForecast("The forecast service does not answer.") from error
    except Refused as refused:
        logger.warning(event("forecast-refused", field=refused.field, why=refused.wrong))
        words = f"The forecast makes no sense ({refused.field}: {refused.wrong}), so it is not used."
        raise NoForecast(words) from refused
