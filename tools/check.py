"""Run linters and tests side by side; print one summary line and give the right exit code."""

from __future__ import annotations

import contextlib
import io
import multiprocessing
import os
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator
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


class Done(NamedTuple):
    """One linter or one file of tests."""

    name: str
    passed: int
    failed: int
    said: str
    """What it printed, worth reading when something failed."""
    seconds: float


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
    with hushed():
        suite = loader.loadTestsFromName(name)
        result = unittest.TextTestRunner(stream=said, verbosity=0).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsRun - failed - len(result.skipped)
    return Done(name, max(passed, 0), failed, said.getvalue(), time.monotonic() - start)


def one(work: tuple[str, list[str]]) -> Done:
    """Run a linter or a file of tests, whichever it is."""
    name, patterns = work
    return lint(name) if name in LINTERS else test(name, patterns)


def files() -> list[str]:
    """Every file of tests, those of the window first: they take longest."""
    found = sorted((ROOT / "tests").rglob("test_*.py"), key=lambda p: -p.stat().st_size)
    found.sort(key=lambda p: p.parent.name != "ui")
    return [".".join(p.relative_to(ROOT).with_suffix("").parts) for p in found]


def main() -> int:
    """All of it; words on the command line choose tests by name and leave the linters out."""
    patterns = sys.argv[1:]
    work = [(name, patterns) for name in ([] if patterns else [*LINTERS]) + files()]
    sys.path.insert(0, str(ROOT))
    passed = failed = 0
    crew = max(2, os.cpu_count() or 2)
    with multiprocessing.get_context("spawn").Pool(crew) as pool:
        for done in pool.imap_unordered(one, work):
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
