"""Measurements against their targets, as ratios taken in one run.

Clocks of machines swing by two, so a figure in milliseconds decides nothing. Each is also given
in *loops*: a fixed pure-Python loop is timed before and after it, and the figure is judged by
that. A loop takes 40 ms on the machine the targets were set for.
"""

from __future__ import annotations

import gc
import math
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

from tools.bench.synthetic import big_job
from zombrel.behaviour.suppose import usual, with_speed
from zombrel.findings.assess import assess
from zombrel.harness.laid import laid
from zombrel.harness.wire_reading import read_wires
from zombrel.job import edits
from zombrel.job.follow.query import forget, take_notes
from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.chain_reading import read_chains

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


FIRST_FRAME = 2.8
FULL = 15
"""Runs of a full bench."""
LOOP = 1_000_000
"""Additions in one loop."""
LOOP_MS = 40.0
"""What one loop takes on the machine the targets are set for."""
EDITS = 2000
"""Edits after which the memory of a session is looked at."""


class Figure(Value, frozen=True):
    """One measurement; judged by ``ratio``."""

    name: str
    ratio: float
    unit: str
    """Of the ratio."""
    target: float
    ms: float = math.nan


def loop_ms() -> float:
    """The fixed loop, timed."""
    start = time.perf_counter()
    total = 0
    for i in range(LOOP):
        total += i
    return (time.perf_counter() - start) * 1000


def run(quick: bool) -> int:
    """Print every figure with its target; 1 when one is missed."""
    runs = 5 if quick else FULL
    bad = 0
    print(f"one loop here takes {statistics.median(loop_ms() for _ in range(5)):.0f} ms")
    for part in (_start, _assess, _harness, _log, _memory):
        for f in part(runs):
            ok = f.ratio <= f.target
            bad += not ok
            ms = "" if math.isnan(f.ms) else f"{f.ms:8.1f} ms"
            print(
                f"{'ok  ' if ok else 'MISS'} {f.name:<58} {f.ratio:7.3f} {f.unit:<6}"
                f" (target {f.target:g}) {ms}",
                flush=True,
            )
    return 1 if bad else 0


def _in_loops(name: str, target_ms: float, calls: Iterable[Callable[[], object]]) -> Figure:
    """The median of some calls, each between two loops."""
    taken, ratios = [], []
    for call in calls:
        before = loop_ms()
        taken.append(_ms(call))
        ratios.append(taken[-1] / ((before + loop_ms()) / 2))
    return Figure(
        name, statistics.median(ratios), "loops", target_ms / LOOP_MS, statistics.median(taken)
    )


def _start(runs: int) -> list[Figure]:
    """Whole processes in turn, bare and ours, so that drift hits both alike."""
    env = {**os.environ, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
    env.pop("PYTHONDONTWRITEBYTECODE", None)  # the first, uncounted run compiles; the rest load
    bare = [sys.executable, "-c", BARE]
    ours = [sys.executable, "-m", "zombrel", "--demo", "--quit-when-shown"]
    ratios = []
    for i in range(runs + 1):
        pair = [_whole(bare, env), _whole(ours, env)]
        if i:
            ratios.append(pair[1] / pair[0])
    return [Figure("first frame with its numbers", statistics.median(ratios), "bare", FIRST_FRAME)]


def _whole(command: list[str], env: dict[str, str]) -> float:
    start = time.perf_counter()
    subprocess.run(command, env=env, check=True, capture_output=True)
    return time.perf_counter() - start


def _assess(runs: int) -> list[Figure]:
    job = big_job()
    size = f"{len(job.chains)} chains, {len(job.wires)} wires"
    now = usual(job.vehicle)
    assess(job, now)

    def anew(before: Callable[[], object]) -> Iterator[Callable[[], object]]:
        for _ in range(runs):
            forget()
            before()
            yield partial(assess, job, now)

    def moved(show: Callable[[Job, State], object], what: str) -> Iterator[Callable[[], object]]:
        for i in range(runs):
            if what == "drag":
                yield partial(show, job, with_speed(job.vehicle, now, now.speed + 0.1 * (i + 1)))
                continue
            path, value = EDITED[what]
            step = edits.Put(path=path, value=value(i))
            yield partial(show, edits.apply(job, step), now)

    with _as_in_the_window():
        found = [
            _in_loops(f"from cold, {size}", 50, anew(forget)),
            _in_loops("taking notes, once, while nobody waits", 150, anew(take_notes)),
        ]
        for what in ("drag", *EDITED):
            assess(job, now)
            found.append(_in_loops(f"readings after a {what}", 4, moved(_readings, what)))
            assess(job, now)
            found.append(_in_loops(f"all findings after a {what}", 16, moved(assess, what)))
    return found


@contextmanager
def _as_in_the_window() -> Iterator[None]:
    """Python's collector as ``ui.threads`` and ``ui.app`` have it: by a clock, not amid a call."""
    gc.freeze()
    gc.disable()
    try:
        yield
    finally:
        gc.enable()


EDITED: dict[str, tuple[str, Callable[[int], object]]] = {
    "setting": ("devices.pace0.settings.SPEED.at", lambda i: f"C{i % 10}"),
    "wire": ("wires.W3-1.area_mm2", lambda i: 0.5 + i / 10),
}


def _readings(job: Job, state: State) -> object:
    lies = laid(job)
    return read_chains(lies, state), read_wires(lies, state)


def _harness(runs: int) -> list[Figure]:
    """Runs and drawings, from nothing remembered: each round on a plan of its own."""
    import msgspec

    from zombrel.handover.drawing import drawing
    from zombrel.harness.route import route_all

    fresh = []
    for i in range(runs):
        big = big_job()
        zones = tuple(msgspec.structs.replace(z, x_m=z.x_m + 0.001 * i) for z in big.zones)
        fresh.append(msgspec.structs.replace(big, zones=zones))
    parts = [laid(msgspec.structs.replace(j, wires=j.wires[:150])) for j in fresh]
    return [
        _in_loops("500 wires routed", 50, (partial(route_all, j) for j in fresh)),
        _in_loops("drawing of 150 wires laid out", 1000, (partial(drawing, j) for j in parts)),
    ]


def _log(runs: int) -> list[Figure]:
    """A log of 10⁶ rows, against the bare library reading the same file."""
    import numpy as np
    import polars as pl

    from zombrel.logs.speedlog import read

    t = np.arange(1_000_000) * 0.1
    speed = 80 + 20 * np.sin(t / 300)
    ratios, taken = [], []
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.csv"
        pl.DataFrame(
            {
                "time s": t,
                "satellite km/h": speed.round(2),
                "indicated km/h": (speed * 1.03).round(),
            }
        ).write_csv(path)
        for _ in range(runs):
            bare = _ms(partial(pl.read_csv, path))
            taken.append(_ms(partial(read, path)))
            ratios.append(taken[-1] / bare)
    return [Figure("10⁶-row log", statistics.median(ratios), "bare", 1.3, statistics.median(taken))]


def _memory(runs: int) -> list[Figure]:
    """Memory after many edits, over that after ten."""
    import tracemalloc

    forget()
    tracemalloc.start()
    history, now = History(present=big_job()), None
    edited = 200 if runs < FULL else EDITS
    sizes = []
    for i in range(edited + 1):
        path, value = list(EDITED.values())[i % 2]
        history = history.do(edits.Step(label="", edit=edits.Put(path=path, value=value(i))))
        now = now or usual(history.present.vehicle)
        assess(history.present, with_speed(history.present.vehicle, now, 10 + i / 100))
        if i in (10, edited):
            gc.collect()
            sizes.append(tracemalloc.get_traced_memory()[0])
    tracemalloc.stop()
    return [Figure(f"memory after {edited} edits", sizes[1] / sizes[0], "of ten", 1.5)]


def _ms(function: Callable[[], object]) -> float:
    gc.collect()
    start = time.perf_counter()
    function()
    return (time.perf_counter() - start) * 1000
