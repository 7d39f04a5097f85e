"""Python values to and from Side Twin's value notation (docs/formats.md, section 3)."""

import array
import base64
import collections
import collections.abc
import datetime
import decimal
import enum
import fractions
import inspect
import types
from itertools import repeat
from operator import is_

MAX_ITEMS = 10_000
MAX_DEPTH = 150
SAFE = 2**53 - 1
INFINITY = float("inf")


class CutList(list):
    """What was read of an iterator that had more than MAX_ITEMS items."""


def name_of(kind):
    """The name of a class, whatever its metaclass makes of `__name__`."""
    return type.__dict__["__name__"].__get__(kind)


def is_awaitable(value):
    return isinstance(value, types.CoroutineType)


def await_value(value):
    import asyncio

    return asyncio.run(value)


def is_iterator(value):
    return hasattr(type(value), "__next__") and not isinstance(value, (str, bytes, dict, list))


def is_async_iterator(value):
    return hasattr(type(value), "__anext__")


async def read_async_iterator(value):
    items = []
    async for item in value:
        if len(items) == MAX_ITEMS:
            return CutList(items)
        items.append(item)
    return items


def read_iterator(value):
    items = []
    for item in value:
        if len(items) == MAX_ITEMS:
            return CutList(items)
        items.append(item)
    return items


def encode(value, path=()):
    kind = type(value)
    if kind is str:
        return value if value.isascii() else encode_text(value)
    if kind is int:
        return value if -SAFE <= value <= SAFE else {"~int": big_int_text(value)}
    if value is None or kind is bool:
        return value
    if kind is float:
        return encode_float(value)
    # By identity, and without id(), which the audit hook of the guard would hear of.
    if path and any(map(is_, path, repeat(value))):
        return {"~ref": next(depth for depth, item in enumerate(path) if item is value)}
    if len(path) > MAX_DEPTH:
        return {"~opaque": "<nested deeper than %d>" % MAX_DEPTH}
    encoder = EXACT.get(kind) or find_encoder(value)
    return encoder(value, path + (value,))


def encode_text(value):
    try:
        value.encode("utf-8")
        return value
    except UnicodeEncodeError:
        return {"~utf16": base64.b64encode(value.encode("utf-16-le", "surrogatepass")).decode("ascii")}


def encode_float(value):
    if value.is_integer():
        return {"~num": "-0"} if value == 0 and str(value)[0] == "-" else {"~float": repr(value)}
    if value != value:
        return {"~num": "NaN"}
    if value == INFINITY or value == -INFINITY:
        return {"~num": "Infinity" if value > 0 else "-Infinity"}
    return value


def big_int_text(value):
    # str() of a huge int is refused by default (CVE-2020-10735); the hexadecimal way round is not.
    try:
        return str(value)
    except ValueError:
        return str(decimal.Context(prec=decimal.MAX_PREC).create_decimal(value))


def encode_list(value, path):
    return [encode(item, path) for item in value]


def encode_cut(value, path):
    return {"~list": encode_list(value, path), "cut": True}


def encode_tuple(value, path):
    return {"~tuple": [encode(item, path) for item in value]}


def encode_named_tuple(value, path):
    fields = {name: encode(getattr(value, name), path) for name in value._fields}
    return {"~obj": name_of(type(value)), "fields": fields, "items": [encode(item, path) for item in value]}


def encode_set(value, path):
    items = [encode(item, path) for item in value]
    return {"~set": sorted(items, key=repr)}


def encode_dict(value, path):
    plain = {}
    for key, item in value.items():
        if type(key) is not str or not (key.isascii() or encode_text(key) is key):
            return {"~map": [[encode(key, path), encode(item, path)] for key, item in value.items()]}
        plain[key] = encode(item, path)
    tagged = (len(plain) == 1 and next(iter(plain)).startswith("~")) or "~obj" in plain or "~list" in plain
    return {"~esc": plain} if tagged else plain


def encode_enum(value, path):
    return {"~obj": name_of(type(value)), "fields": {"value": encode(value.value, path)}}


def encode_exception(value, _path):
    return {"~obj": name_of(type(value)), "fields": {"message": encode(str(value))}}


def encode_timedelta(value, _path):
    fields = {"days": value.days, "seconds": value.seconds, "microseconds": value.microseconds}
    return {"~obj": "timedelta", "fields": fields}


def encode_object(value, path):
    fields = {}
    for kind in reversed(type(value).__mro__):
        slots = kind.__dict__.get("__slots__", ())
        for name in (slots,) if isinstance(slots, str) else slots:
            if name not in ("__dict__", "__weakref__") and hasattr(value, name):
                fields[name] = encode(getattr(value, name), path)
    for name, item in getattr(value, "__dict__", {}).items():
        fields[str(name)] = encode(item, path)
    return {"~obj": name_of(type(value)), "fields": fields}


def encode_opaque(value, _path):
    name = getattr(value, "__name__", "")
    return {"~opaque": "<%s%s>" % (name_of(type(value)), " " + name if name and isinstance(name, str) else "")}


def encode_bytes(value, _path):
    return {"~bytes": base64.b64encode(bytes(value)).decode("ascii")}


# A subclass may give out anything by these names.
DECIMAL_TEXT = decimal.Decimal.__str__
TIME_TEXT = datetime.datetime.isoformat
DATE_TEXT = datetime.date.isoformat

EXACT = {
    list: encode_list,
    tuple: encode_tuple,
    dict: encode_dict,
    set: encode_set,
    frozenset: encode_set,
    CutList: encode_cut,
    bytes: encode_bytes,
    bytearray: encode_bytes,
    memoryview: encode_bytes,
    range: encode_list,
    decimal.Decimal: lambda value, _path: {"~dec": DECIMAL_TEXT(value)},
    datetime.datetime: lambda value, _path: {"~time": TIME_TEXT(value)},
    datetime.date: lambda value, _path: {"~date": DATE_TEXT(value)},
    datetime.time: lambda value, _path: {"~obj": "time", "fields": {"value": value.isoformat()}},
    datetime.timedelta: encode_timedelta,
    complex: lambda value, path: {"~obj": "complex", "fields": {"real": encode(value.real), "imag": encode(value.imag)}},
    fractions.Fraction: lambda value, path: {
        "~obj": "Fraction",
        "fields": {"numerator": encode(value.numerator), "denominator": encode(value.denominator)},
    },
    collections.deque: encode_list,
    array.array: encode_list,
    types.FunctionType: encode_opaque,
    types.BuiltinFunctionType: encode_opaque,
    types.MethodType: encode_opaque,
    types.ModuleType: encode_opaque,
    type: encode_opaque,
}

# Asked in order for what is not exactly one of the types above: subclasses and protocols.
FAMILIES = (
    (enum.Enum, encode_enum),
    (datetime.datetime, EXACT[datetime.datetime]),
    (datetime.date, EXACT[datetime.date]),
    (bool, lambda value, _path: bool(value)),
    (int, lambda value, _path: encode(int(value))),
    (float, lambda value, _path: encode(float(value))),
    (str, lambda value, _path: encode_text(str.__str__(value))),
    ((bytes, bytearray), encode_bytes),
    (decimal.Decimal, EXACT[decimal.Decimal]),
    (dict, encode_dict),
    (types.MappingProxyType, lambda value, path: encode_dict(dict(value), path)),
    (list, encode_list),
    ((set, frozenset), encode_set),
    (collections.deque, encode_list),
    (collections.abc.KeysView, encode_list),
    (collections.abc.ValuesView, encode_list),
    (collections.abc.ItemsView, encode_list),
    (BaseException, encode_exception),
    (type, encode_opaque),
)


def find_encoder(value):
    if isinstance(value, tuple):
        return encode_named_tuple if hasattr(value, "_fields") else encode_tuple
    for family, encoder in FAMILIES:
        if isinstance(value, family):
            return encoder
    if is_iterator(value):
        return lambda iterator, path: EXACT[type(read := read_iterator(iterator))](read, path)
    if callable(value) and not hasattr(value, "__dict__"):
        return encode_opaque
    if inspect.isroutine(value) or inspect.ismodule(value) or inspect.isawaitable(value):
        return encode_opaque
    if hasattr(value, "__dict__") or any("__slots__" in vars(kind) for kind in type(value).__mro__[:-1]):
        return encode_object
    return encode_opaque


def decode(value, module=None, objects=None):
    kind = type(value)
    if kind is list:
        return [decode(item, module, objects) for item in value]
    if kind is not dict:
        return value
    if len(value) <= 3:
        for tag in value:
            if tag[:1] == "~" and tag in DECODERS and (len(value) == 1 or tag in ("~obj", "~list", "~callback")):
                return DECODERS[tag](value, module, objects)
    return decode_fields(value, module, objects)


def decode_fields(fields, module, objects):
    # A key that holds undefined is not a key: a dictionary could only hold None there, which is another thing.
    return {key: decode(item, module, objects) for key, item in fields.items() if item != UNDEFINED}


UNDEFINED = {"~none": "undefined"}


def decode_pairs(value, module, objects):
    return {hashable(decode(key, module, objects)): decode(item, module, objects) for key, item in value["~map"]}


def hashable(key):
    return tuple(hashable(item) for item in key) if isinstance(key, list) else key


def decode_object(value, module, objects):
    fields = {key: decode(item, module, objects) for key, item in value.get("fields", {}).items()}
    kind = getattr(module, value["~obj"], None)
    if not isinstance(kind, type):
        return types.SimpleNamespace(**fields)
    if issubclass(kind, enum.Enum):
        return kind(fields["value"])
    if issubclass(kind, tuple):
        return kind(**fields) if fields else kind(*[decode(item, module, objects) for item in value.get("items", [])])
    if issubclass(kind, BaseException):
        return kind(*fields.values())
    made = kind.__new__(kind)
    for name, item in fields.items():
        object.__setattr__(made, name, item)  # frozen dataclasses refuse the plain way
    return made


def decode_escaped(value, module, objects):
    return decode_fields(value["~esc"], module, objects)


def decode_time(value, _module, _objects):
    text = value["~time"]
    if text.endswith("Z"):
        text = text[:-1] + "+00:00"
    return datetime.datetime.fromisoformat(text)


# Under this name the objects of a request hold its callbacks; no case can name an object so.
CALLBACKS = object()

DECODERS = {
    "~num": lambda value, _m, _o: float(value["~num"]),
    "~int": lambda value, _m, _o: int(value["~int"]),
    "~float": lambda value, _m, _o: float(value["~float"]),
    "~dec": lambda value, _m, _o: decimal.Decimal(value["~dec"]),
    "~bytes": lambda value, _m, _o: base64.b64decode(value["~bytes"]),
    "~date": lambda value, _m, _o: datetime.date.fromisoformat(value["~date"]),
    "~time": decode_time,
    "~utf16": lambda value, _m, _o: base64.b64decode(value["~utf16"]).decode("utf-16-le", "surrogatepass"),
    "~set": lambda value, module, objects: {hashable(decode(item, module, objects)) for item in value["~set"]},
    "~list": lambda value, module, objects: [decode(item, module, objects) for item in value["~list"]],
    "~tuple": lambda value, module, objects: tuple(decode(item, module, objects) for item in value["~tuple"]),
    "~map": decode_pairs,
    "~obj": decode_object,
    "~none": lambda _value, _m, _o: None,
    "~esc": decode_escaped,
    "~callback": lambda value, _m, objects: objects[CALLBACKS].make(value),
    "~as": lambda value, _m, objects: (objects or {})[value["~as"]],
}
