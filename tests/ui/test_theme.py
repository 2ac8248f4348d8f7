"""Contrast of the tokens, by day and by night (WCAG 2.1, 1.4.3 and 1.4.11)."""

import unittest

from zombrel.ui.theme import DAY, NIGHT


def luminance(colour: str) -> float:
    """Relative luminance of ``#RRGGBB`` (WCAG 2.1, definitions)."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(a: str, b: str) -> float:
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


class Contrast(unittest.TestCase):
    def test_the_scale_itself(self) -> None:
        self.assertAlmostEqual(contrast("#000000", "#FFFFFF"), 21.0)
        self.assertAlmostEqual(contrast("#777777", "#FFFFFF"), 4.48, delta=0.01)

    def test_text_can_be_read(self) -> None:
        for t in (DAY, NIGHT):
            for back in (t.ground, t.panel, t.well, t.tint):
                for name in ("ink", "quiet", "good", "watch", "trouble", "petrol"):
                    with self.subTest(name, theme=t.name, on=back):
                        self.assertGreaterEqual(contrast(getattr(t, name), back), 4.5)
            self.assertGreaterEqual(contrast(t.on_petrol, t.petrol), 4.5)
            self.assertGreaterEqual(contrast(t.on_marigold, t.marigold), 4.5)
            for name in ("rail_ink", "rail_quiet"):
                self.assertGreaterEqual(contrast(getattr(t, name), t.rail), 4.5)

    def test_rings_outlines_and_marks_can_be_seen(self) -> None:
        for t in (DAY, NIGHT):
            for name in ("focus", "outline", "petrol"):
                for back in (t.ground, t.panel, t.well):
                    with self.subTest(name, theme=t.name, on=back):
                        self.assertGreaterEqual(contrast(getattr(t, name), back), 3.0)
