"""Small logs of every kind, with rows missing, turned back or too few: what is read of them."""

from __future__ import annotations

import math
import random
import wave
from collections.abc import Iterator
from pathlib import Path

from zombrel.instruments.simulated import sentence

COUNTS = (1, 2, 3, 4, 5, 9, 20, 21, 63, 64, 65, 130)
STEPS = (0.02, 0.1, 1.0, 7.0, 90.0)
STARTS = (0.0, 3.2, 86390.0)
TIMES = ("time s", "t", "Time (ms)", "clock", "elapsed", "seconds", "no")
HEADS = (
    ("speed km/h", 10.0, 140.0),
    ("indicated km/h", 10.5, 144.0),
    ("satellite km/h", 10.0, 140.0),
    ("satellite mph", 5.0, 80.0),
    ("rpm", 700.0, 6500.0),
    ("coolant °C", -20.0, 118.0),
    ("charge temperature °C", 10.0, 70.0),
    ("pressure kPa", 90.0, 220.0),
    ("pulses Hz", 0.0, 900.0),
    ("lambda", 0.7, 1.3),
    ("supply V", 0.0, 15.0),
    ("brake", 0.0, 1.0),
)
"""Columns: their heading, and between what they lie."""
TABLES = 240
GPX = (
    '<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
    "{}</trkseg></trk></gpx>"
)


def small(folder: Path) -> Iterator[Path]:
    """Write them, each the same every time."""
    for i in range(TABLES):
        path = folder / f"table-{i}.csv"
        path.write_text(_table(random.Random(f"table {i}")), encoding="utf-8")
        yield path
    for i in range(40):
        path = folder / f"drive-{i}.nmea"
        path.write_bytes(b"".join(_drive(random.Random(f"drive {i}"))))
        yield path
    for i in range(16):
        path = folder / f"track-{i}.gpx"
        path.write_text(GPX.format("".join(_track(random.Random(f"track {i}")))), encoding="utf-8")
        yield path
    for i in range(12):
        path = folder / f"scope-{i}.wav"
        _sound(path, random.Random(f"scope {i}"))
        yield path


def _table(dice: random.Random) -> str:
    """Columns that rise and fall; now and then a gap, a word, a row that goes back."""
    n, step, start = dice.choice(COUNTS), dice.choice(STEPS), dice.choice(STARTS)
    of_time, columns = dice.choice(TIMES), dice.sample(HEADS, dice.randint(1, 3))
    mark = dice.choice(",;\t")
    comma = mark == ";" and dice.random() < 0.5
    spoilt = dice.random() < 0.4
    head = [c[0] for c in columns] if of_time == "no" else [of_time, *(c[0] for c in columns)]
    lines = [mark.join(head)] if dice.random() < 0.9 else []
    for i in range(n):
        t = start + i * step * (1000 if "ms" in of_time else 1)
        if spoilt and dice.random() < 0.1:
            t -= 3 * step
        cells = []
        if of_time == "clock":
            day = t % 86400
            cells.append(f"{int(day // 3600):02d}:{int(day % 3600 // 60):02d}:{day % 60:06.3f}")
        elif of_time != "no":
            cells.append(f"{t:.3f}")
        for _, low, high in columns:
            share = 0.5 + 0.45 * math.sin(i * step * 0.4 + low / 50) + dice.gauss(0, 0.02)
            value = f"{low + (high - low) * share:.2f}"
            if spoilt and dice.random() < 0.1:
                value = dice.choice(("", "-", "n/a", "9999"))
            cells.append(value)
        lines.append(mark.join(c.replace(".", ",") if comma else c for c in cells))
    return "\n".join(lines) + "\n"


def _drive(dice: random.Random) -> Iterator[bytes]:
    """A drive by satellite: some fixes lost, with height, and with the dial read aloud."""
    n, high, told = dice.choice((0, 1, 2, 3, 7)), dice.randint(0, 3), dice.randint(0, 3)
    begun = dice.choice((36000, 43199, 86398))
    for i in range(n):
        clock = (begun + i) % 86400
        at = f"{clock // 3600:02d}{clock % 3600 // 60:02d}{clock % 60:02d}.00"
        lock = "V" if dice.random() < 0.2 else "A"
        course = f"{(350 + 7 * i) % 360}.0" if dice.random() < 0.9 else ""
        if i < high:
            yield sentence(f"GPGGA,{at},5000.000,N,00800.{i:03d},E,1,8,1.0,{100 + i}.0,M,0,M,,")
        if i < told:
            yield sentence(f"PZIND,{40 + i},{41.5 + i}")
        yield sentence(
            f"GPRMC,{at},{lock},5000.{i:03d},N,00800.{i:03d},E,{20 + i}.5,{course},191126,,,A"
        )


def _track(dice: random.Random) -> Iterator[str]:
    """Points of a track, some without height or time."""
    n, step = dice.choice((0, 1, 2, 3, 20)), dice.choice((0.2, 1.0, 5.0))
    for i in range(n):
        s = i * step
        height = f"<ele>{200 + i}</ele>" if dice.random() < 0.7 else ""
        clock = f"<time>2026-11-27T10:{int(s // 60):02d}:{s % 60:06.3f}Z</time>"
        when = clock if dice.random() < 0.95 else ""
        yield f'<trkpt lat="{50 + i * step * 1e-4:.6f}" lon="8.0">{height}{when}</trkpt>'


def _sound(path: Path, dice: random.Random) -> None:
    """Pulses recorded by a sound card."""
    n, channels, width = dice.choice((0, 1, 10, 400)), dice.choice((1, 2)), dice.choice((1, 2, 3))
    with wave.open(str(path), "wb") as out:
        out.setnchannels(channels)
        out.setsampwidth(width)
        out.setframerate(dice.choice((8000, 44100)))
        pulse = bytes([255] * width + [0] * width) if width == 1 else bytes([0, 100] * width)
        out.writeframes((pulse * (n * channels))[: n * channels * width])
