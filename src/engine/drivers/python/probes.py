"""Tells which lines of the side's files a case ran, by probes that are compiled into its functions.

Before each statement of a function stands the store of a 1 into a byte of one shared array, the statement's own; parts of
an expression that may be passed over (`else` of a conditional, the right of an `and`, the body of a lambda) get one too
where they stand on lines of their own. Nothing is added to any namespace: the array is a constant of the code.

A probe costs some 30 ns, and no function is ever slow as it would be under `sys.settrace`, so that the lines of every
case are known from the one time it runs.
"""

import ast
import dis
import sys
import types
import warnings
from bisect import bisect_left

STORE = "\0side-twin store\0"
MARK = "\0side-twin mark\0"


class Probes:
    """All probes of one process. A set of lines that was met before is known by its number."""

    def __init__(self):
        self.ran = bytearray()
        self.nothing = b""
        # Byte of the array → (file, lines).
        self.places = []
        self.paths = {}

    def compile(self, source, filename, file, lines):
        """As the builtin, with probes for those of `lines` (the executable ones) that stand in functions."""
        tree = ast.parse(source, filename)
        first = len(self.places)
        Instrument(self, file, lines).block(tree.body, inside=False)
        ast.fix_missing_locations(tree)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # about subscripting the text that stands for the array
            code = compile(tree, filename, "exec", dont_inherit=True)
        self.ran.extend(bytes(len(self.places) - first))
        self.nothing = bytes(len(self.ran))
        return self.put_in(code)

    def put_in(self, code):
        stand_ins = {STORE: self.ran, MARK: self.ran.__setitem__}
        constants = []
        for constant in code.co_consts:
            if isinstance(constant, types.CodeType):
                constant = self.put_in(constant)
            elif type(constant) is str and constant in stand_ins:
                constant = stand_ins[constant]
            constants.append(constant)
        return code.replace(co_consts=tuple(constants))

    def add(self, file, lines):
        self.places.append((file, lines))
        return len(self.places) - 1

    def start(self):
        self.ran[:] = self.nothing

    def take(self, reply):
        """Puts into a reply the number of the lines that ran, and the lines themselves the first time."""
        key = bytes(self.ran)
        number = self.paths.get(key)
        if number is None:
            number = self.paths[key] = len(self.paths)
            found = {}
            for at in range(len(key)):
                if key[at]:
                    file, lines = self.places[at]
                    found.setdefault(file, set()).update(lines)
            reply["lines"] = {file: sorted(lines) for file, lines in found.items()}
        reply["path"] = number


class Places:
    """Collects the lines of probes; their numbers count from 0."""

    def __init__(self):
        self.lines = []

    def add(self, _file, lines):
        self.lines.append(tuple(lines))
        return len(self.lines) - 1


def instrument_all(source, filename, file):
    """Code with probes in all of a file, outside functions too, and the lines of each; the array's stand-ins are left in it."""
    lines = executable_lines(compile(source, filename, "exec", dont_inherit=True), inside=True)
    tree = ast.parse(source, filename)
    places = Places()
    body = tree.body
    # Statements that must come first in a file stay first.
    first = 0
    while first < len(body) and (is_docstring(body[first], first) or is_future(body[first])):
        first += 1
    rest = body[first:]
    Instrument(places, file, lines).block(rest, inside=True, begins=False)
    before = set()
    for statement in body[:first]:
        before |= lines & set(range(statement.lineno, statement.end_lineno + 1))
    if before:
        where = body[first] if first < len(body) else body[-1]
        rest.insert(0, Instrument(places, file, lines).store(before, where))
    tree.body = body[:first] + rest
    ast.fix_missing_locations(tree)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # about subscripting the text that stands for the array
        return compile(tree, filename, "exec", dont_inherit=True), tuple(places.lines)


def is_docstring(statement, at):
    return at == 0 and isinstance(statement, ast.Expr) and isinstance(getattr(statement.value, "value", None), str)


def is_future(statement):
    return isinstance(statement, ast.ImportFrom) and statement.module == "__future__" and statement.level == 0


class Instrument:
    def __init__(self, probes, file, lines):
        self.probes = probes
        self.file = file
        self.lines = sorted(lines)

    def within(self, start, end):
        return set(self.lines[bisect_left(self.lines, start):bisect_left(self.lines, end + 1)])

    def block(self, statements, inside, begins=True):
        """Handles a list of statements in place; `inside` a function each gets its probe.

        Where the list `begins` something, its first statement may be a docstring, which must stay first.
        """
        made = []
        for at, statement in enumerate(statements):
            extra = self.statement(statement, inside)
            if inside and not (begins and is_docstring(statement, at)):
                lines = self.own_lines(statement) - extra
                if lines:
                    made.append(self.store(lines, statement))
            made.append(statement)
        statements[:] = made

    def own_lines(self, statement):
        """The executable lines of a statement that are not those of statements within it."""
        start = min([statement.lineno] + [item.lineno for item in getattr(statement, "decorator_list", [])])
        lines = self.within(start, statement.end_lineno)
        for child in children(statement):
            lines -= self.within(child.lineno, child.end_lineno)
        return lines

    def statement(self, statement, inside):
        """Goes into a statement; gives the lines that belong to probes inside its expressions."""
        extra = set()
        is_function = isinstance(statement, (ast.FunctionDef, ast.AsyncFunctionDef))
        for name, value in ast.iter_fields(statement):
            if isinstance(value, list) and value and isinstance(value[0], ast.stmt):
                self.block(value, inside or is_function)
            elif isinstance(value, list):
                for item in value:
                    if isinstance(item, (ast.ExceptHandler, getattr(ast, "match_case", ast.ExceptHandler))):
                        self.handler(item, inside)
                    elif isinstance(item, ast.AST):
                        extra |= self.expression(item, inside, statement.lineno)
            elif isinstance(value, ast.AST):
                extra |= self.expression(value, inside, statement.lineno)
        return extra

    def handler(self, handler, inside):
        """An `except` or `case` line runs with its body, as far as is told here."""
        first = handler.body[0]
        self.block(handler.body, inside)
        start = handler.lineno if isinstance(handler, ast.ExceptHandler) else handler.pattern.lineno
        lines = self.within(start, first.lineno - 1) if inside else set()
        if lines:
            handler.body.insert(0, self.store(lines, first))

    def expression(self, node, inside, line):
        """Wraps the parts of an expression that may be passed over and stand on later lines than what leads to them."""
        extra = set()
        for name, value in ast.iter_fields(node):
            items = value if isinstance(value, list) else [value]
            for at, item in enumerate(items):
                if not isinstance(item, ast.AST):
                    continue
                skippable = may_be_skipped(node, name, at)
                deeper = inside or isinstance(node, ast.Lambda)
                starts = getattr(item, "lineno", line)
                if skippable and deeper and starts > line and isinstance(item, ast.expr):
                    below = self.expression(item, deeper, item.end_lineno)
                    lines = self.within(starts, item.end_lineno) - below
                    extra |= lines | below
                    if lines:
                        wrapped = self.wrap(lines, item)
                        if isinstance(value, list):
                            value[at] = wrapped
                        else:
                            setattr(node, name, wrapped)
                else:
                    extra |= self.expression(item, deeper, max(line, starts) if skippable else line)
        return extra

    def store(self, lines, where):
        number = self.probes.add(self.file, sorted(lines))
        target = ast.Subscript(value=ast.Constant(value=STORE), slice=index(number), ctx=ast.Store())
        return located(ast.Assign(targets=[target], value=ast.Constant(value=1), type_comment=None), where)

    def wrap(self, lines, item):
        number = self.probes.add(self.file, sorted(lines))
        call = ast.Call(
            func=ast.Constant(value=MARK), args=[ast.Constant(value=number), ast.Constant(value=1)], keywords=[]
        )
        return located(ast.BoolOp(op=ast.Or(), values=[call, item]), item)


def index(number):
    constant = ast.Constant(value=number)
    # Before Python 3.9 a plain subscript stood in a node of its own.
    return constant if sys.version_info >= (3, 9) else ast.Index(value=constant)


def located(made, where):
    for node in ast.walk(made):
        if not hasattr(node, "lineno") and isinstance(node, (ast.expr, ast.stmt)):
            ast.copy_location(node, where)
            node.end_lineno = node.lineno
            node.end_col_offset = node.col_offset
    return made


def may_be_skipped(node, name, at):
    if isinstance(node, ast.IfExp):
        return name in ("body", "orelse")
    if isinstance(node, ast.BoolOp):
        return name == "values" and at > 0
    if isinstance(node, ast.Lambda):
        return name == "body"
    if isinstance(node, (ast.ListComp, ast.SetComp, ast.GeneratorExp)):
        return name == "elt"
    return isinstance(node, ast.DictComp) and name in ("key", "value")


def children(statement):
    for name in ("body", "orelse", "finalbody", "handlers", "cases"):
        for item in getattr(statement, name, ()):
            if isinstance(item, ast.stmt):
                yield item
            else:
                yield from item.body
                if isinstance(item, ast.ExceptHandler) and item.lineno:
                    yield ast.Pass(lineno=item.lineno, end_lineno=item.body[0].lineno - 1)
                elif not isinstance(item, ast.ExceptHandler):
                    yield ast.Pass(lineno=item.pattern.lineno, end_lineno=item.body[0].lineno - 1)


def lines_of(code):
    """The lines that a code object has instructions for, those of the functions within it aside."""
    if hasattr(code, "co_lines"):
        return {line for _start, _end, line in code.co_lines() if line}
    return {line for _offset, line in dis.findlinestarts(code)}


def executable_lines(code, inside):
    """Class bodies run with their module; bodies of functions only when they are called."""
    lines = lines_of(code)
    for constant in code.co_consts:
        if isinstance(constant, types.CodeType) and (inside or not constant.co_flags & 0x2):
            lines |= executable_lines(constant, inside)
    return lines
