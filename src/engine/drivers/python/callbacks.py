"""Callbacks that a case hands over (docs/formats.md, section 18): functions that note how they are called.

Those of the styles node, value and auto give the answer; those of calls are observed beside it.
"""

import inspect
import re
import threading

import notation

CUSTOMARY = re.compile(r"^(?:cb|callback|done|next|fn|func|handler|then|resolve|reply|k|on_\w+|\w*_?(?:callback|handler))$", re.I)
NEVER = {"~none": "never called"}
POLL_SECONDS = 0.01


class Callbacks:
    """The callbacks of one call."""

    def __init__(self, describe, module, objects):
        self.describe = describe
        self.module = module
        self.objects = objects
        self.calls = []
        self.made = []
        self.outcome = None
        self.threads = set(threading.enumerate())

    def make(self, spec):
        style = spec["~callback"]
        returns = [notation.decode(item, self.module, self.objects) for item in spec.get("returns", [])]
        count = [0]

        def callback(*args, **kwargs):
            given = list(args) + ([kwargs] if kwargs else [])
            self.calls.append((style, [notation.encode(item) for item in given]))
            if style != "calls" and self.outcome is None:
                self.outcome = self.outcome_of(style, given)
            count[0] += 1
            return returns[min(count[0], len(returns)) - 1] if returns else None

        callback.side_twin_style = style
        self.made.append(callback)
        return callback

    def outcome_of(self, style, given):
        first = given[0] if given else None
        if style == "value":
            return {"value": notation.encode(first)}
        if style == "auto" and first is not None and len(given) == 1 and not isinstance(first, BaseException):
            return {"value": notation.encode(first)}
        if first is not None:
            error = first if isinstance(first, BaseException) else None
            if error is None:
                return {"thrown": {"kind": type(first).__name__, "message": str(first)}}
            return {"thrown": self.describe(error)}
        values = given[1:]
        if len(values) > 1:
            return {"value": {"~tuple": [notation.encode(item) for item in values]}}
        return {"value": notation.encode(values[0]) if values else None}

    def is_own(self, value):
        return any(value is made for made in self.made)

    def answers(self, value):
        return self.is_own(value) and value.side_twin_style != "calls"

    def wait(self):
        """Until a callback gave the answer, or the threads that the call started have ended."""
        while self.outcome is None:
            left = [thread for thread in threading.enumerate() if thread not in self.threads]
            if not left:
                return
            left[0].join(POLL_SECONDS)

    def called(self):
        """What is observed beside the answer; None for a callback that was called once."""
        observed = any(made.side_twin_style == "calls" for made in self.made)
        calls = [args for style, args in self.calls if not observed or style == "calls"]
        return calls if observed or len(calls) > 1 else None


def takes_callback(function, index):
    """Whether a function has a parameter for a callback at a place; one that is async answers by itself."""
    if inspect.iscoroutinefunction(function) or inspect.isasyncgenfunction(function):
        return False
    try:
        parameters = list(inspect.signature(function).parameters.values())
    except (TypeError, ValueError):
        return True
    if any(parameter.kind is parameter.VAR_POSITIONAL for parameter in parameters):
        return True
    placed = [one for one in parameters if one.kind in (one.POSITIONAL_ONLY, one.POSITIONAL_OR_KEYWORD)]
    if index >= len(placed):
        return False
    return placed[index].default is placed[index].empty or CUSTOMARY.match(placed[index].name) is not None


def takes_named(function, name):
    try:
        parameters = inspect.signature(function).parameters
    except (TypeError, ValueError):
        return True
    return name in parameters or any(one.kind is one.VAR_KEYWORD for one in parameters.values())
