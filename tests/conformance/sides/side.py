import datetime


class NegativeError(Exception):
    pass


class NoRoomError(Exception):
    pass


class Boat:
    def __init__(self, name, metres):
        self.name = name
        self.metres = metres


class Quay:
    def __init__(self, room):
        self.room = room

    def moor(self, boat):
        metres = boat["metres"] if isinstance(boat, dict) else boat.metres
        if metres > self.room:
            raise NoRoomError("no room")
        self.room -= metres
        return self.room

    def larger(self, other):
        return self.room > other.room


ticks = 0


def twice(number):
    return number * 2


def half(number):
    return number / 2


def join(words, separator):
    return separator.join(words)


def is_even(number):
    return number % 2 == 0


def count(words):
    return {word: words.count(word) for word in sorted(set(words))}


def distinct(words):
    return set(words)


def longest(boats):
    return max(boats, key=lambda boat: boat["metres"] if isinstance(boat, dict) else boat.metres, default=None)


def fill(numbers, value):
    numbers[:] = [value] * len(numbers)


def greet(name):
    print("hello", name)


def refuse(number):
    if number < 0:
        raise NegativeError("negative")
    return number


def big():
    return 2**63 - 1


def odd_number(which):
    return [float("nan"), float("inf"), -0.0][which]


def reversed_bytes(data):
    return data[::-1]


def next_day(day):
    return day + datetime.timedelta(days=1)


def tick():
    global ticks
    ticks += 1
    return ticks


def nested(value):
    return value
