"""What is compiled from text at every start is compiled once, and kept with our bytecode.

PySide6 carries Python modules inside its binary, as text: to compile them takes a tenth of the time
until there is a window, and to compile the regular expressions that it and others begin with takes
another. They are kept as the interpreter keeps ours, in ``__pycache__``, together with the text
they came from; another text is compiled anew.
"""

import __future__

import _sre  # type: ignore[import-not-found]
import builtins
import importlib.util
import marshal
import os
import re
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import CodeType
from typing import Any

FUTURE = sum(getattr(__future__, name).compiler_flag for name in __future__.all_feature_names)
"""Flags of a caller that what it compiles inherits (Python reference, ``compile``)."""
Modules = dict[str, tuple[Any, int, CodeType]]
"""By file name: its text, the flags it was compiled with, and what came of it."""
Patterns = dict[tuple[str | bytes, int], tuple[Any, ...]]
"""By text and flags: what the matching engine is given to make a pattern of."""


def beside(module: str) -> Path:
    """Where the bytecode of a library is kept that a module of ours imports."""
    name = str(Path(module).with_name(f"{Path(module).stem}_library.py"))
    return Path(importlib.util.cache_from_source(name))


@contextmanager
def once(kept: Path) -> Iterator[None]:
    """Within it whole modules and patterns are compiled once.

    ``kept`` holds them from one start to the next.
    """
    modules, patterns = _read(kept)
    had = len(patterns)
    fresh: list[str] = []
    engine: Any = re._compiler  # type: ignore[attr-defined]
    own, own_pattern = builtins.compile, engine.compile
    builtins.compile = _modules(modules, fresh)
    engine.compile = _patterns(patterns, own_pattern)
    try:
        yield
    finally:
        builtins.compile, engine.compile = own, own_pattern
    if (fresh or len(patterns) > had) and not sys.dont_write_bytecode:
        _write(kept, modules, patterns)


def _modules(known: Modules, fresh: list[str]) -> Callable[..., Any]:
    """Python's ``compile``, which knows some; it names those that are new."""
    own = builtins.compile

    def compiled(source: Any, filename: Any, mode: str, *more: Any, **named: Any) -> Any:
        if mode != "exec" or more or named or type(source) not in (str, bytes):
            return own(source, filename, mode, *more, **named)
        flags = sys._getframe(1).f_code.co_flags & FUTURE
        found = known.get(str(filename))
        if found is None or found[:2] != (source, flags):
            code = own(source, filename, mode, flags, dont_inherit=True)
            found = known[str(filename)] = (source, flags, code)
            fresh.append(str(filename))
        return found[2]

    return compiled


def _patterns(known: Patterns, own: Callable[..., Any]) -> Callable[..., Any]:
    """The compiler of ``re``, which knows some."""

    def compiled(text: Any, flags: int = 0) -> Any:
        if type(text) not in (str, bytes) or flags & (re.DEBUG | re.LOCALE):
            return own(text, flags)  # one prints, the other follows the user's settings
        key = text, int(flags)  # flags and code are named kinds of ``int``, which are not kept
        if key in known:
            return _sre.compile(*known[key])
        with _told() as given:
            made = own(text, flags)
        shown, effective, code, *groups = given[-1]
        known[key] = (shown, int(effective), [int(c) for c in code], *groups)
        return made

    return compiled


@contextmanager
def _told() -> Iterator[list[tuple[Any, ...]]]:
    """What the matching engine is given meanwhile."""
    given: list[tuple[Any, ...]] = []
    own = _sre.compile

    def told(*of: Any) -> Any:
        given.append(of)
        return own(*of)

    _sre.compile = told
    try:
        yield given
    finally:
        _sre.compile = own


def _read(kept: Path) -> tuple[Modules, Patterns]:
    """What is kept; nothing when it cannot be read, or is not what was written."""
    with suppress(OSError, EOFError, ValueError, TypeError):
        tag, modules, patterns = marshal.loads(kept.read_bytes())
        if tag == _tag():
            return dict(modules), dict(patterns)
    return {}, {}


def _write(kept: Path, modules: Modules, patterns: Patterns) -> None:
    """Put it there as a whole or not at all: a start must not fail over it."""
    part = kept.with_suffix(f".{os.getpid()}")
    with suppress(OSError, ValueError):
        kept.parent.mkdir(exist_ok=True)
        part.write_bytes(marshal.dumps((_tag(), modules, patterns)))
        part.replace(kept)
    with suppress(OSError):
        part.unlink()


def _tag() -> bytes:
    """What another interpreter compiled is none of ours."""
    return importlib.util.MAGIC_NUMBER + sys.version.encode()
