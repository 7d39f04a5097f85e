"""Runs a Python program as `python` would and notes the calls into some of its files (see record_calls.py).

Usage: record_run.py (-m MODULE | SCRIPT) [ARGUMENTS…], with SIDE_TWIN_RECORD set to the file with the settings.
"""

import sys

MODULE = sys.modules["__main__"]
# Set up by record_run/sitecustomize.py, which children of the program load as well.
recorder, program = sys.side_twin_recorder
program.run(sys.argv[1:], recorder.code_of, (__file__,))
