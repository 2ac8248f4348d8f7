"""Run linters and tests side by side; print one summary line and give the right exit code."""

from __future__ import annotations

import ast
import contextlib
import faulthandler
import fnmatch
import gc
import io
import multiprocessing
import os
import queue
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Iterator
from multiprocessing.connection import Connection
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
LINTERS = {
    "mypy": [str(BIN / "mypy"), "--no-error-summary"],
    "ruff check": [str(BIN / "ruff"), "check", "--quiet", "."],
    "ruff format": [str(BIN / "ruff"), "format", "--check", "--quiet", "."],
    "import-linter": [str(BIN / "lint-imports"), "--no-cache"],
}
LIMIT_S = 900.0
"""A file of tests that takes longer stands still; the longest takes some 150."""


class Done(NamedTuple):
    """One linter or one file of tests."""

    name: str
    passed: int
    failed: int
    said: str
    """What it printed, worth reading when something failed."""
    seconds: float
    lived: bool = True
    """Its process came to the end of it."""


def lint(name: str) -> Done:
    """Run one linter."""
    start = time.monotonic()
    done = subprocess.run(LINTERS[name], cwd=ROOT, capture_output=True, text=True, check=False)
    bad = int(done.returncode != 0)
    return Done(name, 1 - bad, bad, done.stdout + done.stderr, time.monotonic() - start)


@contextlib.contextmanager
def hushed() -> Iterator[None]:
    """Keep what the window toolkit says of a screen that is not there off the terminal."""
    kept = os.dup(2)
    with tempfile.TemporaryFile() as away:
        os.dup2(away.fileno(), 2)
        try:
            yield
        finally:
            os.dup2(kept, 2)
            os.close(kept)


def test(name: str, patterns: list[str]) -> Done:
    """Run one file of tests."""
    start = time.monotonic()
    loader = unittest.TestLoader()
    if patterns:
        loader.testNamePatterns = [f"*{p}*" for p in patterns]
    said = io.StringIO()
    # a window sweeps by its own clock (``zombrel.ui.threads``); what has none is swept as usual
    (gc.disable if name.startswith("tests.ui.") else gc.enable)()
    with hushed():
        suite = loader.loadTestsFromName(name)
        result = unittest.TextTestRunner(stream=said, verbosity=0).run(suite)
    gc.collect()  # here, so that no thread of a later test frees what is left of widgets
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    return Done(name, max(passed, 0), failed, said.getvalue(), time.monotonic() - start)


def one(name: str, patterns: list[str]) -> Done:
    """Run a linter or a file of tests, whichever it is."""
    return lint(name) if name in LINTERS else test(name, patterns)


def hand(wire: Connection, trace: str) -> None:
    """A process of the crew: does what comes along the wire until nothing more does."""
    sys.path.insert(0, str(ROOT))
    with Path(trace).open("w", encoding="utf-8") as file:
        faulthandler.enable(file)
        while (work := wire.recv()) is not None:
            faulthandler.dump_traceback_later(LIMIT_S, file=file)
            wire.send(one(*work))
            faulthandler.cancel_dump_traceback_later()


class Hand:
    """One of the crew; when its process dies or stands still, that is told with a trace."""

    def __init__(self) -> None:
        self._begin()

    def _begin(self) -> None:
        context = multiprocessing.get_context("spawn")
        handle, self._trace = tempfile.mkstemp(suffix=".trace")
        os.close(handle)
        self._wire, theirs = context.Pipe()
        self._process = context.Process(target=hand, args=(theirs, self._trace), daemon=True)
        self._process.start()
        theirs.close()

    def do(self, name: str, patterns: list[str]) -> Done:
        """Run one piece of work; once more when the process did not live through it.

        That it died stands in the log either way, with where each thread was.
        """
        done = self._do(name, patterns)
        if done.lived:
            return done
        print(f"DIED {name} ({done.seconds:.1f} s), run once more\n{done.said}", flush=True)
        return self._do(name, patterns)

    def _do(self, name: str, patterns: list[str]) -> Done:
        start = time.monotonic()
        try:
            self._wire.send((name, patterns))
            if self._wire.poll(LIMIT_S + 10):
                return self._wire.recv()  # type: ignore[no-any-return]
            how = f"It stood still for {LIMIT_S:.0f} s."
        except (EOFError, OSError):
            self._process.join(5)
            how = f"Its process ended with {self._process.exitcode}."
        said = f"{how}\n{Path(self._trace).read_text(encoding='utf-8', errors='replace')}"
        self.leave(kill=True)
        self._begin()
        return Done(name, 0, 1, said, time.monotonic() - start, lived=False)

    def leave(self, kill: bool = False) -> None:
        """No more work."""
        if kill:
            self._process.kill()
        else:
            self._wire.send(None)
        self._process.join()
        Path(self._trace).unlink()


def crew(work: list[tuple[str, list[str]]]) -> Iterator[Done]:
    """All of the work side by side, in the order it is done."""
    todo, done = queue.SimpleQueue[tuple[str, list[str]]](), queue.SimpleQueue[Done]()
    for item in work:
        todo.put(item)

    def through() -> None:
        one_hand = Hand()
        with contextlib.suppress(queue.Empty):
            while True:
                done.put(one_hand.do(*todo.get_nowait()))
        one_hand.leave()

    for _ in range(max(2, os.cpu_count() or 2)):
        threading.Thread(target=through).start()
    for _ in work:
        yield done.get()


def files() -> list[str]:
    """Every file of tests, those of the window first: they take longest."""
    found = sorted((ROOT / "tests").rglob("test_*.py"), key=lambda p: -p.stat().st_size)
    found.sort(key=lambda p: p.parent.name != "ui")
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for p in found]


def holds(name: str, patterns: list[str]) -> bool:
    """Whether a file has a test whose name holds one of the words; it is read, not imported."""
    text = (ROOT / name.replace(".", "/")).with_suffix(".py").read_text(encoding="utf-8")
    classes = [n for n in ast.parse(text).body if isinstance(n, ast.ClassDef)]
    tests = {c.name: {m.name for m in c.body if isinstance(m, ast.FunctionDef)} for c in classes}
    for c in classes:
        for base in c.bases:
            tests[c.name] |= tests.get(ast.unparse(base), set())
    full = [f"{name}.{c}.{m}" for c, ms in tests.items() for m in ms if m.startswith("test")]
    return any(fnmatch.fnmatchcase(f, f"*{p}*") for f in full for p in patterns)


def main() -> int:
    """All of it; words on the command line choose tests by name and leave the linters out."""
    patterns = sys.argv[1:]
    if patterns:
        names = [name for name in files() if holds(name, patterns)]
    else:
        names = [*LINTERS, *files()]
    work = [(name, patterns) for name in names]
    passed = failed = 0
    for done in crew(work):
        passed, failed = passed + done.passed, failed + done.failed
        if done.failed or not patterns:
            print(
                f"{'FAIL' if done.failed else 'ok  '} {done.name}: {done.passed} passed "
                f"({done.seconds:.1f} s)",
                flush=True,
            )
        if done.failed:
            print(done.said, flush=True)
    print(f"{passed} passed, {failed} failed", flush=True)
    return 1 if failed or passed == 0 else 0


if __name__ == "__main__":
    sys.exit(main())
