"""Many files into a new folder: all of them, or none."""

from __future__ import annotations

import os
import shutil
from collections.abc import Mapping
from pathlib import Path

from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically


def write_folder(folder: Path, files: Mapping[str, bytes]) -> None:
    """Write ``files`` by name into ``folder``, which appears once they all lie in it.

    Raises:
        Problem: there is such a folder already, or it cannot be written.
    """
    if folder.exists():
        raise Problem(f"{folder} is there already: take it away, or choose another place.")
    part = folder.with_name(f".{folder.name}.part-{os.getpid()}")
    try:
        part.mkdir(parents=True)
        for name, data in files.items():
            write_atomically(part / name, data)
        part.rename(folder)
    except OSError as error:
        raise Problem(f"{folder} cannot be written: {error.strerror or error}.") from error
    finally:
        shutil.rmtree(part, ignore_errors=True)
