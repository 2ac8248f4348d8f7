"""``bench --judgement``: how the judgement does on planted troubles and on sound variants."""

from __future__ import annotations

from collections import Counter

from tests.findings.planted import PLANTED, SOUND
from tests.findings.planting import false_alarms, judge
from zombrel.units import Units, words


def run(quick: bool) -> int:
    """Print found, missed, misplaced, not mended and false alarms; 1 when there is any."""
    count: Counter[str] = Counter()
    for row in PLANTED:
        for v in judge(row):
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
    for row in SOUND:
        count["sound variants"] += 1
        for state, said in false_alarms(row):
            count["false alarms"] += 1
            print(f"false alarm: {row.name}, job {row.job}, {state}: {words(said, Units())}")
    names = ("tried", "found", "missed", "misplaced", "not mended", "makes new")
    print(", ".join(f"{count[n]} {n}" for n in names))
    print(
        f"{count['sound variants']} sound variants in every state, {count['false alarms']} alarms"
    )
    bad = ("missed", "misplaced", "not mended", "makes new", "false alarms")
    return int(any(count[n] for n in bad))
