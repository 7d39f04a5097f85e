"""Runs a Python program as `python` would, with the code of some of its files made by somebody else.

Its output, tracebacks and exit status are those of a plain run: the main module is a module of its own, and the frames of
these files are cut from its tracebacks.
"""

import os
import sys
from importlib.machinery import PathFinder, SourceFileLoader

CODE = type((lambda: None).__code__)


def put_in(code, stand_ins):
    """The code with objects in place of the texts that stand for them among its constants."""
    constants = []
    for constant in code.co_consts:
        if isinstance(constant, CODE):
            constant = put_in(constant, stand_ins)
        elif type(constant) is str and constant in stand_ins:
            constant = stand_ins[constant]
        constants.append(constant)
    return code.replace(co_consts=tuple(constants))


def install(code_of):
    """Imports take `code_of(path)`; where it is None, what Python makes of the file."""

    class Loader(SourceFileLoader):
        def get_code(self, fullname):
            code = code_of(self.get_filename(fullname))
            return super().get_code(fullname) if code is None else code

    class Finder:
        @staticmethod
        def find_spec(name, path=None, target=None):
            spec = PathFinder.find_spec(name, path, target)
            if spec is None or type(spec.loader) is not SourceFileLoader or not is_source(spec.origin):
                return None
            spec.loader = Loader(spec.loader.name, spec.loader.path)
            return spec

    sys.meta_path.insert(0, Finder)


def is_source(path):
    return isinstance(path, str) and path.endswith(".py")


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


def start(program, code_of):
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
    code = code_of(path)
    if code is None:
        code = loader.source_to_code(loader.get_data(path), path)
    exec(code, main_module(path, loader).__dict__)


def run(program, code_of, own):
    """Runs `[-m MODULE | SCRIPT, ARGUMENTS…]`; `own` are the files whose frames no traceback shows."""
    install(code_of)
    try:
        start(program, code_of)
    except SystemExit:
        raise
    except BaseException as error:
        # As the interpreter does, with the traceback that a plain run has.
        kind = type(error)
        trace = error.__traceback__
        while trace is not None and trace.tb_frame.f_code.co_filename in (*own, __file__):
            trace = trace.tb_next
        error.__traceback__ = trace
        if kind is KeyboardInterrupt:
            raise
        sys.excepthook(kind, error, error.__traceback__)
        sys.exit(1)
