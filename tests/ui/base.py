"""A real window on the demo job, with its own home, that tests click and type in."""

from __future__ import annotations

import os
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QCoreApplication, QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QLabel,
    QLineEdit,
    QWidget,
)

from zombrel.findings.finding import Finding
from zombrel.job.model import Job
from zombrel.ui.qtapp import application
from zombrel.ui.session import Session
from zombrel.ui.window import MainWindow

W = TypeVar("W", bound=QWidget)
HANGS = 60_000
"""So many looks, of a hundredth of a second at least, before a wait is given up."""


class WindowTest(unittest.TestCase):
    """Opens a fresh window for each test and closes it after."""

    demo = True

    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.home = Path(home.name)
        for name in ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
            old = os.environ.get(name)
            os.environ[name] = home.name
            self.addCleanup(self._restore, name, old)
        self.app = application()
        self.session = Session()
        if self.demo:
            self.session.open_demo()
        else:
            self.session.start(Job())
        self.window = MainWindow(self.session)
        self.window.show()
        self.settle()
        self.wait(lambda: not (self.window.settle.waiting and self.window.settle.isVisible()))
        self.window.take_notes()  # as it does by itself a little later
        self.settle()
        self.addCleanup(self._throw_away)

    def _throw_away(self) -> None:
        """Close the window and free it: hidden ones would slow every later test."""
        self.window.close_quietly()
        self.window.deleteLater()
        self.session.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        self.settle()

    @staticmethod
    def _restore(name: str, old: str | None) -> None:
        if old is None:
            os.environ.pop(name, None)
        else:
            os.environ[name] = old

    # ---- looking

    @property
    def job(self) -> Job:
        return self.session.job

    def settle(self) -> None:
        """Let everything that is due happen."""
        for _ in range(6):
            self.app.processEvents()

    def wait(self, until: Callable[[], object]) -> None:
        """Wait until it happens, however slow the machine is; what never does, fails."""
        for _ in range(HANGS):
            if until():
                return
            # not QTest.qWait: it keeps work in other threads from going on
            self.app.processEvents()
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            time.sleep(0.01)
        self.fail("it never happened")

    def findings(self) -> dict[str, Finding]:
        return {f.id: f for f in self.session.assessment.findings}

    def texts(self, inside: QWidget | None = None) -> str:
        """All words a user could read now."""
        root = inside or self.window
        words = []
        for widget in root.findChildren(QWidget):
            if widget.isVisible() and isinstance(widget, QLabel | QAbstractButton):
                words.append(widget.text())
        return "\n".join(words)

    def named(self, kind: type[W], name: str, inside: QWidget | None = None) -> W:
        """The visible widget of a kind whose accessible name or text holds ``name``."""
        root = inside or self.window
        for widget in root.findChildren(kind):
            text = widget.text() if hasattr(widget, "text") else ""
            if widget.isVisible() and (name in widget.accessibleName() or name in text):
                return widget  # type: ignore[no-any-return]
        shown = [w.accessibleName() for w in root.findChildren(kind) if w.isVisible()]
        self.fail(f"no {kind.__name__} named {name!r}; there are {shown}")

    # ---- doing

    def press(self, name: str, inside: QWidget | None = None) -> None:
        """Click the button called ``name``."""
        button = self.named(QAbstractButton, name, inside)
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        self.settle()

    def key(self, key: Any, to: QWidget | None = None, ctrl: bool = False) -> None:
        """Press a key where the focus is, or at ``to``."""
        modifier = Qt.KeyboardModifier.ControlModifier if ctrl else Qt.KeyboardModifier.NoModifier
        target = to or self.window.focusWidget() or self.window
        if ctrl and not target.isActiveWindow():
            target.activateWindow()
            self.settle()
        QTest.keyClick(target, key, modifier)
        self.settle()

    def type(self, field: QLineEdit, text: str, enter: bool = True) -> None:
        """Type into a field as a person does."""
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        if enter:
            QTest.keyClick(field, Qt.Key.Key_Return)
        self.settle()

    def arrow(self, box: QComboBox, words: str) -> None:
        """Choose from a list by keys: open it, walk, take; how many keys it was."""
        box.setFocus()
        QTest.keyClick(box, Qt.Key.Key_Down)
        self.settle()
        view, goal = box.view(), box.findText(words)
        self.assertGreaterEqual(goal, 0, f"{words} is not in {box.accessibleName()}")
        self.assertTrue(view.isVisible())
        for _ in range(box.count()):
            row = view.currentIndex().row()
            if row == goal:
                break
            QTest.keyClick(view, Qt.Key.Key_Down if row < goal else Qt.Key.Key_Up)
        QTest.keyClick(view, Qt.Key.Key_Return)
        self.settle()

    def go(self, stage: str) -> Any:
        self.window.go(stage)
        self.settle()
        return self.window.page(stage.partition(":")[0])

    def dialog(self) -> QDialog:
        """The dialog on top."""
        for widget in QApplication.topLevelWidgets():
            if (
                isinstance(widget, QDialog)
                and widget.isVisible()
                and widget.parent() is self.window
            ):
                return widget
        self.fail("no dialog is open")

    def mend_all(self) -> None:
        """Take every edit that Settle next offers."""
        for _ in range(20):
            self.window.mend_first()
        self.window.hush()
        self.settle()

    def said(self) -> str:
        """What the window said last."""
        return self.window._said_words.text()
