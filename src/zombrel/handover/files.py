"""Everything a job can be written out as, by name: one definition for window and command line."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date

from zombrel.actions.logs import stale
from zombrel.findings.finding import Assessment
from zombrel.findings.seals import seal_on
from zombrel.handover import tables
from zombrel.handover.sheet import Sheet, on_letter, svg
from zombrel.harness.laid import laid
from zombrel.intake.name import file_name
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.plan.day import on_clock, work_order
from zombrel.units import METRIC, Units


class Kind(Value, frozen=True):
    """One file: what it is called and which endings it may have, the usual one first."""

    name: str
    words: str
    endings: tuple[str, ...]


KINDS = (
    Kind("owner", "owner's page", ("pdf", "html")),
    Kind("dossier", "installer's dossier", ("pdf", "html")),
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


Pictures = Mapping[str, bytes]
NONE: Pictures = {}
DRAWN = ("labels", "drawing", "leads", "faces", "compare")
"""Those that are drawn sheets."""


def lacks(name: str, job: Job) -> str:
    """Why a paper would have no page, and where that is mended; empty when it has one."""
    if name in ("drawing", "labels") and not job.wires:
        return "No wires yet, so there is nothing to draw or to label: add one in Wire."
    if name == "leads" and not any(x.old and x.rows for x in job.leads):
        return "No remap lead has a conductor yet: begin one in Wire, Remap."
    if name == "faces" and not job.connectors:
        return "No connector is drawn yet: draw one in Wire, Connectors."
    if name == "compare" and not any(c.pulls and not stale(job, c) for c in job.compared):
        return "Nothing is compared: read logs in Road, Before and after, and keep it."
    return ""


def every_file(
    raw: Job,
    assessment: Assessment,
    today: date,
    units: Units,
    pictures: Pictures,
    tell: Callable[[float], bool] = lambda share: True,
) -> dict[str, bytes]:
    """All papers, drawings, tables and the plan that the job has something for, by file name.

    ``tell`` hears how far it is, 0 to 1; what is not wanted any more ends it, with nothing.
    """
    wanted = [(k, e) for k in KINDS if not lacks(k.name, raw) for e in k.endings]
    made = {}
    for i, (kind, ending) in enumerate(wanted):
        if not tell(i / len(wanted)):
            return {}
        name = file_name(f"{raw.number or 'job'}-{kind.name}", f".{ending}")
        made[name] = make(kind.name, ending, raw, assessment, today, units, pictures)
    return made | _photo_files(raw, pictures)


def _photo_files(job: Job, pictures: Pictures) -> dict[str, bytes]:
    """The photos as they are shown; their marks stand in the dossier."""
    found = {}
    for photo in job.photos:
        if photo.file in pictures:
            name = file_name(f"{job.number or 'job'}-photo-{photo.id}", ".jpg")
            found[name] = pictures[photo.file]
    return found


def sheets(name: str, job: Job, units: Units = METRIC) -> tuple[Sheet, ...]:
    """The pages of ``drawing``, ``labels``, ``leads``, ``faces`` or ``compare`` of the laid job."""
    pages = _drawn(name, job, units)
    return tuple(map(on_letter, pages)) if units.paper == "Letter" else pages


def _drawn(name: str, job: Job, units: Units) -> tuple[Sheet, ...]:
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


def _written(
    name: str, raw: Job, assessment: Assessment, date: str, units: Units, pictures: Pictures
) -> str:
    """The owner's page or the dossier as one HTML file."""
    from zombrel.handover.owner.make import owner_page
    from zombrel.handover.paper import dossier_html, owner_html

    seal = seal_on(raw)
    if name == "dossier":
        return dossier_html(raw, assessment, units, date, seal, pictures)
    return owner_html(owner_page(laid(raw), assessment, date, seal), units)


def written_date(day: date) -> str:
    """``27 November 2026``"""
    return f"{day.day} {day:%B %Y}"


def make(
    name: str,
    ending: str,
    raw: Job,
    assessment: Assessment,
    today: date,
    units: Units = METRIC,
    pictures: Pictures = NONE,
) -> bytes:
    """The bytes of one file; tables are data and stay in the units their heads name.

    ``pictures`` are those of the photos, by the hash of their files.

    Raises:
        Problem: there is no such file, or not with that ending.
    """
    kind = next((k for k in KINDS if k.name == name), None)
    if kind is None:
        raise Problem(f"There is no {name} to be written.")
    if ending not in kind.endings:
        raise Problem(f"The {kind.words} is written as {' or '.join(kind.endings)}, not {ending}.")
    lack = lacks(name, raw)
    if lack:
        raise Problem(lack)
    job = laid(raw)
    if name in ("owner", "dossier"):
        from zombrel.handover.paper import pdf_of

        html = _written(name, raw, assessment, written_date(today), units, pictures)
        return html.encode() if ending == "html" else pdf_of(html)
    if name in DRAWN:
        pages = sheets(name, job, units)
        title = f"{job.number} {job.title}, {kind.words}".strip()
        if ending == "svg":
            return svg(pages, title).encode()
        from zombrel.handover.paper import pdf_of, sheets_html

        return pdf_of(sheets_html(pages, title))
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
