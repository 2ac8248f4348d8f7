"""A patch lead of 26 to 24 ways, from nothing to its build sheet, on the real window."""

from __future__ import annotations

import unittest
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit

from tests.ui.base import WindowTest
from zombrel.harness.plugs.conducts import Nets
from zombrel.job.ledger import provenance
from zombrel.ui.wire.plugs.faces import FacesPage

CIRCUITS = (
    ("battery", "feed", "red"),
    ("ground 1", "ground", "black"),
    ("ground 2", "ground", "black"),
    ("sensor ground", "sensor ground", "black/white"),
    ("5 V throttle", "5 V feed", "grey/red"),
    ("throttle", "0 to 5 V", "grey"),
    ("manifold pressure", "0 to 5 V", "orange"),
    ("coolant", "NTC", "yellow"),
    ("charge air", "NTC", "yellow/green"),
    ("crank +", "pair", "white"),
    ("crank -", "pair", "brown"),
    ("cam", "Hall", "blue"),
    ("injector 1", "driver", "violet"),
    ("injector 2", "driver", "violet/white"),
    ("injector 3", "driver", "violet/green"),
    ("injector 4", "driver", "violet/blue"),
    ("coil 1", "driver", "green"),
    ("coil 2", "driver", "green/red"),
    ("fan relay", "driver", "blue/red"),
    ("pump relay", "driver 1 A", "blue/yellow"),
    ("check lamp", "driver", "grey/white"),
    ("brake", "contact", "green/white"),
    ("speed", "contact", "brown/red"),
    ("lambda heater", "driver", "blue/white"),
    ("idle valve", "driver", "pink"),
    ("knock", "pick-up", "black/red"),
)
MISSING = ("idle valve", "knock")


class PatchLead(WindowTest):
    demo = False

    def draw(self, key: str, rows: int, columns: int, table: str) -> None:
        page = self.window.findChildren(FacesPage)[0]
        before = {c.id for c in self.job.connectors}
        if before:
            page.make_new()  # its menu is native
        else:
            self.press("Draw a connector", page)
        dialog = self.dialog()
        for name, text in (("Name", key), ("Rows", rows), ("Cavities in a row", columns)):
            self.type(self.named(QLineEdit, name, dialog), str(text))
            self.settle()
        self.press("Keep", dialog)
        (c,) = (c for c in self.job.connectors if c.id not in before)
        page.paste_paper(c)
        paper = self.dialog()
        self.named(QPlainTextEdit, "Pin-out, one cavity a line", paper).setPlainText(table)
        self.press("Keep", paper)

    def choose(self, page: Any, name: str, key: str) -> None:
        box = self.named(QComboBox, name, page)
        box.setCurrentIndex(box.findData(key))
        box.activated.emit(box.currentIndex())
        self.settle()

    def row_of(self, page: Any, circuit: str, new: bool = False) -> None:
        lines = page.view.rows.lines
        side = [line.b if new else line.a for line in lines]
        page.view.choose(next(i for i, w in enumerate(side) if w and w.circuit == circuit))
        self.settle()

    def meter(self, page: Any, conducts: list[tuple[str, str]]) -> int:
        """Answer every probe as a meter would; how many it took."""
        nets, made = Nets(conducts), 0
        while page._next() is not None:
            probe = page._next()
            self.key(Qt.Key.Key_Y if nets.joined(probe.a, probe.b) else Qt.Key.Key_N, page)
            made += 1
            self.assertLess(made, 400)
        return made

    def test_from_nothing_to_the_build_sheet(self) -> None:
        self.go("wire:faces/")
        old = "".join(f"{i},{k},{c},{kind}\n" for i, (c, kind, k) in enumerate(CIRCUITS, 1))
        self.draw("OLD", 2, 13, "cavity,colour,circuit,kind\n" + old)
        here = [x for x in CIRCUITS if x[0] not in MISSING]
        renamed = {"coolant": "CLT", "pump relay": "output 7", "cam": "camshaft"}
        # the new paper numbers from the other end; the pump's driver is weak and called otherwise
        new = "".join(
            f"{25 - i},{renamed.get(c, c)},"
            f"{'driver 0.5 A' if c == 'pump relay' else 'reluctor' if c == 'cam' else kind}\n"
            for i, (c, kind, _) in enumerate(here, 1)
        )
        self.draw("NEW", 2, 12, "cavity,circuit,kind\n" + new)
        a, b = (c.id for c in self.job.connectors)

        page = self.go("wire:remap").page("remap")
        self.assertIn("matched by function", self.texts(page))
        self.press("Begin a remap", page)
        self.assertIn("choose two that are not the same", self.said())
        self.choose(page, "From connector", a)
        self.choose(page, "To connector", b)
        self.press("Begin a remap", page)
        self.key(Qt.Key.Key_A, page.view)  # all that match: not the cam, not the pump
        self.assertEqual(len(self.job.leads[0].rows), 22)
        self.row_of(page, "cam")
        self.assertIn("A Hall sensor into a reluctor input", self.texts(page))
        self.press("Take it", page)
        self.row_of(page, "pump relay")
        self.key(Qt.Key.Key_J, page.view)
        self.assertIn("choose the other cavity", self.texts(page))
        self.row_of(page, "output 7", new=True)
        self.key(Qt.Key.Key_J, page.view)
        self.row_of(page, "pump relay")
        self.assertIn("takes 1.00 A and output 7 drives 0.50 A", self.texts(page))
        for circuit in MISSING:
            self.row_of(page, circuit)
            self.key(Qt.Key.Key_U, page.view)
        self.assertIn("24 joined, 0 to decide", self.texts(page))
        self.type(self.named(QLineEdit, "Length, trunk", page), "0.6")
        self.assertAlmostEqual(self.job.leads[0].trunk_m, 0.6)
        self.assertIn("24 pieces", self.texts(page))

        self.press("Probe this lead", page)
        self.prove(self.window.page("wire").page("probe"))
        self.go("wire:remap")
        self.press("Build sheet of this lead", page)
        self.sheet()

    def prove(self, page: Any) -> None:
        """Made with a swap, an open, a bridge and a wire a row off; the paper has two errors."""
        rows = [(r.a, r.b) for r in self.job.leads[0].rows]
        right = dict(rows)
        ends = sorted(right)
        # what the car and the new plug really want: two lines of the paper are exchanged
        x, y = ends[0], ends[1]
        right[x], right[y] = right[y], right[x]
        made = dict(right)
        p, q, gone, off = ends[5], ends[9], ends[12], ends[15]
        made[p], made[q] = made[q], made[p]
        del made[gone]
        plug = made[off].partition(".")[0]
        made[off] = f"{plug}.{13 if int(made[off].partition('.')[2]) != 13 else 14}"
        bridge = [(made[ends[20]], made[ends[21]])]
        self.meter(page, [*made.items(), *bridge])
        words = self.texts(page)
        self.assertIn("Not as the paper says", words)
        told = self.deviations()
        self.assertEqual(sorted(d.kind for d in told).count("swap"), 2, [d.words for d in told])
        for _ in range(12):
            left = self.deviations()
            if not left:
                break
            one = left[0]
            paper = {x, y} & one.pins
            name = "The paper is wrong" if paper else "The lead was wrong"
            self.press(f"{name}: {one.words}", page)
            if not paper:
                self.assertIn("to be probed again", self.texts(page))
                made |= {a: b for a, b in right.items() if {a, b, made.get(a)} & one.pins}
                bridge = [] if one.kind == "bridge" else bridge
            self.meter(page, [*made.items(), *bridge])
        self.assertEqual({(r.a, r.b) for r in self.job.leads[0].rows}, set(right.items()))
        self.meter(page, list(right.items()))
        self.assertIn("As the paper says", self.texts(page))
        self.assertEqual(provenance(self.job, f"leads.{self.job.leads[0].id}.rows"), "measured")

    def deviations(self) -> Any:
        from zombrel.harness.plugs import outcomes

        return outcomes.deviations(self.job.leads[0], self.job.connectors)

    def sheet(self) -> None:
        page = self.window.page("handover")
        self.wait(lambda: page.view.count)
        words = page.view.accessibleDescription()
        for said in ("Remap, ", "Build sheet.", "trunk 0.6 m"):
            self.assertIn(said, words)
        path = self.home / "lead.pdf"
        page.save_pdf(path)
        self.wait(lambda: path.exists())
        self.assertEqual(path.read_bytes()[:4], b"%PDF")


if __name__ == "__main__":
    unittest.main()
