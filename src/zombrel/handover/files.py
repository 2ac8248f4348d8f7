"""Everything a job can be written out as, by name: one definition for window and command line."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import NamedTuple

from zombrel.findings.finding import Assessment
from zombrel.findings.seals import seal_on
from zombrel.handover import tables
from zombrel.handover.sheet import Sheet, svg
from zombrel.harness.laid import laid
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.plan.day import on_clock, work_order
from zombrel.units import METRIC, Units

Pdf = Callable[[tuple[Sheet, ...]], bytes]
"""Prints sheets: the one thing that needs Qt, given by whoever has it."""


class Kind(NamedTuple):
    """One file: what it is called and which endings it may have, the usual one first."""

    name: str
    words: str
    endings: tuple[str, ...]


KINDS = (
    Kind("owner", "owner's page", ("pdf", "html")),
    Kind("wires", "wire list", ("csv", "json")),
    Kind("cuts", "cut list", ("csv", "json")),
    Kind("pins", "connector tables", ("csv", "json")),
    Kind("parts", "parts list", ("csv", "json")),
    Kind("labels", "labels", ("pdf", "svg")),
    Kind("drawing", "wiring drawing", ("svg", "pdf")),
    Kind("leads", "build sheets of leads", ("pdf", "svg")),
    Kind("faces", "connectors as found and as built", ("pdf", "svg")),
    Kind("compare", "before and after", ("pdf", "svg")),
    Kind("plan", "work plan", ("ics",)),
)


def sheets(name: str, job: Job, units: Units = METRIC) -> tuple[Sheet, ...]:
    """The pages of ``drawing``, ``labels``, ``leads``, ``faces`` or ``compare`` of the laid job."""
    from zombrel.handover.build_sheet import build_sheets
    from zombrel.handover.compare_sheet import compare_sheets
    from zombrel.handover.drawing import drawing
    from zombrel.handover.labels import labels
    from zombrel.handover.pin_sheet import pin_sheets

    if name == "compare":
        return compare_sheets(job, units)
    if name == "faces":
        return pin_sheets(job)
    if name == "leads":
        return build_sheets(job, units)
    return drawing(job, units) if name == "drawing" else labels(job)


def written_date(day: date) -> str:
    """``27 November 2026``"""
    return f"{day.day} {day:%B %Y}"


def make(
    name: str,
    ending: str,
    raw: Job,
    assessment: Assessment,
    today: date,
    pdf: Pdf,
    units: Units = METRIC,
) -> bytes:
    """The bytes of one file; tables are data and stay in the units their heads name.

    Raises:
        Problem: there is no such file, or not with that ending.
    """
    kind = next((k for k in KINDS if k.name == name), None)
    if kind is None:
        raise Problem(f"There is no {name} to be written.")
    if ending not in kind.endings:
        raise Problem(f"The {kind.words} is written as {' or '.join(kind.endings)}, not {ending}.")
    job = laid(raw)
    if name == "owner":
        from zombrel.handover.owner.make import owner_page
        from zombrel.handover.paper import owner_html, pdf_of

        page = owner_page(job, assessment, written_date(today), seal_on(raw))
        html = owner_html(page, units)
        return html.encode() if ending == "html" else pdf_of(html)
    if name in ("labels", "drawing", "leads", "faces", "compare"):
        pages = sheets(name, job, units)
        if name == "leads" and not pages:
            raise Problem("No remap lead has a conductor yet: begin one in Wire, Remap.")
        if name == "compare" and not pages:
            raise Problem("Nothing is compared: read logs in Road, Before and after, and keep it.")
        if name == "faces" and not pages:
            raise Problem("No connector is drawn yet: draw one in Wire, Connectors.")
        title = f"{job.number} {job.title}, {kind.words}".strip()
        return svg(pages, title).encode() if ending == "svg" else pdf(pages)
    if name == "plan":
        from zombrel.handover.calendar import ics

        return ics(job, on_clock(work_order(job).slots, job.house), today, units)
    rows = {
        "wires": lambda: tables.wire_rows(job, assessment),
        "cuts": lambda: tables.cut_rows(job),
        "pins": lambda: tables.pin_rows(job),
        "parts": lambda: tables.parts_rows(job, units),
    }[name]()
    if ending == "json":
        return tables.to_json(rows).encode()
    return tables.to_csv(rows, tables.HEADS[name]).encode()
