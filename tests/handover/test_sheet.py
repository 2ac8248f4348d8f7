"""Flat sheets: widths allowed for are never too small, and nothing is lost on the way to paper."""

from __future__ import annotations

import unittest
import xml.etree.ElementTree as ET

from hypothesis import given, settings
from hypothesis import strategies as st

from zombrel.handover import sheet as drawn
from zombrel.handover.sheet import ADVANCE, Box, Path, Sheet, Text, fit, shrunk, svg, width

words = st.text(st.characters(codec="utf-8", exclude_categories=("Cs", "Cc")), max_size=60)


class Widths(unittest.TestCase):
    @given(words, st.floats(1, 6), st.floats(2, 200))
    def test_what_is_fitted_fits(self, text: str, size: float, room: float) -> None:
        cut = fit(text, size, room)
        if cut != "…":
            self.assertLessEqual(width(cut, size), room + 1e-9)
        if width(text, size) <= room:
            self.assertEqual(cut, text)
        smaller, at = shrunk(text, size, room, 1.0)
        self.assertLessEqual(at, size)
        if smaller not in ("…", ""):
            self.assertLessEqual(width(smaller, at), room + 1e-5)

    def test_the_shipped_font_is_no_wider_than_allowed_for(self) -> None:
        """Every printable letter of B612 bold against its class, by Qt's own measure."""
        from PySide6.QtGui import QFont, QFontMetricsF

        from zombrel.ui.qtapp import application
        from zombrel.ui.theme import TEXT, load_fonts

        application()
        load_fonts()
        for bold in (False, True):
            face = QFont(TEXT)
            face.setPixelSize(100)
            face.setBold(bold)
            metrics = QFontMetricsF(face)
            for code in range(33, 127):
                letter = chr(code)
                self.assertLessEqual(
                    metrics.horizontalAdvance(letter), width(letter, 100) + 0.5, letter
                )
        self.assertEqual(sorted(ADVANCE), list(ADVANCE))

    def test_boxes_of_text(self) -> None:
        for anchor in ("start", "middle", "end"):
            left, top, right, bottom = Text(50, 50, "abc", 10, anchor).box  # type: ignore[arg-type]
            self.assertAlmostEqual(right - left, width("abc", 10))
            self.assertLess(top, 50)
            self.assertGreater(bottom, 50)
        self.assertEqual(Text(50, 50, "abc", 10).box[0], 50)
        self.assertEqual(Text(50, 50, "abc", 10, "end").box[2], 50)


class Svg(unittest.TestCase):
    @settings(max_examples=60)
    @given(words, words)
    def test_any_words_survive(self, title: str, text: str) -> None:
        page = Sheet(100, 50, (Text(10, 10, text), Box(0, 0, 5, 5), Path(((0, 0), (5, 5)))))
        root = ET.fromstring(svg((page, page), title))
        name = "{http://www.w3.org/2000/svg}"
        self.assertEqual([t.text or "" for t in root.iter(f"{name}text")], [text, text])
        self.assertEqual(root.get("height"), "100mm")
        moved = [g.get("transform") for g in root.iter(f"{name}g")]
        self.assertEqual(moved, ["translate(0 0)", "translate(0 50)"])

    def test_a_striped_wire_is_two_lines(self) -> None:
        page = Sheet(10, 10, (Path(((0, 0), (5, 5)), "#111111", 1.0, "#EEEEEE", True),))
        root = ET.fromstring(svg((page,)))
        lines = list(root.iter("{http://www.w3.org/2000/svg}polyline"))
        self.assertEqual([p.get("stroke") for p in lines], ["#111111", "#EEEEEE"])
        self.assertEqual(lines[1].get("stroke-width"), "0.4")


class Height(unittest.TestCase):
    def test_a_text_covers_its_own_height(self) -> None:
        text = drawn.Text(10.0, 20.0, "W1", 5.0)
        _, top, _, bottom = text.box
        self.assertAlmostEqual(top, 20 - 0.8 * 5)
        self.assertAlmostEqual(bottom, 20 + 0.25 * 5)


if __name__ == "__main__":
    unittest.main()
