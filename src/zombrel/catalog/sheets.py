"""Device sheets, shipped and the user's own."""

from __future__ import annotations

import inspect
from pathlib import Path
from typing import Any

import msgspec

from zombrel.catalog import DATA
from zombrel.catalog.parse import parse_sheet
from zombrel.intake.file import take
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet

MAX_BYTES = 1_000_000


def read_sheet(path: Path) -> DeviceSheet:
    """Read one device sheet.

    Raises:
        Problem: unreadable, or a field is wrong; the text names file and field.
    """
    data = take(path, MAX_BYTES, "device sheet")
    try:
        return parse_sheet(data)
    except Problem as problem:
        raise Problem(
            f"Device sheet {path.name}: {problem} The schema is catalog/data/sheet.schema.json."
        ) from problem


def shelf(user_folder: Path | None = None) -> tuple[tuple[DeviceSheet, ...], tuple[str, ...]]:
    """All sheets, shipped first, then those in ``user_folder``, and what could not be read.

    A user's sheet with the id of a shipped one replaces it.
    """
    found: dict[str, DeviceSheet] = {}
    troubles = []
    folders = [DATA / "sheets", *([user_folder] if user_folder is not None else [])]
    for folder in folders:
        for path in sorted(folder.glob("*.json")) if folder.is_dir() else ():
            try:
                sheet = read_sheet(path)
            except Problem as problem:
                troubles.append(str(problem))
                continue
            found[sheet.id] = sheet
    return tuple(found.values()), tuple(troubles)


def sheet_schema() -> dict[str, Any]:
    """JSON Schema of a device sheet."""
    return schema_of(DeviceSheet)


def schema_of(kind: Any) -> dict[str, Any]:
    """JSON Schema of a record; its texts are docstrings, indented alike under every Python."""
    return _cleaned(msgspec.json.schema(kind))  # type: ignore[no-any-return]


def _cleaned(node: Any) -> Any:
    if isinstance(node, dict):
        return {
            k: inspect.cleandoc(v) if k == "description" and isinstance(v, str) else _cleaned(v)
            for k, v in node.items()
        }
    return [_cleaned(v) for v in node] if isinstance(node, list) else node
