"""Parts as forms: every field has words, is shown and read back in both systems of units."""

from __future__ import annotations

import math
import typing
import unittest
from collections.abc import Iterator
from typing import Any

import msgspec

from zombrel.catalog.check import sheet_troubles, source_troubles
from zombrel.catalog.form.applies import applies
from zombrel.catalog.form.fields import (
    Field,
    Path,
    at,
    choice_words,
    fields,
    put,
    shapes_of,
    tag_of,
    unsaid,
    without,
)
from zombrel.catalog.form.pins import pin_rows
from zombrel.catalog.form.ready import PARTS, ROWS, spec, turned, with_copy, with_part
from zombrel.catalog.form.text import shown, taken, unit_of
from zombrel.catalog.form.words import BLOCKS, say
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import source_shelf
from zombrel.job import sheet as sheets
from zombrel.job.model import House, HouseFigure
from zombrel.job.problem import Problem
from zombrel.job.sheet import Control, DeviceSheet, InputSheet, SupplySheet
from zombrel.job.source import Resistive, Source, SourceSpec
from zombrel.units import CUSTOMARY, METRIC

INSIDE = {
    "DeviceSheet": ("inputs", "outputs", "supplies", "controls"),
    "Control": (),
}
"""Listed as pins, not as fields."""


def parts() -> Iterator[DeviceSheet | Source | House]:
    yield from shelf()[0]
    yield from source_shelf(None)[0]
    yield House(figures=(HouseFigure(id="minutes, mount", value=55.0),))


def every_field(record: msgspec.Struct, path: Path = (), of: str = "") -> Iterator[Field]:
    for field in fields(at(record, path), path, of):
        yield field
        if field.shape.how == "rows":
            for n, _ in enumerate(field.value):
                yield from every_field(record, (*field.path, n), field.of)
        elif field.shape.how == "block" and field.value is not None:
            yield from every_field(record, field.path, field.of)


def like(a: Any, b: Any) -> bool:
    if isinstance(a, tuple) and isinstance(b, tuple):
        return len(a) == len(b) and all(map(like, a, b))
    if isinstance(a, float) or isinstance(b, float):
        return math.isclose(a or 0.0, b or 0.0, rel_tol=1e-4, abs_tol=1e-9)
    return bool(a == b)


def sheet(key: str) -> DeviceSheet:
    return next(s for s in shelf()[0] if s.id == key)


def field(record: msgspec.Struct, *path: str | int) -> Field:
    return next(f for f in every_field(record) if f.path == path)


def pin(record: DeviceSheet, where: str, n: int, name: str) -> Field:
    return next(f for f in every_field(record, (where, n)) if f.name == name)


class Fields(unittest.TestCase):
    def test_no_field_of_any_record_is_without_words(self) -> None:
        records: list[type] = [DeviceSheet, InputSheet, SupplySheet, Control, sheets.OutputSheet]
        records += [Source, House, HouseFigure, sheets.Need, sheets.Dial, sheets.Preset]
        records += [*typing.get_args(sheets.SettingSheet), *typing.get_args(SourceSpec)]
        for kind in records:
            for name in shapes_of(kind):
                if name in INSIDE.get(kind.__name__, ()):
                    continue
                with self.subTest(f"{kind.__name__}.{name}"):
                    words = say(kind.__name__, name)
                    assert words is not None
                    self.assertLessEqual(len(words.label), 29)

    def test_what_is_shown_is_read_back_in_both_systems(self) -> None:
        typed = ("text", "figure", "whole", "pairs", "named", "list", "lines")
        seen = set()
        for part in parts():
            base: list[Path] = [()]
            if isinstance(part, DeviceSheet):
                base += [r.path for r in pin_rows(part)]
            for path in base:
                for f in every_field(part, path):
                    if f.shape.how not in typed:
                        continue
                    for units in (METRIC, CUSTOMARY):
                        text = shown(f, units)
                        # Not as it stands, so that it must be read.
                        fresh = taken(f, f"{text} ", units)
                        again = taken(f.but(value=None, usual=False), text or " ", units)
                        with self.subTest(f"{part.name if path else ''}{f.path} {text!r}"):  # type: ignore[union-attr]
                            self.assertEqual(put(part, f.path, fresh), part)
                            if text:
                                self.assertTrue(like(again, f.value), (again, f.value))
                        seen.add((f.shape.how, unit_of(f, units)))
        for wanted in (("figure", "mph"), ("figure", "°F"), ("figure", "ft"), ("pairs", "°F")):
            self.assertIn(wanted, seen)

    def test_typed_figures_become_si(self) -> None:
        pace, hub = sheet("ardle-p7"), sheet("ardle-g6")
        ring = next(s for s in source_shelf(None)[0] if s.id == "speed-out")
        cases = (
            (pin(pace, "inputs", 0, "works_above_mps"), "31 mph", METRIC, 31 * 0.44704),
            (pin(pace, "inputs", 0, "works_above_mps"), "31", CUSTOMARY, 31 * 0.44704),
            (pin(pace, "inputs", 0, "input_ohm"), "4k7", METRIC, 4700.0),
            (pin(pace, "inputs", 0, "min_hz"), "", METRIC, 0.0),
            (pin(pace, "supplies", 0, "amps"), "800 mA", METRIC, 0.8),
            (field(House(), "conductor_max_k"), "221 °F", METRIC, 378.15),
            (field(House(), "fuse_within_m"), "7 in", METRIC, 0.1778),
            (field(House(), "drop_power"), "2,5", METRIC, 0.025),
            (field(ring, "spec", "pulses_per_m"), "4000 per mile", METRIC, 4000 / 1609.344),
            (pin(hub, "inputs", 3, "curve"), "0:0.5\n10:4.5", METRIC, ((0, 0.5), (10_000, 4.5))),
            (
                pin(hub, "inputs", 3, "curve"),
                "0:0.5\n14.5:4.5",
                CUSTOMARY,
                ((0, 0.5), (99974, 4.5)),
            ),
        )
        for where, text, units, want in cases:
            with self.subTest(f"{where.say.label} {text!r}"):
                self.assertTrue(like(taken(where, text, units), want), taken(where, text, units))

    def test_what_cannot_be_is_refused_with_its_field(self) -> None:
        pace, lamp = sheet("ardle-p7"), sheet("ardle-m7")
        cases = (
            (pace, pin(pace, "inputs", 0, "max_hz"), "1,000", "Follows up to: “1,000” can be"),
            (pace, pin(pace, "inputs", 0, "max_hz"), "", "Follows up to: write a figure"),
            (pace, pin(pace, "inputs", 0, "max_v"), "12 A", "is a current"),
            (pace, pin(pace, "inputs", 0, "max_v"), "0", "above 0"),
            (pace, pin(pace, "inputs", 0, "pulses_per_flash"), "2.5", "not a whole number"),
            (pace, pin(pace, "inputs", 0, "pin"), "", "pin"),
            (lamp, pin(lamp, "inputs", 1, "rows"), "000 4", "no “=”"),
            (lamp, pin(lamp, "inputs", 3, "curve"), "0:0.5", "at least 2 are needed"),
        )
        for record, where, text, words in cases:
            with self.subTest(words), self.assertRaisesRegex(Problem, words):
                put(record, where.path, taken(where, text, METRIC))

    def test_only_what_means_something_is_asked_and_nothing_that_was_said_is_hidden(self) -> None:
        given = InputSheet(pin="A", quantity="clutch", takes="contact")
        self.assertNotIn("threshold_v", {f.name for f in fields(given)})
        odd = msgspec.structs.replace(given, threshold_v=2.0)
        self.assertIn("threshold_v", {f.name for f in fields(odd)})
        self.assertIn("need_ohm", {f.name for f in fields(InputSheet(pin="A", quantity="brake"))})
        self.assertNotIn(
            "fuse_a", {f.name for f in fields(SupplySheet(pin="G", kind="ground", amps=1))}
        )

    def test_what_decides_and_is_not_said_is_named(self) -> None:
        given = InputSheet(pin="A", quantity="tach")
        self.assertEqual(unsaid(given), ("Counts from",))
        self.assertEqual(unsaid(msgspec.structs.replace(given, threshold_v=2.0)), ())
        self.assertIn("Maker's fuse", unsaid(SupplySheet(pin="P", kind="power", amps=1)))


class Ready(unittest.TestCase):
    def test_every_ready_part_is_sound_and_can_be_set_in_every_way(self) -> None:
        blank = DeviceSheet(id="x", maker="?", model="?", name="X")
        for name in PARTS:
            made, key = with_part(with_part(blank, name)[0], name)
            self.assertEqual(key, "NEW 2")
            self.assertEqual(list(sheet_troubles(made)), [], name)
            row = next(r for r in pin_rows(made) if r.pin == key)
            part = at(made, row.path)
            counts = isinstance(part, Control) or getattr(part, "takes", "") == "pulses"
            for f in fields(part, row.path):
                for tag, words in choice_words(f) if f.name == "setting" else ():
                    other = turned(made, row.path, tag)
                    self.assertEqual(tag_of(at(other, f.path)), tag)
                    if counts and tag != "curves":
                        with self.subTest(f"{name}, {words}"):
                            self.assertEqual(list(sheet_troubles(other)), [])

    def test_a_pin_is_copied_from_a_like_device(self) -> None:
        blank = DeviceSheet(id="x", maker="?", model="?", name="X")
        hub = sheet("ardle-g6")
        made, name = with_copy(blank, hub, "TEMP HIGH")
        self.assertEqual((made.controls[0].of, name), ("", "TEMP HIGH"))  # it has no TEMP yet
        made, name = with_copy(with_copy(blank, hub, "TEMP")[0], hub, "TEMP")
        self.assertEqual(
            (made.inputs[1].pin, made.inputs[0].setting), ("TEMP 2", hub.inputs[2].setting)
        )

    def test_every_kind_of_source_can_be_chosen(self) -> None:
        kinds = source_shelf(None)[0]
        for one in kinds:
            f = field(one, "spec")
            for tag, words in choice_words(f):
                self.assertIn(tag, BLOCKS)
                if tag in ("box-output",):
                    with self.assertRaises(Problem):
                        spec(tag, one, kinds)
                    continue
                other = put(one, ("spec",), spec(tag, one, kinds))
                self.assertEqual(list(source_troubles(other)), [], words)

    def test_rows_are_added_and_taken_out(self) -> None:
        pace = sheet("ardle-p7")
        more = put(pace, ("needs",), (*pace.needs, ROWS[sheets.Need]))
        self.assertEqual(without(more, ("needs", 1)), pace)
        path: Path = ("inputs", 0, "setting", "dials")
        with self.assertRaisesRegex(Problem, "dials"):
            without(without(pace, (*path, 0)), (*path, 0))


class Asked(unittest.TestCase):
    def test_only_what_a_sender_has_is_asked_of_it(self) -> None:
        sender = Resistive(points=((0.0, 10.0), (1e5, 180.0)))
        asked = {f: applies(sender, f) for f in sender.__struct_fields__}
        self.assertEqual({f for f, yes in asked.items() if not yes}, {"seal", "shared_v"})
        own = msgspec.structs.replace(sender, one_wire=True, shared_ohm=1000.0)
        self.assertTrue(all(applies(own, f) for f in own.__struct_fields__))


if __name__ == "__main__":
    unittest.main()
