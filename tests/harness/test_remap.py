"""Remap leads, terminals and cylinder leads: what goes where, what takes what, what fits."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path
from typing import Any

from msgspec.structs import astuple, replace

from tests.demo import DEMO, load
from zombrel.calc.all import run
from zombrel.calibrate.firing import judge_leads, parse_banks
from zombrel.handover.tables import HEADS, pin_rows, to_csv
from zombrel.harness.plugs.function import function_of, kind_of
from zombrel.harness.plugs.pinout import read_pinout, read_ways, with_paper, with_seen
from zombrel.harness.plugs.remap import Way, conductors, remap
from zombrel.harness.plugs.terminal import fit
from zombrel.harness.plugs.terminals import TERMINALS
from zombrel.job.problem import Problem

OLD = (
    Way("V.1", "battery +", "feed", "red"),
    Way("V.2", "ground 1", "ground", "black"),
    Way("V.3", "ground 2", "ground", "black"),
    Way("V.4", "sensor ground", "", "black/white"),
    Way("V.5", "5 V throttle", "5 V feed", "grey/red"),
    Way("V.6", "throttle", "0 to 5 V", "grey"),
    Way("V.14", "injector 1", "driver", "violet"),
    Way("V.15", "injector 2", "driver", "violet/white"),
    Way("V.22", "crank +", "pair", "white"),
    Way("V.23", "crank −", "pair", "brown"),
    Way("V.27", "camshaft", "Hall, 5 V", "blue"),
    Way("V.30", "coolant", "NTC", "yellow"),
    Way("V.31", "fuel pump relay", "driver 1 A", "blue/yellow"),
    Way("V.36", "lambda heater", "driver", "blue/white"),
)
NEW = (
    Way("E.1", "B+", "feed"),
    Way("E.11", "power ground", "ground"),
    Way("E.12", "signal gnd", "sensor ground"),
    Way("E.13", "TPS 5V", "5 V feed"),
    Way("E.14", "TPS", "0 to 5 V"),
    Way("E.31", "INJ 2", "driver"),
    Way("E.32", "INJ 1", "driver"),
    Way("F.3", "CKP-", "pair"),
    Way("F.4", "CKP+", "pair"),
    Way("F.6", "cam", "reluctor"),
    Way("F.9", "CLT", "volts"),
    Way("F.17", "pump", "driver 0.5 A"),
    Way("F.20", "knock", "sensor"),
)


class Names(unittest.TestCase):
    def test_one_word_for_one_thing(self) -> None:
        for said, means in (
            ("INJ1", ("injector", "1", "")),
            ("Inj #3", ("injector", "3", "")),
            ("CKP (-)", ("crank", "", "-")),
            ("crankshaft sensor +", ("crank", "", "+")),
            ("battery +", ("battery", "", "")),
            ("TPS 5V", ("5v throttle", "", "")),
            ("throttle position sensor", ("throttle", "", "")),
            ("signal gnd", ("sensor ground", "", "")),  # never one with a power ground
            ("Power ground 2", ("ground", "2", "")),
            ("O2 heater", ("heater lambda", "", "")),
            ("fuel pump relay", ("pump", "", "")),
        ):
            self.assertEqual(astuple(function_of(said)), means, said)
        self.assertEqual(astuple(kind_of("500 mA low side")), ("driver", 0.5, 0.0))
        self.assertEqual(kind_of("", "sensor ground").role, "sensor ground")
        self.assertEqual(kind_of("", "fan").role, "")


class Remaps(unittest.TestCase):
    def test_what_goes_where(self) -> None:
        found = remap(OLD, NEW)
        pairs = {p.a.cavity: (p.b.cavity, p.by) for p in found.pairs}
        self.assertEqual(
            pairs,
            {
                "V.1": ("E.1", "function"),
                "V.2": ("E.11", "function"),
                "V.4": ("E.12", "function"),
                "V.5": ("E.13", "function"),
                "V.6": ("E.14", "function"),
                "V.14": ("E.32", "function"),
                "V.15": ("E.31", "function"),
                "V.22": ("F.4", "function"),
                "V.23": ("F.3", "function"),
                "V.27": ("F.6", "name"),
                "V.30": ("F.9", "name"),
                "V.31": ("F.17", "function"),
            },
        )
        self.assertEqual([w.cavity for w in found.unused], ["V.3", "V.36"])
        self.assertEqual([w.cavity for w in found.missing], ["F.20"])
        self.assertEqual(
            [(c.a, c.code) for c in found.conflicts],
            [
                ("V.27", "sensor-type"),
                ("V.30", "pull-up"),
                ("V.31", "driver-current"),
                ("V.3", "two-to-one"),
            ],
        )
        rows = conductors(found)
        self.assertIn(("V.14", "E.32", "violet", "injector 1"), rows)
        self.assertIn(("V.3", "E.11", "black", "ground 2"), rows)  # a joint in the lead

    def test_nothing_wrong_is_said_of_what_fits(self) -> None:
        same = remap(OLD, [w.but(cavity=f"N{w.cavity}") for w in OLD])
        self.assertEqual((same.unused, same.missing, same.conflicts), ((), (), ()))
        self.assertEqual(len(same.pairs), len(OLD))

    def test_by_hand_first_and_what_that_does(self) -> None:
        found = remap(OLD, NEW, [("V.22", "F.3"), ("V.36", "F.20")])
        pairs = {p.a.cavity: p.b.cavity for p in found.pairs if p.by == "hand"}
        self.assertEqual(pairs, {"V.22": "F.3", "V.36": "F.20"})
        codes = {(c.a, c.code) for c in found.conflicts}
        self.assertIn(("V.22", "sign"), codes)  # the pair is exchanged
        self.assertIn(("V.36", "kind"), codes)  # a driver into a sensor's input

    def test_tables_as_people_have_them(self) -> None:
        text = "# bench\nPin;Kind;Function\n1;feed;B+\n\n2;;CLT\n"
        self.assertEqual(read_ways(text, "x"), (Way("1", "B+", "feed"), Way("2", "CLT")))
        for bad, said in (("1,a\n1,b", "there twice"), (",a", "no cavity"), ("1,\n2,", "no circ")):
            with self.assertRaisesRegex(Problem, said):
                read_ways(bad, "x")

    def run_remap(self, old: str, new: str) -> dict[str, Any]:
        with tempfile.TemporaryDirectory() as folder:
            paths = {}
            for name, text in (("from", old), ("to", new)):
                paths[name] = str(Path(folder) / f"{name}.csv")
                Path(paths[name]).write_text(text)
            return run("remap", paths)

    def test_headless(self) -> None:
        got = self.run_remap("1,injector 1,driver\n2,fan,driver", "7,INJ1,driver\n8,knock,sensor")
        self.assertEqual(
            got,
            {
                "pairs": [{"from": "1", "to": "7", "circuit": "injector 1", "by": "function"}],
                "unused": ["2"],
                "missing": ["8"],
                "conflicts": [],
            },
        )


class Tables(unittest.TestCase):
    def test_its_own_export_gives_the_same_table(self) -> None:
        """A pin-out read into a new job: colour, circuit, kind and what was seen."""
        racer = load(DEMO / "0409.zjob")
        plug = with_seen(racer.connectors[0], 27, "wire", "+12 V tap")
        plug = with_seen(plug, 37, "empty")
        racer = replace(racer, connectors=(plug, *racer.connectors[1:]))
        text = to_csv(pin_rows(racer), HEADS["pins"])
        blank = replace(plug, cavities=())
        self.assertEqual(with_paper(blank, read_pinout(text, blank)).cavities, plug.cavities)
        with self.assertRaisesRegex(Problem, "seen is wire"):
            read_pinout("cavity,colour,circuit,seen\n1,red,feed,maybe", blank)


class Terminals(unittest.TestCase):
    def test_wires_and_what_takes_them(self) -> None:
        for family, area, sheath, plating, fits, name, nearest in (
            ("BK 1.5", 0.75, 1.9, "", True, "BK 1.5 large", None),
            ("bk 1.5", 0.35, 0.0, "", True, "BK 1.5 small", None),
            ("BK 1.5", 2.5, 0.0, "", False, "BK 1.5 large", "BK 2.8"),
            ("AR 1.5 sealed", 0.75, 2.4, "", False, "AR 1.5 sealed large", "BK 4.8 sealed"),
            ("AR 1.5 sealed", 0.5, 0.0, "gold", True, "AR 1.5 sealed gold", None),
            ("BK 2.8", 1.0, 0.0, "gold", False, "BK 2.8", None),
        ):
            with self.subTest(family, area=area):
                found = fit(family, area, sheath, plating)
                self.assertEqual((found.fits, found.terminal.id), (fits, name))
                self.assertEqual(found.nearest.id if found.nearest else None, nearest)
                self.assertEqual(bool(found.why), not fits)
        self.assertEqual(fit("BK 1.5", 0.75).pull_n, 85.0)  # IEC 60352-2, table 1
        with self.assertRaisesRegex(Problem, "there are BK 1.5"):
            fit("XY", 1.0)

    def test_records_are_sound(self) -> None:
        for t in TERMINALS:
            self.assertLess(t.least_mm2, t.most_mm2, t.id)
            self.assertLess(t.least_sheath_mm, t.most_sheath_mm, t.id)
            self.assertEqual("sealed" in t.family, bool(t.seal), t.id)


class Cylinders(unittest.TestCase):
    def test_a_right_harness_is_never_blamed(self) -> None:
        """Made as it should be, whatever the layout, the offsets, the entry and the scatter."""
        rng = random.Random(3)
        for _ in range(100):
            each = rng.randint(2, 4)
            by_bank = rng.random() < 0.5
            n = 2 * each
            banks = (
                (tuple(range(1, each + 1)), tuple(range(each + 1, n + 1)))
                if by_bank
                else (tuple(range(1, n + 1, 2)), tuple(range(2, n + 1, 2)))
            )
            front, pitch = rng.random() < 0.5, rng.uniform(80, 120)
            lengths = [0.0] * n
            for bank in banks:
                offset = rng.uniform(150, 500)
                for i, k in enumerate(bank):
                    reach = i if front else each - 1 - i
                    lengths[k - 1] = offset + reach * pitch + rng.uniform(-8, 8)
            order = tuple(rng.sample(range(1, n + 1), n))
            got = judge_leads(lengths, order, front, pitch, banks=banks)
            self.assertNotEqual(got.fits, False, (banks, lengths))
            turned = judge_leads(lengths, order, not front, pitch, banks=banks)
            self.assertNotEqual(turned.fits, True)
            swapped = list(lengths)
            a, b = banks[0][0], banks[0][-1]
            swapped[a - 1], swapped[b - 1] = swapped[b - 1], swapped[a - 1]
            self.assertNotEqual(judge_leads(swapped, order, front, pitch, banks=banks).fits, True)

    def test_banks_are_asked_and_checked(self) -> None:
        self.assertEqual(parse_banks("", 4, "inline"), ((1, 2, 3, 4),))
        self.assertEqual(parse_banks("1 3;2-4", 4, "flat"), ((1, 3), (2, 4)))
        for text, layout, said in (
            ("", "v", "which cylinders stand in each bank"),
            ("1,3;2", "v", "each cylinder from 1 to 4 once"),
            ("1,2,3,4", "flat", "two banks"),
            ("a;b", "v", "written 1,3,5"),
        ):
            with self.assertRaisesRegex(Problem, said):
                parse_banks(text, 4, layout)


class Carried(unittest.TestCase):
    def test_what_a_pin_is_said_to_carry(self) -> None:
        for said, amps, volts in (
            ("12 V feed", 0.0, 12.0),
            ("500 mA", 0.5, 0.0),
            ("2,5 A", 2.5, 0),
        ):
            with self.subTest(said):
                kind = kind_of(said)
                self.assertEqual((kind.amps, kind.volts), (amps, volts))


if __name__ == "__main__":
    unittest.main()
