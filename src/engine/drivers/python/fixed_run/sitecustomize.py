"""Loaded by Python before a program whose clock or random numbers are fixed (SIDE_TWIN_NOW, SIDE_TWIN_SEED)."""

import os
import sys

here = os.path.dirname(os.path.abspath(__file__))
sys.path.insert(0, os.path.dirname(here))
import fixed  # noqa: E402

sys.path[:] = [folder for folder in sys.path if folder not in (here, os.path.dirname(here))]
seed = os.environ.get("SIDE_TWIN_SEED")
fixed.Fixed().set(os.environ.get("SIDE_TWIN_NOW"), None if seed is None else int(seed))
