# Loaded before a program whose clock or random numbers are fixed (SIDE_TWIN_NOW, SIDE_TWIN_SEED), in each of its processes.
require_relative "clock"

SideTwin::Clock.fix(ENV["SIDE_TWIN_NOW"])
srand(Integer(ENV["SIDE_TWIN_SEED"])) if ENV["SIDE_TWIN_SEED"]
# Both are loaded by the one variable.
require_relative "trace_run" if ENV["SIDE_TWIN_LINES"]
