"""The shop's connectors, kept by vehicle or device: one JSON file each beside the device sheets."""

from __future__ import annotations

from pathlib import Path

import msgspec

from zombrel.intake.file import one_line
from zombrel.job.problem import Problem
from zombrel.job.records.kept_plug import KeptPlug
from zombrel.store.prefs import data_root
from zombrel.store.shelf_files import file_of, keep

LARGEST = 2_000_000
"""No connector's file is larger [bytes]."""


def folder() -> Path:
    """Where they are kept."""
    return data_root() / "plugs"


def keep_plug(kept: KeptPlug) -> Path:
    """Write one, over one of the same name.

    Raises:
        Problem: it cannot be written.
    """
    return keep(folder(), kept)


def kept_plugs() -> tuple[tuple[KeptPlug, ...], tuple[str, ...]]:
    """All that can be read, and what is wrong with each that cannot."""
    found, wrong = [], []
    if not folder().is_dir():
        return (), ()
    for path in sorted(folder().glob("*.json")):
        try:
            if path.stat().st_size > LARGEST:
                raise Problem("it is larger than any connector")
            found.append(msgspec.json.decode(path.read_bytes(), type=KeptPlug))
        except (OSError, msgspec.MsgspecError, Problem) as error:
            wrong.append(f"{path.name} cannot be read ({one_line(error)}); it was left as it is.")
    return tuple(found), tuple(wrong)


def throw_plug_away(key: str) -> bool:
    """Take one out of the library; whether it was there."""
    path = file_of(folder(), key)
    there = path.is_file()
    path.unlink(missing_ok=True)
    return there
