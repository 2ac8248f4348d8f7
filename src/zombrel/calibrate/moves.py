"""From where a setting stands to where it should: what to turn, flip or press, in order."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from zombrel.calibrate.setting import options
from zombrel.job.sheet import (
    TABLE,
    Buttons,
    Curves,
    Dials,
    Menu,
    NumberSheet,
    Plug,
    Presses,
    Rotary,
    SettingSheet,
    Switches,
)
from zombrel.units import prefixed


def ohms(at: str) -> float | None:
    """The resistance a plug's position names [Ω]; None when it names none."""
    try:
        value = float(at)
    except ValueError:
        return None
    return value if value > 0 else None


def said(sheet: SettingSheet, at: str) -> str:
    """A position as the installer would say it."""
    if isinstance(sheet, Plug):
        value = ohms(at)
        return at if value is None else prefixed(value, "Ω", 2)
    return "own table" if isinstance(sheet, Curves) and at == TABLE else at


def _times(n: int, what: str) -> str:
    return f"{what} once" if n == 1 else f"{what} {n} times"


def places(sheet: Dials, text: str) -> list[int] | None:
    """Index of each dial's position in ``text``; None when it names none."""
    found, rest = [], text
    for dial in sheet.dials:
        fits = [i for i, p in enumerate(dial.positions) if rest.startswith(p)]
        if not fits:
            return None
        best = max(fits, key=lambda i: len(dial.positions[i]))
        found.append(best)
        rest = rest[len(dial.positions[best]) :]
    return found


def moves(sheet: SettingSheet, now: str, want: str) -> tuple[str, ...]:
    """What to do, step by step; empty when it stands right.

    ``now`` may be empty: then the steps start from nothing known.
    """
    if now == want:
        return ()
    return _MOVES[sheet.__class__](sheet, now, want)


def _switches(sheet: Switches, now: str, want: str) -> tuple[str, ...]:
    return tuple(
        f"switch {i + 1} {'on' if w == '1' else 'off'}"
        for i, w in enumerate(want)
        if now[i : i + 1] != w
    )


def _menu(sheet: Menu, now: str, want: str) -> tuple[str, ...]:
    return (*_opened(sheet.path), f"set {want}", "confirm")


def _presses(sheet: Presses, now: str, want: str) -> tuple[str, ...]:
    steps = _count(sheet, now, want, f"press {sheet.press}")
    return tuple(s for s in (sheet.enter, *steps, sheet.store) if s)


def _curves(sheet: Curves, now: str, want: str) -> tuple[str, ...]:
    last = "load the points" if want == TABLE else f"choose {want}"
    return (*_opened(sheet.path), last, "confirm")


def _opened(path: tuple[str, ...]) -> tuple[str, ...]:
    return (f"open {' › '.join(path)}",) if path else ()


def _turns(sheet: Dials, now: str, want: str) -> tuple[str, ...]:
    aim, here = places(sheet, want), places(sheet, now)
    if aim is None:
        return ()
    out = []
    for i, dial in enumerate(sheet.dials):
        target = dial.positions[aim[i]]
        if here is None:
            out.append(f"{dial.name} to {target}")
        elif here[i] != aim[i]:
            clicks = aim[i] - here[i]
            way = "right" if clicks > 0 else "left"
            plural = "" if abs(clicks) == 1 else "s"
            out.append(f"{dial.name} to {target}: {abs(clicks)} click{plural} {way}")
    return tuple(out)


def _knob(sheet: Rotary, now: str, want: str) -> tuple[str, ...]:
    names = [name for name, _ in sheet.positions]
    if now not in names or want not in names:
        return (f"turn to {want}",)
    clicks = names.index(want) - names.index(now)
    plural = "" if abs(clicks) == 1 else "s"
    return (f"turn to {want}: {abs(clicks)} click{plural} {'right' if clicks > 0 else 'left'}",)


def _count(sheet: NumberSheet, now: str, want: str, press: str) -> tuple[str, ...]:
    names = options(sheet).names
    if now not in names or want not in names:
        return (f"until it says {want}",)
    steps = names.index(want) - names.index(now)
    way = "up" if steps > 0 else "down"
    words = press if press.endswith(("up", "down")) and steps > 0 else f"{press} {way}"
    if press.startswith("press ") and steps < 0:
        # one button only counts up and starts again at the bottom
        return (_times(len(names) + steps, press) + ", past the top",)
    return (_times(abs(steps), words),)


_MOVES: dict[type, Callable[[Any, str, str], tuple[str, ...]]] = {
    Dials: _turns,
    Switches: _switches,
    Rotary: _knob,
    Menu: _menu,
    Buttons: lambda sheet, now, want: _count(sheet, now, want, "press"),
    Presses: _presses,
    Plug: lambda sheet, now, want: ("pull the plug", f"fit {said(sheet, want)}", "push it home"),
    Curves: _curves,
}
"""How each kind of setting is moved."""
