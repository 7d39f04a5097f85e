"""Compiles a text that differs from a compiled one within the body of one top-level function or class: only this piece is
compiled, and put into the code of the rest. Trying small changes of a long module takes a fraction of the time so."""

import __future__
import re
import types

HEAD = re.compile(r"(?:async +)?(?:def|class) +(\w+)[^\n]*:[ \t]*\n")
NEXT = re.compile(r"^[^\s#)\]}]", re.M)
FUTURE = 0
for _name in __future__.all_feature_names:
    FUTURE |= getattr(__future__, _name).compiler_flag


def compile_changed(base, code, source, origin):
    """The code of `source`, by that of `base`, both in bytes; None where they are not known to differ in one piece alone."""
    if not hasattr(code, "replace"):
        return None
    try:
        piece = piece_of(base.decode("utf-8"), source.decode("utf-8"))
    except UnicodeDecodeError:
        return None
    if piece is None:
        return None
    line, name, text = piece
    places = [at for at, value in enumerate(code.co_consts) if isinstance(value, types.CodeType) and value.co_name == name]
    if len(places) != 1:
        return None
    try:
        made = compile("\n" * (line - 1) + text, origin, "exec", code.co_flags & FUTURE, dont_inherit=True)
    except SyntaxError:
        # A multi-line string may have ended the piece too early: compile the whole file.
        return None
    own = [value for value in made.co_consts if isinstance(value, types.CodeType)]
    if len(own) != 1 or own[0].co_name != name:
        return None
    consts = list(code.co_consts)
    consts[places[0]] = own[0]
    return code.replace(co_consts=tuple(consts))


def common(left, right):
    """How many characters two texts begin with alike, by halving: slices are compared at once."""
    least, most = 0, min(len(left), len(right))
    while least < most:
        middle = (least + most + 1) // 2
        if left[least:middle] == right[least:middle]:
            least = middle
        else:
            most = middle - 1
    return least


def piece_of(base, source):
    """Line, name and text of the function or class that differs; None where more does, or where it begins."""
    start = common(base, source)
    end = len(base) - common(base[start:][::-1], source[start:][::-1])
    begin = base.rfind("\n", 0, start) + 1
    while begin > 0 and not HEAD.match(base, begin):
        begin = base.rfind("\n", 0, begin - 1) + 1
    head = HEAD.match(base, begin)
    # The head is evaluated by the module's own code: defaults, bases, annotations.
    if head is None or start < head.end():
        return None
    after = NEXT.search(base, base.find("\n", max(end, start)) + 1 or len(base))
    to = after.start() if after else len(base)
    # A second definition on the way would be a piece of its own.
    if NEXT.search(base, head.end(), to):
        return None
    return base.count("\n", 0, begin) + 1, head.group(1), source[begin:len(source) - (len(base) - to)]
