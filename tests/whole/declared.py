"""What the core declares: fields and their defaults, parameters, calculations, rules and tables.

A default or a bound that was touched is to be seen in the diff: ``python -m tests.whole.declared``
writes ``declared.json`` anew. The figures that stand by name are in ``figures.py`` beside.
"""

from __future__ import annotations

import importlib
import inspect
import json
import pkgutil
import types
import typing
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
from sqlalchemy.dialects import postgresql, sqlite
from sqlalchemy.schema import CreateIndex, CreateTable

import zombrel
from tests.whole.figures import LEFT_OUT
from zombrel.calc.all import CALCS
from zombrel.findings.rule import RULES
from zombrel.store.book.schema import META

KEPT = Path(__file__).with_name("declared.json")
PLAIN = (bool, int, float, str, type(None), tuple)
CONFIG = ("frozen", "eq", "order", "array_like", "forbid_unknown_fields", "omit_defaults", "tag")
Declared = dict[str, Any]


def declared() -> Declared:
    """By full name."""
    found: Declared = {}
    for module in pkgutil.walk_packages(zombrel.__path__, "zombrel."):
        if not module.name.startswith(LEFT_OUT):
            held = importlib.import_module(module.name)
            for name, thing in sorted(vars(held).items()):
                if typing.get_origin(thing) is typing.Annotated:
                    found[f"type {name}"] = str(thing)
                elif getattr(thing, "__module__", "") == module.name:
                    found |= _of(f"{module.name.removeprefix('zombrel.')}: {name}", thing)
    for name, calc in sorted(CALCS.items()):
        found[f"calc {name}"] = [
            [_said(v) for v in msgspec.structs.astuple(p)] for p in calc.params
        ]
    for name, rule in sorted(RULES.items()):
        found[f"rule {name}"] = [rule.scope, rule.stage, rule.harm, rule.minutes, rule.searches]
    for table in META.sorted_tables:
        for dialect in (sqlite.dialect(), postgresql.dialect()):
            made = [CreateTable(table), *map(CreateIndex, sorted(table.indexes, key=_name))]
            text = [" ".join(str(m.compile(dialect=dialect)).split()) for m in made]
            found[f"table {table.name}, {dialect.name}"] = text
    return found


def _name(index: Any) -> str:
    return str(index.name)


def _of(name: str, thing: Any) -> Declared:
    """What a function or class declares; nothing where all is said by its names."""
    bare = inspect.unwrap(thing) if callable(thing) and not isinstance(thing, type) else thing
    if isinstance(bare, types.FunctionType):
        said = dict(_defaults(bare))
        return {name: said} if said else {}
    if not isinstance(thing, type):
        return {}
    found: Declared = {}
    fields: dict[str, str] = {}
    if issubclass(thing, msgspec.Struct):
        config = thing.__struct_config__
        fields = {"": " ".join(f"{c}={getattr(config, c)}" for c in CONFIG)}
        names, usual = thing.__struct_fields__, thing.__struct_defaults__
        defaults = dict(zip(names[len(names) - len(usual) :], usual, strict=True))
        for field in names:
            default = f" = {_said(defaults[field])}" if field in defaults else ""
            fields[field] = f"{thing.__annotations__.get(field, 'inherited')}{default}"
    else:
        for key, value in sorted(vars(thing).get("_field_defaults", {}).items()):
            fields[key] = _said(value)
        for key, value in sorted(vars(thing).items()):
            if isinstance(value, PLAIN) and not key.startswith("_"):
                fields[key] = _said(value)
    if fields:
        found[name] = fields
    for key, method in sorted(vars(thing).items()):
        own = getattr(method, "fget", None) or getattr(method, "__func__", method)
        if isinstance(own, types.FunctionType) and own.__module__ == thing.__module__:
            found |= _of(f"{name}.{key}", own)
    return found


def _defaults(function: types.FunctionType) -> Iterator[tuple[str, str]]:
    """Those of its parameters that are plain."""
    for parameter in inspect.signature(function).parameters.values():
        if isinstance(parameter.default, PLAIN):
            yield parameter.name, _said(parameter.default)


def _said(value: Any) -> str:
    """A value as it is written; of anything else, what it is."""
    if isinstance(value, tuple):
        return f"({', '.join(_said(v) for v in value)})"
    if isinstance(value, PLAIN):
        return repr(value)
    if isinstance(value, msgspec.Struct):
        return f"{type(value).__name__}{_said(msgspec.structs.astuple(value))}"
    return f"<{getattr(value, '__name__', type(value).__name__)}>"


if __name__ == "__main__":
    lines = [f"{json.dumps(k)}: {json.dumps(v, ensure_ascii=False)}" for k, v in declared().items()]
    KEPT.write_text("{\n" + ",\n".join(lines) + "\n}\n", encoding="utf-8")
