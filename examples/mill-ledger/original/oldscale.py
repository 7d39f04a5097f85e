"""The weighing library that is no longer kept up: amounts in grams, one call for every unit."""


class Pan:
    def __init__(self):
        self.loads = []

    def put_load(self, grain, grams, kind="net"):
        self.loads.append((grain, grams, kind))
        return self

    def sum_of(self, kind="net"):
        return sum(grams for _, grams, of in self.loads if of == kind)


def to_sacks(grams, sack=50000):
    return grams // sack
