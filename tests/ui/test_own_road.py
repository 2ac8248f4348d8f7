"""A job that nobody prepared, from an empty window to a road test that is signed off."""

from __future__ import annotations

import math
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit

from tests.ui.test_own_job import JOBS, Hand
from zombrel.diagnose.gates import road_gate
from zombrel.findings.legs import legs
from zombrel.store.zjob import load


def drive(path: Path, scale: float) -> None:
    """A log of three steady speeds: satellite in km/h, and what a display shows of it."""
    rows = ["time [s],satellite [km/h],shown [km/h]"]
    for k in range(1500):
        speed = (40.0, 70.0, 100.0)[k // 500] + 0.3 * math.sin(k / 7)
        rows.append(f"{k / 10:.1f},{speed:.2f},{speed * scale + 0.2 * math.sin(k / 3):.2f}")
    path.write_text("\n".join(rows) + "\n")


class OwnRoad(Hand):
    def ready(self, name: str) -> None:
        """The job of that name, wired, mended and proven."""
        own = JOBS[name]
        self.begin(own)
        self.wire(own)
        self.mend()
        self.unblock()
        self.assertTrue(road_gate(self.job) or not self.gated())
        self.prove()
        self.assertEqual(road_gate(self.job), "")

    def gated(self) -> bool:
        return any(d.sheet.gates(i) for d in self.job.devices for i in d.sheet.inputs)

    def sheet(self) -> None:
        """Turn to the road sheet and name two people."""
        self.page = self.go("road:sheet").page("sheet")
        self.type(self.named(QLineEdit, "Who drives"), "Ann")
        self.type(self.named(QLineEdit, "Who reads"), "Bo")
        self.settle()

    def test_a_van_with_a_raised_idle(self) -> None:
        self.ready("diesel van with a high idle and a boost gauge")
        self.sheet()
        for leg in legs(self.job):
            self.page.choose(leg.sheet.id)
            self.assertIn(leg.sheet.short, self.texts(self.page))
            self.key(Qt.Key.Key_Q if leg.sheet.kind == "read" else Qt.Key.Key_Space, self.page)
            self.settle()
        self.type(self.named(QLineEdit, "Who signs the road test off"), "Cy")
        self.settle()
        self.assertIn("Signed off by Cy", self.texts(self.page))
        file = Path(self.home, "own.zjob")
        self.session.save(file)
        kept = load(file)
        self.assertEqual((kept.outing.driver, kept.outing.signed), ("Ann", "Cy"))
        self.assertEqual([x.state for x in legs(kept)], [x.state for x in legs(self.job)])

    def test_a_cluster_that_a_log_answers(self) -> None:
        self.ready("petrol pickup with a gauge cluster")
        self.sheet()
        read = next(x for x in legs(self.job) if x.sheet.kind == "read")
        log = Path(self.home, "own-drive.csv")
        page = self.window.page("road")
        for scale, state in ((1.08, "failed"), (1.0, "passed")):
            drive(log, scale)
            self.window.go("road:drive")
            before = len(self.job.road)
            page.read_csv(log)
            self.wait(lambda n=before: len(self.job.road) == n + 1)
            now = next(x for x in legs(self.job) if x.sheet.id == read.sheet.id)
            self.assertEqual(now.state, state, now.said)
        self.window.go("road:sheet")
        self.page.choose(read.sheet.id)
        self.settle()
        self.assertIn("went well", self.texts(self.page))
        self.session.undo()  # the good drive is gone, and with it its answer
        self.settle()
        self.assertIn("did not go well", self.texts(self.page))


del Hand  # its own tests run where it stands
