"""Side Twin's driver for Python: runs sections of ported code and answers in JSON Lines.

Requests come in on file descriptor 3, replies leave on 4; descriptor 1 is a file that belongs to the ported code
(what it prints is read back from there), 2 stays its own. The protocol is in docs/formats.md, section 7.
Needs nothing but the standard library of Python 3.8 or later.
"""

import sys

# Modules that the interpreter itself has loaded: ported code finds these whatever its own files are called.
STARTED_WITH = frozenset(sys.modules)

import io  # noqa: E402
import json
import os
import stat
import tempfile
import time
import traceback
import types

sys.dont_write_bytecode = True
HERE = os.path.dirname(os.path.abspath(__file__))
sys.path.insert(0, HERE)

import built_ins  # noqa: E402
import callbacks  # noqa: E402
import fresh  # noqa: E402
import notation  # noqa: E402
import fixed  # noqa: E402
import guard  # noqa: E402
import probes  # noqa: E402
from hashlib import sha512  # noqa: E402

sys.path[:] = [folder for folder in sys.path if os.path.abspath(folder) != HERE]
# Ported code may have modules of these names; and it shall not find ours.
OWN = (built_ins, callbacks, fresh, notation, fixed, guard, probes, sys.modules[__name__])
for own in OWN[:-1]:
    del sys.modules[own.__name__]

# Ported code may close or write to low descriptors: ours move out of its way and are not inherited.
import fcntl  # noqa: E402

REQUESTS = fcntl.fcntl(3, fcntl.F_DUPFD_CLOEXEC, 80)
REPLIES = fcntl.fcntl(4, fcntl.F_DUPFD_CLOEXEC, 80)
os.close(3)
os.close(4)


def end_input(descriptor):
    """Ported code that reads from where errors are printed would wait for ever."""
    if stat.S_ISSOCK(os.fstat(descriptor).st_mode):
        import _socket

        end = _socket.socket(fileno=os.dup(descriptor))
        end.shutdown(_socket.SHUT_RD)
        end.close()


end_input(2)


# Not signal, whose names are enumerations that take time to load.
from _signal import ITIMER_REAL, SIGALRM, setitimer as set_timer, signal as set_handler  # noqa: E402

real_chdir = os.chdir
perf_counter = time.perf_counter
# Neither awaitable nor an iterator, and written to JSON unchanged.
PLAIN = {int, float, str, bool, type(None)}
SAME = {bool, type(None)}


class Missing(Exception):
    """The asked name is not there: the engine decides what that means."""


class WouldNotLoad(Exception):
    """A module of the side failed while it was loaded."""


class NotByName(Exception):
    """An argument is left out before others, which cannot be passed by name."""


class NeedsNewProcess(BaseException):
    """This process is no longer fit for the request: it is to be put to a new one."""


# Key of the cases that share one state, which includes changed built-ins.
KEPT = "\0kept"


class Driver:
    def __init__(self):
        self.root = os.getcwd()
        self.paths = []
        self.output_limit = 8192 * 1024
        self.loader = fresh.Loader(self.root)
        self.clock = fixed.Fixed()
        self.probes = None
        self.guard = None
        self.home = self.root
        self.forked = False
        os.register_at_fork(after_in_child=self.leave_protocol)
        self.kept = False
        self.moved = False
        self.seal = None
        self.built_ins = None
        # The files whose loading changed built-ins: only their cases may run in this process.
        self.changed_by = None
        # The request that runs leaves the driver by itself, see docs/formats.md, section 7.
        self.alone = False
        # The process ends after this reply.
        self.last = False
        os.chdir = self.change_folder

    def leave_protocol(self):
        """A child that ported code forks off must not answer in our place."""
        self.forked = True
        os.close(REQUESTS)
        os.close(REPLIES)

    def change_folder(self, path):
        """Stands for os.chdir: the next case starts in the side's root again."""
        self.moved = True
        real_chdir(path)

    # -- operations ---------------------------------------------------------------------------------------------

    def hello(self, request):
        self.root = os.path.realpath(request.get("root", self.root))
        self.home = request.get("scratch") or self.root
        real_chdir(self.home)
        if request.get("scratch") or "TMPDIR" in os.environ:
            self.guard = guard.Guard(self.root, request.get("scratch"))
        self.paths = [os.path.normpath(os.path.join(self.root, path)) for path in request.get("path", ["."])]
        for path in reversed(self.paths):
            if path not in sys.path:
                sys.path.insert(0, path)
        self.output_limit = int(request.get("outputKb", 8192)) * 1024
        self.probes = probes.Probes() if request.get("lines") else None
        self.loader = fresh.Loader(self.root, self.probes, self.guard, self)
        fresh.uncover(self.paths, STARTED_WITH)
        if request.get("texts"):
            self.loader.forget([], request["texts"])
        if request.get("observe"):
            self.loader.tracer = make_tracer()
            self.loader.observed = frozenset(request["observe"])
        self.seal = Seal(request["secret"]) if "secret" in request else None
        self.built_ins = built_ins.BuiltIns(OWN)
        version = "%d.%d.%d" % sys.version_info[:3]
        return {"bridge": 1, "language": "python", "version": version}

    def load(self, request):
        module = self.module(request["file"])
        return {"names": [describe(name, value) for name, value in vars(module).items() if not name.startswith("__")]}

    def lines(self, request):
        """The executable lines of a file, and those among them that loading it runs."""
        with open(os.path.join(self.root, request["file"]), "rb") as source:
            code = compile(source.read(), request["file"], "exec", dont_inherit=True)
        return {"lines": sorted(probes.executable_lines(code, inside=True)), "load": sorted(probes.executable_lines(code, inside=False))}

    def reset(self, request):
        self.loader.forget(request.get("files"), request.get("texts"))
        return {}

    def call(self, request):
        self.prepare(request)
        _name, module, function = self.find(request)
        if "callbacks" in request:
            return self.call_back(function, request, module, {})[0]
        args, kwargs = self.arguments(request, module, {})
        positional, named = by_name(function, args, kwargs, request) if "gaps" in request else (args, kwargs)
        reply = self.run_keeping(function, positional, named)[0]
        if "broken" in reply:
            return reply
        reply["args"] = [arg if type(arg) in SAME else notation.encode(arg) for arg in args]
        if kwargs:
            reply["kwargs"] = {key: notation.encode(value) for key, value in kwargs.items()}
        return reply

    def call_back(self, function, request, module, objects):
        """A call that is given callbacks. On a twin ("loose") one that would give the answer is left out where the function
        has no parameter for it: then its own answer counts."""
        made = callbacks.Callbacks(thrown, module, objects)
        args, kwargs = self.arguments(request, module, {**objects, notation.CALLBACKS: made})
        loose = request["callbacks"] == "loose"
        taken = [
            arg for index, arg in enumerate(args)
            if not loose or not made.answers(arg) or callbacks.takes_callback(function, index)
        ]
        named = {
            key: value for key, value in kwargs.items()
            if not loose or not made.answers(value) or callbacks.takes_named(function, key)
        }
        wanted = any(made.answers(value) for value in [*taken, *named.values()])

        def run():
            value = function(*taken, **named)
            if wanted:
                if notation.is_awaitable(value):
                    value = notation.await_value(value)
                made.wait()
            return value

        reply, value = self.run_keeping(run, [], {})
        if "broken" in reply:
            return reply, value
        if wanted and "thrown" not in reply:
            if made.outcome is not None or not loose or value is None:
                del reply["value"]
                # Facts that may differ between sides come before the answer.
                reply.update(made.outcome or {"value": callbacks.NEVER})
        elif not wanted:
            made.wait()
        called = made.called()
        if called is not None:
            reply["called"] = called
        reply["args"] = [notation.encode(arg) for arg in args if not made.is_own(arg)]
        after = {key: notation.encode(item) for key, item in kwargs.items() if not made.is_own(item)}
        if after:
            reply["kwargs"] = after
        return reply, value

    def steps(self, request):
        self.prepare(request)
        module = self.module(request["files"][0] if "files" in request else request["file"])
        objects = {}
        results = []
        for step in request["steps"]:
            result = self.step(step, request, module, objects)
            if "broken" in result:
                return result
            result.pop("ms", None)
            results.append(result)
        return {"steps": results}

    def step(self, step, request, module, objects):
        target = None
        if "on" in step:
            if step["on"] not in objects:
                return {"thrown": {"kind": "NoObject", "message": "no object %s" % step["on"]}}
            target = objects[step["on"]]
        if "get" in step:
            name = pick(step["get"], lambda name: hasattr_statically(target, name))
            result, value = self.run_keeping(lambda: getattr(target, name), [], {})
        elif "set" in step:
            name = pick(step["set"], lambda name: hasattr(target, name), last_resort=True)
            value = notation.decode(step["value"], module, objects)
            result, value = self.run_keeping(lambda: setattr(target, name, value), [], {})
        else:
            names = step.get("new") or step["call"]
            if "callbacks" in step and "new" not in step:
                if target is not None:
                    name = pick(names, lambda name: hasattr(target, name), where=type(target).__name__)
                    function = getattr(target, name)
                else:
                    _name, _module, function = self.find({"names": names, "files": request.get("files"), "file": request.get("file")})
                result, value = self.call_back(function, step, module, objects)
                if "as" in step and "value" in result:
                    objects[step["as"]] = value
                return result
            args, kwargs = self.arguments(step, module, objects)
            if target is not None:
                name = pick(names, lambda name: hasattr(target, name), where=type(target).__name__)
                function = getattr(target, name)
            else:
                _name, _module, function = self.find({"names": names, "files": request.get("files"), "file": request.get("file")})
            positional, named = by_name(function, args, kwargs, step) if "gaps" in step else (args, kwargs)
            result, value = self.run_keeping(function, positional, named)
            if "broken" not in result:
                result["args"] = [notation.encode(arg) for arg in args]
                if kwargs:
                    result["kwargs"] = {key: notation.encode(item) for key, item in kwargs.items()}
            if "new" in step and "value" in result:
                # A new object is known by its class; its inside is looked at by later steps.
                result["value"] = {"~obj": "new", "fields": {}}
        if "as" in step and "value" in result:
            objects[step["as"]] = value
        return result

    def quick_call(self, request):
        """The way of nearly every request, with nothing looked up or asked twice: one known name in untouched modules.

        None where the long way must be gone.
        """
        loader = self.loader
        watch = loader.watch
        known = loader.found.get((request["file"], request["name"]))
        if watch is None or known is None or self.kept or not watch.unchanged():
            return None
        module = known[1]
        args = [arg if type(arg) in PLAIN else notation.decode(arg, module, None) for arg in request["args"]]
        if self.probes:
            self.probes.start()
        reply = self.run_keeping(known[2], args, NO_NAMES)[0]
        if "broken" not in reply:
            reply["args"] = [arg if type(arg) in SAME else notation.encode(arg) for arg in args]
            if self.probes:
                self.probes.take(reply)
        return reply

    # -- built-ins ----------------------------------------------------------------------------------------------

    def is_changed(self):
        return self.built_ins is not None and not self.clock.active and self.built_ins.is_changed()

    def before_loading(self):
        """What cases changed before modules are loaded is nobody's."""
        if self.is_changed():
            if not self.kept:
                raise NeedsNewProcess
            self.keep_changes()

    def after_loading(self):
        """What modules change of the built-ins while they are loaded is theirs."""
        if self.is_changed():
            self.keep_changes()

    def keep_changes(self):
        """From here on the built-ins as they are now are right, for the cases of these files alone."""
        self.built_ins.note()
        self.changed_by = KEPT if self.kept else self.asked

    def put_back(self):
        """Puts built-ins back that the request which runs has changed, before its answer is written down."""
        if self.alone and not self.kept and self.is_changed():
            self.built_ins.restore()
            self.last = True

    # -- parts --------------------------------------------------------------------------------------------------

    def prepare(self, request):
        if self.clock.set(request.get("now"), request.get("seed")):
            # Names imported by value (`from datetime import datetime`) only see the change in modules loaded after it.
            self.loader.watch = None
        kept = request.get("state") == "kept"
        self.asked = request.get("files") or request.get("file")
        if self.changed_by is not None and not kept and self.changed_by != self.asked:
            raise NeedsNewProcess
        goes_on = kept and self.kept
        self.kept = kept
        if not goes_on:
            self.loader.freshen()
        # What loading runs is told apart by the `lines` operation; a module that a case is the first to ask for is loaded
        # within it, which is seen as well.
        if self.probes:
            self.probes.start()

    def module(self, file):
        if self.guard:
            self.guard.active = True
        try:
            return self.loader.load(file, self.paths)
        except NeedsNewProcess:
            raise
        except SystemExit as ended:
            raise WouldNotLoad("it ends the process while loading: exit(%s)" % (ended.code,)) from None
        except FileNotFoundError:
            if not os.path.exists(os.path.join(self.root, file)):
                raise Missing(file) from None
            raise
        except BaseException as error:
            raise WouldNotLoad("%s: %s" % (type(error).__name__, error)) from error
        finally:
            if self.guard:
                self.guard.active = False

    def find(self, request):
        plain = (request.get("file"), request.get("name"))
        known = self.loader.found.get(plain)
        if known is not None:
            return known
        files = request.get("files") or [request["file"]]
        names = request.get("names") or [request["name"]]
        for name in names:
            for file in files:
                module = self.module(file)
                value = lookup(module, name)
                if value is not None:
                    if plain[1] is not None and plain[0] is not None:
                        self.loader.found[plain] = (name, module, value)
                    return name, module, value
        raise Missing(names[0])

    def arguments(self, request, module, objects):
        args = [
            arg if type(arg) in PLAIN else notation.decode(arg, module, objects) for arg in request.get("args", ())
        ]
        given = request.get("kwargs")
        kwargs = {key: notation.decode(value, module, objects) for key, value in given.items()} if given else {}
        return args, kwargs

    def run_keeping(self, function, args, kwargs):
        start = perf_counter()
        value = None
        watch = self.guard
        if watch:
            watch.active = True
        try:
            value = function(*args, **kwargs)
            if type(value) not in PLAIN:
                if notation.is_awaitable(value):
                    value = notation.await_value(value)
                if notation.is_iterator(value):
                    value = notation.read_iterator(value)
                elif notation.is_async_iterator(value):
                    value = notation.await_value(notation.read_async_iterator(value))
            if self.alone:
                self.put_back()
            reply = {"value": notation.encode(value), "ms": round((perf_counter() - start) * 1000, 4)}
        except SystemExit as ended:
            reply = {"broken": {"why": "ended", "what": "it ended the process: exit(%s)" % (ended.code,)}}
        except TooSlow as error:
            reply = {"broken": {"why": "timed-out", "what": str(error), "lastOutput": ""}}
        except MemoryError:
            reply = {"broken": {"why": "over-limit", "what": "it ran out of memory"}}
        except BaseException as error:  # what ported code throws is its answer
            if self.alone:
                self.put_back()
            reply = {"thrown": thrown(error), "ms": round((perf_counter() - start) * 1000, 4)}
        if watch:
            watch.active = False
        if self.forked:
            os._exit(0)
        return reply, value

    # -- the loop -----------------------------------------------------------------------------------------------

    def answer(self, request):
        operation = request.get("op")
        self.alone = "alone" in request
        if operation not in OPERATIONS:
            return {"error": "unknown op %r; known: %s" % (operation, ", ".join(sorted(OPERATIONS)))}
        if operation == "call" and len(request) == 5 and request.keys() == QUICK and self.loader.tracer is None:
            try:
                reply = self.quick_call(request)
            except NeedsNewProcess:
                return RESTART
            except BaseException as error:
                return {"error": "%s: %s" % (type(error).__name__, error)}
            if reply is not None:
                return self.with_printed(reply)
        try:
            try:
                if "limitMs" in request:
                    reply = within(request["limitMs"], OPERATIONS[operation], self, request)
                else:
                    reply = OPERATIONS[operation](self, request)
            finally:
                if self.clock.release():
                    self.loader.watch = None
        except NeedsNewProcess:
            return RESTART
        except Missing as missing:
            return {"missing": str(missing)}
        except NotByName as error:
            return {"broken": {"why": "would-not-load", "what": str(error), "lastOutput": ""}}
        except WouldNotLoad as error:
            return {"broken": {"why": "would-not-load", "what": str(error), "lastOutput": last_trace(error.__cause__)}}
        except BaseException as error:
            return {"error": "%s: %s" % (type(error).__name__, error)}
        if operation in ("call", "steps"):
            reply = self.with_printed(reply)
            if self.loader.tracer is not None:
                reply["trace"] = self.loader.tracer.take()
            if self.probes and "broken" not in reply:
                self.probes.take(reply)
        return reply

    def with_printed(self, reply):
        if self.guard and (self.guard.seen or self.guard.written):
            outside = self.guard.finish()
            if outside:
                reply = {"broken": {"why": "outside-folder", "what": "it wrote outside its folder: %s" % outside}}
        reply["printed"] = printed = self.printed() if Output.touched or self.loader.can_print else ""
        if printed is None:
            return {"broken": {"why": "over-limit", "what": "it printed more than %d KB" % (self.output_limit // 1024)}}
        if self.moved:
            self.moved = False
            real_chdir(self.home)
        return reply

    def printed(self):
        """What arrived in the output file since the last case, or None when it is over the limit."""
        Output.touched = False
        sys.stdout.flush()
        size = os.fstat(1).st_size
        if size == 0:
            return ""
        over = size > self.output_limit
        data = b"" if over else os.pread(OUTPUT, size, 0)
        os.ftruncate(1, 0)
        return None if over else data.decode("utf-8", "replace")

    def serve(self):
        pending = b""
        answer = self.answer
        while True:
            chunk = os.read(REQUESTS, 1 << 16)
            if not chunk:
                return
            lines = (pending + chunk).split(b"\n") if pending else chunk.split(b"\n")
            pending = lines.pop()
            held = []
            first = None
            since = perf_counter()
            for line in lines:
                if not line:
                    continue
                request = parse(line.decode("utf-8"))
                if request.get("op") == "bye":
                    break
                reply = answer(request)
                number = request.get("id")
                if first is None:
                    first = number
                if reply is RESTART:
                    return self.start_anew(first)
                if self.alone:
                    self.put_back()
                held.append(form(number, reply, self.seal, self.last))
                # Replies leave together while requests are at hand; asked to be alone, one has left before the next
                # case can end the process. So has the greeting, which starts the time limit of the first case.
                if "alone" in request or request.get("op") == "hello" or len(held) > HOLD_REPLIES or perf_counter() - since > HOLD_SECONDS:
                    if not self.send(held, first):
                        return
                    held = []
                    first = None
                    since = perf_counter()
            else:
                if not self.send(held, first):
                    return
                continue
            self.send(held, first)
            return

    def send(self, held, first):
        """Writes replies, unless they were answered amid changes of built-ins. False when the process is to end."""
        if held and self.is_changed():
            if not self.kept:
                return self.start_anew(first)
            self.keep_changes()
        send(held)
        return not self.last

    def start_anew(self, first):
        """Asks for a new process, to which everything from a request on is put again."""
        self.built_ins.restore()
        send([form(first, dict(RESTART), self.seal, False)])
        return False


class TooSlow(BaseException):
    """What stops a request with a limit of its own; not an Exception, so that ported code seldom catches it."""


# Seconds after which ported code that catches the interruption is interrupted again.
AGAIN_SECONDS = 0.05


def within(limit_ms, operation, driver, request):
    """Stops an operation that computes for too long without ending the process; what waits is the pool's to end."""

    def stop(_signal, _frame):
        raise TooSlow("it took longer than %d ms" % limit_ms)

    before = set_handler(SIGALRM, stop)
    try:
        set_timer(ITIMER_REAL, limit_ms / 1000, AGAIN_SECONDS)
        return operation(driver, request)
    except TooSlow as error:
        return {"broken": {"why": "timed-out", "what": str(error), "lastOutput": ""}}
    finally:
        set_timer(ITIMER_REAL, 0)
        set_handler(SIGALRM, before)


def make_tracer():
    """With modules of its own, which ported code does not find."""
    sys.path.insert(0, HERE)
    try:
        import trace_calls

        return trace_calls.Tracer()
    finally:
        sys.path.remove(HERE)
        for name in ("trace_calls", "record_calls", "program", "notation"):
            sys.modules.pop(name, None)


HOLD_SECONDS = 0.005
HOLD_REPLIES = 400
RESTART = {"restart": True}


class Seal:
    """Seals replies, so that nothing but the driver can answer in its name: each carries a tag of the secret that came
    with the greeting, before any ported code ran. Block B of sixteen tags is the SHA-512 of `SECRET:B`.
    """

    def __init__(self, secret):
        self.secret = secret.encode("ascii")
        self.block = None
        self.tags = ()

    def tag(self, id):
        block = id >> 4
        if block != self.block:
            self.block = block
            text = sha512(b"%s:%d" % (self.secret, block)).hexdigest()
            self.tags = [text[at:at + 8] for at in range(0, 128, 8)]
        return self.tags[id & 15]

OPERATIONS = {
    "hello": Driver.hello,
    "load": Driver.load,
    "call": Driver.call,
    "steps": Driver.steps,
    "reset": Driver.reset,
    "lines": Driver.lines,
}

QUICK = {"id", "op", "file", "name", "args"}
NO_NAMES = {}


class Output(io.TextIOWrapper):
    """Standard output that notes when it is written to: asking its file after every case costs as much as the case."""

    touched = False

    def write(self, text):
        Output.touched = True
        return super().write(text)


class OutputBytes(io.BufferedWriter):
    def write(self, data):
        Output.touched = True
        return super().write(data)


def make_dump():
    """The C encoder made once: json.dumps makes a new one for every text, which costs as much as the encoding."""
    encoder = json.JSONEncoder(separators=(",", ":"), allow_nan=False)
    make = json.encoder.c_make_encoder
    if make is None:
        return encoder.encode
    quote = json.encoder.encode_basestring_ascii
    encode = make(None, encoder.default, quote, None, ":", ",", False, False, False)
    return lambda value: "".join(encode(value, 0))


dump = make_dump()


def form(id, reply, seal, last):
    """A reply as a line. What differs from side to side stands before the answer, so that equal answers are equal texts."""
    path = reply.pop("path", None)
    ms = reply.pop("ms", None)
    if type(id) is not int:
        return dump({"id": id, "ms": ms, "path": path, **reply})
    if seal is not None and ms is not None and not last and "lines" not in reply:
        # The way of nearly every reply.
        rest = encoded(reply)[1:]
        if path is None:
            return '{"id":%d,"tag":"%s","ms":%r,%s' % (id, seal.tag(id), ms, rest)
        return '{"id":%d,"tag":"%s","ms":%r,"path":%d,%s' % (id, seal.tag(id), ms, path, rest)
    start = '{"id":%d' % id if seal is None else '{"id":%d,"tag":"%s"' % (id, seal.tag(id))
    if last:
        start += ',"last":true'
    if ms is None or "lines" in reply:
        head = {"ms": ms, "path": path, "lines": reply.pop("lines", None)}
        rest = encoded({**{key: value for key, value in head.items() if value is not None}, **reply})
        return start + ("}" if rest == "{}" else "," + rest[1:])
    rest = encoded(reply)[1:]
    return '%s,"ms":%r,%s' % (start, ms, rest) if path is None else '%s,"ms":%r,"path":%d,%s' % (start, ms, path, rest)


def encoded(reply):
    """The reply as JSON; an answer that the notation made something else of is told as such."""
    try:
        return dump(reply)
    except (TypeError, ValueError, RecursionError) as error:
        return dump({"error": "the answer cannot be written down: %s" % error})


scan = json.JSONDecoder().scan_once


def parse(line):
    # The engine sends nothing around a request, so looking for white space on both sides is not needed.
    return scan(line, 0)[0]


def send(replies):
    if not replies:
        return
    view = memoryview(("\n".join(replies) + "\n").encode("ascii"))
    while view:
        view = view[os.write(REPLIES, view):]


def lookup(module, name):
    """`name`, `Class.method`, or `default` (the module's only public callable of its own name, as ports to Python have it)."""
    value = module
    for part in name.split("."):
        value = getattr(value, part, None)
        if value is None:
            break
    if value is None and name == "default":
        return getattr(module, module.__name__.rpartition(".")[2], None)
    return by_own_name(module, name) if value is None else value


def by_own_name(module, name):
    """What the module has under another name than its own; None where several things have that name."""
    head, _dot, rest = name.partition(".")
    made = {
        id(value): value
        for value in vars(module).values()
        if isinstance(value, (type, types.FunctionType)) and value.__name__ == head
    }
    if len(made) != 1:
        return None
    value = next(iter(made.values()))
    for part in rest.split(".") if rest else ():
        value = getattr(value, part, None)
    return value


def by_name(function, args, kwargs, asked):
    """The arguments with those after the first gap passed by name, so that what is left out has its own default."""
    import inspect

    gaps = set(asked["gaps"])
    first = min(gaps)
    try:
        parameters = list(inspect.signature(function).parameters.values())
    except (TypeError, ValueError):
        parameters = []
    named = dict(kwargs)
    for at in range(first, len(args)):
        if at in gaps:
            continue
        by_position = parameters[at] if at < len(parameters) else None
        if by_position is None or by_position.kind is not inspect.Parameter.POSITIONAL_OR_KEYWORD:
            raise NotByName(
                "the hookup of %s leaves argument %d out, and argument %d cannot be passed by name" % (asked.get("hookup"), first + 1, at + 1)
            )
        named[by_position.name] = args[at]
    return args[:first], named


def pick(names, fits, where="", last_resort=False):
    for name in names:
        if fits(name):
            return name
    if last_resort:
        return names[-1]
    raise Missing("%s.%s" % (where, names[0]) if where else names[0])


def hasattr_statically(target, name):
    """Without running a property: reading it is the step itself, and may throw."""
    return any(name in vars(kind) for kind in type(target).__mro__) or name in getattr(target, "__dict__", {}) or hasattr(target, name)


def describe(name, value):
    import inspect

    if inspect.isclass(value):
        members = [key for key in dir(value) if not key.startswith("__")]
        return {"name": name, "kind": "class", "members": members}
    if callable(value):
        try:
            params = list(inspect.signature(value).parameters)
        except (TypeError, ValueError):
            params = []
        return {"name": name, "kind": "function", "params": params}
    return {"name": name, "kind": "module" if inspect.ismodule(value) else "constant"}


def thrown(error):
    try:
        message = str(error)
    except Exception as inner:
        message = "<no message: str() throws %s>" % type(inner).__name__
    return {"kind": notation.name_of(type(error)), "message": notation.encode(message), "trace": last_trace(error)}


def last_trace(error):
    if error is None:
        return ""
    frames = [frame for frame in traceback.extract_tb(error.__traceback__) if not frame.filename.startswith(HERE)]
    return "".join(traceback.format_list(frames[-6:]))[-2000:]


if __name__ == "__main__":
    if not stat.S_ISREG(os.fstat(1).st_mode):
        # Started by hand, with a terminal or a pipe for its output: what is printed goes to a file of our own.
        os.dup2(os.open(tempfile.gettempdir(), os.O_TMPFILE | os.O_RDWR | os.O_APPEND), 1)
    # The output file may be opened for appending only; a second descriptor reads it back.
    OUTPUT = os.open("/proc/self/fd/1", os.O_RDONLY) if os.path.exists("/proc/self/fd/1") else 1
    sys.stdout = sys.__stdout__ = Output(
        OutputBytes(io.FileIO(1, "w", closefd=False)), encoding="utf-8", errors="surrogateescape", line_buffering=True
    )
    sys.setrecursionlimit(max(sys.getrecursionlimit(), 1200))
    # Ported code that looks at its main program finds an empty one.
    MAIN = sys.modules["__main__"]
    sys.modules["__main__"] = type(sys)("__main__")
    Driver().serve()
