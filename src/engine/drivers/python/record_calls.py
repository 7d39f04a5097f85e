"""Notes the calls into some files of a running program: arguments as they were before the call, and the answer.

`Recorder(settings).code_of(path)` is a file's code with a probe in each of its functions and methods; what was noted goes to
`out/PID.jsonl` as it comes, one line a call, counts at the end:
  {"file","section","args","kwargs"} with "value" or {"thrown":{"kind"}} where the end was seen
  {"file","object":N,"step":{…a step of a shared case…}} with "value" or "thrown"
  {"seen":{"file section":N},"lost":{"why":N}}
Neither memory nor time grows with the number of calls: most calls of a busy function are only counted.
"""

import ast
import atexit
import dataclasses
import hashlib
import json
import os
import sys
import threading
import time
import warnings
import weakref

import notation
import program


# This copy of the module is private: reading an iterator of the program would exhaust it.
notation.read_iterator = None

MAX_TEXT = 32_768
MAX_KEPT = 300
MAX_TEXTS = 4000
MAX_OF_A_SHAPE = 4
MAX_SHAPES = 60
MAX_THINGS = 40
MAX_STEPS = 24
LOOKS_BEFORE_STRIDE = 400
# Looking may take this share of the time since the start; past it, fewer calls are looked at.
MAX_SHARE = 0.4
MAX_STRIDE = 1 << 14
# The counts are written at each of the first looks, later from time to time.
COUNTED_EACH = 100
COUNT_EVERY_SECONDS = 0.1
ENTER = "\0side-twin enter %d\0"
TOKEN = "__side_twin_call"
# These would see the probe's variable.
LOOKING = {"locals", "vars", "eval", "exec", "dir"}


def probed_code(recorder, text, path, file):
    """A source's code with a probe in each function, which `recorder.probe` makes; None where it has to run as it is."""
    try:
        tree = ast.parse(text, path)
        stand_ins = Instrument(recorder, file).module(tree)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # about calling the text that stands for a probe
            code = compile(ast.fix_missing_locations(tree), path, "exec", dont_inherit=True)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return None
    return program.put_in(code, {**stand_ins, BASE: BaseException})


class Recorder:
    def __init__(self, settings):
        self.root = os.path.realpath(settings["root"]) + os.sep
        self.files = set(settings["files"])
        self.folder = settings["out"]
        self.lost = {}
        self.sections = []
        self.things = {}
        self.made = {}
        self.next = 0
        self.out = None
        self.pid = None
        self.busy = threading.local()
        self.start = time.perf_counter()
        self.spent = 0.0
        self.counted = self.start
        self.looks = 0
        atexit.register(self.write_counts)
        os.register_at_fork(after_in_child=self.forget)

    def code_of(self, path):
        full = os.path.realpath(path)
        file = full[len(self.root):].replace(os.sep, "/") if full.startswith(self.root) else None
        if file not in self.files:
            return None
        with open(full, "rb") as source:
            return probed_code(self, source.read(), path, file)

    def probe(self, *facts):
        section = Section(self, *facts)
        self.sections.append(section)
        return section.enter

    def lose(self, why, count=1):
        self.lost[why] = self.lost.get(why, 0) + count

    def write(self, record):
        if self.out is None or self.pid != os.getpid():
            self.pid = os.getpid()
            self.out = os.open(
                os.path.join(self.folder, "%d.jsonl" % self.pid), os.O_WRONLY | os.O_APPEND | os.O_CREAT | os.O_CLOEXEC, 0o600
            )
        os.write(self.out, (json.dumps(record, ensure_ascii=True) + "\n").encode("ascii"))

    def forget(self):
        """A forked child counts its own calls only."""
        self.lost = {}
        for section in self.sections:
            section.seen = section.told = 0
            section.left = section.stride

    def follow(self, made):
        """None where it cannot be told when an object is gone: its place in memory may be another's."""
        try:
            reference = weakref.ref(made, lambda _gone, key=id(made): self.things.pop(key, None))
        except TypeError:
            return None
        self.next += 1
        thing = Thing(self.next, type(made).__name__)
        self.things[id(made)] = (reference, thing)
        return thing

    def thing_of(self, target):
        known = self.things.get(id(target))
        return known[1] if known and known[0]() is target else None

    def write_counts(self):
        """Programs end their processes as they like: counts are written in between too, those since the last time."""
        seen = {}
        for section in self.sections:
            count = section.seen + section.stride - section.left - section.told
            if count > 0:
                section.told += count
                key = "%s %s" % (section.file, section.name)
                seen[key] = seen.get(key, 0) + count
        if seen or self.lost:
            self.write({"seen": seen, "lost": self.lost})
        self.lost = {}
        self.counted = time.perf_counter()


class Section:
    """One function or method: decides which of its calls are looked at."""

    def __init__(self, recorder, file, name, kind, owner, defaults, generates):
        self.recorder = recorder
        self.file = file
        self.name = name
        self.kind = kind
        self.owner = owner
        self.defaults = defaults
        self.generates = generates
        self.seen = 0
        self.stride = self.left = 1
        self.told = 0
        self.looks = 0
        self.kept = 0
        self.texts = set()
        self.shapes = {}
        section = self

        def enter(*args, **kwargs):
            section.left -= 1
            if section.left > 0:
                return None
            return section.look(args, kwargs)

        self.enter = enter

    def look(self, args, kwargs):
        recorder = self.recorder
        self.seen += self.stride
        if getattr(recorder.busy, "on", False):
            # The program's own code runs because a value is written down.
            self.left = self.stride
            self.seen -= self.stride
            return None
        recorder.busy.on = True
        since = time.perf_counter()
        try:
            self.looks += 1
            return self.take(args, kwargs)
        except Exception:
            recorder.lose("its arguments cannot be written down")
            return None
        finally:
            now = time.perf_counter()
            recorder.spent += now - since
            recorder.busy.on = False
            tight = recorder.spent > MAX_SHARE * (now - recorder.start) + 0.05
            if tight or self.looks % LOOKS_BEFORE_STRIDE == 0:
                self.look_less()
            self.left = self.stride
            recorder.looks += 1
            if recorder.looks <= COUNTED_EACH or now - recorder.counted > COUNT_EVERY_SECONDS:
                recorder.write_counts()

    def look_less(self):
        self.stride = min(self.stride * 2, MAX_STRIDE)
        if self.owner is not None and self.kind != "call":
            # The steps of an object must not have gaps: from here on nothing is noted of those of this class.
            self.recorder.made[self.owner] = MAX_THINGS
            for _reference, thing in self.recorder.things.values():
                thing.spoilt = thing.spoilt or thing.owner == self.owner

    def take(self, args, kwargs):
        if self.kind == "call":
            return self.take_call(args, kwargs)
        if self.kind == "new":
            return self.take_new(args[0], args[1:], kwargs)
        return self.take_step(args[0], args[1:], kwargs)

    def take_call(self, args, kwargs):
        recorder = self.recorder
        if self.kept >= MAX_KEPT or len(self.texts) >= MAX_TEXTS:
            return None
        given = self.encode(args, kwargs)
        if given is None:
            return None
        text, record = given
        digest = hashlib.md5(text.encode("utf-8", "surrogatepass")).digest()
        if digest in self.texts:
            return None
        self.texts.add(digest)
        shape = shape_of([record["args"], record["kwargs"]])
        known = self.shapes.get(shape, 0)
        if known >= MAX_OF_A_SHAPE or (known == 0 and len(self.shapes) >= MAX_SHAPES):
            return None
        self.shapes[shape] = known + 1
        self.kept += 1
        return self.end({"file": self.file, "section": self.name, **record})

    def end(self, record, after=None):
        if self.generates:
            self.recorder.write(record)
            return None
        return Call(self.recorder, record, after)

    def encode(self, args, kwargs):
        """(text, record), or None where an argument cannot be written down."""
        args = list(args)
        while args and len(args) - 1 in self.defaults and is_same(args[-1], self.defaults[len(args) - 1]):
            args.pop()
        kwargs = {
            key: item for key, item in kwargs.items() if not (key in self.defaults and is_same(item, self.defaults[key]))
        }
        record = {
            "args": [notation.encode(item) for item in args],
            "kwargs": {key: notation.encode(item) for key, item in kwargs.items()},
        }
        text = json.dumps(record, ensure_ascii=True, sort_keys=True)
        if len(text) > MAX_TEXT:
            self.recorder.lose("its arguments are longer than %d characters" % MAX_TEXT)
            return None
        if '"~opaque"' in text or '"~ref"' in text or '"cut": true' in text:
            functions = any(callable(item) and not isinstance(item, type) for item in [*args, *kwargs.values()])
            self.recorder.lose("a function is handed over" if functions else "its arguments cannot be written down")
            return None
        return text, record

    def take_new(self, made, args, kwargs):
        recorder = self.recorder
        if type(made).__name__ != self.owner:
            return None
        if recorder.made.get(self.owner, 0) >= MAX_THINGS:
            return None
        given = self.encode(args, kwargs)
        if given is None:
            return None
        text, record = given
        digest = hashlib.md5(text.encode("utf-8", "surrogatepass")).digest()
        # The same making again: a few of them, as what follows differs.
        if digest in self.texts and self.looks % 7:
            return None
        self.texts.add(digest)
        recorder.made[self.owner] = recorder.made.get(self.owner, 0) + 1
        thing = recorder.follow(made)
        if thing is None:
            recorder.lose("its object cannot be followed")
            return None
        return self.end(thing.record(self.file, {"new": self.owner, **plain(record), "as": "it"}), thing)

    def take_step(self, target, args, kwargs):
        recorder = self.recorder
        thing = recorder.thing_of(target) or self.take_as_made(target)
        if thing is None:
            recorder.lose("its object was not made within what was recorded")
            return None
        if thing.inside or thing.steps >= MAX_STEPS or thing.spoilt:
            return None
        given = self.encode(args, kwargs)
        if given is None:
            # Later calls may depend on this one.
            thing.spoilt = True
            return None
        name = self.name.split(".", 1)[1]
        if self.kind == "set":
            step = {"set": name, "on": "it", "value": given[1]["args"][0]}
        else:
            step = {"get": name, "on": "it"} if self.kind == "get" else {"call": name, "on": "it", **plain(given[1])}
        return self.end(thing.record(self.file, step), thing)

    def take_as_made(self, target):
        """A data class makes its objects by a method that is in no source: its fields are what it was made of."""
        recorder = self.recorder
        kind = type(target)
        if not dataclasses.is_dataclass(kind) or kind.__name__ != self.owner or "__post_init__" in dir(kind):
            return None
        if recorder.made.get(self.owner, 0) >= MAX_THINGS:
            return None
        fields = [item for item in dataclasses.fields(kind) if item.init]
        given = self.encode((), {item.name: getattr(target, item.name) for item in fields})
        if given is None:
            return None
        recorder.made[self.owner] = recorder.made.get(self.owner, 0) + 1
        thing = recorder.follow(target)
        if thing is not None:
            recorder.write(thing.record(self.file, {"new": self.owner, **plain(given[1]), "as": "it"}))
            thing.inside = False
        return thing


def plain(record):
    return {key: value for key, value in record.items() if value}


def is_same(value, default):
    return type(value) is type(default) and value == default


class Thing:
    """An object whose calls are noted, in order."""

    def __init__(self, number, owner):
        self.number = number
        self.owner = owner
        self.inside = False
        self.steps = 0
        self.spoilt = False

    def record(self, file, step):
        self.steps += 1
        self.inside = True
        return {"file": file, "object": self.number, "step": step}


class Call:
    """The end of a call that is noted."""

    __slots__ = ("recorder", "record", "thing")

    def __init__(self, recorder, record, thing):
        self.recorder = recorder
        self.record = record
        self.thing = thing

    def __call__(self, value):
        busy = self.recorder.busy
        # An iterator would be used up by reading it.
        if not notation.is_iterator(value) and not notation.is_awaitable(value) and not getattr(busy, "on", False):
            busy.on = True
            since = time.perf_counter()
            try:
                encoded = notation.encode(value)
                if len(json.dumps(encoded)) <= MAX_TEXT:
                    self.record["value"] = encoded
            except Exception:
                pass  # The answer is asked for again when the case is replayed.
            finally:
                busy.on = False
                self.recorder.spent += time.perf_counter() - since
        self.close()
        return value

    def fail(self):
        self.record["thrown"] = {"kind": type(sys.exc_info()[1]).__name__}
        self.close()

    def close(self):
        if self.thing is not None:
            self.thing.inside = False
        self.recorder.write(self.record)


def shape_of(value):
    """Values alike in kind, sign and rough size have the same shape."""
    kind = type(value)
    if kind is bool or value is None:
        return value
    if kind is int:
        return ("i", (value > 0) - (value < 0), value.bit_length() // 4)
    if kind is float:
        return ("f", value > 0, abs(value) < 1)
    if kind is str:
        return ("s", len(value).bit_length(), value.isascii(), value.isdigit(), value.isupper())
    if kind is list:
        return ("l", len(value).bit_length(), tuple(shape_of(item) for item in value[:3]))
    return ("d", tuple((key, shape_of(item)) for key, item in sorted(value.items())[:8]))


class Instrument:
    """Puts probes into a module's functions and into the methods of its classes."""

    def __init__(self, recorder, file):
        self.recorder = recorder
        self.file = file
        self.stand_ins = {}

    def module(self, tree):
        for statement in flat(tree.body):
            if isinstance(statement, FUNCTIONS):
                self.function(statement, None)
            elif isinstance(statement, ast.ClassDef):
                for inner in statement.body:
                    if isinstance(inner, FUNCTIONS):
                        self.function(inner, statement.name)
        return self.stand_ins

    def function(self, node, owner):
        kind = "call" if owner is None else kind_of(node)
        if kind is None:
            return
        if any(isinstance(item, ast.Name) and item.id in LOOKING for item in ast.walk(node)):
            return
        name = node.name if owner is None else "%s.%s" % (owner, node.name)
        own = list(own_nodes(node))
        generates = any(isinstance(item, (ast.Yield, ast.YieldFrom)) for item in own)
        if kind in ("method", "get", "set") and generates:
            return
        skip = 0 if owner is None or kind_is_static(node) else 1
        enter = self.recorder.probe(self.file, name, kind, owner, defaults_of(node.args, skip), generates)
        stand_in = ENTER % len(self.stand_ins)
        self.stand_ins[stand_in] = enter
        for item in own:
            if isinstance(item, ast.Return) and not generates:
                item.value = ended(item.value or ast.Constant(value=None))
        body = node.body
        first = 1 if is_docstring(body[0]) else 0
        where = body[first] if first < len(body) else body[-1]
        first_line = ast.Assign(
            targets=[ast.Name(id=TOKEN, ctx=ast.Store())], value=entry(stand_in, node.args, kind, owner, skip), type_comment=None
        )
        made = [at(first_line, where)]
        rest = body[first:] or [at(ast.Pass(), where)]
        if generates:
            made += rest
        else:
            made.append(at(guarded(rest + [last(rest[-1])]), where))
        node.body = body[:first] + made


FUNCTIONS = (ast.FunctionDef, ast.AsyncFunctionDef)


def flat(statements):
    """Top-level statements, those in `if` and `try` too."""
    for statement in statements:
        yield statement
        for name in ("body", "orelse", "finalbody"):
            if isinstance(statement, (ast.If, ast.Try)):
                yield from flat(getattr(statement, name, []))
        for handler in getattr(statement, "handlers", []):
            yield from flat(handler.body)


def decorators(node):
    return {getattr(item, "id", getattr(item, "attr", "")) for item in node.decorator_list}


def kind_is_static(node):
    return "staticmethod" in decorators(node)


def kind_of(node):
    if node.name == "__init__":
        return "new"
    if node.name.startswith("__") and node.name.endswith("__"):
        return None
    found = decorators(node)
    if found & {"staticmethod", "classmethod"}:
        return "call"
    if found & {"property", "cached_property"}:
        return "get"
    if "setter" in found:
        return "set"
    return None if found & {"deleter", "getter", "abstractmethod", "overload"} else "method"


def own_nodes(node):
    """What is in a function, without the functions and classes in it."""
    for child in ast.iter_child_nodes(node):
        if isinstance(child, FUNCTIONS + (ast.Lambda, ast.ClassDef)):
            continue
        yield child
        yield from own_nodes(child)


def is_docstring(statement):
    return isinstance(statement, ast.Expr) and isinstance(getattr(statement.value, "value", None), str)


def defaults_of(arguments, skip):
    """Place from 0, or name where it is given by name → the default of that parameter, where it is a plain constant."""
    names = arguments.posonlyargs + arguments.args
    first = len(names) - len(arguments.defaults) - skip
    named = zip((item.arg for item in arguments.kwonlyargs), arguments.kw_defaults)
    found = [*((first + index, item) for index, item in enumerate(arguments.defaults)), *named]
    return {key: item.value for key, item in found if isinstance(item, ast.Constant)}


def entry(stand_in, arguments, kind, owner, skip):
    """The call of the probe, with all parameters; the class of a class method aside."""
    names = [item.arg for item in arguments.posonlyargs + arguments.args]
    names = names if kind != "call" or owner is None else names[skip:]
    given = [ast.Name(id=name, ctx=ast.Load()) for name in names]
    if arguments.vararg:
        given.append(ast.Starred(value=ast.Name(id=arguments.vararg.arg, ctx=ast.Load()), ctx=ast.Load()))
    named = [ast.keyword(arg=item.arg, value=ast.Name(id=item.arg, ctx=ast.Load())) for item in arguments.kwonlyargs]
    if arguments.kwarg:
        named.append(ast.keyword(arg=None, value=ast.Name(id=arguments.kwarg.arg, ctx=ast.Load())))
    return ast.Call(func=ast.Constant(value=stand_in), args=given, keywords=named)


def token():
    return ast.Name(id=TOKEN, ctx=ast.Load())


def is_noted():
    return ast.Compare(left=token(), ops=[ast.IsNot()], comparators=[ast.Constant(value=None)])


def ended(value):
    """`value`, by way of the token where the call is noted; the value is computed first, and once."""
    made = ast.IfExp(
        test=is_noted(), body=ast.Call(func=token(), args=[value], keywords=[]), orelse=value
    )
    return at(made, value) if hasattr(value, "lineno") else made


def last(statement):
    """A function that runs to its end answers None."""
    call = ast.Expr(value=ast.Call(func=token(), args=[ast.Constant(value=None)], keywords=[]))
    return at(ast.If(test=is_noted(), body=[call], orelse=[]), statement)


def guarded(body):
    fail = ast.Expr(
        value=ast.Call(func=ast.Attribute(value=token(), attr="fail", ctx=ast.Load()), args=[], keywords=[])
    )
    handler = ast.ExceptHandler(
        type=ast.Constant(value=BASE), name=None, body=[ast.If(test=is_noted(), body=[fail], orelse=[]), ast.Raise()]
    )
    return ast.Try(body=body, handlers=[handler], orelse=[], finalbody=[])


BASE = "\0side-twin base\0"


def at(made, where):
    for node in ast.walk(made):
        if isinstance(node, (ast.expr, ast.stmt, ast.excepthandler, ast.keyword)) and not hasattr(node, "lineno"):
            ast.copy_location(node, where)
            node.end_lineno = node.lineno
            node.end_col_offset = node.col_offset
    return made
