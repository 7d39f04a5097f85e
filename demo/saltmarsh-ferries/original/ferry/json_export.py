"""The day as JSON, for the display boards at the landings."""

import json

from . import clock
from .calendar_rules import timetable_for
from .tides import turning_points
from .timetable import sailings
from .day_sheet import hours_at

VERSION = 3


class ExportError(Exception):
    """A day that cannot be exported."""


def sailing_record(sailing):
    """One sailing as the boards want it."""
    return {
        "departs": clock.format_time(sailing["at"]),
        "arrives": clock.format_time(sailing["arrives"]),
        "from": sailing["start"],
        "to": sailing["end"],
        "boat": sailing["boat"],
        "remark": None,
    }


def tide_record(point):
    """One turning point of the tide."""
    return {"at": clock.format_time(point["minute"]), "kind": point["kind"], "metres": point["height_cm"] / 100}


def export_day(day, landing=None):
    """Everything about a day, or about one landing on it."""
    chosen = [sailing for sailing in sailings(day) if landing in (None, sailing["start"], sailing["end"])]
    if landing is not None and not chosen:
        raise ExportError("no boats call at %s on %s" % (landing, day.isoformat()))
    return {
        "version": VERSION,
        "day": day.isoformat(),
        "timetable": timetable_for(day),
        "sailings": [sailing_record(sailing) for sailing in chosen],
        "tides": [tide_record(point) for point in turning_points(hours_at(day), hours_at(day) + 24)],
    }


def export_text(day, landing=None):
    """The export as JSON text, keys in order, letters as they are."""
    return json.dumps(export_day(day, landing), ensure_ascii=False, indent=2)


def changes(old, new):
    """Departures that were added or dropped between two exports of a day."""
    before = {(item["departs"], item["from"], item["to"]) for item in old["sailings"]}
    after = {(item["departs"], item["from"], item["to"]) for item in new["sailings"]}
    return {
        "added": [list(item) for item in sorted(after - before)],
        "dropped": [list(item) for item in sorted(before - after)],
    }
