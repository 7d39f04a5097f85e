"""Runs a Python program as `python` would and writes down which lines of the files below a folder it ran through.

Usage: trace_run.py OUT ROOT (-m MODULE | SCRIPT) [ARGUMENTS…]; OUT becomes {"file": [line, …]} in JSON.
"""

import atexit
import json
import os
import runpy
import sys

OUT, ROOT = sys.argv[1], os.path.realpath(sys.argv[2]) + os.sep
found = {}


def on_call(frame, _event, _argument):
    file = frame.f_code.co_filename
    if not file.startswith(ROOT):
        return None
    lines = found.setdefault(file[len(ROOT):], set())
    lines.add(frame.f_lineno)

    def on_line(frame, event, _argument):
        if event == "line":
            lines.add(frame.f_lineno)
        return on_line

    return on_line


def write():
    sys.settrace(None)
    with open(OUT, "w") as out:
        json.dump({file: sorted(line for line in lines if line) for file, lines in found.items()}, out)


atexit.register(write)
program = sys.argv[3:]
if program[0] == "-m":
    sys.argv = [program[1]] + program[2:]
    sys.path[0] = os.getcwd()
    sys.settrace(on_call)
    runpy.run_module(program[1], run_name="__main__", alter_sys=True)
else:
    sys.argv = program
    sys.path[0] = os.path.dirname(os.path.abspath(program[0]))
    sys.settrace(on_call)
    runpy.run_path(os.path.abspath(program[0]), run_name="__main__")
