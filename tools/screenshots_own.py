"""Pictures of a job that is made from an empty window."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtWidgets import QApplication

from zombrel.actions.begin import serve
from zombrel.actions.drawing import draw_all
from zombrel.actions.notes import put_fact
from zombrel.actions.placing import place_usual
from zombrel.actions.wires import add_feed
from zombrel.catalog.plans import plan, take_plan
from zombrel.catalog.sources import templates
from zombrel.job.model import Job
from zombrel.ui.session import Session
from zombrel.ui.theme import AFTER_FRAME_MS
from zombrel.ui.window import MainWindow

if TYPE_CHECKING:
    from zombrel.job.edits import Edit
    from zombrel.job.sheet import FeedClass

KINDS = {s.id: s for s in templates()}
SLOTS: tuple[tuple[str, FeedClass], ...] = (("F3", "run"), ("F9", "constant"))
FACTS = (
    ("cylinders", 6),
    ("ignition", "coil-per-plug"),
    ("lamps", "filament"),
    ("throttle", "cable"),
    ("gearbox", "manual"),
    ("idle_rps", 800 / 60),
    ("redline_rps", 6200 / 60),
)


def own_job(where: str, path: Path) -> None:
    """The window at ``where``: at the start page, or once all is done that can be done."""
    session = Session(journal=False)
    window = MainWindow(session, "start")
    window.resize(1280, 800)
    window.show()
    with tempfile.TemporaryDirectory() as folder:
        _begin(Path(folder), window, session)
        if where != "start":
            _finish(session)
        window.go(where)
        window.hush()
        for _ in range(8):
            QApplication.processEvents()
            time.sleep(AFTER_FRAME_MS / 1000)
        window.grab().save(str(path))
    window.close_quietly()


def _begin(folder: Path, window: MainWindow, session: Session) -> None:
    """Two devices and the first facts, with two earlier jobs beside them."""
    for number in ("0413", "0412"):
        session.open_demo(number)
        session.save(folder / f"{number}.zjob")
    session.start(Job())
    window.go("start")
    page: Any = window.page("start")
    for name in ("Pace unit, Ardle P7", "Gauge hub, Ardle G6"):
        page.add_named(name)
    session.do("Vehicle", put_fact("vehicle.name", "Curlew estate, 2.9 six"))
    session.do("Speed", serve(session.history.present, KINDS["wheel-ring"]))
    session.do("Tyres", put_fact("vehicle.tyre", "205/60 R15"))


def _finish(session: Session) -> None:
    def do(edit: Edit | None) -> None:
        if edit is not None:
            session.do("from scratch", edit)

    for field, value in FACTS:
        do(put_fact(f"vehicle.{field}", value))
    for kind in ("tach-out", "brake-cold"):
        do(serve(session.history.present, KINDS[kind]))
    do(take_plan(session.history.present, plan("car")))
    do(place_usual(session.history.present)[1])
    for name, live in SLOTS:
        do(add_feed(name, "slot", live))
        do(put_fact(f"feeds.{name}.fuse_a", 10.0))
    do(draw_all(session.history.present).edit)
