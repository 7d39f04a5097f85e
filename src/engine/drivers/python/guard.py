"""Keeps ported code from writing outside its scratch folders, and puts back what it wrote in the one it works in.

By Python's audit events (PEP 578): what C code writes past them is the sandbox's to stop.
"""

import os
import shutil
import sys

WRITES = os.O_WRONLY | os.O_RDWR | os.O_CREAT | os.O_TRUNC | os.O_APPEND
# Event → which of its arguments are paths that are written to.
EVENTS = {
    "os.mkdir": (0,), "os.remove": (0,), "os.rmdir": (0,), "os.rename": (0, 1), "os.link": (1,), "os.symlink": (1,),
    "os.truncate": (0,), "os.chmod": (0,), "os.chown": (0,), "os.utime": (0,), "os.setxattr": (0,),
    "shutil.rmtree": (0,), "shutil.move": (0, 1), "shutil.copyfile": (1,),
}


FUNCTION_PARTS = {"__code__", "__defaults__", "__kwdefaults__"}


class Outside(PermissionError):
    """Raised in ported code in place of the write."""


class Guard:
    def __init__(self, root, scratch):
        self.root = root
        self.scratch = scratch and os.path.realpath(scratch)
        allowed = [self.scratch, os.environ.get("TMPDIR")]
        self.allowed = tuple(os.path.realpath(folder) + os.sep for folder in allowed if folder)
        self.active = False
        self.seen = None
        self.written = []
        # How often a function was given other code or defaults: to read these of every function would raise an event each.
        self.function_changes = 0
        sys.addaudithook(self.on_event)

    def on_event(self, event, args):
        if not self.active:
            return
        if event == "open":
            path, _mode, flags = args
            if flags & WRITES:
                self.meet(path)
        elif event in EVENTS:
            for index in EVENTS[event]:
                self.meet(args[index])
        elif event == "object.__setattr__" and args[1] in FUNCTION_PARTS:
            self.function_changes += 1

    def meet(self, path):
        if isinstance(path, int):
            return
        path = os.fsdecode(path)
        # The folder's own links are followed, the name's are not: a link is written to where it points.
        full = os.path.realpath(path)
        if full.startswith(self.allowed):
            self.written.append(full)
        elif not full.startswith(("/dev/", "/proc/self/")):
            self.seen = self.seen or full
            raise Outside(30, "Side Twin lets nothing be written outside the scratch folder", path)

    def finish(self):
        """What was written outside during the case, or None; what was written inside is put back."""
        seen, self.seen = self.seen, None
        if self.written:
            written, self.written = self.written, []
            for path in written:
                self.put_back(path)
        return seen

    def put_back(self, path):
        if not self.scratch or not path.startswith(self.scratch + os.sep):
            return
        original = os.path.join(self.root, os.path.relpath(path, self.scratch))
        if os.path.isdir(path) and not os.path.isdir(original):
            shutil.rmtree(path, ignore_errors=True)
        elif os.path.isfile(original):
            os.makedirs(os.path.dirname(path), exist_ok=True)
            shutil.copy2(original, path)
        elif os.path.isdir(original):
            os.makedirs(path, exist_ok=True)
        elif os.path.lexists(path):
            os.remove(path)
