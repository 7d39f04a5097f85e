"""Berths of a harbour: which boat lies where, and who waits outside."""


class BerthError(Exception):
    """A boat that cannot be berthed, or is not here."""


class Harbour:
    """A harbour with numbered berths; a boat that finds none waits in a queue."""

    def __init__(self, berths, name="Saltmarsh"):
        if berths < 1:
            raise BerthError("a harbour needs a berth")
        self.name = name
        self.berths = [None] * berths
        self.queue = []
        self.moves = 0

    @property
    def free(self):
        """How many berths are empty."""
        return self.berths.count(None)

    def assign(self, boat):
        """Gives a boat the first empty berth, or a place in the queue; returns the berth's number or None."""
        if boat in self.berths or boat in self.queue:
            raise BerthError("%s is here already" % boat)
        self.moves += 1
        if self.free == 0:
            self.queue.append(boat)
            return None
        number = self.berths.index(None)
        self.berths[number] = boat
        return number + 1

    def leave(self, boat):
        """A boat leaves; the first of the queue takes its berth and is returned."""
        self.moves += 1
        if boat in self.queue:
            self.queue.remove(boat)
            return None
        if boat not in self.berths:
            raise BerthError("%s is not here" % boat)
        number = self.berths.index(boat)
        self.berths[number] = self.queue.pop(0) if self.queue else None
        return self.berths[number]

    def berth_of(self, boat):
        """The number of a boat's berth, 0 in the queue."""
        if boat in self.berths:
            return self.berths.index(boat) + 1
        if boat in self.queue:
            return 0
        raise BerthError("%s is not here" % boat)

    def swap(self, one, other):
        """Two boats change places."""
        first, second = self.berth_of(one), self.berth_of(other)
        if first == 0 or second == 0:
            raise BerthError("only berthed boats can change places")
        self.berths[first - 1], self.berths[second - 1] = other, one
        self.moves += 2

    def close(self, number):
        """Closes the last berths down to a number; boats that lie there go to the front of the queue."""
        if number < 1 or number > len(self.berths):
            raise BerthError("no berth %d" % number)
        driven = [boat for boat in self.berths[number:] if boat is not None]
        self.berths = self.berths[:number]
        self.queue = driven + self.queue
        return driven

    def plan(self):
        """The harbour as rows of text."""
        rows = ["%d %s" % (index + 1, boat or "-") for index, boat in enumerate(self.berths)]
        if self.queue:
            rows.append("waiting: " + ", ".join(self.queue))
        return rows

    def state(self):
        """Everything, for the day sheet."""
        return {"name": self.name, "berths": list(self.berths), "queue": list(self.queue), "moves": self.moves}


def berths_needed(calls):
    """The most berths in use at once, for calls of (arrives, leaves) in minutes."""
    events = []
    for arrives, leaves in calls:
        events.append((arrives, 1))
        events.append((leaves, -1))
    most = now = 0
    for _minute, change in sorted(events):
        now += change
        most = max(most, now)
    return most
