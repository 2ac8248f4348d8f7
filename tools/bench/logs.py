"""``bench --logs``: reading, edges and saving against the bare work, and truth within intervals."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from tests.logs import made_up as made

SOURCE = Path(__file__).resolve().parents[2] / "src"
"""Where the package lies, for a process of its own."""
ROWS, COLUMNS, SAMPLES = 1_000_000, 30, 10_000_000
SEEDS = 200
MEMORY = """
import sys
from pathlib import Path
from zombrel.logs.table.read import read
read(Path(sys.argv[1]))
# getrusage would count what its parent held before it began
peak = next(x for x in open("/proc/self/status") if x.startswith("VmHWM"))
print(int(peak.split()[1]) / 1024)
"""


def run(quick: bool) -> int:
    """Print each figure with its target; 1 when one is missed."""
    bad = 0
    for part in (_reading, _edges, _saving, _truth):
        for name, value, target, least in part():
            ok = value >= target if least else value <= target
            bad += not ok
            sign = "≥" if least else "≤"
            told = f"{name:<60} {value:8.3f} (target {sign} {target:g})"
            print(f"{'ok  ' if ok else 'MISS'} {told}", flush=True)
    return 1 if bad else 0


Line = tuple[str, float, float, bool]


def _seconds(call: Callable[[], object]) -> float:
    begin = time.perf_counter()
    call()
    return time.perf_counter() - begin


def _pairs(ours: Callable[[], object], bare: Callable[[], object], runs: int) -> float:
    """The median ratio of both, taken in turn."""
    ours(), bare()
    return statistics.median(_seconds(ours) / _seconds(bare) for _ in range(runs))


def _reading() -> list[Line]:
    import numpy as np
    import polars as pl

    from zombrel.logs.table.read import read

    rng = np.random.default_rng(1)
    units = ("km/h", "°C", "V", "rpm")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.csv"
        columns = {"time s": np.arange(ROWS) * 0.01}
        for k in range(COLUMNS - 1):
            columns[f"ch{k} {units[k % 4]}"] = rng.normal(50, 10, ROWS).round(3)
        pl.DataFrame(columns).write_csv(path)
        ratio = _pairs(partial(read, path), partial(pl.read_csv, path), 5)
        done = subprocess.run(
            [sys.executable, "-c", MEMORY, str(path)],
            capture_output=True,
            text=True,
            check=True,
            env={**os.environ, "PYTHONPATH": str(SOURCE)},
        )
    return [
        (f"reading {ROWS} × {COLUMNS}, over the bare library", ratio, 1.3, False),
        ("memory of the whole process while reading it [MB]", float(done.stdout), 300, False),
    ]


def _edges() -> list[Line]:
    import numpy as np

    from zombrel.logs.edges import edges

    v = np.sin(2 * np.pi * 440 * np.arange(SAMPLES) / 96000).astype(np.float32)

    def bare() -> object:
        up = v > 0.1
        return np.flatnonzero(up[1:] != up[:-1])

    ratio = _pairs(lambda: edges(v, 96000.0, 0.1), bare, 15)
    return [(f"edges of {SAMPLES} samples, over a bare threshold", ratio, 1.3, False)]


def _saving() -> list[Line]:
    """Saving a job that carries a log, over packing that log once."""
    from unittest import mock

    from zombrel.actions.logs import add_log
    from zombrel.job.edits import apply
    from zombrel.job.model import Job
    from zombrel.store import log_files
    from zombrel.store.zjob import to_bytes

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "log.csv"
        rows = "".join(f"{i / 100:.2f},{i % 977 / 7:.3f}\n" for i in range(1_000_000))
        path.write_text("time s,speed km/h\n" + rows)
        with mock.patch.object(log_files, "data_root", return_value=Path(folder)):
            first = _seconds(lambda: log_files.keep(path))
            sha, size = log_files.keep(path)
            job = apply(Job(), add_log(Job(), "log.csv", sha, size, "drive", {}, "")[1])
            again = statistics.median(_seconds(lambda: to_bytes(job)) for _ in range(5))
    return [("saving a job with a log, over keeping it once", again / first, 0.25, False)]


def _truth() -> list[Line]:
    """How often the truth lies within the interval that is told."""
    import numpy as np

    from zombrel.logs.coastdown import coast
    from zombrel.logs.compare import compare
    from zombrel.logs.gearfit import gears
    from zombrel.logs.speedpair import compare_speeds, pulses_per_km

    pulls = cda = crr = ratios = scales = warms = rates = 0
    for seed in range(SEEDS):
        rng = np.random.default_rng(seed)
        a = made.pulls(rng, 25, int(rng.integers(3, 6)), 18)
        b = made.pulls(rng, 17, int(rng.integers(3, 6)), 24)
        c = compare(a, b)
        work = min(p.work_s for p in (*c.before, *c.after))
        pulls += c.low_k <= 8 / 12 * work / 0.95 <= c.high_k
        log, area, roll, mass = made.coasting(np.random.default_rng(seed))
        found = coast(log, mass)
        cda += found.cda_low <= area <= found.cda_high
        crr += found.crr_low <= roll <= found.crr_high
        log, true = made.through_gears(np.random.default_rng(seed))
        kept = gears(log)
        lag, scale, warm = 0.2 + 0.01 * (seed % 100), 0.95 + 0.0005 * seed, -0.006
        pair = compare_speeds(made.two_speeds(np.random.default_rng(seed), lag, scale))
        scales += pair.fit.scale_low <= scale <= pair.fit.scale_high
        pair = compare_speeds(made.two_speeds(np.random.default_rng(seed), lag, 1.0, warm))
        warms += pair.warm_low <= warm <= pair.warm_high
        low, high = pulses_per_km(made.pulsed(np.random.default_rng(seed), 4000 + seed))[1:]
        rates += low <= 4000 + seed <= high
        ratios += len(kept) == len(true) and all(
            g.low <= t <= g.high for g, t in zip(kept, true, strict=True)
        )
    return [
        (f"{name}: truth within the interval, of {SEEDS}", hits / SEEDS, 0.95, True)
        for name, hits in (
            ("pulls before and after", pulls),
            ("drag area by coast-down", cda),
            ("rolling resistance by coast-down", crr),
            ("all five gears", ratios),
            ("scale of a speedometer", scales),
            ("tyres that warm", warms),
            ("pulses a kilometre", rates),
        )
    ]
