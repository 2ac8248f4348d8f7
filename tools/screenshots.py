"""``./zombrel screenshots``: take the pictures in ``docs/screenshots`` anew from the demo jobs."""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import Any

PATIENCE_S = 60.0
FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def main() -> int:
    """Paint every main view offscreen and save it."""
    parser = argparse.ArgumentParser(prog="./zombrel screenshots", description=__doc__)
    parser.add_argument("folder", nargs="?", type=Path, default=FOLDER, help="instead of docs/")
    folder: Path = parser.parse_args().folder
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    with tempfile.TemporaryDirectory() as home:
        os.environ.update(HOME=home, XDG_CONFIG_HOME=home, XDG_STATE_HOME=home, XDG_DATA_HOME=home)
        for name, picture in _pictures().items():
            folder.mkdir(parents=True, exist_ok=True)
            path = folder / f"{name}.png"
            picture(path)
            print(path)
    return 0


def _laid_out(window: Any) -> None:
    """A paper, once it is there."""
    from PySide6.QtWidgets import QApplication

    page = window.page("handover")
    while not page.view.count or page.laying.busy:
        QApplication.processEvents()


def _read_book(window: Any) -> None:
    """The job book, once it is read, with something looked for."""
    from PySide6.QtWidgets import QApplication

    page = window.page("book")
    while page._asked is None or page.background.busy:
        QApplication.processEvents()
    page.field.setText("green/white speed")
    while "found" not in page._count.text():
        QApplication.processEvents()


def _screwed(window: Any) -> None:
    """A device on screws that reach too far, as it is typed in."""
    from zombrel.actions.fitting import put_mounting
    from zombrel.job.records.fitting import Mounting

    session = window._session
    measured = Mounting(
        how="screws",
        panel_m=0.0012,
        stack_m=0.003,
        behind_m=0.014,
        behind="wiper loom",
        screw_m=0.025,
    )
    session.do("Pace unit: how it is fixed", put_mounting(session.job.devices[0], measured))
    window.hush()


def _pictures() -> dict[str, Callable[[Path], None]]:
    from tools.screenshots_own import own_job
    from zombrel.ui.qtapp import application
    from zombrel.ui.session import Session
    from zombrel.ui.theme import AFTER_FRAME_MS
    from zombrel.ui.window import MainWindow

    import_module("zombrel.ui.widgets.axis")  # what draws plots is there for the first of them
    app = application()

    def shoot(
        where: str,
        size: tuple[int, int] = (1280, 800),
        night: bool = False,
        mended: bool = False,
        also: Callable[[MainWindow], None] | None = None,
        job: str = "0412",
    ) -> Callable[[Path], None]:
        def picture(path: Path) -> None:
            session = Session(journal=False)
            session.open_demo(job)
            if session.prefs.night != night:
                session.toggle_night()
            window = MainWindow(session)
            window.resize(*size)
            window.show()
            window.take_notes()
            if mended:
                for _ in range(20):
                    window.mend_first()
            window.hush()
            window.go(where)
            if also is not None:
                also(window)
            for _ in range(8):
                app.processEvents()
                time.sleep(AFTER_FRAME_MS / 1000)  # what lies below the fold is made by then
            window.grab().save(str(path))
            window.close_quietly()

        return picture

    def prove_and_read(window: MainWindow) -> None:
        page = window.page("prove")
        page.show_item("brake-brake-pace")  # type: ignore[attr-defined]
        page.enter(["0.05", "12.6"])  # type: ignore[attr-defined]
        window.hush()
        window.go("road")
        road: Any = window.page("road")
        road.read_demo()
        while road.background.busy:
            app.processEvents()
        window.hush()

    def crewed(window: MainWindow) -> None:
        from zombrel.actions.notes import put_fact

        prove_and_read(window)
        for key, name in (("driver", "Ada"), ("reader", "Bram")):
            window._session.do("Who is in the car", put_fact(f"outing.{key}", name))
        window.go("road:sheet")
        page: Any = window.page("road")
        page.page("sheet").well()
        window.hush()

    def ordered(window: MainWindow) -> None:
        page = window.page("wire").page("work")  # type: ignore[attr-defined]
        page.wait()
        app.processEvents()

    return {
        "start": partial(own_job, "start"),
        "survey": shoot("survey"),
        "source": shoot("source:speed-pace"),
        "wire": shoot("wire:W3"),
        "wire-plan": shoot("wire:plan/W1"),
        "wire-connectors": shoot("wire:faces/C1", size=(1024, 700)),
        "wire-remap": shoot("wire:remap", job="0409"),
        "wire-fitting": shoot("wire:fit", also=_screwed),
        "wire-work": shoot("wire:work", also=ordered, job="0413"),
        "set": shoot("set"),
        "parts-shelf": shoot("shelf:device/ardle-p7", also=_pin_opened),
        "prove": shoot("prove:row-idle-101", mended=True, also=_held_back, job="0413"),
        "prove-reads-wrong": shoot("prove:wrong/blend-ecu", night=True, also=_reads_wrong),
        "road": shoot("prove", mended=True, also=prove_and_read),
        "road-sheet": shoot("road:sheet", mended=True, also=crewed),
        "road-compare": shoot("road:compare", also=_compared, job="0413"),
        "hand-over": shoot("handover:owner", mended=True, also=_laid_out),
        "dossier": shoot("handover:dossier", also=_laid_out),
        "job-book": shoot("book", also=_read_book),
    }


def _held_back(window: Any) -> None:
    """Prove what holds the idle back, and stand at its own table."""
    page: Any = window.page("prove")
    for key in ("brake-brake-pace", "hold-park", "hold-handle", "hold-brake-idle"):
        page.show_item(key)
        page.enter([f"{(max(f.field.low, 0) + f.field.high) / 2:.1f}" for f in page._fields])
    page.show_item("row-idle-101")
    window.hush()


def _reads_wrong(window: Any) -> None:
    """A reading that does not fit."""
    view: Any = window.page("prove").explain
    view.true.setText("27")
    view.shown.setText("67")
    view.add_pair()
    window.hush()


def _pin_opened(window: Any) -> None:
    """A pin of the form stands open."""
    page: Any = window.page("shelf")
    page.form.open_pin(("inputs", 0))


def _compared(window: Any) -> None:
    """The pulls before and after, read and compared."""
    from PySide6.QtWidgets import QApplication

    page: Any = window.page("road")
    page.page("compare").read_demo()
    begun = time.monotonic()
    while page._reader.background.busy or len(window._session.job.logs) < 2:
        QApplication.processEvents()
        if time.monotonic() - begun > PATIENCE_S:
            raise RuntimeError("the demo logs were not read in time")
    window.hush()


if __name__ == "__main__":
    sys.exit(main())
