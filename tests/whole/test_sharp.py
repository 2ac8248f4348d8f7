"""Places where a slip would have passed unseen: one case each, worked by hand."""

from __future__ import annotations

import unittest

import msgspec
from msgspec.structs import astuple

from tests.demo import at, demo, put, state, whole
from zombrel.diagnose.steps import expected_flashes, steps
from zombrel.handover import sheet as drawn
from zombrel.harness.plugs import lead
from zombrel.job import facts
from zombrel.job.model import index
from zombrel.job.problem import Problem
from zombrel.job.typed import facts as typed
from zombrel.job.wiring import Lead, LeadRow
from zombrel.logs import bus
from zombrel.logs.speedlog import parse
from zombrel.plan import day
from zombrel.plan.order import Where
from zombrel.signals import study
from zombrel.signals.begin import best_chain
from zombrel.signals.what_if import what_if
from zombrel.units import METRIC, words


class OnOff(unittest.TestCase):
    def test_a_contact_is_seen_as_it_is(self) -> None:
        """A lamp line that is led to the supply while the lights are on, and on means closed."""
        job = whole()
        dark, lit = state(job), msgspec.structs.replace(state(job), lights=True)
        self.assertEqual(astuple(what_if(job, dark, "dim-hub"))[:2], ("off", 0.0))
        self.assertEqual(astuple(what_if(job, lit, "dim-hub"))[:2], ("on", 1.0))
        turned = put(job, "devices.hub.sheet.inputs.DIM.active", "open")
        self.assertEqual(astuple(what_if(turned, lit, "dim-hub"))[:2], ("off", 0.0))

    def test_a_pedal_is_pressed_only_while_it_is(self) -> None:
        job = whole()
        up, down = state(job), msgspec.structs.replace(state(job), brake=True)
        self.assertEqual(what_if(job, up, "brake-pace").status, "released")
        self.assertEqual(what_if(job, down, "brake-pace").status, "pressed")
        led = demo()  # no relay: it floats, and nobody may take that for a pedal
        self.assertEqual(what_if(led, state(led), "brake-pace").status, "unsure")


class Figures(unittest.TestCase):
    def test_where_a_divided_signal_drops_out(self) -> None:
        # 24 054 a km divided by 2 passes 1 kHz at 1000 · 2 · 3600 / 24 054 = 299 km/h
        job = put(demo(), "chains.speed-pace.hops", [{"type": "divider", "by": 2}])
        job = put(job, "vehicle.top_mps", 90.0)
        found = {f.id: f for f in at(job).findings}["rate-limit-speed-pace"]
        self.assertIn("above 299 km/h", words(found.title, METRIC))

    def test_flashes_of_a_divided_signal(self) -> None:
        # 24.054 a metre, divided by 7, four to a flash: 0.859 a metre; 17.2 in 20 m
        job = whole()
        step = next(s for s in steps(job) if s.id == "roll-speed-pace")
        self.assertIn("17 or 18 in", expected_flashes(job, step, 20.0))

    def test_dates_by_points_and_by_dashes(self) -> None:
        sheet = next(f for f in facts.all_facts(demo()) if f.kind == "date")
        for text, kept in (("4.11.2026", "2026-11-04"), ("2026-2-9", "2026-02-09")):
            self.assertEqual(typed.parse(sheet, text, METRIC), kept)
        for text in ("4/11/2026", "31.4.2026", "2026-13-01", "soon"):
            with self.subTest(text), self.assertRaises(Problem):
                typed.parse(sheet, text, METRIC)

    def test_a_text_covers_its_own_height(self) -> None:
        text = drawn.Text(10.0, 20.0, "W1", 5.0)
        _, top, _, bottom = text.box
        self.assertAlmostEqual(top, 20 - 0.8 * 5)
        self.assertAlmostEqual(bottom, 20 + 0.25 * 5)


class Texts(unittest.TestCase):
    def test_what_was_left_out_of_a_short_log_is_told_once(self) -> None:
        rows = "".join(f"{i},50,51\n" for i in range(3)) + "3,fast,51\n"
        with self.assertRaises(Problem) as caught:
            parse("t,gps km/h,shown km/h\n" + rows, "run.csv")
        said = str(caught.exception)
        self.assertIn("only 3 usable rows", said)
        self.assertIn("1 rows without figures", said)
        self.assertNotIn("column", said.partition("at least 5.")[2])  # how it was read is no excuse

    def test_a_falling_resistance_over_temperatures_is_a_thermistor(self) -> None:
        ntc = ((273.15, 5896.0), (373.15, 187.0))
        for pairs, is_one in (
            (ntc, True),
            (((200.0, 5896.0), (373.15, 187.0)), False),  # no temperature of any car
            (((273.15, 100.0), (373.15, 138.5)), False),  # it rises
            (((273.15, 100.0), (373.15, 50.0)), False),  # half is not less than half
            (((0.0, 84.0), (0.055, 7.0)), False),  # litres
        ):
            with self.subTest(pairs):
                self.assertIs(study._is_thermistor(pairs), is_one)


class Orders(unittest.TestCase):
    def test_a_lost_conductor_is_looked_for_nearby_first(self) -> None:
        rows = tuple(LeadRow(a=f"P.{n}", b=f"Q.{n}") for n in range(1, 11))
        order = lead._candidates("Q.5", [], Lead(id="l", name="lead", rows=rows), set(), 0)
        self.assertEqual(order[:6], ["Q.6", "Q.4", "Q.3", "Q.7", "Q.2", "Q.8"])

    def test_the_battery_is_off_from_the_start_where_it_was(self) -> None:
        job = demo()
        off = day.work_order(job, Where(battery_off=True))
        first = next(s for s in off.slots if any(t.turn == "battery on" for t in s.before))
        self.assertAlmostEqual(day._battery(off.slots[: off.slots.index(first) + 1],
                                            Where(battery_off=True))[0], first.begin)  # fmt: skip

    def test_names_of_signals_count_on(self) -> None:
        job = demo()
        lamp = index(job.devices)["lamp"]
        sheet = lamp.sheet.input("TACH")
        assert sheet is not None
        names = []
        for _ in range(3):
            chain = best_chain(job, lamp, sheet)
            assert chain is not None
            names.append(chain.id)
            job = msgspec.structs.replace(job, chains=(*job.chains, chain))
        self.assertEqual(names, ["tach-lamp-2", "tach-lamp-3", "tach-lamp-4"])

    def test_a_signal_of_as_many_bits_as_may_be(self) -> None:
        signal = ' SG_ X : 0|{}@1+ (1,0) [0|0] "" E'
        bus._sizes(signal.format(bus.MOST_BITS), "x.dbc")
        with self.assertRaisesRegex(Problem, "no bus has that"):
            bus._sizes(signal.format(bus.MOST_BITS + 1), "x.dbc")


if __name__ == "__main__":
    unittest.main()
