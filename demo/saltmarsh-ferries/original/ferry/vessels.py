"""The boats: what they carry and how they are told apart."""


class VesselError(Exception):
    """No such boat, or one that cannot carry what is asked."""


FLEET = {
    "Tern": {"kind": "ferry", "knots": 11, "seats": 84, "bicycles": 12, "draught_dm": 18},
    "Dunlin": {"kind": "launch", "knots": 14, "seats": 24, "bicycles": 2, "draught_dm": 9},
    "Knot": {"kind": "launch", "knots": 13, "seats": 28, "bicycles": 4, "draught_dm": 10},
    "Bittern": {"kind": "barge", "knots": 6, "seats": 8, "bicycles": 0, "draught_dm": 12},
    "Avocet": {"kind": "ferry", "knots": 10, "seats": 120, "bicycles": 20, "draught_dm": 22},
}


def vessel(name):
    """The particulars of a boat."""
    if name not in FLEET:
        raise VesselError("no boat called %s" % name)
    return dict(FLEET[name], name=name)


def of_kind(kind):
    """Names of the boats of a kind, fastest first."""
    found = [name for name, facts in FLEET.items() if facts["kind"] == kind]
    return sorted(found, key=lambda name: -FLEET[name]["knots"])


def smallest_for(seats, bicycles=0):
    """The smallest boat with room for a party."""
    fitting = [
        (facts["seats"], name)
        for name, facts in FLEET.items()
        if facts["seats"] >= seats and facts["bicycles"] >= bicycles
    ]
    if not fitting:
        raise VesselError("no boat for %d with %d bicycles" % (seats, bicycles))
    return min(fitting)[1]


def clearance(name, depth_dm, water="sea"):
    """Decimetres of water under the keel; negative aground. In fresh water a boat lies deeper."""
    draught = vessel(name)["draught_dm"]
    if water == "fresh":
        draught += draught // 40 + 1
    return depth_dm - draught


def can_float(depth_dm, keel_dm=5):
    """Boats that float with some water under the keel, by draught."""
    found = [name for name in FLEET if clearance(name, depth_dm) >= keel_dm]
    return sorted(found, key=lambda name: (FLEET[name]["draught_dm"], name))


def capacity(names):
    """Seats and bicycles of several boats together."""
    boats = [vessel(name) for name in names]
    return {
        "seats": sum(boat["seats"] for boat in boats),
        "bicycles": sum(boat["bicycles"] for boat in boats),
    }


def call_sign(name, number):
    """A call sign: two letters of the name, the hull number, and a check digit over both."""
    vessel(name)
    letters = name[:2].upper()
    weights = [ord(letter) - 64 for letter in letters] + [int(digit) for digit in str(number)]
    check = sum(weight * (index + 2) for index, weight in enumerate(weights)) % 9
    return "%s%03d-%d" % (letters, number, check)


def load_plan(party_sizes, name):
    """Which parties fit on a boat, taken in order; a party is never split."""
    seats = vessel(name)["seats"]
    aboard, ashore = [], []
    for size in party_sizes:
        if size <= seats:
            seats -= size
            aboard.append(size)
        else:
            ashore.append(size)
    return {"aboard": aboard, "ashore": ashore, "seats_left": seats}
