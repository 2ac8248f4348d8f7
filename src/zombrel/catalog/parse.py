"""Device sheets and sources from text, checked as a whole."""

from __future__ import annotations

from zombrel.catalog.check import sheet_troubles, source_troubles
from zombrel.intake.record import record
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import Source


def parse_sheet(text: str | bytes) -> DeviceSheet:
    """A device sheet from its JSON text, checked as a whole.

    Raises:
        Problem: not JSON, not a device sheet, or a field that cannot be; the text names it.
    """
    sheet = record(_bytes(text), DeviceSheet)
    for trouble in sheet_troubles(sheet):
        raise Problem(trouble)
    return sheet


def parse_source(text: str | bytes) -> Source:
    """A source from its JSON text; raises Problem naming the field that cannot be."""
    source = record(_bytes(text), Source)
    for words in source_troubles(source):
        raise Problem(words)
    return source


def _bytes(text: str | bytes) -> bytes:
    return text if isinstance(text, bytes) else text.encode("utf-8", "replace")
