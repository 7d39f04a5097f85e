"""The successor: loads are told what they are first, sacks are a unit."""

GROSS = "gross"
NET = "net"
SACK = 50000


class Pan:
    def __init__(self):
        self.loads = []

    def add(self, kind, grain, grams):
        self.loads.append((grain, grams, kind))
        return self

    def total(self, kind=NET):
        return sum(grams for _, grams, of in self.loads if of == kind)


def convert(grams, unit=SACK):
    return grams // unit
