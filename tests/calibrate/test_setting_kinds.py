"""Switch banks, knobs, plugs and press sequences, against brute force and by hand."""

from __future__ import annotations

import bisect
import itertools
import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.calibrate.settings.face import Knob, Resistor, Screen, Slide, rings
from zombrel.calibrate.settings.positions import Options, StepNames, Steps
from zombrel.calibrate.settings.setting import (
    believed,
    face,
    from_si,
    moves,
    names,
    nearest,
    options,
    said,
    to_si,
    turned,
    value_of,
)
from zombrel.job.problem import Problem
from zombrel.job.sheet import (
    Buttons,
    Curves,
    Dial,
    Dials,
    Lookup,
    Menu,
    NumberSheet,
    Plug,
    Preset,
    Presses,
    Rotary,
    SettingSheet,
    Switches,
)

BANK = Switches(weights=(0.1, 0.2, 0.4, 0.8, 1.6, 3.2, 6.4, 12.8), base=1, unit="pulses/rev")
KNOB = Rotary(positions=(("LO", 2.0), ("MID", 7.0), ("HI", 11.0)), unit="step")
IDLE = Plug(known=((4700, 1510), (12000, 1250), (33000, 1000)), unit="rpm")
PRESS = Presses(enter="hold", low=2000, high=9000, step=100, unit="rpm")
MENU = Menu(path=(), low=60, high=130, step=1, unit="°C")
TABLE = Lookup(
    bank="DIP",
    bits=(3, 5, 6),
    rows=(("000", 4000.0), ("101", 8000.0), ("010", 16000.0)),
    unit="pulses/mile",
)
SHEETS: list[NumberSheet] = [
    BANK,
    TABLE,
    KNOB,
    IDLE,
    PRESS,
    MENU,
    Buttons(low=0.5, high=6, step=0.5, unit="s"),
]
DIALS = Dials(
    base=800,
    unit="pulses/km",
    dials=(
        Dial(name="coarse", positions=tuple("ABCDE"), octaves=1),
        Dial(name="fine", positions=tuple("0123456789"), octaves=0.1),
    ),
)
CURVES = Curves(
    path=("Temp",),
    free_points=8,
    presets=(
        Preset(name="A", points=((0, 1), (1, 2))),
        Preset(name="B", points=((0, 1), (1, 3))),
    ),
)
FACES: list[SettingSheet] = [*SHEETS, DIALS, CURVES]


class Kinds(unittest.TestCase):
    def test_a_button_is_pressed_as_often_as_it_takes(self) -> None:
        up = Presses(enter="hold", press="up", low=2000, high=2900, step=100, unit="rpm")
        down = Buttons(low=0.5, high=6, step=0.5, unit="s")
        for sheet, now, want, step in (
            (up, "2000", "2100", "press up once"),
            (up, "2000", "2300", "press up 3 times"),
            (up, "2300", "2200", "press up 9 times, past the top"),
            (down, "1", "1.5", "press up once"),
            (down, "3", "1", "press down 4 times"),
            (down, "9", "1", "until it says 1"),
        ):
            with self.subTest(now, want=want):
                self.assertIn(step, moves(sheet, now, want))

    def test_a_bank_counts_its_weights(self) -> None:
        """14.1 a turn of the scenario's alternator: 1 + 12.8 + 0.2 + 0.1."""
        self.assertAlmostEqual(value_of(BANK, "11000001"), 14.1)
        self.assertEqual(nearest(BANK, 14.1)[0], "11000001")
        table = options(BANK)
        self.assertEqual(len(table.names), 256)
        for bits in itertools.islice(itertools.product("01", repeat=8), 0, 256, 17):
            name = "".join(bits)
            sums = 1 + sum(w for w, b in zip(BANK.weights, bits, strict=True) if b == "1")
            self.assertAlmostEqual(value_of(BANK, name), sums)

    def test_a_table_of_combinations_moves_the_switches_it_owns(self) -> None:
        self.assertEqual(nearest(TABLE, 8100), ("101", 8000.0))
        self.assertEqual(moves(TABLE, "010", "101"), ("switch 3 on", "switch 5 off", "switch 6 on"))
        self.assertEqual(
            face(TABLE, "010", "101"),
            (Slide("3", False, True), Slide("5", True, False), Slide("6", False, True)),
        )
        # a mile is 1609.344 m exactly
        self.assertAlmostEqual(believed(TABLE).values[1], 8000 / 1609.344)
        first = Lookup(rows=(("0", 1.0), ("1", 2.0)), unit="step")
        self.assertEqual(moves(first, "0", "1"), ("switch 1 on",))
        with self.assertRaisesRegex(Problem, "switches have no position “111”"):
            value_of(TABLE, "111")

    def test_a_plug_has_every_part_and_takes_any_other(self) -> None:
        table = options(IDLE)
        self.assertEqual(len(table.names), 4 * 24 + 1)  # 100 Ω to 1 MΩ, E24
        self.assertAlmostEqual(value_of(IDLE, "12000"), 1250, delta=2)
        self.assertAlmostEqual(value_of(IDLE, "8250"), 1357, delta=2)  # an E96 part

    def test_si_and_back(self) -> None:
        for unit, value, si in (
            ("rpm", 6000, 100.0),
            ("°C", 100, 373.15),
            ("bar", 2, 2e5),
            ("%", 30, 0.3),
            ("l", 7, 0.007),
            ("s", 2, 2.0),
            ("step", 3, 3.0),
            ("cylinders", 6, 6.0),
        ):
            self.assertAlmostEqual(to_si(unit, value), si)  # type: ignore[arg-type]
            self.assertAlmostEqual(from_si(unit, si), value)  # type: ignore[arg-type]
        self.assertAlmostEqual(from_si("°C", 3.0, difference=True), 3.0)

    def test_no_such_position(self) -> None:
        for sheet, at, words in (
            (BANK, "2", "switches have no position"),
            (KNOB, "OFF", "knob has no position “OFF”; it goes from LO to HI"),
            (IDLE, "blue", "not a resistance"),
            (PRESS, "1950", "outside 2000 to 9000"),
            (PRESS, "2050", "between two steps"),
            (MENU, "hot", "takes numbers"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Problem, words):
                value_of(sheet, at)

    @given(st.sampled_from(SHEETS), st.floats(-100, 20000))
    def test_nearest_is_nearest(self, sheet: NumberSheet, value: float) -> None:
        table = options(sheet)
        name, got = nearest(sheet, value)
        self.assertAlmostEqual(abs(got - value), min(abs(v - value) for v in table.values))
        self.assertAlmostEqual(value_of(sheet, name), got)
        below, under = nearest(sheet, value, "below")
        above, over = nearest(sheet, value, "above")
        fits = [v for v in table.values if v <= value + 1e-6]
        self.assertAlmostEqual(under, max(fits) if fits else table.values[0], places=3)
        fits = [v for v in table.values if v >= value - 1e-6]
        self.assertAlmostEqual(over, min(fits) if fits else table.values[-1], places=3)
        self.assertIn(below, table.names)
        self.assertIn(above, table.names)

    @given(st.sampled_from(SHEETS), st.data())
    def test_the_moves_lead_there(self, sheet: NumberSheet, data: st.DataObject) -> None:
        names = options(sheet).names
        now, want = data.draw(st.sampled_from(names)), data.draw(st.sampled_from(names))
        steps = moves(sheet, now, want)
        self.assertEqual(bool(steps), now != want)
        if isinstance(sheet, Switches):
            bits = list(now)
            for step in steps:
                _, n, state = step.split()
                bits[int(n) - 1] = "1" if state == "on" else "0"
            self.assertEqual("".join(bits), want)
        if isinstance(sheet, Rotary) and steps:
            clicks = int(steps[0].split(": ")[1].split()[0])
            way = 1 if steps[0].endswith("right") else -1
            order = [name for name, _ in sheet.positions]
            self.assertEqual(order.index(now) + way * clicks, order.index(want))

    @given(st.sampled_from(FACES), st.data())
    def test_what_is_touched_is_what_is_seen(
        self, sheet: SettingSheet, data: st.DataObject
    ) -> None:
        every = names(sheet)
        now, want = data.draw(st.sampled_from(every)), data.draw(st.sampled_from(every))
        parts = face(sheet, now, want)
        i = data.draw(st.integers(0, len(parts) - 1))
        match parts[i]:
            case Knob(places=places, want=aim):
                to = data.draw(st.integers(0, len(places) - 1))
                then = face(sheet, turned(sheet, now, i, to), want)
                self.assertEqual(then[i], parts[i].but(now=to))
                self.assertEqual(then[:i] + then[i + 1 :], parts[:i] + parts[i + 1 :])
                self.assertEqual(aim == to, turned(sheet, want, i, to) == want)
            case Slide() if isinstance(sheet, Lookup):
                bits = turned(sheet, now, i, 1)
                self.assertEqual((bits[i], len(bits)), ("1", 3))  # may be in no row
            case Slide(now=on):
                then = face(sheet, turned(sheet, now, i, int(not on)), want)
                self.assertEqual(then[i], parts[i].but(now=not on))
                self.assertEqual(then[:i] + then[i + 1 :], parts[:i] + parts[i + 1 :])
            case Screen() | Resistor() as seen:
                to = data.draw(st.integers(0, len(every) - 1))
                self.assertEqual(turned(sheet, now, i, to), every[to])
                self.assertEqual(seen.now, said(sheet, now))
                self.assertEqual(seen.want, "" if now == want else said(sheet, want))

    def test_the_nearer_of_the_first_two(self) -> None:
        self.assertEqual(
            [nearest(KNOB, v)[0] for v in (1, 3, 4.4, 4.6, 8.9, 9.1)],
            ["LO", "LO", "LO", "MID", "MID", "HI"],
        )

    def test_what_is_no_position_is_seen_as_none(self) -> None:
        self.assertEqual(face(KNOB, "OFF", "MID"), (Knob("", ("LO", "MID", "HI"), None, 1),))
        self.assertEqual({part.now for part in face(DIALS, "?", "A0")}, {None})
        self.assertEqual(face(IDLE, "blue", "")[0], Resistor(None, "blue", ""))
        self.assertEqual(turned(DIALS, "?", 1, 2), "A2")

    def test_rings_of_a_resistor(self) -> None:
        """IEC 60062: 8.2 kΩ is grey, red, red; 470 Ω yellow, violet, brown."""
        for ohm, given_rings in (
            (8200.0, (8, 2, 2)),
            (470.0, (4, 7, 1)),
            (1e6, (1, 0, 5)),
            (33000.0, (3, 3, 3)),
        ):
            self.assertEqual(rings(ohm), given_rings)

    @given(
        st.floats(-1e3, 1e3),
        st.sampled_from([0.1, 0.25, 1.0, 2.5, 1000.0]),
        st.integers(1, 400),
        st.data(),
    )
    def test_places_among_steps_are_those_of_a_list(
        self, low: float, step: float, count: int, data: st.DataObject
    ) -> None:
        steps = Steps(low, step, count)
        table = Options(names=StepNames(steps), values=steps)
        plain = list(steps)
        near = (
            st.sampled_from(plain) | st.floats(-1e4, 1e6) | st.sampled_from([-math.inf, math.inf])
        )
        value = data.draw(near)
        self.assertEqual(table.after(value), bisect.bisect_right(plain, value))
        self.assertEqual(table.before(value), bisect.bisect_left(plain, value))


if __name__ == "__main__":
    unittest.main()
