"""Run linters and tests; print one summary line and give the right exit code."""

from __future__ import annotations

import subprocess
import sys
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
LINTERS = (
    ("ruff check", [str(BIN / "ruff"), "check", "--quiet", "."]),
    ("ruff format", [str(BIN / "ruff"), "format", "--check", "--quiet", "."]),
    ("mypy", [str(BIN / "mypy"), "--no-error-summary"]),
    ("import-linter", [str(BIN / "lint-imports"), "--no-cache"]),
)


def lint() -> tuple[int, int]:
    """Run each linter; (passed, failed)."""
    failed = 0
    for name, command in LINTERS:
        start = time.monotonic()
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
        ok = done.returncode == 0
        print(f"{'ok  ' if ok else 'FAIL'} {name} ({time.monotonic() - start:.1f} s)", flush=True)
        if not ok:
            failed += 1
            print(done.stdout + done.stderr, flush=True)
    return len(LINTERS) - failed, failed


def test(patterns: list[str]) -> tuple[int, int]:
    """Run the unit tests; (passed, failed)."""
    loader = unittest.TestLoader()
    if patterns:
        loader.testNamePatterns = [f"*{p}*" for p in patterns]
    suite = loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))
    result = unittest.TextTestRunner(verbosity=1, stream=sys.stdout).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return result.testsRun - failed - len(result.skipped), failed


def main() -> int:
    """Linters first, then tests; words on the command line choose tests by name."""
    patterns = sys.argv[1:]
    passed, failed = (0, 0) if patterns else lint()
    more, worse = test(patterns)
    print(f"{passed + more} passed, {failed + worse} failed", flush=True)
    return 1 if failed + worse or passed + more == 0 else 0


if __name__ == "__main__":
    sys.exit(main())
