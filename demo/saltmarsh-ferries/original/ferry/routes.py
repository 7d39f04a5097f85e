"""Landings, the water between them, and the shortest way by boat."""

import heapq
import math

EARTH_RADIUS_KM = 6371.0
KM_PER_SEA_MILE = 1.852

# Landing -> latitude, longitude in degrees.
LANDINGS = {
    "Saltmarsh": (53.1042, 0.3317),
    "Gannet Point": (53.1508, 0.4421),
    "Oyster Hard": (53.0615, 0.2874),
    "Low Light": (53.2017, 0.3990),
    "Eel Creek": (53.0288, 0.3711),
    "Sandholm": (53.1893, 0.5502),
    "Wrack Island": (53.2540, 0.4803),
}

# Pairs that boats run between; the water is not open everywhere.
LEGS = [
    ("Saltmarsh", "Gannet Point"),
    ("Saltmarsh", "Oyster Hard"),
    ("Saltmarsh", "Low Light"),
    ("Oyster Hard", "Eel Creek"),
    ("Gannet Point", "Sandholm"),
    ("Low Light", "Wrack Island"),
    ("Sandholm", "Wrack Island"),
]


class RouteError(Exception):
    """No such landing, or no way between two."""


def position(landing):
    """Latitude and longitude of a landing."""
    if landing not in LANDINGS:
        raise RouteError("no landing called %s" % landing)
    return LANDINGS[landing]


def distance_km(start, end):
    """Great-circle distance between two landings (haversine formula)."""
    start_lat, start_lon = position(start)
    end_lat, end_lon = position(end)
    lat = math.radians(end_lat - start_lat)
    lon = math.radians(end_lon - start_lon)
    chord = (
        math.sin(lat / 2) ** 2
        + math.cos(math.radians(start_lat)) * math.cos(math.radians(end_lat)) * math.sin(lon / 2) ** 2
    )
    return 2 * EARTH_RADIUS_KM * math.asin(math.sqrt(chord))


def sea_miles(start, end):
    """The distance in sea miles, to a tenth, as the fare tables count it (always rounded up)."""
    return math.ceil(distance_km(start, end) / KM_PER_SEA_MILE * 10) / 10


def neighbours(landing):
    """Landings that boats run to directly, in alphabetical order."""
    position(landing)
    found = []
    for one, other in LEGS:
        if one == landing:
            found.append(other)
        elif other == landing:
            found.append(one)
    return sorted(found)


def shortest_way(start, end):
    """The landings passed on the shortest way, ends included, with its length in tenths of sea miles."""
    position(start)
    position(end)
    best = {start: 0}
    before = {}
    queue = [(0, start)]
    while queue:
        length, landing = heapq.heappop(queue)
        if landing == end:
            break
        if length > best[landing]:
            continue
        for following in neighbours(landing):
            through = length + round(sea_miles(landing, following) * 10)
            if following not in best or through < best[following]:
                best[following] = through
                before[following] = landing
                heapq.heappush(queue, (through, following))
    if end not in best:
        raise RouteError("no way from %s to %s" % (start, end))
    way = [end]
    while way[-1] != start:
        way.append(before[way[-1]])
    way.reverse()
    return {"way": way, "tenths": best[end]}


def running_minutes(start, end, knots):
    """Whole minutes under way, with six for casting off and landing at every stop."""
    if knots <= 0:
        raise RouteError("a boat must move: %s knots" % knots)
    found = shortest_way(start, end)
    under_way = math.ceil(found["tenths"] * 6 / knots)
    return under_way + 6 * (len(found["way"]) - 1)


def bearing(start, end):
    """The first course from one landing to another, in whole degrees from north."""
    start_lat, start_lon = (math.radians(part) for part in position(start))
    end_lat, end_lon = (math.radians(part) for part in position(end))
    east = math.sin(end_lon - start_lon) * math.cos(end_lat)
    north = math.cos(start_lat) * math.sin(end_lat) - math.sin(start_lat) * math.cos(end_lat) * math.cos(end_lon - start_lon)
    return math.floor(math.degrees(math.atan2(east, north)) + 360.5) % 360


COMPASS = ["N", "NE", "E", "SE", "S", "SW", "W", "NW"]


def compass_point(degrees):
    """A course as one of eight points."""
    return COMPASS[math.floor((degrees % 360) / 45 + 0.5) % 8]


def round_trip(landings):
    """The length of calling at all landings in order and coming back, in tenths of sea miles."""
    if len(landings) < 2:
        return 0
    pairs = zip(landings, landings[1:] + landings[:1])
    return sum(shortest_way(start, end)["tenths"] for start, end in pairs)
