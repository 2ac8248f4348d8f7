"""Kinds of setting, each in one place: its positions, what they stand for, how one gets there.

References: preferred resistors E24 (IEC 60063); a dial of octaves multiplies by 2 to the step
(definition of the octave); switches add their weights.

A new kind is a record in ``job.sheet`` (its schema) and an entry of ``KINDS`` here: how one gets
there, its positions, its words, what is seen of it, what can be wrong with its sheet.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from zombrel.calibrate import preferred, resistor_code
from zombrel.calibrate.settings.face import Knob, Part, Resistor, Screen, Slide
from zombrel.calibrate.settings.positions import Options, StepNames, Steps
from zombrel.job.pairs import LEAST_PAIRS, faults
from zombrel.job.problem import Problem
from zombrel.job.sheet import (
    TABLE,
    Buttons,
    Curves,
    Dials,
    Lookup,
    Menu,
    Plug,
    Presses,
    Rotary,
    Switches,
)
from zombrel.job.value import Value
from zombrel.units import prefixed

OHMS = (100.0, 1e6)
"""Resistors that a coded input is fitted with [Ω]."""
ON_STEP = 1e-6
"""Share of a step by which a value may miss it."""
MOST_STEPS = 100000
"""More positions no menu has."""


def _ascending(pairs: list[tuple[float, str]]) -> Options:
    pairs.sort()
    return Options(names=tuple(n for _, n in pairs), values=tuple(v for v, _ in pairs))


def _named(what: str) -> Callable[[Any, Options, str], float]:
    """The value of a position that is called by its name; ``what`` it is a position of."""
    many = what.endswith("s")

    def value(sheet: object, table: Options, at: str) -> float:
        if at in table.names:
            return table.values[table.names.index(at)]
        raise Problem(
            f"The {what} {'have' if many else 'has'} no position “{at}”; "
            f"{'they go' if many else 'it goes'} from {table.names[0]} to {table.names[-1]}."
        )

    return value


def _taken(sheet: Any, now: str, part: int, to: int) -> str:
    """Of a thing that has but one part: the position itself."""
    return KINDS[type(sheet)].names(sheet)[to]


class Kind(Value, frozen=True):
    """One kind of setting."""

    moves: Callable[[Any, str, str], tuple[str, ...]]
    """(sheet, where it stands, where it should) → what to do, step by step."""
    face: Callable[[Any, str, str], tuple[Part, ...]]
    """(sheet, where it stands, where it should) → what is seen of it."""
    options: Callable[[Any], Options] = lambda sheet: Options(names=(), values=())
    """All positions, ascending by value; none for a kind that holds no number."""
    value: Callable[[Any, Options, str], float] = _named("setting")
    """(sheet, positions, name) → what the position stands for, in the setting's unit."""
    said: Callable[[str], str] = lambda at: at
    """A position as the installer would say it."""
    turned: Callable[[Any, str, int, int], str] = _taken
    """(sheet, where it stands, which part of the face, its place) → where it stands then."""
    faults: Callable[[Any], Iterator[tuple[str, str]]] = lambda sheet: iter(())
    """What the schema cannot say is wrong with a sheet: (field, words)."""
    choices: Callable[[Any], Sequence[str]] | None = None
    """Names of its positions, where they are not numbers."""

    def names(self, sheet: Any) -> Sequence[str]:
        """Every position in order."""
        return self.options(sheet).names if self.choices is None else self.choices(sheet)


# ---- dials, each a factor


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


def _dialled(sheet: Dials) -> Options:
    pairs = []
    for steps in itertools.product(*(range(len(d.positions)) for d in sheet.dials)):
        turned = list(zip(steps, sheet.dials, strict=True))
        octaves = sum(s * d.octaves for s, d in turned)
        name = "".join(d.positions[s] for s, d in turned)
        pairs.append((sheet.base * 2**octaves, name))
    return _ascending(pairs)


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
            out.append(f"{dial.name} to {target}: {_clicks(aim[i] - here[i])}")
    return tuple(out)


def _dial_face(sheet: Dials, now: str, want: str) -> tuple[Part, ...]:
    here, aim = places(sheet, now), places(sheet, want)
    return tuple(
        Knob(
            dial.name,
            dial.positions,
            here[i] if here else None,
            aim[i] if aim else None,
            endless=True,
        )
        for i, dial in enumerate(sheet.dials)
    )


def _dial_turned(sheet: Dials, now: str, part: int, to: int) -> str:
    here = places(sheet, now) or [0] * len(sheet.dials)
    here[part] = to
    return "".join(d.positions[i] for d, i in zip(sheet.dials, here, strict=True))


def _clicks(n: int) -> str:
    plural = "" if abs(n) == 1 else "s"
    return f"{abs(n)} click{plural} {'right' if n > 0 else 'left'}"


# ---- switches, each a weight


def _switched(sheet: Switches) -> Options:
    pairs = []
    for bits in itertools.product((0, 1), repeat=len(sheet.weights)):
        value = sheet.base + sum(b * w for b, w in zip(bits, sheet.weights, strict=True))
        pairs.append((value, "".join(map(str, bits))))
    return _ascending(pairs)


def _flips(sheet: Switches, now: str, want: str) -> tuple[str, ...]:
    return tuple(
        f"switch {i + 1} {'on' if w == '1' else 'off'}"
        for i, w in enumerate(want)
        if now[i : i + 1] != w
    )


def _bank(sheet: Switches, now: str, want: str) -> tuple[Part, ...]:
    return tuple(
        Slide(str(i + 1), now[i : i + 1] == "1", want[i : i + 1] == "1" if want else None)
        for i in range(len(sheet.weights))
    )


def _flipped(sheet: Switches, now: str, part: int, to: int) -> str:
    bits = list(now.ljust(len(sheet.weights), "0")[: len(sheet.weights)])
    bits[part] = str(to)
    return "".join("1" if b == "1" else "0" for b in bits)


# ---- switches whose combinations stand in a table


def _width(sheet: Lookup) -> int:
    return len(sheet.rows[0][0])


def _bit_names(sheet: Lookup) -> list[str]:
    numbers = sheet.bits or tuple(range(1, _width(sheet) + 1))
    return [str(n) for n in numbers]


def _combined(sheet: Lookup) -> Options:
    return _ascending([(value, name) for name, value in sheet.rows])


def _lookup_flips(sheet: Lookup, now: str, want: str) -> tuple[str, ...]:
    return tuple(
        f"switch {name} {'on' if w == '1' else 'off'}"
        for i, (name, w) in enumerate(zip(_bit_names(sheet), want, strict=False))
        if now[i : i + 1] != w
    )


def _lookup_face(sheet: Lookup, now: str, want: str) -> tuple[Part, ...]:
    return tuple(
        Slide(name, now[i : i + 1] == "1", want[i : i + 1] == "1" if want else None)
        for i, name in enumerate(_bit_names(sheet))
    )


def _lookup_flipped(sheet: Lookup, now: str, part: int, to: int) -> str:
    bits = list(now.ljust(_width(sheet), "0")[: _width(sheet)])
    bits[part] = str(to)
    return "".join("1" if b == "1" else "0" for b in bits)


def _lookup_faults(sheet: Lookup) -> Iterator[tuple[str, str]]:
    width = _width(sheet)
    for i, (name, _) in enumerate(sheet.rows):
        if set(name) - {"0", "1"} or len(name) != width:
            yield f"rows[{i}]", f"a combination is {width} times 0 or 1, not “{name}”."
    if sheet.bits and len(sheet.bits) != width:
        yield "bits", f"name {width} switches, one for each place of a combination."
    if len(set(sheet.bits)) < len(sheet.bits):
        yield "bits", "one switch is named twice."


# ---- a knob


def _knob(sheet: Rotary, now: str, want: str) -> tuple[str, ...]:
    names = [name for name, _ in sheet.positions]
    if now not in names or want not in names:
        return (f"turn to {want}",)
    return (f"turn to {want}: {_clicks(names.index(want) - names.index(now))}",)


def _knob_face(sheet: Rotary, now: str, want: str) -> tuple[Part, ...]:
    names = tuple(name for name, _ in sheet.positions)
    here, aim = (names.index(at) if at in names else None for at in (now, want))
    return (Knob("", names, here, aim),)


# ---- a resistor in a plug


def ohms(at: str) -> float | None:
    """The resistance a plug's position names [Ω]; None when it names none."""
    try:
        value = float(at)
    except ValueError:
        return None
    return value if value > 0 else None


def _plug_words(at: str) -> str:
    value = ohms(at)
    return at if value is None else prefixed(value, "Ω", 2)


def _plugs(sheet: Plug) -> Options:
    law = resistor_code.learn(sheet.known, sheet.vref)
    low, high = OHMS
    found = [o for o in preferred.values("E24") if low <= o <= high]
    return _ascending([(law.value(ohm), f"{ohm:g}") for ohm in found])


def _plug_face(sheet: Plug, now: str, want: str) -> tuple[Part, ...]:
    to = _plug_words(want) if want != now else ""
    return (Resistor(ohms(now), _plug_words(now), to),)


def _plug_faults(sheet: Plug) -> Iterator[tuple[str, str]]:
    for words in faults(sheet.known):
        yield "known", words


def _coded(sheet: Plug, table: Options, at: str) -> float:
    if at in table.names:
        return table.values[table.names.index(at)]
    try:
        return resistor_code.learn(sheet.known, sheet.vref).value(float(at))
    except ValueError:
        raise Problem(f"“{at}” is not a resistance in ohms.") from None


# ---- numbers counted in steps: a menu, two buttons, one button


def _steps(sheet: Menu | Buttons | Presses) -> Options:
    if sheet.high < sheet.low:
        raise Problem(
            f"A setting from {sheet.low:g} to {sheet.high:g} {sheet.unit} has no position; "
            "its low end must not lie above its high end."
        )
    count = round((sheet.high - sheet.low) / sheet.step)
    values = Steps(sheet.low, sheet.step, count + 1)
    return Options(names=StepNames(values), values=values)


def _counted(sheet: Menu | Buttons | Presses, table: Options, at: str) -> float:
    try:
        value = float(at.replace(",", "."))
    except ValueError:
        raise Problem(f"“{at}” is not a number; the setting takes numbers.") from None
    if not sheet.low <= value <= sheet.high:
        raise Problem(f"{at} is outside {sheet.low:g} to {sheet.high:g}.")
    steps = (value - sheet.low) / sheet.step
    if abs(steps - round(steps)) > ON_STEP:
        raise Problem(f"{at} is between two steps; the setting goes in steps of {sheet.step:g}.")
    return value


def _step_faults(sheet: Menu | Buttons | Presses) -> Iterator[tuple[str, str]]:
    if sheet.high <= sheet.low:
        yield "high", f"it must be above low, {sheet.low:g}."
    elif (sheet.high - sheet.low) / sheet.step > MOST_STEPS:
        yield "step", "that makes more than 100 000 positions."


def _screen(path: Callable[[Any], str]) -> Callable[[Any, str, str], tuple[Part, ...]]:
    def face(sheet: Any, now: str, want: str) -> tuple[Part, ...]:
        return (Screen(path(sheet), sheet.unit, now, want if want != now else ""),)

    return face


def _trail(sheet: Menu | Curves) -> str:
    return " › ".join(sheet.path)


def _menu(sheet: Menu, now: str, want: str) -> tuple[str, ...]:
    return (*_opened(sheet.path), f"set {want}", "confirm")


def _opened(path: tuple[str, ...]) -> tuple[str, ...]:
    return (f"open {' › '.join(path)}",) if path else ()


def _buttons(sheet: Buttons, now: str, want: str) -> tuple[str, ...]:
    return _presses_of(sheet, now, want, "press")


def _presses(sheet: Presses, now: str, want: str) -> tuple[str, ...]:
    steps = _presses_of(sheet, now, want, f"press {sheet.press}")
    return tuple(s for s in (sheet.enter, *steps, sheet.store) if s)


def _presses_of(sheet: Buttons | Presses, now: str, want: str, press: str) -> tuple[str, ...]:
    names = _steps(sheet).names
    if now not in names or want not in names:
        return (f"until it says {want}",)
    steps = names.index(want) - names.index(now)
    way = "up" if steps > 0 else "down"
    words = press if press.endswith(("up", "down")) and steps > 0 else f"{press} {way}"
    if press.startswith("press ") and steps < 0:
        # one button only counts up and starts again at the bottom
        return (_times(len(names) + steps, press) + ", past the top",)
    return (_times(abs(steps), words),)


def _times(n: int, what: str) -> str:
    return f"{what} once" if n == 1 else f"{what} {n} times"


# ---- curves to choose from, or a table


def _curve(sheet: Curves, now: str, want: str) -> tuple[str, ...]:
    last = "load the points" if want == TABLE else f"choose {want}"
    return (*_opened(sheet.path), last, "confirm")


def _curve_words(at: str) -> str:
    return "own table" if at == TABLE else at


def _curve_face(sheet: Curves, now: str, want: str) -> tuple[Part, ...]:
    to = _curve_words(want) if want != now else ""
    return (Screen(_trail(sheet), "curve", _curve_words(now), to),)


def _curve_faults(sheet: Curves) -> Iterator[tuple[str, str]]:
    if not sheet.presets and sheet.free_points < LEAST_PAIRS:
        yield "", "give presets, or free_points of two or more."
    for i, preset in enumerate(sheet.presets):
        for words in faults(preset.points):
            yield f"presets[{i}].points", words


def _curve_names(sheet: Curves) -> tuple[str, ...]:
    return (*(p.name for p in sheet.presets), *((TABLE,) if sheet.free_points else ()))


KINDS: dict[type, Kind] = {
    Dials: Kind(_turns, _dial_face, _dialled, _named("dials"), turned=_dial_turned),
    Switches: Kind(_flips, _bank, _switched, _named("switches"), turned=_flipped),
    Lookup: Kind(
        _lookup_flips,
        _lookup_face,
        _combined,
        _named("switches"),
        turned=_lookup_flipped,
        faults=_lookup_faults,
    ),
    Rotary: Kind(
        _knob,
        _knob_face,
        lambda sheet: _ascending([(value, name) for name, value in sheet.positions]),
        _named("knob"),
        turned=lambda sheet, now, part, to: sheet.positions[to][0],
    ),
    Plug: Kind(
        lambda sheet, now, want: ("pull the plug", f"fit {_plug_words(want)}", "push it home"),
        _plug_face,
        _plugs,
        _coded,
        _plug_words,
        faults=_plug_faults,
    ),
    Menu: Kind(_menu, _screen(_trail), _steps, _counted, faults=_step_faults),
    Buttons: Kind(
        _buttons, _screen(lambda _: "press up or down"), _steps, _counted, faults=_step_faults
    ),
    Presses: Kind(
        _presses, _screen(lambda sheet: sheet.enter), _steps, _counted, faults=_step_faults
    ),
    Curves: Kind(
        _curve, _curve_face, said=_curve_words, faults=_curve_faults, choices=_curve_names
    ),
}
