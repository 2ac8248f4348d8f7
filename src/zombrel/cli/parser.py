"""What the commands share: words in, one sentence out when they cannot be understood."""

from __future__ import annotations

import argparse
import json
import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, NoReturn

from zombrel.catalog import is_shipped
from zombrel.job.problem import Problem
from zombrel.units import Units

_FIGURE = re.compile(r"-[\d.]")
"""How a negative figure begins."""


class Parser(argparse.ArgumentParser):
    """``argparse`` that says what is wrong as a Problem, and takes no shortened options."""

    def __init__(self, prog: str, description: str = "", epilog: str = "") -> None:
        super().__init__(
            prog=prog,
            description=description,
            epilog=epilog,
            allow_abbrev=False,
            formatter_class=argparse.RawDescriptionHelpFormatter,
        )

    def read(self, words: Sequence[str]) -> argparse.Namespace:
        """The words of a command.

        Raises:
            Problem: they are not what it takes.
        """
        # a word with a blank is never an option: "-0.02,0.1" is a figure that was seen
        return self.parse_args([f" {w}" if _FIGURE.match(w) else w for w in words])

    def error(self, message: str) -> NoReturn:
        """As ``argparse`` calls it."""
        said = message.removeprefix("argument ")
        raise Problem(f"{self.prog}: {said} ({self.prog} --help shows what it takes).")


def add_job(parser: argparse.ArgumentParser, name: str = "job") -> None:
    """A job to work on."""
    parser.add_argument(name, metavar=name.upper(), help="a job file, or demo, 0412, 0413, 0409")


def add_force(parser: argparse.ArgumentParser) -> None:
    """Leave to write over files."""
    parser.add_argument("--force", action="store_true", help="write over a file that exists")


def add_out(parser: argparse.ArgumentParser, ending: str, required: bool = True) -> None:
    """One file to write, and leave to write over it."""
    parser.add_argument("--out", metavar=f"F.{ending}", required=required, help="file to write")
    add_force(parser)


def add_paper(parser: argparse.ArgumentParser) -> None:
    """The size of paper."""
    parser.add_argument("--paper", choices=("A4", "Letter"), default="A4", help="size of paper")


def add_commands(
    parser: argparse.ArgumentParser,
    does: Mapping[str, tuple[str, str]],
    takes: Mapping[str, dict[str, Any]],
) -> None:
    """Commands within a command.

    Args:
        parser: of the outer one; ``asked.does`` will be the inner one's name.
        does: by name, the words it takes and what it does. ``job`` is a job, ``out=csv`` a file to
            write, ``out?=csv`` one that may be left out, ``force`` leave to write over a file.
        takes: by any other word, what ``argparse`` is to know of it.
    """
    commands = parser.add_subparsers(dest="does", required=True, metavar="COMMAND")
    for name, (words, help_) in does.items():
        one = commands.add_parser(name, help=help_, description=help_)
        for word in words.split():
            kind, _, ending = word.partition("=")
            if kind == "job":
                add_job(one)
            elif kind == "force":
                add_force(one)
            elif ending:
                add_out(one, ending, required=kind == "out")
            else:
                one.add_argument(word, **takes[word])


def say(value: object) -> int:
    """Print a value as JSON; that worked."""
    print(json.dumps(value, ensure_ascii=False, indent=1))
    return 0


def on_paper(asked: argparse.Namespace) -> Units:
    """Units with the size of paper that was asked for."""
    return Units(paper=asked.paper)


def free(path: str | Path, force: bool) -> Path:
    """Where a file may be written.

    Raises:
        Problem: it exists and nobody said to write over it, there is no such folder, or it belongs
            to the program.
    """
    found = Path(path)
    if is_shipped(found):
        raise Problem(f"{found} belongs to the program: choose another place.")
    if found.exists() and not force:
        raise Problem(f"{found} exists already; give --force to write over it.")
    if not found.parent.is_dir():
        raise Problem(f"There is no folder {found.parent}; make it first.")
    return found
