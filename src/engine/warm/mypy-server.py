"""Answers what `mypy ARGUMENTS` prints, and keeps its state between two questions: only what a change touches is checked.

Uses the daemon that comes with the person's own mypy, without its detached process. Started by mypy's interpreter with
ARGUMENTS, in the folder where mypy would be started; one process for each set of them, as much of mypy's state is global.
JSON Lines, a request of any content on descriptor 3; replies on descriptor 4: {"text": "...", "exit": 1}, or
{"unfit": "why"} where only mypy itself can do what is asked.
"""

import contextlib
import io
import json
import os
import sys

# Nothing is imported from beside this file.
sys.path[:] = [entry for entry in sys.path if entry != os.path.dirname(os.path.abspath(__file__))]

from mypy import dmypy_server, main
from mypy.version import __version__

# Options whose output the daemon does not write.
WRITES = ("junit_xml", "install_types", "output", "report_dirs", "linecount_report", "timing_stats", "line_checking_stats")
NO_STATUS_FILE = os.path.join(os.devnull, "none")

ARGUMENTS = sys.argv[1:]
server = None


def read_options():
    """The options of the arguments; SystemExit where they are not understood."""
    with contextlib.redirect_stderr(io.StringIO()), contextlib.redirect_stdout(io.StringIO()):
        _, options = main.process_options(["-i", *ARGUMENTS], require_targets=True, server_options=True)
    return options


def unfit(options):
    """Why the daemon's answer would not be mypy's, or None."""
    written = [name for name in WRITES if getattr(options, name, None)]
    if written:
        return f"{written[0]} is given"
    if options.follow_imports == "silent":
        return "follow_imports is silent"
    if not options.local_partial_types:
        return "local_partial_types is off"
    if not options.incremental:
        return "it is not incremental"
    return None


def answer():
    global server
    try:
        options = read_options()
    except SystemExit:
        return {"unfit": "the arguments are not understood"}
    why = unfit(options)
    if why:
        return {"unfit": why}
    result = server.cmd_run(__version__, ARGUMENTS, False, False, 80) if server else {"restart": "first"}
    if "restart" in result:
        server = dmypy_server.Server(options, NO_STATUS_FILE)
        result = server.cmd_run(__version__, ARGUMENTS, False, False, 80)
    if result.get("err") or "out" not in result:
        return {"unfit": "mypy could not run"}
    return {"text": result["out"], "exit": result["status"]}


def serve():
    replies = os.fdopen(4, "w", encoding="utf-8")
    for line in os.fdopen(3, encoding="utf-8"):
        request = json.loads(line)
        if request.get("op") == "bye":
            return
        try:
            reply = answer()
        except (Exception, SystemExit) as error:
            global server
            server = None
            reply = {"unfit": repr(error)}
        replies.write(json.dumps(reply) + "\n")
        replies.flush()


serve()
