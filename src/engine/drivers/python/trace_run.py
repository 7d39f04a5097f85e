"""Runs a Python program as `python` would and writes down which lines of the files below a folder it ran through.

Usage: trace_run.py OUT CACHE ROOT (-m MODULE | SCRIPT) [ARGUMENTS…]. OUT becomes one line a file: its path, a tab, and the
numbers of the lines with commas between. CACHE is a folder in which compiled code is kept between runs.

The program's own output and exit status are those of a plain run (see program.py): lines are noted by probes that are
compiled into its code (see probes.py).
"""

import atexit
import marshal
import os
import sys

HERE = os.path.dirname(os.path.abspath(__file__))
sys.path.insert(0, HERE)
import program  # noqa: E402

sys.path.remove(HERE)
del sys.modules["program"]
OUT, CACHE, ROOT = sys.argv[1], sys.argv[2], os.path.realpath(sys.argv[3]) + os.sep
VERSION = "%s 1" % sys.implementation.cache_tag

# (file below the root, lines of each probe, a byte for each that is 1 once it ran).
traced = []


def own_file(file):
    full = os.path.realpath(file)
    if not full.startswith(ROOT) or not full.endswith(".py") or "site-packages" in full:
        return None
    return full[len(ROOT):]


def traced_code(path):
    """The code of a source with its probes; None where it is to run as it is."""
    file = own_file(path)
    if file is None:
        return None
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
    return program.put_in(code, {STORE: ran, MARK: ran.__setitem__})


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


atexit.register(write)
MODULE = sys.modules["__main__"]
program.run(sys.argv[4:], traced_code, (__file__,))
