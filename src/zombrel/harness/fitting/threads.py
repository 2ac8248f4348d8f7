"""Whether a sender's thread goes into a hole, and which adapter does otherwise.

References:
    [1] ISO 261 and ISO 965-1, metric threads.
    [2] ISO 228-1, parallel pipe threads (G); ISO 7-1, taper pipe threads (R).
    [3] ASME B1.20.1, taper pipe threads (NPT).
"""

from __future__ import annotations

from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Thread
from zombrel.job.value import Value

INCH_MM = 25.4


class Shape(Value, frozen=True):
    """Size of a thread."""

    major_mm: float
    """Outside diameter; of a taper one, in the gauge plane."""
    pitch_mm: float
    taper: bool = False


SHAPES: dict[Thread, Shape] = {
    "M8×1": Shape(8.0, 1.0),
    "M10×1": Shape(10.0, 1.0),
    "M12×1.5": Shape(12.0, 1.5),
    "M14×1.5": Shape(14.0, 1.5),
    "M16×1.5": Shape(16.0, 1.5),
    "M18×1.5": Shape(18.0, 1.5),
    "1/8-27 NPT": Shape(10.287, INCH_MM / 27, True),
    "1/4-18 NPT": Shape(13.716, INCH_MM / 18, True),
    "G 1/8": Shape(9.728, INCH_MM / 28),
    "G 1/4": Shape(13.157, INCH_MM / 19),
    "R 1/8": Shape(9.728, INCH_MM / 28, True),
    "R 1/4": Shape(13.157, INCH_MM / 19, True),
}
"""Sizes [mm] after [1], [2] and [3]."""
STARTS = 0.065
"""Threads whose diameters differ by less start by hand, whatever their pitch: ASSUMED."""


class ThreadFit(Value, frozen=True):
    """How a sender goes into a hole."""

    fits: bool
    starts: bool
    """It can be screwed in by hand although it is another thread: it binds, leaks or strips."""
    seal: str
    """What makes it tight."""
    adapter: str
    """What goes between where it does not fit."""
    why: str


def shape(name: str) -> Shape:
    """The size of a thread.

    Raises:
        Problem: it is not in the table; the text names those that are.
    """
    found = SHAPES.get(name.strip().replace("x", "×"))  # type: ignore[call-overload]
    if found is None:
        raise Problem(f"There is no thread “{name}”; there are {', '.join(SHAPES)}.")
    return found  # type: ignore[no-any-return]


def fit(sender: str, port: str, one_wire: bool = False) -> ThreadFit:
    """How a sender of one thread goes into a hole of another.

    Args:
        sender: its thread (male), a key of ``SHAPES``.
        port: the hole's (female).
        one_wire: its body is its ground: nothing may be wound round its thread.

    Raises:
        Problem: a thread that is not in the table.
    """
    male, female = shape(sender), shape(port)
    same = (male.major_mm, male.pitch_mm) == (female.major_mm, female.pitch_mm)
    fits = same and not (female.taper and not male.taper)
    seal = _seal(male, one_wire)
    if fits:
        return ThreadFit(True, True, seal, "", "")
    starts = abs(male.major_mm / female.major_mm - 1) < STARTS
    why = f"{_size(sender, male)} does not go into {_size(port, female)}"
    if same:
        why = f"{sender} is parallel and the hole {port} is taper: it never seals"
    elif starts:
        why += "; it starts by hand, then binds and strips the hole"
    return ThreadFit(
        False, starts, seal, f"adapter {port.strip()} outside, {sender.strip()} inside", why
    )


def _size(name: str, s: Shape) -> str:
    return f"{name.strip()} ({s.major_mm:.1f} mm, pitch {s.pitch_mm:.2f} mm)"


def _seal(male: Shape, one_wire: bool) -> str:
    if not male.taper:
        return "washer or O-ring under its shoulder"
    return "its own taper, dry" if one_wire else "its taper with liquid sealant"
