"""Checks that are due as a calendar (RFC 5545)."""

from __future__ import annotations

from datetime import datetime, timedelta

from icalendar import Calendar, Event

from niddy.studio.checks import DueCheck


def dump(due: tuple[DueCheck, ...], now: datetime, base: str) -> bytes:
    """One event a check, at the moment from which it can be done; `base` is where Niddy answers."""
    calendar = Calendar()
    calendar.add("prodid", "-//Niddy//checks//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Niddy: checks due")
    for one in due:
        event = Event()
        event.add("uid", f"batch-{one.number}-{one.kind}-{one.at:%Y%m%d}@niddy")
        event.add("dtstamp", now)
        event.add("dtstart", one.at)
        event.add("dtend", one.at + timedelta(minutes=15))
        event.add("summary", f"{one.kind.replace('_', ' ').capitalize()}: {one.name}, batch {one.number}")
        event.add("description", one.says)
        event.add("url", f"{base}/checks/{one.number}")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
