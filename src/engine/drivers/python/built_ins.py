"""Notices when ported code replaced the language's built-ins or functions of the standard library, and puts them back.

Looking uses nothing that ported code can replace: functions that were taken hold of before any of it ran. One look takes
some 50 microseconds; the driver looks before it sends a batch of replies.
"""

import builtins
import sys
from _thread import _count as _count_threads
from operator import is_

# Those of the standard library on which the driver rests, or which nearly all code uses.
MODULES = (
    "os", "posix", "sys", "time", "io", "_io", "json", "json.encoder", "json.decoder", "math", "random", "datetime", "decimal",
    "re", "collections", "collections.abc", "functools", "itertools", "operator", "copy", "traceback", "types", "string",
    "base64", "fractions", "enum", "array", "abc", "inspect", "threading", "importlib", "hashlib",
)

_all, _map, _len, _bytes, _range = all, map, len, bytes, range
# Small integers are shared by the whole process; C code can overwrite them.
SMALL = b"".join(chr(number).encode("latin-1") for number in range(256))


class BuiltIns:
    def __init__(self, own):
        """`own` are the driver's modules, which ported code can still find by way of frames or the collector."""
        self.own = own
        self.note()

    def note(self):
        """Takes what is there now for right."""
        self.namespace = vars(builtins)
        self.names = list(self.namespace)
        self.values = list(self.namespace.values())
        self.parts = []
        # A thread that a case left running would print into the cases after it.
        self.threads = _count_threads()
        for module in [*map(sys.modules.get, MODULES), *self.own]:
            if module is None:
                continue
            held = vars(module)
            # Values other than functions are the module's own state: caches and settings come and go.
            keys = [key for key, value in held.items() if callable(value)]
            self.parts.append((held, list(held.values()), keys, [held[key] for key in keys]))

    def is_changed(self):
        namespace = self.namespace
        if _count_threads() > self.threads:
            return True
        if _len(namespace) != _len(self.names) or not _all(_map(is_, namespace.values(), self.values)):
            return True
        for held, everything, keys, values in self.parts:
            # All of a module unchanged is seen quicker than its functions are looked up one by one.
            if _len(held) == _len(everything) and _all(_map(is_, held.values(), everything)):
                continue
            if not _all(_map(is_, _map(held.get, keys), values)):
                return True
        return _bytes(_range(256)) != SMALL

    def restore(self):
        namespace = self.namespace
        for name in [key for key in namespace if key not in self.names]:
            del namespace[name]
        for name, value in zip(self.names, self.values):
            namespace[name] = value
        for held, _everything, keys, values in self.parts:
            for key, value in zip(keys, values):
                held[key] = value
