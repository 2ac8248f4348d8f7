"""Jobs of every odd shape on every view of the wiring: nothing breaks, nothing is pushed out."""

from __future__ import annotations

import unittest
from typing import Any

from PySide6.QtWidgets import QAbstractButton, QWidget

from tests.ui.base import WindowTest
from zombrel.job.edits import Put
from zombrel.job.edits import apply as apply_edit
from zombrel.job.follow.query import Watch

ODD: tuple[tuple[str, dict[str, Any]], ...] = (
    (
        "nothing at all",
        {
            "wires": [],
            "chains": [],
            "zones": [],
            "feeds": [],
            "studs": [],
            "connectors": [],
            "changes": [],
            "devices": [],
            "ways": [],
            "sources": [],
        },
    ),
    ("no plan", {"ways": [], "zones": []}),
    ("no feeds and studs", {"feeds": [], "studs": []}),
    (
        "one zone for all",
        {"ways": [], "zones": [{"id": "z", "name": "everything", "x_m": 0.0, "y_m": 0.0}]},
    ),
    ("far apart", {"zones.boot.x_m": 20.0, "zones.nose.x_m": -20.0}),
    (
        "long names",
        {
            "zones.dash.name": "a zone with a name as long as a name may be " * 1,
            "devices.pace.name": "Q" * 80,
            "connectors.D2.name": "M" * 80,
            "feeds.F9.name": "W" * 80,
            "studs.G1.name": "O" * 80,
        },
    ),
    ("a face of one", {"connectors": [{"id": "D2", "name": "one"}]}),
    (
        "a face of four hundred",
        {"connectors": [{"id": "D2", "name": "many", "rows": 4, "columns": 100}]},
    ),
    (
        "a scattered face",
        {
            "connectors": [
                {
                    "id": "D2",
                    "name": "scattered",
                    "places": [[1, 0.0, 0.0], [2, 0.5, 0.9], [27, 9.0, 3.3]],
                }
            ]
        },
    ),
    (
        "a change to nowhere",
        {"changes": [{"id": "C1", "kind": "move", "connector": "gone", "cavity": 4, "to": "x"}]},
    ),
    ("a lead of one pin", {"leads": [{"id": "l", "name": "l", "rows": [{"a": "P", "b": "P"}]}]}),
    (
        "a lead of words",
        {
            "leads": [
                {
                    "id": "l",
                    "name": "l",
                    "rows": [{"a": "earth", "b": "tail"}, {"a": "earth", "b": "lamp"}],
                }
            ]
        },
    ),
    ("a battery of nothing", {"vehicle.battery_ah": 0.001, "vehicle.own_load_a": 1e6}),
    ("hot as an oven", {"zones.dash.over_ambient_k": 400.0}),
    ("all done", {"work": [{"id": "loom", "kind": "loom"}, {"id": "gone", "kind": "x"}]}),
)


class Odd(WindowTest):
    def test_every_view_stands_what_a_job_may_hold(self) -> None:
        start = self.job
        for name, facts in ODD:
            job = start
            for path, value in facts.items():
                job = apply_edit(job, Put(path=path, value=value))
            self.session.start(job)
            for size in ((1280, 800), (1024, 700)):
                self.window.resize(*size)
                for view in ("list", "plan", "power", "faces", "probe"):
                    with self.subTest(name, view=view, size=size):
                        page = self.go(f"wire:{view}").page(view)
                        self.assertTrue(self.texts(page).strip())
                        self.within(page)
                with self.subTest(name, size=size):
                    self.assertTrue(self.texts(self.go("handover:drawing")).strip())

    def within(self, page: QWidget) -> None:
        """No control is pushed out at the side."""
        for button in page.findChildren(QAbstractButton):
            if button.isVisible():
                right = button.mapTo(page, button.rect().topRight()).x()
                self.assertLessEqual(right, page.width(), button.accessibleName())

    def test_the_order_of_an_odd_job_is_said(self) -> None:
        for name, facts in ODD[:3]:
            job = self.job
            for path, value in facts.items():
                job = apply_edit(job, Put(path=path, value=value))
            self.session.start(job)
            page = self.go("wire:work").page("work")
            page._shown = Watch()
            page.order = None
            page.refresh()
            self.wait(lambda p=page: p.order is not None)
            self.settle()
            with self.subTest(name):
                self.assertTrue(page._now.text())


if __name__ == "__main__":
    unittest.main()
