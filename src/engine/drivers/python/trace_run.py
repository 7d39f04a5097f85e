"""Runs a Python program as `python` would and writes down which lines of the files below a folder it ran through.

Usage: trace_run.py OUT CACHE ROOT (-m MODULE | SCRIPT) [ARGUMENTS…]. OUT becomes one line a file: its path, a tab, and the
numbers of the lines with commas between. CACHE is a folder in which compiled code is kept between runs.

The program's own output and exit status are those of a plain run: lines are noted by probes that are compiled into its
code (see probes.py), its main module is a module of its own, and the frames of this file are cut from its tracebacks.
"""

import atexit
import marshal
import os
import sys
from importlib.machinery import PathFinder, SourceFileLoader

HERE = os.path.dirname(os.path.abspath(__file__))
OUT, CACHE, ROOT = sys.argv[1], sys.argv[2], os.path.realpath(sys.argv[3]) + os.sep
VERSION = "%s 1" % sys.implementation.cache_tag

# (file below the root, lines of each probe, a byte for each that is 1 once it ran).
traced = []


def own_file(file):
    full = os.path.realpath(file)
    if not full.startswith(ROOT) or not full.endswith(".py") or "site-packages" in full:
        return None
    return full[len(ROOT):]


def code_of(file, path):
    """The code of a source with its probes; None where it is to run as it is."""
    facts = os.stat(path)
    stamp = "%s %d %d" % (VERSION, facts.st_size, facts.st_mtime_ns)
    kept = os.path.join(CACHE, file.replace(os.sep, "%"))
    try:
        with open(kept, "rb") as cached:
            known, code, own = marshal.load(cached)
    except (OSError, EOFError, ValueError, TypeError):
        known = None
    if known != stamp:
        code, own = instrument(file, path)
        keep(kept, (stamp, code, own))
    if code is None:
        return None
    ran = bytearray(len(own))
    traced.append((file, own, ran))
    return put_in(code, {STORE: ran, MARK: ran.__setitem__})


def instrument(file, path):
    """Code with stand-ins for the array, and the lines of each probe from the first on; (None, ()) for what has none."""
    sys.path.insert(0, HERE)
    try:
        import probes
    finally:
        sys.path.remove(HERE)
        sys.modules.pop("probes", None)
    with open(path, "rb") as source:
        text = source.read()
    try:
        return probes.instrument_all(text, path, file)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        # Without probes: it runs, or fails, as it is, and none of its lines counts as run.
        return None, ()


def keep(kept, content):
    part = "%s.%d" % (kept, os.getpid())
    try:
        os.makedirs(CACHE, exist_ok=True)
        with open(part, "wb") as out:
            marshal.dump(content, out)
        os.replace(part, kept)
    except OSError:
        pass  # Keeping saves time and nothing else.


STORE = "\0side-twin store\0"
MARK = "\0side-twin mark\0"
CODE = type(own_file.__code__)


def put_in(code, stand_ins):
    """The code with the array in place of its stand-ins."""
    constants = []
    for constant in code.co_consts:
        if isinstance(constant, CODE):
            constant = put_in(constant, stand_ins)
        elif type(constant) is str and constant in stand_ins:
            constant = stand_ins[constant]
        constants.append(constant)
    return code.replace(co_consts=tuple(constants))


class Loader(SourceFileLoader):
    def get_code(self, fullname):
        path = self.get_filename(fullname)
        file = own_file(path)
        code = None if file is None else code_of(file, path)
        return super().get_code(fullname) if code is None else code


class Finder:
    @staticmethod
    def find_spec(name, path=None, target=None):
        spec = PathFinder.find_spec(name, path, target)
        if spec is None or type(spec.loader) is not SourceFileLoader or own_file(spec.origin) is None:
            return None
        spec.loader = Loader(spec.loader.name, spec.loader.path)
        return spec


def write(pid=os.getpid()):
    if os.getpid() != pid:
        return
    found = {}
    for file, own, ran in traced:
        for at in range(len(ran)):
            if ran[at]:
                found.setdefault(file, set()).update(own[at])
    with open(OUT, "w", encoding="utf-8", errors="surrogateescape") as out:
        for file, lines in found.items():
            out.write("%s\t%s\n" % (file, ",".join(map(str, sorted(lines)))))


def main_module(path, loader):
    """A main module as the interpreter makes it."""
    module = type(sys)("__main__")
    module.__loader__ = loader
    module.__annotations__ = {}
    module.__builtins__ = sys.modules["builtins"]
    if path is not None:
        module.__file__ = path
        module.__cached__ = None
    sys.modules["__main__"] = module
    return module


def run(program):
    if program[0] == "-m":
        sys.argv = ["-m"] + program[2:]
        sys.path[0] = os.getcwd()
        main_module(None, None)
        import runpy

        runpy._run_module_as_main(program[1])
        return
    path = program[0]
    if not os.path.isfile(path):
        # A folder, an archive, or nothing: the interpreter knows what to do or say.
        os.execv(sys.executable, [sys.executable] + program)
    if sys.version_info >= (3, 9):
        path = os.path.abspath(path)
    sys.argv = program
    sys.path[0] = os.path.dirname(os.path.realpath(path))
    loader = SourceFileLoader("__main__", path)
    file = own_file(path)
    code = None if file is None else code_of(file, path)
    if code is None:
        code = loader.source_to_code(loader.get_data(path), path)
    exec(code, main_module(path, loader).__dict__)


def without_ours(trace):
    while trace is not None and trace.tb_frame.f_code.co_filename == __file__:
        trace = trace.tb_next
    return trace


atexit.register(write)
sys.meta_path.insert(0, Finder)
MODULE = sys.modules["__main__"]
try:
    run(sys.argv[4:])
except SystemExit:
    raise
except BaseException as error:
    # As the interpreter does, with the traceback that a plain run has.
    kind = type(error)
    error.__traceback__ = without_ours(error.__traceback__)
    if kind is KeyboardInterrupt:
        raise
    sys.excepthook(kind, error, error.__traceback__)
    sys.exit(1)
