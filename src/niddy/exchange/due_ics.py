"""What waits for a date as a calendar (RFC 5545)."""

from __future__ import annotations

from datetime import datetime, timedelta

from icalendar import Calendar, Event

from niddy.core.due import Due


def dump(due: tuple[Due, ...], now: datetime, base: str) -> bytes:
    """One event each, at the moment from which it can be done; `base` is where Niddy answers."""
    calendar = Calendar()
    calendar.add("prodid", "-//Niddy//due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Niddy: due")
    for wait in due:
        event = Event()
        event.add("uid", f"{wait.room}-{wait.key}-{wait.at:%Y%m%d}@niddy")
        event.add("dtstamp", now)
        event.add("dtstart", wait.at)
        event.add("dtend", wait.at + timedelta(minutes=15))
        event.add("summary", f"{wait.what}: {wait.name}")
        event.add("description", wait.says)
        event.add("url", base + wait.page)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
