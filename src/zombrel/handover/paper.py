"""Papers: one template language, one paged layout; HTML that opens anywhere, PDF for print.

PDF by WeasyPrint, tagged for readers of screens (PDF/UA-1, ISO 14289-1) with bookmarks; imported
when a paper is made. Both are whole by themselves: nothing is fetched.
"""

from __future__ import annotations

import base64
import functools
import logging
import threading
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Literal

from zombrel.findings.finding import Assessment
from zombrel.findings.seals import SHORT
from zombrel.handover.dossier.make import dossier
from zombrel.handover.marks import photo_svg
from zombrel.handover.owner.page import OwnerPage
from zombrel.handover.sheet import Sheet, picture
from zombrel.intake.name import xml_text
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.units import Units, words

HERE = Path(__file__).parent
FONTS = HERE.parent / "ui" / "assets" / "fonts"
WEIGHTS = {name: FONTS / f"B612-{name.capitalize()}.otf" for name in ("regular", "bold")}
Size = Literal["A4", "Letter"]
_LAYING = threading.Lock()
"""One paper at a time: the layout promises nothing to threads that lay out side by side."""
LYING: dict[Size, str] = {"A4": "172mm", "Letter": "178mm"}
"""How tall a picture is that has a page of its own, lying."""


def _template(name: str, **given: object) -> str:
    import jinja2

    env = jinja2.Environment(
        loader=jinja2.FileSystemLoader(HERE / "templates"),
        autoescape=jinja2.select_autoescape(["html"]),
        undefined=jinja2.StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    return env.get_template(name).render(**given)


def _css(size: Size, foot: str) -> object:
    from markupsafe import Markup

    css = _template("paper.css", size=size, foot=foot, lying=LYING[size], **_fonts())
    return Markup(css)


def owner_html(page: OwnerPage, units: Units) -> str:
    """The owner's page as one file that needs no other."""
    seal = f" · the shop keeps drawing, settings and proofs, seal {page.seal[:SHORT]}"
    foot = _quoted(seal if page.seal else "")
    title = f"Your car now has {page.have}"
    return words(
        _template("owner.html", page=page, css=_css(units.paper, foot), title=title), units
    )


def dossier_html(
    job: Job,
    assessment: Assessment,
    units: Units | None = None,
    date: str = "",
    seal: str = "",
    pictures: Mapping[str, bytes] | None = None,
) -> str:
    """The installer's dossier as one file that needs no other.

    ``pictures`` are those of the photos, JPEG, by the hash of their files.
    """
    from markupsafe import Markup

    units = units or Units()
    made = dossier(job, assessment, units, date, seal)
    foot = _quoted(f" · job {job.number}" if job.number else "")
    if seal:
        foot += f" · seal {seal[:SHORT]}"
    html = _template(
        "dossier.html",
        d=made,
        units=units,
        css=_css(units.paper, foot),
        title=f"Job {job.number}: {job.title}",
        photo=lambda p: Markup(photo_svg(p, (pictures or {}).get(p.file))),
        picture=lambda sheet, about: Markup(picture(sheet, about)),
    )
    return xml_text(words(html, units))


def sheets_html(pages: Sequence[Sheet], title: str) -> str:
    """Drawn sheets as one file, a page each in its own size."""
    from markupsafe import Markup

    return xml_text(
        _template(
            "sheets.html",
            pages=pages,
            sizes=list(dict.fromkeys((p.width, p.height) for p in pages)),
            css=_css("A4", ""),
            title=title,
            picture=lambda sheet, about: Markup(picture(sheet, about)),
        )
    )


@functools.cache
def _fonts() -> dict[str, str]:
    """The two weights as part of the paper itself, so that one file is all there is."""
    found = {}
    for name, path in WEIGHTS.items():
        data = base64.b64encode(path.read_bytes()).decode("ascii")
        found[name] = f"data:font/otf;base64,{data}"
    return found


def _quoted(text: str) -> str:
    """Text that may stand in a style sheet's quotes."""
    return text.replace("\\", "").replace('"', "”").replace("\n", " ").replace("<", "‹")


def pdf_of(html: str) -> bytes:
    """The paper as it prints.

    Raises:
        Problem: a system library of the layout is missing.
    """
    try:
        import weasyprint
    except OSError as error:
        raise Problem(
            "A system library for paper (Pango) is missing. Type: sudo apt-get install -y "
            "libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
        ) from error
    for name in ("weasyprint", "fontTools"):
        logging.getLogger(name).setLevel(logging.ERROR)
    for name, data in _fonts().items():  # read from their files: a second less
        html = html.replace(data, WEIGHTS[name].as_uri())
    with _LAYING:
        made = weasyprint.HTML(string=html, base_url=str(HERE)).write_pdf(pdf_variant="pdf/ua-1")
    return bytes(made)
