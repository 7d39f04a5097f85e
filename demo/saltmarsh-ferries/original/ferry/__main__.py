"""The command line: python3 -m ferry COMMAND …"""

import sys

from . import calendar_rules, clock, fares, manifests, money, tides, timetable
from .day_sheet import day_sheet, hours_at
from .json_export import export_text

USAGE = """usage: ferry COMMAND
  fare START END [KIND]      the fare between two landings
  next DAY LANDING TIME      the next boat
  tides DAY                  high and low water
  manifest FILE              sums up a manifest (- reads standard input)
  merge OUT FILE FILE        merges two manifests into a file
  sheet DAY [MANIFEST]       the day sheet
  export DAY [LANDING]       the day as JSON"""


def fare(arguments):
    start, end, *rest = arguments
    kind = rest[0] if rest else "adult"
    print(fares.ticket_line(start, end, kind, width=48))


def next_boat(arguments):
    day, landing, at = arguments
    print(timetable.describe_next(calendar_rules.parse_day(day), landing, clock.parse_time(at)))


def tide_table(arguments):
    day = calendar_rules.parse_day(arguments[0])
    for point in tides.turning_points(hours_at(day), hours_at(day) + 24):
        print("%s %-4s %d cm" % (clock.format_time(point["minute"]), point["kind"], point["height_cm"]))


def read_manifest(name):
    if name == "-":
        return manifests.read(sys.stdin.read())
    with open(name, encoding="utf-8", newline="") as file:
        return manifests.read(file.read())


def manifest(arguments):
    facts = manifests.summary(read_manifest(arguments[0]))
    print("people %d" % facts["people"])
    for kind, count in sorted(facts["kinds"].items()):
        print("  %s %d" % (kind, count))
    print("bags %d" % facts["bags"])


def merge(arguments):
    out, first, second = arguments
    rows = manifests.merge(read_manifest(first), read_manifest(second))
    with open(out, "w", encoding="utf-8", newline="") as file:
        file.write(manifests.write(rows))
    print("%d people in %s" % (len(rows), out))


def sheet(arguments):
    rows = read_manifest(arguments[1]) if len(arguments) > 1 else []
    print("\n".join(day_sheet(calendar_rules.parse_day(arguments[0]), rows)))


def export(arguments):
    landing = arguments[1] if len(arguments) > 1 else None
    print(export_text(calendar_rules.parse_day(arguments[0]), landing))


COMMANDS = {
    "fare": fare, "next": next_boat, "tides": tide_table, "manifest": manifest,
    "merge": merge, "sheet": sheet, "export": export,
}
ERRORS = (
    calendar_rules.CalendarError, clock.ClockError, fares.FareError, manifests.ManifestError, money.MoneyError,
    tides.TideError, timetable.TimetableError,
)


def main(arguments):
    if not arguments or arguments[0] not in COMMANDS:
        print(USAGE, file=sys.stderr)
        return 2
    try:
        COMMANDS[arguments[0]](arguments[1:])
    except (ValueError, IndexError):
        print(USAGE, file=sys.stderr)
        return 2
    except FileNotFoundError as error:
        print("ferry: no file %s" % error.filename, file=sys.stderr)
        return 1
    except ERRORS as error:
        print("ferry: %s" % error, file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
