"""The day sheet: one page of text with everything the quay master needs."""

from . import clock, money, tides
from .calendar_rules import days_until, long_day, parse_day, timetable_for
from .fares import price_table
from .manifests import summary
from .text_tools import box, columns, heading, shorten, wrap
from .timetable import sailings

WIDTH = 64
START = parse_day("2031-01-01")


def hours_at(day, minute=0):
    """Hours of the tide's clock at a minute of a day."""
    return days_until(START, day) * 24 + minute / 60


def header(day):
    """The head of the sheet."""
    return heading("Saltmarsh Ferries: %s" % long_day(day)) + ["timetable %s" % timetable_for(day)]


def tide_lines(day):
    """High and low waters of the day."""
    rows = []
    for point in tides.turning_points(hours_at(day), hours_at(day) + 24):
        rows.append([clock.format_time(point["minute"]), point["kind"], "%d.%02d m" % divmod(point["height_cm"], 100)])
    return columns(rows)


def sailing_lines(day):
    """The sailings, with the water under way at the landing."""
    rows = []
    for sailing in sailings(day):
        water = tides.depth_dm(hours_at(day, sailing["at"]), -12)
        note = "shallow" if water < 20 else ""
        rows.append([clock.format_time(sailing["at"]), sailing["start"], sailing["end"], sailing["boat"], note])
    return columns(rows)


def fare_lines():
    """The table of fares."""
    kinds = ["adult", "child", "senior"]
    rows = [["band"] + kinds]
    for band, fares in price_table(kinds).items():
        rows.append([band] + [money.format_pence(fares[kind]) for kind in kinds])
    return columns(rows)


def people_lines(rows):
    """Who is booked, in a sentence."""
    facts = summary(rows)
    parts = ["%d %s" % (count, kind) for kind, count in sorted(facts["kinds"].items())]
    text = "%d booked: %s; %d bags." % (facts["people"], ", ".join(parts), facts["bags"])
    return wrap(text, WIDTH)


def notes(texts):
    """Notes in a frame, each on one line."""
    return box([shorten(text, WIDTH - 4) for text in texts], WIDTH - 4) if texts else []


def day_sheet(day, manifest=(), remarks=()):
    """The whole sheet as lines."""
    lines = header(day) + [""]
    lines += ["Tides"] + tide_lines(day) + [""]
    lines += ["Sailings"] + sailing_lines(day) + [""]
    lines += ["Fares"] + fare_lines()
    if manifest:
        lines += [""] + people_lines(list(manifest))
    if remarks:
        lines += [""] + notes(list(remarks))
    return lines


def posted(day, landing=None):
    """What hangs in the ticket hall: the sheet, and below it the day for those who read by machine."""
    from .json_export import export_text  # the export needs our hours, and we need its text

    return "\n".join(day_sheet(day)) + "\n\n" + export_text(day, landing)
