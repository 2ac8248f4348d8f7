"""Papers: one template language, one paged layout; HTML that opens anywhere, PDF for print.

PDF by WeasyPrint, tagged for readers of screens (PDF/UA-1, ISO 14289-1) with bookmarks; imported
when a paper is made. Both are whole by themselves: nothing is fetched.
"""

from __future__ import annotations

import base64
import functools
import logging
from pathlib import Path
from typing import Literal

from zombrel.findings.seals import SHORT
from zombrel.handover.owner.page import OwnerPage
from zombrel.job.problem import Problem
from zombrel.units import Units, words

HERE = Path(__file__).parent
FONTS = HERE.parent / "ui" / "assets" / "fonts"
Size = Literal["A4", "Letter"]


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


def owner_html(page: OwnerPage, units: Units, size: Size = "A4") -> str:
    """The owner's page as one file that needs no other."""
    from markupsafe import Markup

    seal = f" · the shop keeps drawing, settings and proofs, seal {page.seal[:SHORT]}"
    foot = _quoted(seal if page.seal else "")
    css = _template("paper.css", size=size, foot=foot, **_fonts())
    title = f"Your car now has {page.have}"
    return words(_template("owner.html", page=page, css=Markup(css), title=title), units)


@functools.cache
def _fonts() -> dict[str, str]:
    """The two weights as part of the paper itself, so that one file is all there is."""
    found = {}
    for name in ("regular", "bold"):
        data = (FONTS / f"B612-{name.capitalize()}.otf").read_bytes()
        found[name] = f"data:font/otf;base64,{base64.b64encode(data).decode('ascii')}"
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
    made = weasyprint.HTML(string=html, base_url=str(HERE)).write_pdf(pdf_variant="pdf/ua-1")
    return bytes(made)
