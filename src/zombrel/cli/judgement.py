"""``bench --judgement``: how the judgement does on planted troubles and on sound variants."""

from __future__ import annotations

import importlib
import sys
from collections import Counter
from pathlib import Path
from typing import Any

from zombrel.job.problem import Problem
from zombrel.units import Units, words

ROOT = Path(__file__).resolve().parents[3]
TABLE = ROOT / "tests" / "findings" / "planted.py"


def judgement() -> int:
    """Print found, missed, misplaced, not mended and false alarms; 1 when there is any.

    Raises:
        Problem: the table of planted troubles is not beside the program.
    """
    if not TABLE.is_file():
        raise Problem(f"There is no {TABLE}: the judgement is tried from a checkout only.")
    sys.path.insert(0, str(ROOT))
    table: Any = importlib.import_module("tests.findings.planted")
    trial: Any = importlib.import_module("tests.findings.planting")
    count: Counter[str] = Counter()
    for row in table.PLANTED:
        for v in trial.judge(row):
            count["tried"] += 1
            count["found"] += v.found
            for what, bad in (
                ("missed", not v.found),
                ("misplaced", v.found and not v.first),
                ("not mended", v.found and not v.cleared),
                ("makes new", bool(v.new)),
            ):
                if bad:
                    count[what] += 1
                    said = words("; ".join(v.said), Units())
                    print(f"{what}: {v.row}, job {v.job}, {v.state}: {said}")
    for row in table.SOUND:
        count["sound variants"] += 1
        for state, said in trial.false_alarms(row):
            count["false alarms"] += 1
            print(f"false alarm: {row.name}, job {row.job}, {state}: {words(said, Units())}")
    names = ("tried", "found", "missed", "misplaced", "not mended", "makes new")
    print(", ".join(f"{count[n]} {n}" for n in names))
    print(
        f"{count['sound variants']} sound variants in every state, {count['false alarms']} alarms"
    )
    bad = ("missed", "misplaced", "not mended", "makes new", "false alarms")
    return int(any(count[n] for n in bad))
