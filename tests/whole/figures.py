"""Every figure that stands by name in the core, held as it is.

A threshold, a table or a usual value that was touched is to be seen in the diff: ``python -m
tests.whole.figures`` writes ``figures.json`` anew. That the figures are right is said where they
stand, with their sources, and is the matter of the other tests.
"""

from __future__ import annotations

import importlib
import json
import pkgutil
from pathlib import Path
from typing import Any

import msgspec

import zombrel
from zombrel.job.value import Value

KEPT = Path(__file__).with_name("figures.json")
LEFT_OUT = ("zombrel.ui", "zombrel.cli", "zombrel.__main__")
DEEPEST = 4


def figures() -> dict[str, Any]:
    """By module and name: numbers, texts by them, lists and tables of such."""
    found: dict[str, Any] = {}
    for module in pkgutil.walk_packages(zombrel.__path__, "zombrel."):
        if module.name.startswith(LEFT_OUT):
            continue
        held = importlib.import_module(module.name)
        for name, value in sorted(vars(held).items()):
            if not name.strip("_").isupper() or name.startswith("__"):
                continue
            kept = _kept(value, DEEPEST)
            if kept is not None and _origin(value, held.__name__):
                found[f"{module.name}: {name}"] = kept
    return json.loads(json.dumps(found, ensure_ascii=False))  # type: ignore[no-any-return]


def _origin(value: object, module: str) -> bool:
    """Not a record of a class from elsewhere that was only imported."""
    return getattr(type(value), "__module__", module) in ("builtins", module)


def _kept(value: Any, deep: int) -> Any:
    """What is kept of a value; None when it holds no figure."""
    if value is None or deep == 0:
        return None
    if isinstance(value, int | float):  # yes and no, too
        return value if isinstance(value, int) else repr(value)
    if isinstance(value, Value):
        value = msgspec.structs.astuple(value)
    if isinstance(value, msgspec.Struct):
        return _kept(msgspec.structs.asdict(value), deep)
    if type(value) is dict:  # one of a kind of its own is filled meanwhile
        parts = {str(k): _kept(v, deep - 1) for k, v in value.items()}
        kept = {k: v for k, v in parts.items() if v is not None}
        return kept or None
    if isinstance(value, tuple):  # a list is something kept meanwhile
        items = [_kept(v, deep - 1) for v in value]
        return items if any(v is not None for v in items) else None
    return None


if __name__ == "__main__":
    lines = [f"{json.dumps(k)}: {json.dumps(v, ensure_ascii=False)}" for k, v in figures().items()]
    KEPT.write_text("{\n" + ",\n".join(lines) + "\n}\n")
