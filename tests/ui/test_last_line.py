"""Whatever goes wrong unforeseen: said, kept, taken back, and the work goes on."""

from __future__ import annotations

import sys
import threading
import unittest
from typing import Any
from unittest import mock

from PySide6.QtWidgets import QApplication

from tests.demo import Put
from tests.ui.base import WindowTest
from zombrel.findings.signal import brake_rules
from zombrel.job import unjudged
from zombrel.job.edits import Remove
from zombrel.store.prefs import reports_root
from zombrel.ui.source.page import SourceStage


def fails(*_: Any, **__: Any) -> None:
    raise ZeroDivisionError("nothing to divide by")


class LastLine(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        hook, in_threads = sys.excepthook, threading.excepthook
        self.window.last_line.install()

        def back() -> None:
            sys.excepthook, threading.excepthook = hook, in_threads

        self.addCleanup(back)
        unjudged.strict(False)
        self.addCleanup(unjudged.strict, True)

    def note(self, text: str) -> bool:
        return self.session.do(f"note {text}", Put(path="notes", value=text))

    def reports(self) -> list[str]:
        return [p.read_text() for p in sorted(reports_root().glob("*.txt"))]

    def test_a_button_whose_slot_fails_says_so(self) -> None:
        with mock.patch.object(SourceStage, "_ask_input", fails):
            page = self.go("source")
            page._add.clicked.disconnect()
            page._add.clicked.connect(lambda _=False: page._ask_input())
            self.press("Add a signal", page)
            self.press("Add a signal", page)  # the same again is one report
        self.assertIn("Something went wrong in Zombrel: ZeroDivisionError, nothing", self.said())
        self.assertEqual(len(self.reports()), 1)
        self.assertIn("in fails", self.reports()[0])
        self.press("Copy details")
        self.assertEqual(QApplication.clipboard().text(), self.reports()[0])
        self.assertTrue(self.note("goes on"))

    def test_a_step_with_which_nothing_can_be_shown_is_taken_back_whole(self) -> None:
        self.go("source")
        self.note("before")
        show = SourceStage.refresh

        def refresh(page: SourceStage) -> None:
            if self.session.history.present.notes == "bad":
                fails()
            show(page)

        with mock.patch.object(SourceStage, "refresh", refresh):
            self.assertFalse(self.note("bad"))
            self.assertIn("“note bad” was taken back.", self.said())
            self.assertEqual(self.job.notes, "before")
            self.assertEqual([s.label for s, _ in self.session.history.past], ["note before"])
            self.assertEqual(self.session.history.future, ())
            self.assertTrue(self.note("after"))

    def test_where_the_job_was_broken_before_steps_are_not_taken_back(self) -> None:
        """Else it could never be mended."""
        with mock.patch.object(SourceStage, "refresh", fails):
            self.window._refresh()
            self.assertTrue(self.note("a mend"))
        self.assertEqual(self.job.notes, "a mend")

    def test_a_rule_that_fails_is_a_finding_and_hides_no_other(self) -> None:
        before = set(self.findings())
        with mock.patch.object(brake_rules, "_unconnected", fails):
            self.session.do("out", Remove(path="chains.speed-pace"))
            found = self.findings()
            broken = [f for f in found.values() if f.id.startswith("unjudged")]
            self.assertEqual([f.title for f in broken], ["Not judged: unconnected, the job"])
            self.assertIn("ZeroDivisionError: nothing to divide by", broken[0].text)
            self.assertEqual(broken[0].level, "trouble")
            self.assertGreater(len(before & set(found)), len(before) // 2)
        self.assertIn("in fails", "".join(self.reports()))

    def test_a_job_that_cannot_be_judged_opens_and_says_so(self) -> None:
        for part in ("read_wires", "read_power"):
            with mock.patch(f"zombrel.findings.assess.{part}", fails):
                self.session.open_demo("0413")
                self.settle()
                self.assertEqual(self.job.number, "0413")
                self.assertIn("This job cannot be judged", self.texts(self.window.settle))
            self.session.open_demo("0412")
            self.settle()
            self.assertNotIn("cannot be judged", self.texts())

    def test_a_thread_that_fails(self) -> None:
        thread = threading.Thread(target=fails)
        thread.start()
        thread.join()
        self.settle()
        self.assertIn("ZeroDivisionError", self.said())


if __name__ == "__main__":
    unittest.main()
