"""Make the demo job and its road logs from the scenario; seeded, so always the same bytes.

Everything here is invented. Run ``python tools/make_demo.py`` after changing it.
"""

from __future__ import annotations

import random
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "src"), str(ROOT / "tools")]

import demo_logs
import job_0409
import job_0412
import job_0413
import msgspec
import past_jobs

from zombrel.catalog import DATA, DEMO
from zombrel.catalog.cautions import Caution
from zombrel.catalog.plans import Plan
from zombrel.catalog.sheets import schema_of, sheet_schema
from zombrel.job import model as m
from zombrel.job import wiring as w
from zombrel.job.source import Source
from zombrel.store.zjob import from_bytes, to_bytes
from zombrel.units import KMH, KNOT

SCHEMAS = {
    "job": m.Job,
    "connector": w.Connector,
    "plans": tuple[Plan, ...],
    "sources": tuple[Source, ...],
    "cautions": tuple[Caution, ...],
}
SYNTHETIC = "synthetic: made by tools/make_demo.py, no real vehicle or device"


TRUE_PER_M = 46 / 1.91174 * 1.0135
"""What the ring really gives on this car: the tyres roll 1.35 % shorter than the tables."""
SET_PER_M = 0.8 * 2**2.1 * 7
"""Dials at C1 behind a divider of 7."""


def drive(seed: int) -> list[tuple[float, float, float]]:
    """(t, satellite m/s, shown m/s): five steady speeds, a second's lag, some bad fixes."""
    rng = random.Random(seed)
    plan = [(40, 50), (45, 70), (45, 90), (45, 110), (40, 80), (35, 60)]
    true, v = [], 50 * KMH
    for seconds, target in plan:
        for _ in range(seconds):
            v += max(-1.1, min(0.8, (target * KMH - v) * 0.6)) + rng.gauss(0, 0.015)
            true.append(v)
    rows = []
    for i, v in enumerate(true):
        lagged = true[max(0, i - 1)]
        seen = lagged + rng.gauss(0, 0.03)
        if i in (63, 64, 131, 188):
            seen += rng.choice((-1, 1)) * rng.uniform(2, 5)
        shown = v * TRUE_PER_M / SET_PER_M + rng.gauss(0, 0.04)
        rows.append((float(i), seen, round(shown / KMH) * KMH))
    return rows


def csv_log() -> str:
    lines = [f"# {SYNTHETIC}; pace unit at C1 behind ÷7", "time s;satellite km/h;indicated km/h"]
    for t, seen, shown in drive(412):
        lines.append(f"{t:.0f};{seen / KMH:.2f};{shown / KMH:.0f}".replace(".", ","))
    return "\n".join(lines) + "\n"


def checked(body: str) -> str:
    total = 0
    for character in body:
        total ^= ord(character)
    return f"${body}*{total:02X}"


def nmea_log() -> str:
    lines = [f"# {SYNTHETIC}; pace unit at C1 behind ÷7"]
    for t, seen, shown in drive(413):
        clock = f"10{int(t) // 60:02d}{int(t) % 60:02d}.00"
        lines.append(checked(f"PZIND,{clock},{shown / KMH:.0f}"))
        lost = 140 <= t < 146
        status, speed = ("V", "") if lost else ("A", f"{seen / KNOT:.2f}")
        lines.append(
            checked(f"GPRMC,{clock},{status},0000.000,N,00000.000,E,{speed},90.0,191126,,,A")
        )
    return "\r\n".join(lines) + "\r\n"


def main() -> None:
    for made in (job_0412.job(), job_0413.job(), job_0409.job()):
        job = from_bytes(to_bytes(made))  # numbers as a reader will see them
        (DEMO / f"{made.number}.zjob").write_bytes(to_bytes(job))
    (DEMO / "past").mkdir(exist_ok=True)
    for made in past_jobs.jobs():
        job = from_bytes(to_bytes(made))
        (DEMO / "past" / f"{made.number}.zjob").write_bytes(to_bytes(job))
    for name, pairs in (
        ("paper", [(r.a, r.b) for r in job_0409.LEAD.rows]),
        ("seen", job_0409.lead_seen()),
    ):
        text = "".join(f"{a},{b}\n" for a, b in pairs)
        (DEMO / f"0409-{name}.csv").write_text(f"# {SYNTHETIC}\na,b\n{text}", encoding="utf-8")
    for name, day in (("before", demo_logs.BEFORE), ("after", demo_logs.AFTER)):
        words = f"charge-cooler pump, pulls {name}"
        (DEMO / f"0413-pulls-{name}.csv").write_text(demo_logs.csv(day, words), encoding="utf-8")
    (DEMO / "0412-road.csv").write_text(csv_log(), encoding="utf-8")
    (DEMO / "0412-road.nmea").write_text(nmea_log(), encoding="utf-8", newline="")
    schema = msgspec.json.format(msgspec.json.encode(sheet_schema(), order="sorted"), indent=1)
    (DATA / "sheet.schema.json").write_bytes(schema + b"\n")
    for name, kind in SCHEMAS.items():
        text = msgspec.json.encode(schema_of(kind), order="sorted")
        (DATA / f"{name}.schema.json").write_bytes(msgspec.json.format(text, indent=1) + b"\n")


if __name__ == "__main__":
    main()
