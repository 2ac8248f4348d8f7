"""A window that lived through edits reads like one just opened on the same job."""

from __future__ import annotations

import random
import unittest
from collections.abc import Iterator
from datetime import datetime
from typing import Any
from unittest import mock

from PySide6.QtWidgets import (
    QAbstractButton,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QScrollBar,
    QWidget,
)

from tests.ui.base import WindowTest
from zombrel.job.edits import Put
from zombrel.job.model import Job
from zombrel.ui.session import Session
from zombrel.ui.window import MainWindow
from zombrel.ui.wire.views import VIEWS

EDITS: tuple[tuple[str, tuple[Any, ...]], ...] = (
    ("vehicle.tyre", ("205/60 R15", "195/60 R15", "")),
    ("vehicle.cylinders", (4, 6, None)),
    ("vehicle.lamps", ("led", "filament", None)),
    ("vehicle.system_v", (12, 24)),
    ("vehicle.redline_rps", (110.0, 140.0, None)),
    ("vehicle.torque", ([],)),
    ("vehicle.owner", ("Marsh", "Someone else")),
    ("sources.ring.spec.teeth", (46, 48, 12)),
    ("sources.ring.name", ("Ring", "Tone ring")),
    ("devices.pace.name", ("Pace unit", "Pacer")),
    ("devices.pace.settings.SPEED.at", ("C1", "A0", "E9")),
    ("devices.hub.settings.TACH.at", ("6", "4", "nonsense")),
    ("chains.speed-pace.hops", ([], [{"type": "divider", "by": 7}])),
    ("chains.speed-pace.source", ("ring", "prop")),
    ("wires.W3.area_mm2", (0.5, 1.5)),
    ("wires.W12.colour", ("red/white", "pink")),
    ("feeds.F9.fuse_a", (7.5, 30.0, None)),
    ("feeds.F7.name", ("Slot F7", "Slot seven")),
    ("house.tail_m", (0.15, 0.4)),
    ("house.setting_ok", (0.01, 0.2)),
    ("zones.dash.airbag", (True, False)),
    ("zones.dash.name", ("Dash", "Behind the dash")),
    ("studs.G3.name", ("Stud G3", "Boot stud")),
    ("connectors.D2.key", ("the hinge end", "")),
    ("devices.spark.settings.LIMIT.at", ("60", "70")),
    ("devices.lamp.settings.SHIFT.at", ("5000", "7000")),
    ("devices.hub.sheet.inputs.TACH.threshold_v", (3.0, 30.0)),
    ("wires.W1.twisted", (True, False)),
    ("wires.W4.length_m", (1.0, 7.5)),
    ("sources.coil2.place", ("coil pack", "")),
    ("notes", ("", "Owner wants it by Friday")),
    ("number", ("0412", "0999")),
)
PLACES = (
    "survey",
    "source",
    *(f"wire:{view}" for view in VIEWS),
    *(f"set:{item}" for item in ("speed-pace", "tach-hub", "spark/LIMIT", "lamp/SHIFT", "gears")),
    "prove",
    "road",
    "handover",
)


def read(root: QWidget) -> Iterator[str]:
    """Every word that stands in a page, with what it stands in."""
    for widget in root.findChildren(QWidget):
        if not widget.isVisibleTo(root) or isinstance(widget, QScrollBar):
            continue
        kind = type(widget).__name__
        if isinstance(widget, QLabel | QAbstractButton | QLineEdit):
            yield f"{kind}: {widget.text()}"
        elif isinstance(widget, QPlainTextEdit):
            yield f"{kind}: {widget.toPlainText()}"
        if name := widget.accessibleName():
            yield f"{kind} is called {name}"


class Still(datetime):
    """A clock that stands: a minute may pass between two windows."""

    @classmethod
    def now(cls, tz: Any = None) -> Still:
        return cls(2026, 11, 27, 9, 30, tzinfo=tz)


class Warm(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        clock = mock.patch("zombrel.ui.wire.work.datetime", Still)
        clock.start()
        self.addCleanup(clock.stop)

    def fresh(self, job: Job) -> dict[str, list[str]]:
        """What a window opened now on the job says, by place."""
        session = Session()
        session.start(job)
        window = MainWindow(session)
        window.resize(self.window.size())
        window.show()
        try:
            return {place: self.told(window, place) for place in PLACES}
        finally:
            window.close_quietly()
            window.deleteLater()
            session.deleteLater()
            self.settle()

    def told(self, window: MainWindow, place: str) -> list[str]:
        window.go(place)
        page: Any = window.page(place.partition(":")[0])
        if place == "wire:work":
            page.page("work").wait()
        if place == "survey":
            self.wait(lambda: not page.back.waiting)
        if place == "handover":
            self.wait(lambda: not page._soon.isActive() and not page.laying.busy)
        if place == "source":
            self.wait(lambda: not page.waiting)  # rows below the fold
        self.wait(lambda: not window.idle.isActive())  # it shows itself once more then
        self.settle()
        self.assertEqual(window.last_line._told, "")  # no part of it failed to be shown
        return sorted(read(page))

    def test_after_any_edits_and_undos(self) -> None:
        for place in PLACES:
            self.told(self.window, place)  # every page has something to keep
        for seed in range(2):
            dice = random.Random(seed)
            done = []
            for _ in range(6):
                path, values = dice.choice(EDITS)
                value = dice.choice(values)
                if dice.random() < 0.25:
                    self.session.undo()
                    done.append("undo")
                elif self.session.do(path, Put(path=path, value=value)):
                    done.append(f"{path} = {value}")
                if dice.random() < 0.5:
                    self.told(self.window, dice.choice(PLACES))
            want = self.fresh(self.session.job)
            for place in PLACES:
                got = self.told(self.window, place)
                with self.subTest(seed=seed, place=place, done=done):
                    self.assertEqual(got, want[place])


if __name__ == "__main__":
    unittest.main()
