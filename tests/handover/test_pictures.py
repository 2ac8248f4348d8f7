"""Plots and settings on paper: what they show lies where it should, nothing on anything else."""

from __future__ import annotations

import itertools
import math
import unittest
from collections.abc import Iterator

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import demo
from tests.handover.test_files import meet
from zombrel.calibrate.settings.face import BANDS, SWEEP, Knob, Resistor, Screen, Slide, angle
from zombrel.calibrate.settings.setting import face, names
from zombrel.catalog.sheets import shelf
from zombrel.handover.dossier.page import LONGEST, PAD, ROOM, SIZE, Row, Table
from zombrel.handover.dossier.signals import curves
from zombrel.handover.marks import head_of
from zombrel.handover.plotted import Frame, plotted
from zombrel.handover.sheet import Box, Item, Path, Text, lifted, picture, svg, width
from zombrel.handover.touched import PETROL, TALL, WIDE, touched
from zombrel.job.sheet import Curves, Plug, SettingSheet
from zombrel.plots.picture import Axis, Cloud, Dot, Line, Picture, Threshold
from zombrel.units import CUSTOMARY, METRIC

FRAME = Frame(14.0, 6.0, 150.0, 50.0)
X, Y = Axis("speed km/h", 0.0, 100.0), Axis("error %", -10.0, 10.0)


def texts(items: tuple[Item, ...]) -> list[Text]:
    return [i for i in items if isinstance(i, Text)]


def curves_of(items: tuple[Item, ...]) -> list[Path]:
    """Strokes that are neither grid nor threshold."""
    return [i for i in items if isinstance(i, Path) and i.width > 0.3 and len(i.points) > 1]


class Plotted(unittest.TestCase):
    def test_values_lie_where_the_axes_put_them(self) -> None:
        line = Line(((0.0, -10.0), (50.0, 0.0), (100.0, 10.0)), "a line")
        found = plotted(Picture(X, Y, (line,), (Dot(50.0, 0.0),)), FRAME)
        (curve,) = [c for c in curves_of(found) if len(c.points) == 3]
        self.assertEqual(curve.points, ((14.0, 56.0), (89.0, 31.0), (164.0, 6.0)))
        dot = next(i for i in found if isinstance(i, Box) and i.w < 3)
        self.assertAlmostEqual(dot.x + dot.w / 2, 89.0)
        self.assertAlmostEqual(dot.y + dot.h / 2, 31.0)
        self.assertIn("a line", [t.text for t in texts(found)])

    def test_a_logarithmic_axis_has_its_decades_apart(self) -> None:
        axis = Axis("Ω", 100.0, 10_000.0, log=True)
        self.assertAlmostEqual(FRAME.x(axis, 1000.0), FRAME.left + FRAME.wide / 2)
        said = {t.text for t in texts(plotted(Picture(axis, Y), FRAME))}
        self.assertLessEqual({"100", "1000"}, said)

    @given(
        st.lists(
            st.tuples(
                st.floats(-200, 300) | st.just(math.nan), st.floats(-50, 50) | st.just(math.inf)
            ),
            max_size=30,
        )
    )
    @settings(max_examples=80, deadline=None)
    def test_no_stroke_leaves_the_frame(self, points: list[tuple[float, float]]) -> None:
        cloud = Cloud([x for x, _ in points], [y for _, y in points])
        dots = tuple(Dot(x, y) for x, y in points)
        found = plotted(Picture(X, Y, (Line(tuple(points), "x"),), dots, clouds=(cloud,)), FRAME)
        for item in found:
            if isinstance(item, Path) and item.width >= 0.5 and item.points[0][1] < 60:
                for x, y in item.points:
                    self.assertTrue(FRAME.left - 1e-6 <= x <= FRAME.left + FRAME.wide + 1e-6)
                    self.assertTrue(FRAME.top - 1e-6 <= y <= FRAME.top + FRAME.tall + 1e-6)
            if isinstance(item, Box) and item.w < 3:
                self.assertTrue(math.isfinite(item.x) and math.isfinite(item.y))

    def test_a_curve_breaks_where_it_has_no_figure(self) -> None:
        points = ((0.0, 0.0), (10.0, 1.0), (20.0, math.nan), (30.0, 1.0), (40.0, 2.0))
        found = curves_of(plotted(Picture(X, Y, (Line(points, ""),)), FRAME))
        self.assertEqual([len(c.points) for c in found], [2, 2])

    def test_curves_are_told_by_their_stroke_too(self) -> None:
        lines = tuple(Line(((0, i), (9, i)), n, n) for i, n in enumerate(("main", "second")))
        main, second, *_ = curves_of(plotted(Picture(X, Y, lines), FRAME))
        self.assertNotEqual(main.dashed, second.dashed)

    def test_thresholds_side_by_side_do_not_lie_on_each_other(self) -> None:
        marks = tuple(Threshold("k", x, n) for x, n in ((50, "OIL LOW 0.8"), (52, "OIL BACK")))
        found = texts(plotted(Picture(X, Y, thresholds=marks), FRAME))
        low, back = (next(t for t in found if t.text.startswith(n)) for n in ("OIL L", "OIL B"))
        self.assertFalse(meet(low, back))

    def test_every_curve_of_the_demo_has_no_text_on_another(self) -> None:
        from tests.demo import at

        for units in (METRIC, CUSTOMARY):
            blocks = list(curves(demo(), at(demo()), units))
            self.assertGreater(len(blocks), 8)
            for block in blocks:
                sheet = block.sheet  # type: ignore[union-attr]
                found = texts(sheet.items)
                for a, b in itertools.combinations(found, 2):
                    self.assertFalse(meet(a, b), f"{a.text!r} and {b.text!r}")
                for t in found:
                    self.assertLessEqual(t.y, sheet.height)


def every_setting() -> Iterator[tuple[str, SettingSheet]]:
    """Every setting of every shipped device."""
    for sheet in shelf()[0]:
        for pin in sheet.inputs:
            if pin.setting is not None:
                yield f"{sheet.id} {pin.pin}", pin.setting
        for control in sheet.controls:
            yield f"{sheet.id} {control.pin}", control.setting


class Touched(unittest.TestCase):
    def test_every_setting_of_every_device_is_drawn_within_its_box(self) -> None:
        count = 0
        for name, setting in every_setting():
            if isinstance(setting, Plug):
                positions = ["4.7 kΩ"]
            else:
                every = names(setting)
                positions = [every[0], every[len(every) // 2], every[-1]]
            for at in dict.fromkeys(positions):
                with self.subTest(name, at=at):
                    items = touched(face(setting, at, ""))
                    count += 1
                    for t in texts(items):
                        left, top, right, bottom = t.box
                        self.assertTrue(left >= -0.5 and right <= WIDE + 0.5, t)
                        self.assertTrue(top >= -0.5 and bottom <= TALL + 0.5, t)
                    said = " ".join(t.text for t in texts(items))
                    if isinstance(setting, Curves):
                        self.assertIn(at if at != "table" else "own table", said)
        self.assertGreater(count, 40)

    def test_a_knob_points_at_its_place(self) -> None:
        for places, now in ((("A", "B", "C", "D", "E"), 4), (tuple("0123456789"), 0)):
            (arrow,) = [
                i
                for i in touched((Knob("dial", places, now, None),))
                if isinstance(i, Path) and i.fill == PETROL
            ]
            tip = arrow.points[0]
            a = math.atan2(tip[0] - WIDE / 2, -(tip[1] - 15.5))
            self.assertAlmostEqual(a, angle(now, len(places)), places=6)
        self.assertAlmostEqual(angle(0, 5), -SWEEP / 2)
        self.assertAlmostEqual(angle(2, 5), 0.0)
        nothing = touched((Knob("dial", ("A", "B"), None, None),))
        self.assertFalse([i for i in nothing if isinstance(i, Path) and i.fill])

    def test_a_slide_that_is_on_is_up_and_says_so(self) -> None:
        for on, word in ((True, "on"), (False, "off")):
            items = touched((Slide("1", on, None),))
            lever = next(i for i in items if isinstance(i, Box) and i.fill == PETROL)
            self.assertEqual(lever.y < 12, on)
            self.assertIn(word, [t.text for t in texts(items)])

    def test_the_rings_of_a_resistor(self) -> None:
        """4.7 kΩ is yellow, violet, red; 330 Ω orange, orange, brown (IEC 60062)."""
        for ohm, rings in ((4700.0, (4, 7, 2)), (330.0, (3, 3, 1))):
            items = touched((Resistor(ohm, f"{ohm:g} Ω", ""),))
            seen = [i.fill for i in items if isinstance(i, Box) and i.w == 2][:3]
            self.assertEqual(seen, [BANDS[r] for r in rings])
        self.assertIn("no part", [t.text for t in texts(touched((Resistor(None, "", ""),)))])

    def test_a_screen_shrinks_what_is_long(self) -> None:
        short, long = (
            next(t for t in texts(touched((Screen("Inputs", "rpm", now, ""),))) if t.bold)
            for now in ("1", "a very long position of a menu")
        )
        self.assertGreater(short.size, long.size)
        self.assertLessEqual(width(long.text, long.size), 35)


class Sheets(unittest.TestCase):
    def test_lifted_is_the_same_elsewhere(self) -> None:
        items: tuple[Item, ...] = (
            Text(10, 20, "a"),
            Box(1, 2, 3, 4),
            Path(((1, 2), (3, 4)), fill="#123456"),
        )
        for item in items:
            self.assertEqual(lifted(lifted(item, 5, 7), -5, -7), item)

    def test_a_picture_is_read_out_and_a_file_stands_alone(self) -> None:
        from zombrel.handover.sheet import Sheet

        sheet = Sheet(10, 10, (Path(((0, 0), (1, 1)), fill="#112233"),))
        inside, alone = picture(sheet, 'a "face" & more'), svg((sheet,), "x")
        self.assertIn('role="img" aria-label=\'a "face" &amp; more\'', inside)
        self.assertIn('fill="#112233"', inside)
        self.assertNotIn("xmlns", inside)
        self.assertIn('xmlns="http://www.w3.org/2000/svg"', alone)


class Columns(unittest.TestCase):
    @given(
        st.lists(
            st.lists(st.text("abcdefgh ", max_size=60), min_size=3, max_size=3),
            min_size=1,
            max_size=8,
        )
    )
    @settings(max_examples=80, deadline=None)
    def test_shares_add_up_and_leave_no_word_out(self, cells: list[list[str]]) -> None:
        table = Table(("one", "two", "three"), tuple(Row(tuple(c)) for c in cells))
        shares = table.shares(METRIC)
        self.assertAlmostEqual(sum(shares), 100, delta=0.1)
        columns = list(zip(table.heads, *(r.cells for r in table.rows), strict=True))
        least = [
            max(width(w[:LONGEST], SIZE) for c in column for w in c.split(" ")) + PAD
            for column in columns
        ]
        if sum(least) <= ROOM:
            for share, low in zip(shares, least, strict=True):
                self.assertGreaterEqual(share / 100 * ROOM, low - 0.1)

    def test_quantities_count_as_they_are_read(self) -> None:
        narrow = Table(("a", "b"), (Row(("{q:length:1.0:1}", "x" * 200)),))
        self.assertLess(narrow.shares(METRIC)[0], 12)


class Arrows(unittest.TestCase):
    def test_an_arrow_of_no_length_has_a_head_all_the_same(self) -> None:
        for tip in ((5.0, 5.0), (5.0, 7.0)):
            with self.subTest(tip):
                point, left, right, foot = head_of((5.0, 5.0), tip, 1.0)
                self.assertEqual(point, tip)
                long = tip != (5.0, 5.0)
                self.assertAlmostEqual(math.dist(left, right), 1.0 if long else 0.0)
                self.assertAlmostEqual(math.dist(tip, foot), 0.8 if long else 0.0)

    def test_an_arrow_that_lies_askew(self) -> None:
        """By the triangle of 3, 4 and 5: along is (0.6, 0.8), across (-0.8, 0.6)."""
        corners = head_of((0.0, 0.0), (3.0, 4.0), 1.0)
        for (x, y), (wanted_x, wanted_y) in zip(
            corners, ((3.0, 4.0), (2.0, 3.5), (2.8, 2.9), (2.52, 3.36)), strict=True
        ):
            self.assertAlmostEqual(x, wanted_x)
            self.assertAlmostEqual(y, wanted_y)


if __name__ == "__main__":
    unittest.main()
