"""Measurements against their targets: ratios and milliseconds taken in one run."""

from __future__ import annotations

import gc
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from zombrel.behaviour.suppose import usual, with_speed
from zombrel.cli.synthetic import big_job
from zombrel.findings.assess import assess
from zombrel.job import edits
from zombrel.job.problem import Problem

START = Path(__file__).resolve().parents[2] / "start.py"
BARE = """
import sys
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QWidget
class Bare(QWidget):
    def paintEvent(self, event):
        super().paintEvent(event)
        QTimer.singleShot(0, QApplication.quit)
app = QApplication(sys.argv)
window = Bare()
window.resize(1280, 800)
window.show()
sys.exit(app.exec())
"""


def bench(argv: Sequence[str]) -> int:
    """Print every figure with its target; ``--quick`` takes fewer runs."""
    if set(argv) - {"--quick"}:
        raise Problem("bench takes only --quick.")
    runs = 5 if "--quick" in argv else 15
    bad = 0
    for name, value, unit, target in (*_start(runs), *_assess(runs), *_harness(runs)):
        ok = value <= target
        bad += not ok
        print(f"{'ok  ' if ok else 'MISS'} {name:<58} {value:7.2f} {unit:<2} (target {target:g})")
    return 1 if bad else 0


def _start(runs: int) -> list[tuple[str, float, str, float]]:
    """Whole processes in turn, bare and ours, so that drift hits both alike."""
    env = {**os.environ, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
    env.pop("PYTHONDONTWRITEBYTECODE", None)  # the first, uncounted run compiles; the rest load
    bare = [sys.executable, "-c", BARE]
    ours = [sys.executable, str(START), "--demo", "--quit-when-shown"]
    ratios = []
    for i in range(runs + 1):
        pair = [_whole(bare, env), _whole(ours, env)]
        if i:
            ratios.append(pair[1] / pair[0])
    return [
        ("first frame with its numbers, over a bare window", statistics.median(ratios), "×", 2.2)
    ]


def _whole(command: list[str], env: dict[str, str]) -> float:
    start = time.perf_counter()
    subprocess.run(command, env=env, check=True, capture_output=True)
    return time.perf_counter() - start


def _assess(runs: int) -> list[tuple[str, float, str, float]]:
    job = big_job()
    state = usual(job.vehicle)
    fresh = [big_job() for _ in range(runs)]
    full = [_ms(partial(assess, j, state)) for j in fresh]
    assess(job, state)
    dragged, edited = [], []
    for i in range(runs):
        moved = with_speed(job.vehicle, state, state.speed + 0.1 * (i + 1))
        dragged.append(_ms(partial(assess, job, moved)))
        step = edits.Put(path="devices.pace0.settings.SPEED.at", value=f"C{i % 10}")
        changed = edits.apply(job, step)
        edited.append(_ms(partial(assess, changed, state)))
    size = f"{len(job.chains)} chains, {len(job.wires)} wires"
    return [
        (f"full reassessment, {size}", statistics.median(full), "ms", 16),
        (f"a supposition dragged, {size}", statistics.median(dragged), "ms", 4),
        (f"one setting edited, {size}", statistics.median(edited), "ms", 4),
    ]


def _harness(runs: int) -> list[tuple[str, float, str, float]]:
    """Runs and drawings, from nothing remembered: each round on a plan of its own."""
    import msgspec

    from zombrel.handover.drawing import drawing
    from zombrel.harness.laid import laid
    from zombrel.harness.route import route_all

    routed, drawn = [], []
    for i in range(runs):
        big = big_job()
        zones = tuple(msgspec.structs.replace(z, x_m=z.x_m + 0.001 * i) for z in big.zones)
        fresh = msgspec.structs.replace(big, zones=zones)
        routed.append(_ms(partial(route_all, fresh)))
        part = laid(msgspec.structs.replace(fresh, wires=fresh.wires[:150]))
        drawn.append(_ms(partial(drawing, part)))
    return [
        ("500 wires routed", statistics.median(routed), "ms", 50),
        ("drawing of 150 wires laid out", statistics.median(drawn), "ms", 1000),
    ]


def _ms(function: Callable[[], object]) -> float:
    gc.collect()
    start = time.perf_counter()
    function()
    return (time.perf_counter() - start) * 1000
