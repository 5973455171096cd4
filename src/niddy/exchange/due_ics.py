"""What waits for a date as a calendar (RFC 5545)."""

from __future__ import annotations

from datetime import datetime, timedelta

from niddy.core.due import Due

A_MOMENT_MIN = 15.0
"""What is due takes so long in a calendar where nothing is known of it."""


def dump(due: tuple[Due, ...], now: datetime, base: str) -> bytes:
    """One event each, from when it can be done and as long as it takes; `base` is where Niddy answers."""
    # A big package for a file that is seldom asked for: not read at every start.
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Niddy//due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Niddy: due")
    for wait in due:
        event = Event()
        event.add("uid", f"{wait.room}-{wait.key}-{wait.at:%Y%m%d}@niddy")
        event.add("dtstamp", now)
        event.add("dtstart", wait.at)
        event.add("dtend", wait.at + timedelta(minutes=wait.takes_min or A_MOMENT_MIN))
        event.add("summary", f"{wait.what}: {wait.name}")
        event.add("description", wait.says)
        event.add("url", base + wait.page)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
