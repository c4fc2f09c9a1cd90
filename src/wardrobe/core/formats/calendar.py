"""Dates as iCalendar (RFC 5545)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from icalendar import Calendar, Event


@dataclass(frozen=True)
class Dated:
    """Something that is due on a day.

    Attributes
    ----------
    uid : str
        The same each time that it is written, so that a calendar knows it again.
    changed : datetime
        With its zone.
    """

    uid: str
    day: date
    title: str
    text: str
    changed: datetime


def write_calendar(dates: Iterable[Dated]) -> bytes:
    """A calendar with an event, a whole day long, for each."""
    calendar = Calendar()
    calendar.add("prodid", "-//Wardrobe//Dates of pieces//EN")
    calendar.add("version", "2.0")
    for dated in dates:
        event = Event()
        event.add("uid", dated.uid)
        event.add("dtstamp", dated.changed)
        event.add("dtstart", dated.day)
        event.add("dtend", dated.day + timedelta(days=1))
        event.add("summary", dated.title)
        event.add("description", dated.text)
        event.add("transp", "TRANSPARENT")  # a date keeps nobody from working
        calendar.add_component(event)
    return bytes(calendar.to_ical())
