"""A fixed clock and a fixed stream of random numbers for ported code, when the case asks for them.

The random stream is the same in every driver: mulberry32 over a 32-bit seed (T. Ettinger, public domain, 2017),
two draws making one double of 53 bits. Nothing is touched unless asked.
"""

import datetime
import random
import time

# Functions of `time` that default to the current time.
BY_DEFAULT_NOW = ("localtime", "gmtime", "ctime", "asctime", "strftime")

REAL = {
    "time": time.time,
    "time_ns": time.time_ns,
    **{name: getattr(time, name) for name in BY_DEFAULT_NOW},
    "datetime": datetime.datetime,
    "date": datetime.date,
    "Random": random.Random,
}

# The functions of `random` that are methods of its shared instance.
DRAWN = {
    name: getattr(random, name)
    for name in ("random", "uniform", "randint", "randrange", "choice", "choices", "shuffle", "sample", "getrandbits", "gauss")
}


class Stream:
    def __init__(self, seed):
        self.state = seed & 0xFFFFFFFF

    def word(self):
        self.state = (self.state + 0x6D2B79F5) & 0xFFFFFFFF
        mixed = self.state
        mixed = ((mixed ^ (mixed >> 15)) * (mixed | 1)) & 0xFFFFFFFF
        mixed ^= (mixed + (((mixed ^ (mixed >> 7)) * (mixed | 61)) & 0xFFFFFFFF)) & 0xFFFFFFFF
        return (mixed ^ (mixed >> 14)) & 0xFFFFFFFF

    def double(self):
        high = self.word() >> 5
        return (high * 67108864 + (self.word() >> 6)) / 9007199254740992


class Fixed:
    def __init__(self):
        self.active = False

    def set(self, now, seed):
        if now is not None:
            self.fix_clock(now)
        if seed is not None:
            self.fix_random(seed)
        return self.active

    def release(self):
        if not self.active:
            return False
        self.active = False
        time.time, time.time_ns = REAL["time"], REAL["time_ns"]
        for name in BY_DEFAULT_NOW:
            setattr(time, name, REAL[name])
        datetime.datetime, datetime.date = REAL["datetime"], REAL["date"]
        for name, function in DRAWN.items():
            setattr(random, name, function)
        random.Random = REAL["Random"]
        return True

    def fix_clock(self, now):
        self.active = True
        moment = REAL["datetime"].fromisoformat(now[:-1] + "+00:00" if now.endswith("Z") else now)
        seconds = moment.timestamp()
        time.time = lambda: seconds
        time.time_ns = lambda: int(seconds * 1_000_000_000)
        for name in ("localtime", "gmtime", "ctime"):
            setattr(time, name, lambda secs=None, real=REAL[name]: real(seconds if secs is None else secs))
        time.asctime = lambda t=None: REAL["asctime"](time.localtime() if t is None else t)
        time.strftime = lambda format, t=None: REAL["strftime"](format, time.localtime() if t is None else t)
        datetime.datetime = frozen_datetime(moment)
        datetime.date = frozen_date(moment)

    def fix_random(self, seed):
        self.active = True
        stream = Stream(seed)

        class Seeded(REAL["Random"]):
            def __init__(self, _seed=None):
                super().__init__(0)

            def random(self):
                return stream.double()

            def getrandbits(self, bits):
                value = 0
                for _ in range((bits + 31) // 32):
                    value = (value << 32) | stream.word()
                return value >> (-bits % 32)

            def seed(self, *_arguments, **_named):
                return None

        instance = Seeded()
        random.Random = Seeded
        for name in ("random", "uniform", "randint", "randrange", "choice", "choices", "shuffle", "sample", "getrandbits", "gauss"):
            setattr(random, name, getattr(instance, name))


class FrozenMeta(type):
    """isinstance against a frozen class holds for every real one."""

    def __instancecheck__(cls, value):
        return isinstance(value, cls.__mro__[1])


def frozen_datetime(moment):
    real = REAL["datetime"]

    class datetime_(real, metaclass=FrozenMeta):
        @classmethod
        def now(cls, tz=None):
            return moment.astimezone(tz) if tz else moment.astimezone(datetime.timezone.utc).replace(tzinfo=None)

        @classmethod
        def utcnow(cls):
            return moment.astimezone(datetime.timezone.utc).replace(tzinfo=None)

        @classmethod
        def today(cls):
            return cls.now()

    datetime_.__name__ = datetime_.__qualname__ = "datetime"
    return datetime_


def frozen_date(moment):
    real = REAL["date"]

    class date_(real, metaclass=FrozenMeta):
        @classmethod
        def today(cls):
            return moment.astimezone(datetime.timezone.utc).date()

    date_.__name__ = date_.__qualname__ = "date"
    return date_
