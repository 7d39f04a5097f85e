"""When a boat stays in: wind, sea and sight against the limits of its class."""

# Upper bound of each force in knots; above the last it is force 12.
FORCES = [1, 3, 6, 10, 16, 21, 27, 33, 40, 47, 55, 63]

LIMITS = {
    "launch": {"force": 5, "wave_dm": 10, "sight_m": 500},
    "ferry": {"force": 7, "wave_dm": 20, "sight_m": 200},
    "barge": {"force": 4, "wave_dm": 8, "sight_m": 1000},
}

WORDS = [
    "calm", "light air", "light breeze", "gentle breeze", "moderate breeze", "fresh breeze", "strong breeze",
    "near gale", "gale", "strong gale", "storm", "violent storm", "hurricane",
]


class WeatherError(Exception):
    """A report that cannot be used."""


def force_of(knots):
    """The force of a wind in knots."""
    if knots < 0:
        raise WeatherError("wind cannot be negative: %s" % knots)
    for force, bound in enumerate(FORCES):
        if knots < bound:
            return force
    return 12


def wind_words(knots):
    """A wind in words."""
    return WORDS[force_of(knots)]


def may_sail(kind, report):
    """Whether a boat of a kind may sail, with every reason why not."""
    if kind not in LIMITS:
        raise WeatherError("no such class of boat: %s" % kind)
    limits = LIMITS[kind]
    reasons = []
    if force_of(report["knots"]) > limits["force"]:
        reasons.append("wind")
    if report.get("wave_dm", 0) > limits["wave_dm"]:
        reasons.append("sea")
    if report.get("sight_m", 10000) < limits["sight_m"]:
        reasons.append("sight")
    return {"may_sail": not reasons, "reasons": reasons}


def worst(reports):
    """The worst of several reports: most wind, highest sea, least sight."""
    if not reports:
        raise WeatherError("no reports")
    return {
        "knots": max(report["knots"] for report in reports),
        "wave_dm": max(report.get("wave_dm", 0) for report in reports),
        "sight_m": min(report.get("sight_m", 10000) for report in reports),
    }


def trend(readings):
    """How a list of readings goes: "rising", "falling" or "steady" (within one of the first)."""
    if len(readings) < 2:
        return "steady"
    change = readings[-1] - readings[0]
    if abs(change) <= 1:
        return "steady"
    return "rising" if change > 0 else "falling"


def chill(celsius, knots):
    """What the air feels like in whole degrees, after the 2001 wind chill index; only below 10 degrees and in wind."""
    speed = knots * 1.852
    if celsius > 10 or speed < 4.8:
        return celsius
    felt = 13.12 + 0.6215 * celsius - 11.37 * speed**0.16 + 0.3965 * celsius * speed**0.16
    return int(felt)


def boats_in(report):
    """The classes that stay in."""
    return sorted(kind for kind in LIMITS if not may_sail(kind, report)["may_sail"])
