"""The command line: one table of commands; each is imported when it is asked for.

A command is a module with ``declare(parser)``, which says what it takes, and ``run(asked)``, which
does it and gives the exit code.
"""

from __future__ import annotations

import errno
import gc
import importlib
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from zombrel import __version__
from zombrel.cli.parser import Parser
from zombrel.job.problem import Problem
from zombrel.units import Units, words

COMMANDS = {
    "calc": "a calculation, as JSON: calc NAME key=value …, calc --list",
    "edit": "change a job by path, or write down what was seen at a proof step",
    "report": "the owner's page, the dossier, or every paper of a job",
    "export": "wire list, cut list, pins, parts, labels, drawing, plan as files",
    "simulate": "what every signal shows along a drive, with faults",
    "log": "what a log holds, and writing it as a table or a track",
    "seal": "sign a job off in its own file, or write what was signed",
    "diff": "what differs between two jobs, fact by fact",
    "book": "the shop's jobs: find, use, plan, order, back up",
    "shared": "a job that several people work on",
    "merge": "put together what two did since they had one job",
}
"""By name, which is its module's too, what each does."""


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
    try:
        if not argv or argv[0] not in COMMANDS:
            return _window(["--help"] if argv == ["help"] else argv)
        command = importlib.import_module(f"zombrel.cli.{argv[0]}")
        parser = Parser(f"zombrel {argv[0]}", COMMANDS[argv[0]])
        command.declare(parser)
        return int(command.run(parser.read(argv[1:])))
    except SystemExit as end:  # --help and --version have said what there is to say
        return int(end.code or 0)


def _window(argv: list[str]) -> int:
    listed = "\n".join(f"  {name:<10} {does}" for name, does in COMMANDS.items())
    parser = Parser(
        "zombrel",
        "Opens the window, perhaps on a job.",
        f"commands, each with --help of its own:\n{listed}",
    )
    parser.add_argument("job", metavar="JOB.zjob", nargs="?", help="a job file to open")
    parser.add_argument("--demo", action="store_true", help="open the demo job")
    parser.add_argument("--night", action="store_true", help="in the colours of the night")
    parser.add_argument("--quit-when-shown", action="store_true", help="leave at the first frame")
    parser.add_argument("--version", action="version", version=f"zombrel {__version__}")
    asked = parser.read(argv)
    if asked.demo and asked.job is not None:
        raise Problem("--demo opens the demo job; leave out the file or --demo.")
    if not any(os.environ.get(v) for v in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        raise Problem(
            "There is no display to open a window on: log in to a desktop, or set "
            "QT_QPA_PLATFORM=offscreen to run without one."
        )
    # Starting up makes many objects and drops almost none, so collecting meanwhile is wasted;
    # once there is a window, ``zombrel.ui.threads`` collects by a clock of its own.
    gc.disable()
    from zombrel.ui.app import run

    return run(
        path=None if asked.job is None else Path(asked.job),
        demo=asked.demo,
        quit_when_shown=asked.quit_when_shown,
        night=asked.night,
    )
