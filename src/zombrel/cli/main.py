"""Dispatch of sub-commands; each imports only what it needs."""

from __future__ import annotations

import errno
import importlib
import math
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from zombrel.job.problem import Problem
from zombrel.units import Units, words

USAGE = """usage:
  ./zombrel [JOB.zjob]            open the window, perhaps on a job
  ./zombrel --demo                open the window on the demo job
  ./zombrel calc --list           describe all calculations
  ./zombrel calc NAME key=value   calculate, JSON on stdout
  ./zombrel report JOB --owner F.pdf --dossier F.pdf [--html F] [--all FOLDER] [--paper Letter]
  ./zombrel seal JOB --by NAME [--because WORDS], or seal JOB --out F.zjob for what was signed
  ./zombrel diff A B, or diff JOB for what changed since it was signed
  ./zombrel book find "words" | index | use | back | week | order | backup | restore | check
  ./zombrel shared list | put | fetch | send | hold | drop | holds | beside
  ./zombrel shared allow | forbid | admit | expel   who may what in a book on a server
  ./zombrel merge BASE THEIRS MINE --out F.zjob
  ./zombrel export JOB --wires F.csv --cuts F.csv --pins F.csv --parts F.csv --labels F.pdf
                   --drawing F.svg --plan F.ics [--paper Letter] [--force]
  ./zombrel edit JOB --out F.zjob [--settle] [--set PATH JSON] [--remove PATH]
                   [--prove STEP "v1,v2"] [--force]
  ./zombrel simulate JOB --drive F.csv --out F.csv [--faults F.json] [--force]
  ./zombrel log FILE [--info] [--spots] [--to G.csv|G.gpx] [--unit column=km/h] [--dbc F.dbc]
  ./zombrel bench [--judgement | --diagnose | --logs | --book]   figures against their targets
  ./zombrel screenshots           remake docs/screenshots from the demo job
options of the window: --quit-when-shown, --night"""


def main(argv: Sequence[str]) -> int:
    """Run a command; 0 when it worked, 2 after a sentence on stderr."""
    try:
        code = _dispatch(list(argv))
        if sys.stdout is not None:
            sys.stdout.flush()  # what still waits in the buffer can fail as well, and must say so
        return code
    except Problem as problem:
        print(words(str(problem), Units()), file=sys.stderr)
        return 2
    except BrokenPipeError:  # who reads us has seen enough
        _nowhere()
        return 1
    except OSError as error:
        if error.errno != errno.ENOSPC:
            raise
        print("The disk is full: make room on it, then ask again.", file=sys.stderr)
        _nowhere()
        return 2


def _nowhere() -> None:
    """What still waits in the buffer goes nowhere, so that leaving does not fail over it."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def _dispatch(argv: list[str]) -> int:
    command = argv[0] if argv else ""
    if command in ("-h", "--help", "help"):
        print(USAGE)
        return 0
    if command == "calc":
        return _calc(argv[1:])
    if command in COMMANDS:
        module, name = COMMANDS[command]
        return int(getattr(importlib.import_module(module), name)(argv[1:]))
    return _window(argv)


COMMANDS = {
    "report": ("zombrel.cli.report", "report"),
    "export": ("zombrel.cli.export", "export"),
    "edit": ("zombrel.cli.edit", "edit"),
    "bench": ("zombrel.cli.bench", "bench"),
    "simulate": ("zombrel.cli.simulate", "simulate"),
    "log": ("zombrel.cli.log", "log"),
    "seal": ("zombrel.cli.seal", "seal"),
    "diff": ("zombrel.cli.seal", "diff"),
    "book": ("zombrel.cli.book", "book"),
    "shared": ("zombrel.cli.shared", "shared"),
    "merge": ("zombrel.cli.shared", "merge"),
    "screenshots": ("zombrel.ui.shots", "take"),
}
"""Sub-commands, loaded when asked for: (module, function)."""


def _calc(typed: list[str]) -> int:
    import json

    from zombrel.calc.all import describe, run, split

    if not typed:
        raise Problem("calc needs a name: calc NAME key=value …, or calc --list.")
    if typed == ["--list"]:
        print(json.dumps(describe(), indent=1, ensure_ascii=False))
        return 0
    print(json.dumps(_finite(run(typed[0], split(typed[1:]))), ensure_ascii=False, allow_nan=False))
    return 0


def _finite(value: object) -> object:
    """``value`` with what JSON cannot say, an endless resistance for one, as null."""
    if isinstance(value, float) and not math.isfinite(value):
        return None
    if isinstance(value, dict):
        return {k: _finite(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_finite(v) for v in value]
    return value


def _window(argv: list[str]) -> int:
    flags = {a for a in argv if a.startswith("--")}
    files = [a for a in argv if not a.startswith("--")]
    unknown = flags - {"--demo", "--quit-when-shown", "--night"}
    if unknown or len(files) > 1:
        raise Problem(f"{' '.join(sorted(unknown) or files[1:])} is not understood.\n{USAGE}")
    if "--demo" in flags and files:
        raise Problem("--demo opens the demo job; leave out the file or --demo.")
    if not any(os.environ.get(v) for v in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        raise Problem(
            "There is no display to open a window on: log in to a desktop, or set "
            "QT_QPA_PLATFORM=offscreen to run without one."
        )
    from zombrel.cli.warm import warm

    warm()
    from zombrel.ui.app import run

    return run(
        path=Path(files[0]) if files else None,
        demo="--demo" in flags,
        quit_when_shown="--quit-when-shown" in flags,
        night="--night" in flags,
    )
