"""Fares: bands by distance, kinds of riders, rebates, and the line printed on a ticket."""

from . import money
from .routes import sea_miles

BAND_PRICE = {"near": 240, "mid": 415, "far": 690}
BAND_LIMIT = [(3.0, "near"), (6.5, "mid")]
SHARE = {"adult": 1.0, "child": 0.5, "senior": 0.66, "dog": 0.25, "infant": 0.0}
BICYCLE = 135


class FareError(Exception):
    """A fare that cannot be worked out."""


def band_for(miles):
    """The band of a distance in sea miles."""
    if miles < 0:
        raise FareError("a distance cannot be negative: %s" % miles)
    for limit, band in BAND_LIMIT:
        if miles <= limit:
            return band
    return "far"


def fare_for(miles, kind="adult", *, day=None, bicycle=False):
    """The single fare in pence. On a quiet day (given as a date) everything costs a tenth more."""
    if kind not in SHARE:
        raise FareError("no such kind of rider: %s" % kind)
    price = BAND_PRICE[band_for(miles)] * SHARE[kind]
    if day is not None and day.weekday() == 6:
        price = price * 1.1
    # Half pence go to the even penny, as on the printed tables.
    result = round(price)
    if bicycle:
        result += BICYCLE
    return result


def rebate(amount, share, riders=1):
    """What each rider and all of them get back when a boat does not run."""
    if riders < 1:
        raise FareError("a rebate needs a rider")
    each = round(amount * share)
    return {"each": each, "all": each * riders}


def group_fare(miles, riders):
    """A party's fare: riders is a list of kinds; from ten on the cheapest rides free."""
    fares = sorted(fare_for(miles, kind) for kind in riders)
    free = fares[0] if len(fares) >= 10 else 0
    return {"riders": len(fares), "total": sum(fares) - free, "free": free}


def season_pass(miles, weeks):
    """A pass for some weeks: nine single fares a week, every fourth week at half."""
    if weeks < 1 or weeks > 52:
        raise FareError("a pass runs from 1 to 52 weeks, not %d" % weeks)
    single = fare_for(miles)
    cost = 0
    for week in range(1, weeks + 1):
        cost += single * 9 // 2 if week % 4 == 0 else single * 9
    return cost


def ticket_line(start, end, kind="adult", *, width=32):
    """One line of a ticket: the way, dots, the fare."""
    fare = money.format_pence(fare_for(sea_miles(start, end), kind))
    way = "%s to %s" % (start, end)
    dots = max(1, width - len(way) - len(fare) - 2)
    return "%s %s %s" % (way, "." * dots, fare)


def price_table(kinds):
    """Band -> kind -> fare, for the notice board."""
    table = {}
    for band in BAND_PRICE:
        limit = {"near": 1, "mid": 5, "far": 9}[band]
        table[band] = {kind: fare_for(limit, kind) for kind in kinds}
    return table


def fair_share(total, riders):
    """What each of a party pays of a hired boat."""
    return money.split_evenly(total, riders)
