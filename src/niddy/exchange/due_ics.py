"""What waits for a date as a calendar (RFC 5545)."""

from __future__ import annotations

from datetime import datetime, timedelta

from icalendar import Calendar, Event

from niddy.core.due import Due

A_MOMENT = timedelta(minutes=15)


def dump(due: tuple[tuple[Due, timedelta | None], ...], now: datetime, base: str) -> bytes:
    """One event each, from when it can be done and as long as it takes; `base` is where Niddy answers."""
    calendar = Calendar()
    calendar.add("prodid", "-//Niddy//due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Niddy: due")
    for wait, takes in due:
        event = Event()
        event.add("uid", f"{wait.room}-{wait.key}-{wait.at:%Y%m%d}@niddy")
        event.add("dtstamp", now)
        event.add("dtstart", wait.at)
        event.add("dtend", wait.at + (takes or A_MOMENT))
        event.add("summary", f"{wait.what}: {wait.name}")
        event.add("description", wait.says)
        event.add("url", base + wait.page)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
