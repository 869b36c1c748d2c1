"""A trip as an entry for a calendar."""

from collections.abc import Sequence
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

from web.domain.trips.models import Trip

EVENING = 19  # o'clock on the day before: when the calendar reminds


def as_calendar(trip: Trip, address: str, sheet: bytes, tray: Sequence[str]) -> bytes:
    """An iCalendar with one event: the hours of the trip where the water is, the tray in words, the sheet as a PDF."""
    from icalendar import Alarm, Calendar, Event, vBinary

    zone = ZoneInfo(trip.water.time_zone) if trip.water.time_zone else None
    begin = datetime.combine(trip.date, time(trip.first_hour), zone)
    event = Event()
    event.add("uid", f"trip-{trip.pk}-{trip.made_at:%Y%m%d%H%M%S}@wax-crate")
    event.add("dtstamp", datetime.now(UTC))
    # In the water's time zone; without one, the hour that the clock shows there.
    event.add("dtstart", begin)
    event.add("dtend", begin + timedelta(hours=trip.last_hour + 1 - trip.first_hour))
    event.add("summary", f"{trip.water.name}: the day's tray")
    event.add("location", trip.water.name)
    event.add("description", "\n".join([*tray, address]))
    event.add("url", address)
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", f"{trip.water.name} tomorrow: lay out the tray")
    alarm.add("trigger", datetime.combine(trip.date - timedelta(days=1), time(EVENING), zone) - begin)
    event.add_component(alarm)
    attached = vBinary(sheet)
    attached.params["FMTTYPE"] = "application/pdf"
    event.add("attach", attached)
    calendar = Calendar()
    calendar.add("prodid", "-//Wax Crate//Day//EN")
    calendar.add("version", "2.0")
    calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())
