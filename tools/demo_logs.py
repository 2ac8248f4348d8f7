"""Logs of the charge-cooler pump of job 0413: three pulls before, three after; made up, seeded."""

from __future__ import annotations

import math
import random

SYNTHETIC = "synthetic: made by tools/demo_logs.py"
HZ = 10.0
FULL_S = 14.0


class Day:
    """One day's pulls: air outside, where a pull begins, what it rises by, how it recovers."""

    def __init__(self, ambient: float, starts: float, rise: float, back_s: float, seed: int):
        self.ambient, self.starts, self.rise = ambient, starts, rise
        self.tau = back_s / math.log(rise / 3.0)
        """Time constant that is back within 3 K of the start after ``back_s`` [s]."""
        self.rng = random.Random(seed)


BEFORE = Day(18.0, 41.0, 25.0, 99.0, 4131)
AFTER = Day(24.0, 44.0, 17.0, 60.0, 4132)


def rows(day: Day) -> list[tuple[float, ...]]:
    """(time s, load %, charge °C, ambient °C, engine rpm, speed km/h) of three pulls."""
    out: list[tuple[float, ...]] = []
    t, charge, speed = 0.0, day.starts, 48.0
    for _ in range(3):
        scatter = day.rng.gauss(0, 0.6)
        length = FULL_S + day.rng.choice((-0.2, 0.0, 0.1, 0.2))
        start = day.starts + day.rng.choice((-0.4, 0.0, 0.5))
        charge = charge if out else start
        for phase, lasts in (("cruise", 20.0), ("pull", length), ("after", 150.0)):
            begin = t
            first = charge
            while t < begin + lasts - 1e-9:
                into = t - begin
                if phase == "pull":
                    load = 97.0 + day.rng.gauss(0, 1.0)
                    charge = first + (day.rise + scatter) * into / length
                    speed = 48.0 + 46.0 * (into / length) ** 0.9
                else:
                    goal = start
                    charge = goal + (first - goal) * math.exp(-into / day.tau)
                    load = 24.0 + day.rng.gauss(0, 2.0)
                    speed += (48.0 - speed) * 0.02 / HZ * 10
                rpm = speed * 34.0 if speed < 70 else speed * 27.2
                out.append(
                    (
                        round(t, 1),
                        round(min(load, 100.0), 1),
                        round(charge + day.rng.gauss(0, 0.12), 1),
                        round(day.ambient + day.rng.gauss(0, 0.05), 1),
                        round(rpm),
                        round(speed + day.rng.gauss(0, 0.15), 1),
                    )
                )
                t += 1 / HZ
    return out


def csv(day: Day, words: str) -> str:
    """The log as text."""
    lines = [
        f"# {SYNTHETIC}; Heron camper, {words}",
        "time [s],load [%],charge air [°C],ambient [°C],engine [rpm],road speed [km/h]",
    ]
    lines += [",".join(f"{x:g}" for x in row) for row in rows(day)]
    return "\n".join(lines) + "\n"
