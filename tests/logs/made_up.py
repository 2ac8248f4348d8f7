"""Logs whose truth is known: pulls, a drive through the gears, runs in neutral; seeded."""

from __future__ import annotations

import numpy as np

from zombrel.logs.recording import Channel, Recording, What

RATIOS = (3.42, 2.05, 1.39, 1.0, 0.79)


def channel(name: str, what: What, t: np.ndarray, v: np.ndarray) -> Channel:
    return Channel(name, what, "", t, v)


def pulls(rng: np.random.Generator, rise: float, count: int, air: float) -> Recording:
    """Pulls that rise by ``rise`` K in 12 s of full load, each a little otherwise."""
    t, load, charge = [], [], []
    now = 0.0
    for _ in range(count):
        rate = (rise + rng.normal(0, 0.6)) / 12
        long, base = rng.uniform(12, 16), air + 20 + rng.normal(0, 0.5)
        for phase, lasts in (("cruise", 15.0), ("pull", long), ("after", 60.0)):
            k = np.arange(0, lasts, 0.1)
            t.append(now + k)
            now += lasts
            load.append((0.95 if phase == "pull" else 0.25) + rng.normal(0, 0.01, len(k)))
            clean = {"cruise": base + 0 * k, "pull": base + rate * k}.get(phase)
            charge.append(base + rate * long * np.exp(-k / 20) if clean is None else clean)
    time = np.concatenate(t)
    air_k = np.full(len(time), air + 273.15) + rng.normal(0, 0.1, len(time))
    charge_k = np.concatenate(charge) + 273.15 + rng.normal(0, 0.15, len(time))
    return Recording(
        "made up",
        (
            channel("load", "fraction", time, np.concatenate(load)),
            channel("charge air", "temperature", time, charge_k),
            channel("ambient", "temperature", time, air_k),
        ),
    )


def through_gears(rng: np.random.Generator) -> tuple[Recording, np.ndarray]:
    """A drive through five gears, and the engine's revolutions a metre in each [1/m]."""
    t = np.arange(0, 600, 0.1)
    v = 15 + 13 * np.sin(t / 60)
    gear = np.clip(np.searchsorted([6, 11, 17, 23], v), 0, 4)
    true = np.array(RATIOS) * 3.64 / 1.912
    rpm = v * true[gear] * (1 + rng.normal(0, 0.004, len(t)))
    speed = v + rng.normal(0, 0.05, len(t))
    log = Recording("g", (channel("rpm", "engine", t, rpm), channel("gps", "speed", t, speed)))
    return log, true


def coasting(rng: np.random.Generator) -> tuple[Recording, float, float, float]:
    """Four runs in neutral: the log, CdA [m²], Crr, mass [kg]."""
    cda, crr, mass = rng.uniform(0.5, 0.9), rng.uniform(0.009, 0.016), 1290.0
    drag, roll = 1.2 * cda / 2 / mass, 9.80665 * crr
    root = np.sqrt(drag * roll)
    t, v, now = [], [], 0.0
    for _ in range(4):
        k = np.arange(0, 60, 0.2)
        run = np.sqrt(roll / drag) * np.tan(np.arctan(30 * np.sqrt(drag / roll)) - k * root)
        t += [now + k, now + 60 + np.arange(100) * 0.2]
        v += [run, np.linspace(run[-1], 30, 100)]
        now += 80
    speed = np.concatenate(v) + rng.normal(0, 0.15, sum(map(len, v)))
    log = Recording("c", (channel("gps", "speed", np.concatenate(t), speed),))
    return log, float(cda), float(crr), mass


def two_speeds(rng: np.random.Generator, lag: float, scale: float, warm: float = 0.0) -> Recording:
    """A drive of twenty minutes: the satellite's behind by ``lag`` s, the device off by ``scale``.

    ``warm`` is what the device's gains in ten minutes [share].
    """
    t = np.arange(0, 1200, 0.2)
    levels = rng.uniform(14, 33, 30)
    clean = np.interp(t, np.arange(30) * 40 + 20, levels)
    clean = np.where((t // 20).astype(int) % 2 == 0, np.repeat(levels, 200)[: len(t)], clean)
    k = np.ones(25) / 25
    clean = np.convolve(np.pad(clean, 12, mode="edge"), k, "valid")
    sat = np.interp(t - lag, t, clean) + rng.normal(0, 0.05, len(t))
    shown = clean * scale * (1 + warm * t / 600) + rng.normal(0, 0.05, len(t))
    return Recording(
        "d", (channel("gps", "speed", t, sat), channel("indicated", "speed", t, shown))
    )


def pulsed(rng: np.random.Generator, per_km: float) -> Recording:
    """Five minutes with a channel in hertz beside a road speed."""
    t = np.arange(0, 300, 0.5)
    v = 20 + 8 * np.sin(t / 40)
    rate = v * per_km / 1000 * (1 + rng.normal(0, 0.004, len(t)))
    return Recording("p", (channel("gps", "speed", t, v), channel("wheel Hz", "number", t, rate)))
