"""What other threads do never reaches into the window's objects."""

from __future__ import annotations

import gc
import threading
import unittest
import weakref

from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication, QWidget

from tests.ui.base import WindowTest
from zombrel.ui.widgets.background import Background


class Knot:
    """Refers to itself, so that only the collector frees it."""

    def __init__(self) -> None:
        self.me = self
        self.more = [[i] for i in range(1000)]


class Threads(WindowTest):
    demo = False

    def test_what_refers_to_itself_is_freed_in_the_window_s_thread_alone(self) -> None:
        swept: list[int] = []

        def note(phase: str, _: dict[str, int]) -> None:
            if phase == "stop":
                swept.append(threading.get_ident())

        gc.callbacks.append(note)
        self.addCleanup(gc.callbacks.remove, note)
        seen: list[weakref.ref[Knot]] = []
        work = Background(self.window)
        work.start(
            "Knotting",
            lambda: seen.extend(weakref.ref(Knot()) for _ in range(200)),
            repr,
            repr,
            True,
        )
        self.wait(lambda: not work.busy and seen and not any(ref() for ref in seen))
        self.assertEqual(set(swept), {threading.main_thread().ident})

    def test_work_whose_window_is_gone_tells_nobody(self) -> None:
        goes, told = threading.Event(), list[object]()
        place = QWidget()
        left, other = Background(place), Background(self.window)
        left.start("Waiting", goes.wait, told.append, told.append, quiet=True)
        place.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        goes.set()
        other.start("Another", lambda: "done", told.append, told.append, quiet=True)
        self.wait(lambda: told)
        self.settle()
        self.assertEqual(told, ["done"])


if __name__ == "__main__":
    unittest.main()
