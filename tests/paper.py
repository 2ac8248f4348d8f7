"""A PDF looked at page by page: what every paper of a job must hold."""

from __future__ import annotations

import io
import itertools
import re
import unittest
from typing import Any

import pypdf
import pypdfium2

SLACK = 0.8
"""Boxes of glyphs may touch by so much [points]."""
FEWEST = 4
"""A page with fewer lines stands for one that was left alone."""
WIDTHS = {"A4": 595, "Letter": 612}

Rect = tuple[float, float, float, float]
"""Left, bottom, right, top [points]."""


def texts(data: bytes) -> list[str]:
    """What stands on each page."""
    document = pypdfium2.PdfDocument(data)
    return [p.get_textpage().get_text_range().replace("\xa0", " ") for p in document]


def boxes(page: Any) -> list[Rect]:
    """Where there is text on a page, drawn as small as it is seen."""
    read = page.get_textpage()
    return [read.get_rect(i) for i in range(read.count_rects())]


def met(a: Rect, b: Rect) -> bool:
    """Two texts cover each other."""
    wide = min(a[2], b[2]) - max(a[0], b[0])
    tall = min(a[3], b[3]) - max(a[1], b[1])
    return wide > SLACK and tall > SLACK and tall > 0.35 * min(a[3] - a[1], b[3] - b[1])


def check(case: unittest.TestCase, data: bytes, size: str, title: str) -> list[str]:
    """Everything that is asked of a paper; gives the text of its pages."""
    read = pypdf.PdfReader(io.BytesIO(data))
    root: Any = read.trailer["/Root"]
    case.assertTrue(root["/MarkInfo"]["/Marked"])
    case.assertIn("/StructTreeRoot", root)
    case.assertEqual(root["/Lang"], "en")
    case.assertIn("/Outlines", root)
    case.assertIn(title, str(read.metadata.title))  # type: ignore[union-attr]
    case.assertEqual(round(float(read.pages[0].mediabox.width)), WIDTHS[size])
    said = texts(data)
    for i, (page, text) in enumerate(zip(read.pages, said, strict=True), 1):
        case.assertIn(f"{i} of {len(said)}", text)
        case.assertGreaterEqual(len(text.splitlines()), FEWEST, text)
        fonts: Any = page["/Resources"].get("/Font", {})  # type: ignore[attr-defined]
        for font in fonts.values():
            face = font.get_object()
            case.assertRegex(face["/BaseFont"], r"\+B612")
            inside = face["/DescendantFonts"][0].get_object()["/FontDescriptor"].get_object()
            case.assertTrue({"/FontFile2", "/FontFile3"} & set(inside))
    for number, page in enumerate(pypdfium2.PdfDocument(data), 1):
        wide, tall = page.get_size()
        found = boxes(page)
        for left, bottom, right, top in found:
            inside = left >= 0 and bottom >= 0 and right <= wide + 1 and top <= tall + 1
            case.assertTrue(inside, f"text outside of page {number}")
        for a, b in itertools.combinations(found, 2):
            if met(a, b):
                at = page.get_textpage()
                case.fail(
                    f"page {number}: {at.get_text_bounded(*a)!r} on {at.get_text_bounded(*b)!r}"
                )
    return said


def kept_together(case: unittest.TestCase, pages: list[str], heads: list[str]) -> None:
    """No heading is the last thing on its page."""
    for text in pages:
        lines = [x for x in re.split(r"[\r\n]+", text) if x.strip()]
        body = [x for x in lines if not re.search(r"\d+ of \d+", x)]
        case.assertNotIn(body[-1].strip(), heads)
