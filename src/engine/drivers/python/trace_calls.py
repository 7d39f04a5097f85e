"""Notes every call into some files of a program, with arguments and answer, in order: the tree of its calls.

One event a line: {"enter":N,"file","section","args","kwargs"}, later {"leave":N,"value"} or {"leave":N,"thrown":{…}}; what cannot be
written down is left out.
"""

import json
import os
import sys
import threading

import notation
import record_calls

MAX_EVENTS = 40_000
MAX_TEXT = 20_000


class Tracer:
    def __init__(self):
        self.events = []
        self.next = 0
        self.busy = threading.local()

    def probe(self, file, name, kind, _owner, _defaults, generates):
        skip = 0 if kind == "call" else 1

        def enter(*args, **kwargs):
            if getattr(self.busy, "on", False) or len(self.events) >= MAX_EVENTS:
                return None
            self.next += 1
            event = {"enter": self.next, "file": file, "section": name, "kind": kind}
            given = self.written([list(args[skip:]), kwargs])
            if given is not None:
                event["args"], event["kwargs"] = given
            self.events.append(event)
            return None if generates else Call(self, self.next)

        return enter

    def written(self, values):
        """In value notation; None where that cannot be."""
        self.busy.on = True
        try:
            encoded = [[notation.encode(item) for item in values[0]], {key: notation.encode(item) for key, item in values[1].items()}]
            text = json.dumps(encoded)
            return None if len(text) > MAX_TEXT or '"~opaque"' in text else encoded
        except Exception:
            return None
        finally:
            self.busy.on = False

    def leave(self, number, facts):
        if len(self.events) < MAX_EVENTS * 2:
            self.events.append({"leave": number, **facts})

    def take(self):
        events = self.events
        self.events = []
        return events

    def code_of(self, text, path, file):
        return record_calls.probed_code(self, text, path, file)


class Call:
    __slots__ = ("tracer", "number")

    def __init__(self, tracer, number):
        self.tracer = tracer
        self.number = number

    def __call__(self, value):
        plain = not notation.is_iterator(value) and not notation.is_awaitable(value)
        encoded = self.tracer.written([[value], {}]) if plain else None
        self.tracer.leave(self.number, {} if encoded is None else {"value": encoded[0][0]})
        return value

    def fail(self):
        error = sys.exc_info()[1]
        self.tracer.leave(self.number, {"thrown": {"kind": type(error).__name__, "message": str(error)}})


class ProgramTracer(Tracer):
    """Writes the events of a program when it ends."""

    def __init__(self, settings):
        super().__init__()
        self.root = os.path.realpath(settings["root"]) + os.sep
        self.files = set(settings["files"])
        self.folder = settings["out"]
        import atexit

        atexit.register(self.finish)

    def code_of(self, path):
        full = os.path.realpath(path)
        file = full[len(self.root):].replace(os.sep, "/") if full.startswith(self.root) else None
        if file not in self.files:
            return None
        with open(full, "rb") as source:
            return record_calls.probed_code(self, source.read(), path, file)

    def finish(self):
        with open(os.path.join(self.folder, "%d.jsonl" % os.getpid()), "w", encoding="ascii") as out:
            for event in self.take():
                out.write(json.dumps(event) + "\n")
