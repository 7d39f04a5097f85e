"""Loaded by Python before each program whose calls are recorded (SIDE_TWIN_RECORD names the file with the settings)."""

import json
import os
import sys

here = os.path.dirname(os.path.abspath(__file__))
home = os.path.dirname(here)
sys.path.insert(0, home)
import notation  # noqa: E402,F401
import program  # noqa: E402
import record_calls  # noqa: E402
import trace_calls  # noqa: E402

# Recorded code may have modules of these names; and it shall not find ours.
own = sys.modules.pop("sitecustomize", None)
for name in ("notation", "program", "record_calls", "trace_calls"):
    sys.modules.pop(name, None)
sys.path[:] = [folder for folder in sys.path if folder not in (here, home)]
with open(os.environ["SIDE_TWIN_RECORD"], encoding="utf-8") as file:
    settings = json.load(file)
recorder = (trace_calls.ProgramTracer if settings.get("trace") else record_calls.Recorder)(settings)
sys.side_twin_recorder = (recorder, program)
program.install(recorder.code_of)
try:
    import sitecustomize  # noqa: E402,F401  the person's own
except ImportError:
    if own is not None:
        sys.modules["sitecustomize"] = own
