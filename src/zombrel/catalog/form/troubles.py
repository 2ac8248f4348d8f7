"""What is wrong with a part, told by the labels of its form instead of the names in its file."""

from __future__ import annotations

import re
from typing import Any

import msgspec

from zombrel.catalog.form.fields import Path
from zombrel.catalog.form.words import say

_WHERE = re.compile(r"\(in ([\w.\[\]]+)\)\.?$|^([\w.\[\]]+): ")
_STEP = re.compile(r"(\w+)|\[(\d+)\]")


def place_of(text: str) -> Path:
    """The path that a trouble names: ``inputs[0].takes: …`` or ``… (in inputs[0].takes)``."""
    found = _WHERE.search(text)
    where = (found[1] or found[2]) if found is not None else ""
    return tuple(int(m[2]) if m[2] else m[1] for m in _STEP.finditer(where))


def in_words(text: str, record: msgspec.Struct) -> str:
    """A trouble with the pin and the label of the field it is about."""
    path = place_of(text)
    said = _labels(record, path)
    if not said:
        return text
    bare = _WHERE.sub("", text).strip()
    return f"{', '.join(said)}: {bare}"


def _labels(record: Any, path: Path) -> list[str]:
    """Pin and label along a path; none where it leads nowhere."""
    said: list[str] = []
    here = record
    for step in path:
        if isinstance(step, str):
            if not isinstance(here, msgspec.Struct) or step not in here.__struct_fields__:
                return []
            words = say(type(here).__name__, step)
            if words is not None and step not in ("setting", "spec"):
                said.append(words.label)
            here = getattr(here, step)
        else:
            if not isinstance(here, tuple) or step >= len(here):
                return []
            here = here[step]
            name = getattr(here, "pin", "") or getattr(here, "name", "")
            if name:
                said.append(str(name))
    return said
