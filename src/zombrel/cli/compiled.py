"""What a library compiles from text at every start is compiled once, and kept with our bytecode.

PySide6 carries Python modules inside its binary, as text: to compile them takes a tenth of the time
until there is a window. They are kept as the interpreter keeps ours, in ``__pycache__``, together
with the text they came from; another text is compiled anew.
"""

import __future__

import builtins
import importlib.util
import marshal
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import CodeType
from typing import Any

FUTURE = sum(getattr(__future__, name).compiler_flag for name in __future__.all_feature_names)
"""Flags of a caller that what it compiles inherits (Python reference, ``compile``)."""
Known = dict[str, tuple[Any, int, CodeType]]
"""By file name: its text, the flags it was compiled with, and what came of it."""


def beside(module: str) -> Path:
    """Where the bytecode of a library is kept that a module of ours imports."""
    name = str(Path(module).with_name(f"{Path(module).stem}_library.py"))
    return Path(importlib.util.cache_from_source(name))


@contextmanager
def once(kept: Path) -> Iterator[None]:
    """Within it whole modules are compiled once; ``kept`` holds them from one start to the next."""
    known = _read(kept)
    own, fresh = builtins.compile, False

    def compiled(source: Any, filename: Any, mode: str, *more: Any, **named: Any) -> Any:
        nonlocal fresh
        if mode != "exec" or more or named or type(source) not in (str, bytes):
            return own(source, filename, mode, *more, **named)
        flags = sys._getframe(1).f_code.co_flags & FUTURE
        found = known.get(str(filename))
        if found is None or found[:2] != (source, flags):
            code = own(source, filename, mode, flags, dont_inherit=True)
            found = known[str(filename)] = (source, flags, code)
            fresh = True
        return found[2]

    builtins.compile = compiled
    try:
        yield
    finally:
        builtins.compile = own
    if fresh and not sys.dont_write_bytecode:
        _write(kept, known)


def _read(kept: Path) -> Known:
    """What is kept; nothing when it cannot be read, or is not what was written."""
    with suppress(OSError, EOFError, ValueError, TypeError):
        tag, known = marshal.loads(kept.read_bytes())
        if tag == _tag():
            return dict(known)
    return {}


def _write(kept: Path, known: Known) -> None:
    """Put it there as a whole or not at all: a start must not fail over it."""
    part = kept.with_suffix(f".{os.getpid()}")
    with suppress(OSError):
        kept.parent.mkdir(exist_ok=True)
        part.write_bytes(marshal.dumps((_tag(), known)))
        part.replace(kept)
    with suppress(OSError):
        part.unlink()


def _tag() -> bytes:
    """Bytecode of another interpreter is none of ours."""
    return importlib.util.MAGIC_NUMBER
