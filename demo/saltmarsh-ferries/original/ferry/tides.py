"""Heights of the tide from harmonic constituents, and the times of high and low water."""

import math

# Amplitude in metres, speed in degrees an hour, phase in degrees; for Saltmarsh, from 2031-01-01 00:00.
CONSTITUENTS = [
    ("main lunar", 2.214, 28.9841042, 163.2),
    ("main solar", 0.762, 30.0, 207.9),
    ("elliptic", 0.421, 28.4397295, 140.4),
    ("declination", 0.158, 15.0410686, 281.0),
    ("lunar daily", 0.172, 13.9430356, 118.3),
    ("shallow", 0.094, 57.9682084, 251.5),
]
MEAN_LEVEL = 3.42


class TideError(Exception):
    """A time for which there is no tide."""


def height(hours):
    """Metres of water over the chart's zero, so many hours after the start of 2031."""
    level = MEAN_LEVEL
    for _name, amplitude, speed, phase in CONSTITUENTS:
        level += amplitude * math.cos(math.radians(speed * hours - phase))
    return level


def heights(start, step, count):
    """Heights at equal steps of hours."""
    if count < 0:
        raise TideError("cannot give %d heights" % count)
    return [height(start + step * index) for index in range(count)]


def mean_height(start, end, samples=48):
    """The mean height over a span, by the middle of each of its parts."""
    if end <= start:
        raise TideError("the span is empty")
    step = (end - start) / samples
    total = 0.0
    for index in range(samples):
        total += height(start + (index + 0.5) * step)
    return total / samples


def turning_points(start, end):
    """High and low waters in a span, each as {"kind", "minute", "height_cm"}; minutes from the start of the span."""
    points = []
    before = height(start - 1 / 60)
    now = height(start)
    for minute in range(int((end - start) * 60)):
        after = height(start + (minute + 1) / 60)
        if now >= before and now > after:
            points.append({"kind": "high", "minute": minute, "height_cm": math.floor(now * 100)})
        elif now <= before and now < after:
            points.append({"kind": "low", "minute": minute, "height_cm": math.floor(now * 100)})
        before, now = now, after
    return points


def depth_dm(hours, charted_dm):
    """Whole decimetres of water at a place whose charted depth is given (negative where it dries)."""
    return math.floor(height(hours) * 10) + charted_dm


def window(start, end, needed_m):
    """Spans of minutes in which the tide stands at least so high."""
    spans = []
    opened = None
    for minute in range(int((end - start) * 60) + 1):
        enough = height(start + minute / 60) >= needed_m
        if enough and opened is None:
            opened = minute
        elif not enough and opened is not None:
            spans.append([opened, minute])
            opened = None
    if opened is not None:
        spans.append([opened, int((end - start) * 60)])
    return spans


def range_of(points):
    """The difference between the highest high and the lowest low water of a list, in centimetres."""
    highs = [point["height_cm"] for point in points if point["kind"] == "high"]
    lows = [point["height_cm"] for point in points if point["kind"] == "low"]
    if not highs or not lows:
        return None
    return max(highs) - min(lows)


def is_spring(range_cm):
    """Whether a range is that of a spring tide."""
    return range_cm >= 520


def describe(hours):
    """The tide in words: rising or falling, and how high."""
    now = height(hours)
    later = height(hours + 0.25)
    way = "rising" if later > now else "falling"
    return "%s, %.2f m" % (way, now)
