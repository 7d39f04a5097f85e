"""Times of day as minutes after midnight. Sailings may run past midnight or be counted back before it."""

MINUTES_A_DAY = 24 * 60


class ClockError(Exception):
    """A time that cannot be read."""


def parse_time(text):
    """"06:40" as 400; "24:10" and later are the small hours of the next day."""
    hours, colon, minutes = text.strip().partition(":")
    if not colon or not hours.isdigit() or not minutes.isdigit() or len(minutes) != 2:
        raise ClockError("not a time: %s" % text)
    if int(minutes) > 59 or int(hours) > 47:
        raise ClockError("no such time: %s" % text)
    return int(hours) * 60 + int(minutes)


def day_and_minute(minutes):
    """Which day a count of minutes falls on, and the minute of that day: -10 is ten to midnight the day before."""
    return minutes // MINUTES_A_DAY, minutes % MINUTES_A_DAY


def format_time(minutes):
    """400 as 06:40; other days are marked: 1450 as 00:10+1, -10 as 23:50-1."""
    day, minute = day_and_minute(minutes)
    mark = "%+d" % day if day else ""
    return "%02d:%02d%s" % (minute // 60, minute % 60, mark)


def quarter(minutes):
    """The start of the quarter of an hour that a minute lies in, before midnight too."""
    return minutes // 15 * 15


def until(now, then):
    """Minutes from one time of day to the next time it is the other."""
    return (then - now) % MINUTES_A_DAY


def between(minutes, start, end):
    """Whether a time of day lies in a span that may go over midnight; the end does not belong to it."""
    if start <= end:
        return start <= minutes < end
    return minutes >= start or minutes < end


def overlap(one_start, one_end, other_start, other_end):
    """How many minutes two spans share; spans are not wrapped."""
    return max(0, min(one_end, other_end) - max(one_start, other_start))


def shift(times, minutes):
    """All times moved by some minutes, kept within the day they fall on."""
    return [day_and_minute(time + minutes)[1] for time in times]


def every(first, last, gap):
    """Times from the first to the last, a gap apart."""
    if gap <= 0:
        raise ClockError("the gap must be positive: %d" % gap)
    times = []
    at = first
    while at <= last:
        times.append(at)
        at += gap
    return times


def describe_wait(minutes):
    """A wait in words: "now", "7 minutes", "1 hour", "2 hours 5 minutes"."""
    if minutes <= 0:
        return "now"
    hours, rest = divmod(minutes, 60)
    words = []
    if hours:
        words.append("1 hour" if hours == 1 else "%d hours" % hours)
    if rest:
        words.append("1 minute" if rest == 1 else "%d minutes" % rest)
    return " ".join(words)


def lateness(planned, actual):
    """Minutes late, as the log writes them: "+4", "-2", "on time"."""
    late = actual - planned
    if late == 0:
        return "on time"
    return "%+d" % late


def watches(start, length, count):
    """Consecutive watches as (from, to) pairs of minutes of the day."""
    result = []
    at = start
    for _ in range(count):
        result.append((day_and_minute(at)[1], day_and_minute(at + length)[1]))
        at += length
    return result
