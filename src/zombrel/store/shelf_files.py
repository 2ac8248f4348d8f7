"""The user's own device sheets and sources: one JSON file each, written whole or not at all."""

from __future__ import annotations

from pathlib import Path

import msgspec

from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.job.records.kept_plug import KeptPlug
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import Source
from zombrel.store.atomic import write_atomically


def text_of(item: msgspec.Struct, whole: bool = False) -> str:
    """A record as the JSON text a person edits; defaults are left out unless ``whole``."""
    full = msgspec.to_builtins(item)
    if whole:
        return msgspec.json.format(msgspec.json.encode(full), indent=2).decode()
    return msgspec.json.format(msgspec.json.encode(_short(item, full)), indent=2).decode()


def _short(item: object, full: object) -> object:
    """``full`` without the fields that stand at their defaults."""
    if isinstance(item, msgspec.Struct) and isinstance(full, dict):
        out: dict[str, object] = {}
        tag = item.__struct_config__.tag
        if tag:
            out["type"] = tag
        for field in msgspec.structs.fields(type(item)):
            value = getattr(item, field.name)
            if value == field.default:
                continue
            out[field.name] = _short(value, full[field.name])
        return out
    if isinstance(item, tuple) and isinstance(full, list | tuple):
        return [_short(a, b) for a, b in zip(item, full, strict=True)]
    return full


def file_of(folder: Path, key: str) -> Path:
    """Where the item with id ``key`` is kept."""
    return folder / file_name(key, ".json", "unnamed")


def keep(folder: Path, item: DeviceSheet | Source | KeptPlug) -> Path:
    """Write an item into ``folder``; raises Problem when that fails."""
    path = file_of(folder, item.id)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        write_atomically(path, (text_of(item) + "\n").encode())
    except OSError as error:
        raise Problem(f"{path} cannot be written: {error.strerror}.") from error
    return path


def throw_away(folder: Path, key: str) -> str | None:
    """Take an item out of ``folder``; its text, so that it can be put back, or None."""
    text = read_own(folder, key)
    if text is not None:
        file_of(folder, key).unlink(missing_ok=True)
    return text


def read_own(folder: Path, key: str) -> str | None:
    """The text of the user's own item; None when there is none."""
    try:
        return file_of(folder, key).read_text(encoding="utf-8")
    except OSError:
        return None


def is_own(folder: Path, key: str) -> bool:
    """Whether the user has a file for ``key``."""
    return file_of(folder, key).is_file()
