"""The timetable: sailings of a day, the next one from a landing, connections."""

from . import clock
from .calendar_rules import timetable_for
from .routes import running_minutes

# Timetable -> (from, to, first, last, gap, boat).
SERVICES = {
    "summer-work": [
        ("Saltmarsh", "Gannet Point", "06:10", "21:40", 45, "Tern"),
        ("Saltmarsh", "Oyster Hard", "06:30", "20:30", 60, "Dunlin"),
        ("Saltmarsh", "Low Light", "07:00", "19:00", 90, "Knot"),
        ("Gannet Point", "Sandholm", "07:15", "19:15", 120, "Avocet"),
    ],
    "summer-quiet": [
        ("Saltmarsh", "Gannet Point", "09:00", "18:00", 90, "Tern"),
        ("Saltmarsh", "Oyster Hard", "09:30", "17:30", 120, "Dunlin"),
    ],
    "winter-work": [
        ("Saltmarsh", "Gannet Point", "07:10", "18:10", 60, "Tern"),
        ("Saltmarsh", "Oyster Hard", "07:30", "17:30", 120, "Dunlin"),
        ("Saltmarsh", "Low Light", "08:00", "16:00", 240, "Knot"),
    ],
    "winter-quiet": [
        ("Saltmarsh", "Gannet Point", "10:00", "16:00", 180, "Tern"),
    ],
}


class TimetableError(Exception):
    """A question that the timetable cannot answer."""


def sailings(day):
    """All sailings of a day, by time, then by boat."""
    found = []
    for start, end, first, last, gap, boat in SERVICES[timetable_for(day)]:
        minutes = running_minutes(start, end, {"Tern": 11, "Dunlin": 14, "Knot": 13, "Avocet": 10}[boat])
        for at in clock.every(clock.parse_time(first), clock.parse_time(last), gap):
            found.append({"at": at, "start": start, "end": end, "boat": boat, "arrives": at + minutes})
    return sorted(found, key=lambda sailing: (sailing["at"], sailing["boat"]))


def landings_served(day):
    """Every landing a boat calls at on a day, in alphabetical order."""
    served = set()
    for start, end, *_rest in SERVICES[timetable_for(day)]:
        served.update((start, end))
    return sorted(served)


def next_after(day, landing, minute):
    """The next sailing from a landing after a minute of the day, or None when the last one is gone."""
    for sailing in sailings(day):
        if sailing["start"] == landing and sailing["at"] > minute:
            return sailing
    return None


def describe_next(day, landing, minute):
    """The next sailing in words."""
    sailing = next_after(day, landing, minute)
    if sailing is None:
        return "no more boats from %s" % landing
    wait = clock.describe_wait(sailing["at"] - minute)
    return "%s to %s in %s" % (sailing["boat"], sailing["end"], wait)


def connection(day, start, through, end, minute, change=5):
    """The first journey with one change, or None; change is the least time between two boats."""
    for first in sailings(day):
        if first["start"] != start or first["end"] != through or first["at"] < minute:
            continue
        for second in sailings(day):
            if second["start"] == through and second["end"] == end and second["at"] >= first["arrives"] + change:
                return {"leave": first["at"], "change_at": first["arrives"], "go_on": second["at"], "arrive": second["arrives"]}
    return None


def boats_by_name(names):
    """Boats for the index page: capitals first, as on the board, which is made of metal letters in this order."""
    return sorted(names)


def board(day, landing, count=5):
    """The first lines of the departure board."""
    lines = []
    for sailing in sailings(day):
        if sailing["start"] == landing and len(lines) < count:
            lines.append("%s  %-12s  %s" % (clock.format_time(sailing["at"]), sailing["end"], sailing["boat"]))
    return lines


def busiest_hour(day):
    """The hour with the most sailings; the earliest of equals."""
    counts = {}
    for sailing in sailings(day):
        hour = sailing["at"] // 60
        counts[hour] = counts.get(hour, 0) + 1
    hour = min(counts, key=lambda hour: (-counts[hour], hour))
    return {"hour": hour, "sailings": counts[hour]}


def headway(day, start, end):
    """Minutes between sailings on a service."""
    times = [sailing["at"] for sailing in sailings(day) if sailing["start"] == start and sailing["end"] == end]
    if len(times) < 2:
        raise TimetableError("fewer than two sailings from %s to %s" % (start, end))
    return [later - earlier for earlier, later in zip(times, times[1:])]
