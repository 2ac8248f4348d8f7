"""What every calculation gives around the lines of the record, held as it is: ``around.json``.

Each line is tried again with one of its numbers halved, doubled, one less and more, at the least
and the most it may be, and at that of another of its numbers, so that limits are met exactly. A
mark of each answer is kept: that the figures are right is the matter of the other tests; these see
that none of some thousands moves unseen. ``python -m tests.calc.test_around`` writes it anew.
"""

from __future__ import annotations

import hashlib
import json
import math
import shlex
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from zombrel.calc.all import CALCS, run
from zombrel.job.problem import Problem

HERE = Path(__file__).parent
KEPT = HERE / "around.json"
SIGNIFICANT = 7
"""So many digits of a figure are looked at: the last ones differ between machines."""


def lines() -> Iterator[tuple[str, dict[str, str]]]:
    """Calculations of the record that need neither a file nor a job."""
    for line in (HERE / "lines.txt").read_text(encoding="utf-8").splitlines():
        name, *words = shlex.split(line)
        if name in CALCS and "{" not in line and not any(w.startswith("job=") for w in words):
            yield name, dict(w.split("=", 1) for w in words)


def around(name: str, words: dict[str, str]) -> Iterator[dict[str, str]]:
    """The line with one number otherwise, each in turn."""
    params = {p.name: p for p in CALCS[name].params}
    numbers: dict[str, float] = {}
    for key, text in words.items():
        try:
            numbers[key] = float(text)
        except ValueError:
            continue
    for key, value in numbers.items():
        param = params.get(key)
        if param is None:
            continue
        tried = [value / 2, value * 2, value - 1, value + 1, param.least, param.above, param.most]
        tried += [other for k, other in numbers.items() if k != key]
        for new in dict.fromkeys(tried):
            if math.isfinite(new):
                text = str(round(new)) if param.kind == "whole" else f"{new:.12g}"
                yield words | {key: text}
    for key, param in params.items():
        if key not in words:
            for choice in param.choices:
                yield words | {key: choice}


def rounded(value: Any) -> Any:
    """A result with its figures to so many digits."""
    if isinstance(value, float):
        return f"{value:.{SIGNIFICANT}g}" if abs(value) > 1e-12 else "0"
    if isinstance(value, dict):
        return {k: rounded(v) for k, v in value.items()}
    return [rounded(v) for v in value] if isinstance(value, list | tuple) else value


def mark(name: str, words: dict[str, str]) -> str:
    """A short mark of what a call gives, or of why it gives nothing."""
    try:
        said = rounded(run(name, words))
    except Problem as problem:
        said = str(problem)
    text = json.dumps(said, sort_keys=True, default=str)
    return hashlib.blake2b(text.encode(), digest_size=3).hexdigest()


def marks() -> dict[str, str]:
    """For each line of the record the marks of all that is tried around it."""
    found: dict[str, str] = {}
    for name, words in lines():
        line = " ".join([name, *(f"{k}={v}" for k, v in words.items())])
        found[line] = " ".join(mark(name, w) for w in around(name, words))
    return found


class Around(unittest.TestCase):
    maxDiff = None

    def test_nothing_moves_unseen(self) -> None:
        kept = json.loads(KEPT.read_text(encoding="utf-8"))
        now = marks()
        self.assertEqual(set(kept), set(now))
        for line, seen in now.items():
            with self.subTest(line):
                self.assertEqual(seen, kept[line])

    def test_it_would_see_a_figure_move(self) -> None:
        """The marks of answers that differ in the sixth digit differ."""
        one, other = rounded({"x": 1.234567}), rounded({"x": 1.234568})
        self.assertNotEqual(one, other)
        self.assertEqual(rounded({"x": 1.2345671}), one | {})
        self.assertGreater(sum(len(m.split()) for m in marks().values()), 1500)


if __name__ == "__main__":
    KEPT.write_text(json.dumps(marks(), indent=0, ensure_ascii=False) + "\n", encoding="utf-8")
