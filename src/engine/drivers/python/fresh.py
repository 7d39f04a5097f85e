"""Fresh modules for every case, without loading them again when nothing can have changed.

After the modules of a side are loaded, everything mutable that can be reached from them is written down: module and
class namespaces, containers, function defaults and attributes, closure cells, instances of the side's own classes.
Before the next case these are compared by identity, which takes microseconds; any change, or anything whose inside
cannot be seen (an iterator, a generator, an object of a foreign type), and all modules of the side are loaded anew
from compiled code. Modules from outside the side's folder are never reloaded; docs/formats.md says so.
"""

import collections
import functools
import importlib
import importlib.machinery
import importlib.util
import os
import sys
import types
from operator import is_

from pieces import compile_changed
from probes import executable_lines

ATOMS = (
    int, float, str, bytes, bool, complex, type(None), type(Ellipsis), type(NotImplemented), range,
    types.BuiltinFunctionType, types.GetSetDescriptorType, types.MemberDescriptorType, types.WrapperDescriptorType,
    types.MethodDescriptorType, types.CodeType, types.MethodWrapperType, types.ClassMethodDescriptorType,
)
QUIET_MODULES = {
    "typing", "types", "re", "datetime", "decimal", "fractions", "operator", "pathlib", "uuid", "_thread", "abc", "_abc",
    "enum", "logging", "dataclasses", "_sitebuiltins", "zoneinfo", "struct", "_struct", "__future__", "typing_extensions", "ipaddress", "weakref",
}


# With these a module can print without the driver's stream being asked.
PRINTING_NAMES = {
    "os", "posix", "io", "_io", "subprocess", "_posixsubprocess", "ctypes", "_ctypes", "multiprocessing", "concurrent", "pty",
    "socket", "mmap", "faulthandler", "importlib", "runpy", "imp", "pathlib", "codecs", "logging", "asyncio",
    "open", "exec", "eval", "compile", "__import__", "modules", "fdopen", "FileIO",
}


def can_print(code):
    """Whether code names anything through which descriptor 1 can be reached; what it takes from foreign packages may."""
    names = getattr(sys, "stdlib_module_names", ())
    for name in code.co_names:
        if name in PRINTING_NAMES:
            return True
        module = sys.modules.get(name)
        if module is not None and name not in names and name != "__main__" and not is_side_file(module):
            return True
    return any(can_print(constant) for constant in code.co_consts if isinstance(constant, types.CodeType))


def is_side_file(module):
    return isinstance(getattr(module, "__loader__", None), Loader)


def base_of(origin):
    """A file's text and code; None where it is not there, or does not compile as it is."""
    try:
        with open(origin, "rb") as file:
            text = file.read()
        return text, compile(text, origin, "exec", dont_inherit=True)
    except (OSError, SyntaxError, ValueError):
        return None


# In the list of the side's modules, before the file of one that sys.modules has not.
BESIDE = "beside "


def uncover(paths, kept):
    """Modules that only the driver has loaded make room for the side's own of the same name, as if the driver were not there."""
    for path in paths:
        for entry in os.listdir(path) if os.path.isdir(path) else ():
            name = entry[:-3] if entry.endswith(".py") else entry
            is_own = entry.endswith(".py") or os.path.exists(os.path.join(path, entry, "__init__.py"))
            if not is_own or name not in sys.modules or name in kept:
                continue
            # A package's parts go with it.
            for other in [other for other in sys.modules if other == name or other.startswith(name + ".")]:
                del sys.modules[other]


class Loader:
    """Finds and loads the side's own files, keeping their compiled code."""

    def __init__(self, root, probes=None, guard=None, loading=None):
        """With `probes`, the side's functions are compiled so that they tell which of their lines ran.

        `loading` is told before and after modules are run for a case.
        """
        self.loading = loading
        self.root = root
        self.guard = guard
        self.probes = probes
        self.codes = {}
        # File that others are tried in place of → its text on disk, and the code of that.
        self.bases = {}
        # File → the text that is loaded in its place.
        self.texts = {}
        # Records calls into the observed files, if requested.
        self.tracer = None
        self.observed = frozenset()
        self.own = {}
        self.watch = None
        self.can_print = not hasattr(sys, "stdlib_module_names")
        self.by_file = {}
        # (file, name) → what was found for it, as long as the modules are those of the watch.
        self.found = {}
        sys.meta_path[:] = [finder for finder in sys.meta_path if not isinstance(finder, Loader)]
        sys.meta_path.insert(0, self)

    # -- import machinery ---------------------------------------------------------------------------------------

    def find_spec(self, name, path=None, target=None):
        spec = importlib.machinery.PathFinder.find_spec(name, path, target)
        if spec is None or not self.is_own(spec.origin):
            return None
        if not isinstance(spec.loader, importlib.machinery.SourceFileLoader):
            return None
        own = importlib.util.spec_from_file_location(
            name, spec.origin, loader=self, submodule_search_locations=spec.submodule_search_locations
        )
        return own

    def create_module(self, spec):
        return None

    def exec_module(self, module):
        origin = module.__spec__.origin
        code = self.codes.get(origin)
        if code is None:
            text = self.texts.get(origin)
            if text is None:
                with open(origin, "rb") as source:
                    text = source.read()
            code = self.compile(text, origin)
            self.codes[origin] = code
        self.own[module.__name__] = module
        exec(code, module.__dict__)
        self.can_print = self.can_print or can_print(code)

    def compile(self, source, origin):
        if self.tracer is not None and self.own_file(origin) in self.observed:
            traced = self.tracer.code_of(source, origin, self.own_file(origin))
            if traced is not None:
                return traced
        if self.probes is None:
            return self.compile_plain(source, origin)
        code = compile(source, origin, "exec", dont_inherit=True)
        try:
            return self.probes.compile(source, origin, self.own_file(origin), executable_lines(code, inside=True))
        except (RecursionError, MemoryError):
            # Too deep a tree to be walked: it runs as it is, and none of its lines counts as run.
            return code

    def compile_plain(self, source, origin):
        """What is on disk is compiled whole: the lines of a piece's neighbours would be those of the base."""
        if origin not in self.texts:
            self.bases.pop(origin, None)
            return compile(source, origin, "exec", dont_inherit=True)
        if origin not in self.bases:
            self.bases[origin] = base_of(origin)
        base = self.bases[origin]
        changed = None if base is None else compile_changed(*base, source, origin)
        return compile(source, origin, "exec", dont_inherit=True) if changed is None else changed

    def get_source(self, name):
        return None

    def is_own(self, origin):
        return bool(origin) and origin.endswith(".py") and self.own_file(origin) is not None

    def own_file(self, filename):
        if not filename.startswith(self.root + os.sep):
            return None
        inside = filename[len(self.root) + 1:]
        return None if "site-packages" in inside else inside.replace(os.sep, "/")

    # -- loading ------------------------------------------------------------------------------------------------

    def load(self, file, paths):
        module = self.by_file.get(file)
        if module is not None:
            return module
        full = os.path.join(self.root, file)
        if not os.path.isfile(full):
            raise FileNotFoundError(full)
        name = self.module_name(full, paths)
        self.watch = None
        if self.loading:
            self.loading.before_loading()
        module = self.import_file(file, name)
        if self.loading:
            self.loading.after_loading()
        self.by_file[file] = module
        return module

    def import_file(self, file, name):
        there = sys.modules.get(name)
        if there is not None and "." not in name and not is_side_file(there):
            # The interpreter has had a module of this name since it started, which stays: no import finds the file.
            spec = importlib.util.spec_from_file_location(name, os.path.join(self.root, file), loader=self)
            module = importlib.util.module_from_spec(spec)
            self.exec_module(module)
            self.own[BESIDE + file] = self.own.pop(name)
            return module
        module = importlib.import_module(name)
        # A package may bind a submodule's name to another object, which must not be taken for the file.
        return sys.modules.get(name, module)

    def module_name(self, full, paths):
        folder, leaf = os.path.split(full)
        stem = leaf[:-3]
        parts = [] if stem == "__init__" else [stem]
        top = folder
        while os.path.exists(os.path.join(top, "__init__.py")):
            parts.insert(0, os.path.basename(top))
            top = os.path.dirname(top)
        if top == folder:
            # In no package: named from a folder of the path, as a namespace package.
            for path in paths:
                inside = os.path.relpath(folder, path)
                if inside != "." and not inside.startswith("..") and all(part.isidentifier() for part in inside.split(os.sep)):
                    parts = inside.split(os.sep) + parts
                    top = path
                    break
        if top not in sys.path:
            sys.path.insert(0, top)
        if folder not in sys.path:
            sys.path.append(folder)
        return ".".join(parts)

    def forget(self, files=None, texts=None):
        """The files, relative to the root, that changed are read again, from `texts` or from disk; all where none are named.
        Texts given before are dropped."""
        before = self.texts
        self.texts = {os.path.join(self.root, file): text.encode("utf-8") for file, text in (texts or {}).items()}
        if files is None:
            self.codes.clear()
        else:
            for file in [*(os.path.join(self.root, file) for file in files), *before, *self.texts]:
                self.codes.pop(file, None)
        for name in self.own:
            sys.modules.pop(name, None)
        self.own.clear()
        self.by_file.clear()
        self.found.clear()
        self.watch = None

    def freshen(self):
        """Makes sure that the next case meets modules as they are after loading."""
        if not self.own:
            return
        if self.watch is None:
            # Loaded by an earlier case and not watched yet: what that case did is unknown, so load again and watch.
            self.reload()
        elif not self.watch.unchanged():
            self.reload()

    def reload(self):
        if self.loading:
            self.loading.before_loading()
        names = list(self.own)
        files = list(self.by_file)
        modules = [self.by_file[file].__name__ for file in files]
        for name in names:
            sys.modules.pop(name, None)
        self.own.clear()
        self.by_file.clear()
        self.found.clear()
        try:
            for file, name in zip(files, modules):
                self.by_file[file] = self.import_file(file, name)
        except BaseException:
            self.forget()
            return
        if self.loading:
            self.loading.after_loading()
        self.watch = Watch(self.own, self.guard)


class Watch:
    """What can change in a set of modules, and whether it did."""

    def __init__(self, modules, guard):
        self.blind = False
        self.guard = guard
        self.function_changes = guard.function_changes if guard else 0
        self.mappings = []
        self.sequences = []
        self.sets = []
        self.caches = []
        self.functions = []
        self.met = set()
        self.keep = []
        self.own_names = {module.__name__ for module in modules.values()}
        self.queue = [module for module in modules.values()]
        while self.queue and not self.blind:
            self.note(self.queue.pop())

    def unchanged(self):
        if self.blind:
            return False
        for mapping, size, values in self.mappings:
            if len(mapping) != size or not all(map(is_, mapping.values(), values)):
                return False
        for sequence, items in self.sequences:
            if len(sequence) != len(items) or not all(map(is_, sequence, items)):
                return False
        for group, items in self.sets:
            if group != items:
                return False
        for cache, info in self.caches:
            if cache.cache_info() != info:
                return False
        if self.guard:
            return self.guard.function_changes == self.function_changes
        for function, defaults, code in self.functions:
            if function.__defaults__ is not defaults or function.__code__ is not code:
                return False
        return True

    def note(self, value):
        if isinstance(value, ATOMS) or id(value) in self.met:
            return
        self.met.add(id(value))
        self.keep.append(value)  # an id is only worth something while its object lives
        if isinstance(value, types.ModuleType):
            if value.__name__ in self.own_names:
                self.note_mapping(value.__dict__)
        elif isinstance(value, type):
            if value.__module__ in self.own_names:
                self.note_mapping(value.__dict__)
        elif isinstance(value, types.FunctionType):
            self.note_function(value)
        elif isinstance(value, (classmethod, staticmethod)):
            self.queue.append(value.__func__)
        elif isinstance(value, property):
            self.queue.extend((value.fget, value.fset, value.fdel))
        elif isinstance(value, types.MethodType):
            self.queue.extend((value.__self__, value.__func__))
        elif isinstance(value, functools._lru_cache_wrapper):
            self.caches.append((value, value.cache_info()))
            self.queue.append(value.__wrapped__)
        elif isinstance(value, functools.partial):
            self.queue.extend((value.func, value.args, value.keywords))
        elif isinstance(value, functools.cached_property):
            self.queue.append(value.func)
        elif isinstance(value, (tuple, frozenset)):
            self.queue.extend(value)
        else:
            self.note_container(value)

    def note_container(self, value):
        if isinstance(value, (dict, types.MappingProxyType)):
            self.note_mapping(value)
        elif isinstance(value, (list, collections.deque)):
            self.sequences.append((value, list(value)))
            self.queue.extend(value)
        elif isinstance(value, set):
            self.sets.append((value, set(value)))
            self.queue.extend(value)
        elif isinstance(value, bytearray):
            self.sequences.append((value, list(value)))
            return
        elif type(value).__module__ in self.own_names:
            self.note_instance(value)
            return
        elif type(value).__module__ not in QUIET_MODULES:
            self.blind = True
            return
        if type(value).__module__ in self.own_names and hasattr(value, "__dict__"):
            self.note_mapping(value.__dict__)

    def note_mapping(self, mapping):
        # Attributes set by the import system are not the module's own.
        values = [item for key, item in mapping.items() if key not in ("__builtins__", "__loader__", "__spec__")]
        self.mappings.append((mapping, len(mapping), list(mapping.values())))
        self.queue.extend(values)
        if not isinstance(mapping, types.MappingProxyType):
            self.queue.extend(key for key in mapping if not isinstance(key, str))

    def note_function(self, function):
        if function.__module__ not in self.own_names:
            return
        self.functions.append((function, function.__defaults__, function.__code__))
        self.queue.extend(function.__defaults__ or ())
        self.queue.extend((function.__kwdefaults__ or {}).values())
        if function.__dict__:
            self.note_mapping(function.__dict__)
        for cell in function.__closure__ or ():
            try:
                content = cell.cell_contents
            except ValueError:  # not filled yet
                continue
            if not isinstance(content, (types.FunctionType, type)):
                # A cell can be given another value by the function that closes over it: it cannot be watched cheaply.
                self.blind = self.blind or bool(function.__code__.co_freevars and writes_cells(function.__code__))
            self.queue.append(content)

    def note_instance(self, value):
        if hasattr(value, "__dict__"):
            self.note_mapping(value.__dict__)
        for kind in type(value).__mro__:
            slots = vars(kind).get("__slots__", ())
            if slots:
                self.blind = True  # slots have no namespace to compare
                return


def writes_cells(code):
    import dis

    return any(instruction.opname == "STORE_DEREF" for instruction in dis.get_instructions(code))
