import type { Declarations } from "@/testing/declarations/declarations";

export const python: Declarations = {
  language: "python",
  source: `"""Doc"""
from __future__ import annotations
import os.path as p, sys
from . import money
from ..tides import (height as h, LOW)
from harbour.deep import *
try:
    import simplejson as json
except ImportError:
    import json
if sys.version_info > (3,):
    def compat(x): return x
else:
    def compat(x): return -x
RATE: float = 3.0
A = B = 1
C, D = 1, 2
__all__ = ["fare"]
type Alias = int
@decorated
class Fare(Base, metaclass=Meta):
    LIMIT = 9
    name: str
    def __init__(self, max: int = 1, *args, key=None, **kw): self.max = max
    @property
    def price(self) -> int:
        if self.max > 0 and self.max < 9 or not self: return 1
        for x in [y for y in range(3) if y]: pass
        else: pass
        try: p.join("a")
        except (OSError, ValueError) as e: raise
        finally: pass
        match self.max:
            case 1 | 2: return 1
            case _ if x: return 2
        return json.dumps({}) if self.max else h(1)
    @price.setter
    def price(self, v): ...
    @staticmethod
    def st(a, /, b, *, c): return lambda q: q or a
    class Inner:
        async def deep(self):
            async with x: pass
            await y
            def nested(): pass
            return nested
async def top(a, b=1): pass
def typed(a: "int", *b: str, **c: os.PathLike) -> None: assert a
lam = lambda x: x
while True: break
print(f"{h(2)} {sys.argv}")
`,
  sections: [
    "function compat 12-12 (x) 1",
    "function compat 14-14 (x) 1",
    "constant RATE 15-15 () 1",
    "constant A 16-16 () 1",
    "constant B 16-16 () 1",
    "constant C 17-17 () 1",
    "constant D 17-17 () 1",
    "class Fare 20-46 () 13",
    "method Fare.__init__ 24-24 (max, key) 1",
    "method Fare.price 25-36 () 12",
    "method Fare.price 37-38 (v) 1",
    "method Fare.st 39-40 (a, b, c) 2",
    "class Fare.Inner 41-46 () 1",
    "method Fare.Inner.deep 42-46 () 1",
    "function top 47-47 (a, b) 1",
    "function typed 48-48 (a) 2",
    "constant lam 49-49 () 1",
  ],
  imports: [
    "3 os.path [] p=os.path",
    "3 sys [] sys=sys",
    "4 . [money] money=. money",
    "5 ..tides [height, LOW] h=..tides height, LOW=..tides LOW",
    "6 harbour.deep [*]",
    "8 simplejson [] json=simplejson",
    "10 json [] json=json",
  ],
  uses: ["11 sys.version_info", "30 p.join", "36 json.dumps", "36 h", "51 h", "51 sys.argv"],
};
