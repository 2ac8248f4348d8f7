"""The window as a whole: files, recovery after kill -9, find, keys, recent jobs, start."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import unittest
from pathlib import Path
from unittest import mock

import msgspec
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QPalette
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QLineEdit, QListWidget, QMenu, QWidget

import zombrel.ui
from tests.demo import demo, put
from tests.ui.base import WindowTest
from tests.ui.test_demos import WIRE
from zombrel.store import zjob
from zombrel.store.prefs import load_prefs, recovery_root
from zombrel.store.recovery import Found, left_behind
from zombrel.ui.session import Session
from zombrel.ui.widgets.ask import ask
from zombrel.ui.window import MainWindow

ROOT = Path(__file__).resolve().parents[2]

EDITOR = """
import os, sys
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from pathlib import Path
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from zombrel.ui.app import application
from zombrel.ui.session import Session
from zombrel.ui.window import MainWindow
app = application()
session = Session()
session.open(Path(sys.argv[1]))
window = MainWindow(session)
window.show()
window.go("survey")
field = window.page("survey")._rows["vehicle.tyre"].field
field.setFocus()
field.selectAll()
QTest.keyClicks(field, "195/50 R15")
QTest.keyClick(field, Qt.Key.Key_Return)
window.mend_first()
session.undo()
session.redo()
field.setFocus()
field.selectAll()
QTest.keyClicks(field, "215/")
print("typed", flush=True)
app.exec()
"""

UI = Path(zombrel.ui.__file__).parent


class Files(WindowTest):
    def answer(self, name: str, path: Path | str):  # type: ignore[no-untyped-def]
        return mock.patch.object(QFileDialog, name, return_value=(str(path), ""))

    def test_save_as_open_and_recent(self) -> None:
        place = self.home / "my job"
        self.key(Qt.Key.Key_M, ctrl=True)
        self.assertTrue(self.session.dirty)
        self.assertIn("not saved", self.texts())
        with self.answer("getSaveFileName", place):
            self.key(Qt.Key.Key_S, self.window, ctrl=True)
        saved = place.with_suffix(".zjob")
        self.assertEqual(zjob.load(saved), self.job)
        self.assertFalse(self.session.dirty)
        self.assertIn("Saved to", self.said())
        self.key(Qt.Key.Key_M, ctrl=True)
        self.key(Qt.Key.Key_S, self.window, ctrl=True)
        self.assertEqual(zjob.load(saved), self.job)
        self.assertEqual(load_prefs().recent, (str(saved),))
        self.window.files.open_demo("0412")
        with self.answer("getOpenFileName", saved):
            self.key(Qt.Key.Key_O, self.window, ctrl=True)
        self.assertEqual(self.session.path, saved)

    def test_a_bad_file_says_so_and_keeps_the_job(self) -> None:
        before = self.job
        for name, data, part in (
            ("noise.zjob", os.urandom(300), "damaged"),
            ("newer.zjob", zjob.to_bytes(put(demo(), "schema", 7)), "newer Zombrel"),
        ):
            path = self.home / name
            path.write_bytes(data)
            self.window.files.open_path(path)
            self.assertIn(part, self.said())
            self.assertIs(self.job, before)
            self.assertEqual(path.read_bytes(), data)
        self.window.files.open_path(self.home / "none.zjob")
        self.assertIn("cannot be read", self.said())

    def test_leaving_asks_about_unsaved_work(self) -> None:
        self.key(Qt.Key.Key_M, ctrl=True)
        kept = self.job
        for reply, stays in (
            ("Stay here", True),
            ("Throw them away", False),
        ):
            with mock.patch("zombrel.ui.widgets.ask.ask", return_value=reply):
                self.window.files.new()
            self.assertEqual(self.job is kept, stays)

    def test_a_recent_job_from_the_menu_asks_first(self) -> None:
        saved = self.home / "shop job.zjob"
        with self.answer("getSaveFileName", saved):
            self.window.files.save_as()
        self.key(Qt.Key.Key_M, ctrl=True)
        kept = self.job
        for reply, stays in (("Stay here", True), ("Throw them away", False)):
            self.press("Job file menu")
            menu = self.window.findChildren(QMenu)[-1]
            recent = next(a for a in menu.actions() if a.text().startswith("shop job"))
            with mock.patch("zombrel.ui.widgets.ask.ask", return_value=reply):
                recent.trigger()
            menu.close()
            self.assertEqual(self.job is kept, stays)
        self.assertEqual(self.job, zjob.load(saved))

    def test_resizing_shows_the_same_facts(self) -> None:
        wide = self.texts()
        self.window.resize(1060, 720)
        self.settle()
        self.assertIn("0412", self.texts())
        self.window.resize(1280, 800)
        self.settle()
        self.assertEqual(self.texts(), wide)

    def test_a_place_that_cannot_be_written(self) -> None:
        with self.answer("getSaveFileName", "/nowhere/x.zjob"):
            self.assertFalse(self.window.files.save_as())
        self.assertIn("choose another place", self.said())
        with self.answer("getSaveFileName", ""):
            self.assertFalse(self.window.files.save_as())

    def test_new_job_is_empty_and_helpful(self) -> None:
        self.window.files.new()
        self.settle()
        self.assertEqual(self.job.wires, ())
        for stage, part in (
            ("survey", "None yet. Add the devices"),
            ("source", "No signals yet"),
            ("wire", "No wires yet"),
            ("set", "No device of this job has a setting"),
            ("prove", "Nothing to prove yet"),
        ):
            page = self.go(stage)
            self.assertIn(part, self.texts(page))
        page = self.go("handover:dossier")
        self.wait(lambda: "New job" in page.view.accessibleDescription())
        self.assertIn("no speed signal", self.go("road").subtitle)


class Recovery(WindowTest):
    def test_killed_while_typing_and_everything_comes_back(self) -> None:
        place = self.home / "job.zjob"
        zjob.save(demo(), place)
        child = subprocess.Popen(
            [sys.executable, "-c", EDITOR, str(place)],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ},
        )
        assert child.stdout is not None
        self.assertEqual(child.stdout.readline().strip(), "typed")
        os.kill(child.pid, signal.SIGKILL)
        child.wait()
        child.stdout.close()
        self.assertEqual(zjob.load(place), demo())  # the file itself is untouched
        with mock.patch("zombrel.ui.widgets.ask.ask", return_value="Bring it back") as asked:
            self.window.files.offer_recovery()
        self.settle()
        self.assertIn("2 steps can be brought back", asked.call_args[0][2])
        self.assertEqual(self.job.vehicle.tyre, "195/50 R15")
        self.assertEqual(self.session.path, place)
        self.assertTrue(self.session.dirty)
        self.assertEqual(len(self.session.history.past), 2)
        field = self.window.page("survey")._rows["vehicle.tyre"].field  # type: ignore[attr-defined]
        self.assertEqual(field.text(), "215/")
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.job, demo())

    def left(self) -> int:
        """Sessions that would be offered, let go again."""
        found = left_behind(recovery_root())
        for one in found:
            self.assertIsInstance(one, Found)
            one.lock.end()  # type: ignore[union-attr]
        return len(found)

    def test_it_may_be_thrown_away_or_kept_for_later(self) -> None:
        other = Session()
        other.open_demo()
        other.do("x", zombrel_put("notes", "y"))
        assert other.desk._journal is not None
        other.desk._journal.leave()  # as if killed
        for reply, left in (
            ("Ask me again", 1),
            ("Throw it away", 0),
        ):
            with mock.patch("zombrel.ui.widgets.ask.ask", return_value=reply):
                self.window.files.offer_recovery()
            self.assertEqual(self.left(), left)
            self.assertEqual(msgspec.structs.replace(self.job, photos=()), demo())

    def test_a_clean_end_leaves_nothing(self) -> None:
        self.key(Qt.Key.Key_M, ctrl=True)
        self.assertTrue(list(recovery_root().iterdir()))
        self.window.close_quietly()
        self.assertEqual(list(recovery_root().iterdir()), [])


def zombrel_put(path: str, value: object):  # type: ignore[no-untyped-def]
    from zombrel.job.edits import Put

    return Put(path=path, value=value)


class Questions(WindowTest):
    def answer(self, click: str | None, key: Qt.Key | None = None) -> str:
        """Ask for real and answer by a click or a key."""

        def respond() -> None:
            dialog = self.dialog()
            self.assertIn("not saved", self.texts(dialog))
            if click is not None:
                self.press(click, dialog)
            elif key is not None:
                self.key(key, dialog.focusWidget() or dialog)

        QTimer.singleShot(50, respond)
        words = "This job has changes that are not saved."
        return ask(self.window, "Not saved", words, ("Save", "Throw them away", "Stay here"))

    def test_buttons_and_keys(self) -> None:
        self.assertEqual(self.answer("Throw them away"), "Throw them away")
        self.assertEqual(self.answer("Save"), "Save")
        self.assertEqual(self.answer(None, Qt.Key.Key_Escape), "Stay here")
        self.assertEqual(self.answer(None, Qt.Key.Key_Space), "Save")  # the first has the focus

    def test_closing_may_be_called_off(self) -> None:
        self.key(Qt.Key.Key_M, ctrl=True)
        with mock.patch("zombrel.ui.widgets.ask.ask", return_value="Stay here"):
            self.window.close()
        self.assertTrue(self.window.isVisible())


class Finding(WindowTest):
    def search(self, text: str) -> list[str]:
        self.key(Qt.Key.Key_K, self.window, ctrl=True)
        dialog = self.dialog()
        field = self.named(QLineEdit, "Find anything", dialog)
        QTest.keyClicks(field, text)
        self.settle()
        results = self.named(QListWidget, "Found", dialog)
        return [results.item(i).text() for i in range(results.count())]

    def test_anything_is_found(self) -> None:
        for text, part in (
            ("W13", "Wire W13: red"),
            ("spark box", "Device: Spark box"),
            ("final", "Fact: Final drive 3.64"),
            ("d2 27", "D2 cavity 27: green/white"),
            ("night", "Day or night"),
            ("slot f9", "Finding: Slot F9"),
            ("4.8 A over 6.2 m", "wire: 3 mm²"),
            ("205/60 R15 3.64 46 teeth", "ring: 24\u00a0054 pulses per km"),
            ("qqqq", "Nothing by that name"),
        ):
            with self.subTest(text):
                self.assertIn(part, "\n".join(self.search(text)))
                self.key(Qt.Key.Key_Escape, self.dialog())

    def test_enter_goes_there(self) -> None:
        self.search("wire w11")
        dialog = self.dialog()
        self.key(Qt.Key.Key_Return, self.named(QLineEdit, "Find anything", dialog))
        self.assertEqual(self.window._stage, "wire")
        self.assertEqual(self.window.page("wire").page("list")._chosen, "W11")  # type: ignore[attr-defined]

    def test_arrows_choose(self) -> None:
        self.search("go to")
        field = self.named(QLineEdit, "Find anything", self.dialog())
        self.key(Qt.Key.Key_Down, field)
        self.key(Qt.Key.Key_Down, field)
        self.key(Qt.Key.Key_Return, field)
        self.assertEqual(self.window._stage, "wire")


HALF_LIGHT = 127


class Themes(WindowTest):
    def test_pages_that_were_made_by_day_are_dark_by_night(self) -> None:
        stages = ("survey", "set", "prove", "road", "handover")
        for stage in stages:
            self.go(stage)
        for dark in (True, False):
            self.session.toggle_night()
            self.settle()
            for stage in stages:
                page = self.go(stage)
                inks = {
                    w.palette().color(QPalette.ColorRole.WindowText).lightness() > HALF_LIGHT
                    for w in page.findChildren(QWidget)
                }
                self.assertEqual(inks, {dark}, stage)


class Keys(WindowTest):
    def test_stages_by_number(self) -> None:
        for i, stage in enumerate(
            ("survey", "source", "wire", "set", "prove", "road", "handover"), 1
        ):
            self.key(getattr(Qt.Key, f"Key_{i}"), self.window, ctrl=True)
            self.assertEqual(self.window._stage, stage)
            self.assertIsNotNone(self.window.focusWidget())

    def test_what_a_page_can_do_is_found_by_key_card_and_find(self) -> None:
        page = self.go("prove")
        first = page._now
        self.key(Qt.Key.Key_PageDown, page)
        self.assertNotEqual(page._now, first)
        self.key(Qt.Key.Key_F1, self.window)
        card = self.dialog()
        self.assertIn("PgUp, Left", self.texts(card))
        self.assertIn("Step before (here)", self.texts(card))
        card.accept()
        self.settle()
        self.window.open_find()
        self.settle()
        find = self.dialog()
        field = self.named(QLineEdit, "Find anything", find)
        self.type(field, "step before", enter=False)
        self.assertIn("PgUp", find.results.item(0).text())  # type: ignore[attr-defined]
        self.key(Qt.Key.Key_Return, field)
        self.assertEqual(page._now, first)

    def test_the_card_of_keys(self) -> None:
        self.go("wire:faces/D2.27")
        self.key(Qt.Key.Key_F1, self.window)
        words = self.texts(self.dialog())
        for part in ("Ctrl+M", "Undo", "Turn the connector face round (here)", "Cavity above"):
            self.assertIn(part, words)

    def test_no_key_is_missing_on_the_card(self) -> None:
        """Whatever takes keys has a table of them, but for what keys mean in any field or list."""
        plain = {"Choice", "Field", "DeviceField", "FormDialog", "Commanded"}
        takers = set()
        for path in UI.rglob("*.py"):
            owner = ""
            for line in path.read_text().splitlines():
                if line.startswith("class "):
                    owner = line
                if "def keyPressEvent" in line and "Commanded" not in owner:
                    takers.add(owner.split()[1].partition("(")[0])
        self.assertEqual(takers - plain, {"HopTile", "StepField"})  # ask who has the table
        self.go("source:speed-pace")
        self.key(Qt.Key.Key_F1, self.window)
        self.assertIn("Next hop of the signal (here)", self.texts(self.dialog()))

    def test_every_control_has_a_name(self) -> None:
        from PySide6.QtWidgets import QAbstractButton, QAbstractSlider, QComboBox

        for stage in ("survey", "source", *WIRE, "set", "prove", "road", "handover"):
            self.go(stage)
            for kind in (QAbstractButton, QAbstractSlider, QComboBox, QLineEdit):
                for widget in self.window.findChildren(kind):
                    if widget.isVisible() and type(widget).__name__ != "QScrollBar":
                        text = widget.text() if hasattr(widget, "text") else ""
                        self.assertTrue(widget.accessibleName() or text, (stage, widget))

    def test_undo_at_the_start_says_so(self) -> None:
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertIn("Nothing to undo", self.said())
        self.key(Qt.Key.Key_Y, self.window, ctrl=True)
        self.assertIn("Nothing to redo", self.said())

    def test_why_of_the_worst(self) -> None:
        self.window.actions_.qt["why"].trigger()
        self.assertIn("Voltage at rest", self.texts(self.dialog()))


class Start(unittest.TestCase):
    def run_it(self, *words: str) -> subprocess.CompletedProcess[str]:
        env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        return subprocess.run(
            [sys.executable, "-m", "zombrel", *words],
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )

    def test_quit_when_shown(self) -> None:
        done = self.run_it("--demo", "--quit-when-shown")
        self.assertEqual((done.returncode, done.stdout), (0, ""))

    def test_a_job_on_the_command_line(self) -> None:
        good = self.run_it(
            str(ROOT / "src/zombrel/catalog/data/demo/0412.zjob"), "--quit-when-shown"
        )
        self.assertEqual(good.returncode, 0)
        lost = self.run_it("/none.zjob", "--quit-when-shown")
        self.assertEqual(lost.returncode, 0)  # the window says it

    def test_heavy_libraries_wait(self) -> None:
        code = (
            "import sys; from zombrel.cli.main import main; main(['--demo','--quit-when-shown']);"
            "print([m for m in ('numpy','scipy','jinja2','pynmea2') if m in sys.modules])"
        )
        env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        done = subprocess.run(
            [sys.executable, "-c", code],
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.stdout.strip(), "[]")


class Named(WindowTest):
    def test_the_problem_of_a_lost_file_is_on_the_window(self) -> None:
        self.assertIsInstance(self.window, MainWindow)
        self.window.files.open_path(Path("/none.zjob"))
        self.assertIn("/none.zjob cannot be read", self.texts())


if __name__ == "__main__":
    unittest.main()
