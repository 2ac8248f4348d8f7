"""Settings painted as the thing the installer touches, in the orientation it is seen."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.calibrate.settings.face import Knob, Part, Slide, angle
from zombrel.calibrate.settings.setting import face, names, turned
from zombrel.job.sheet import SettingSheet
from zombrel.ui.session import Session
from zombrel.ui.set import touch_paint as paint
from zombrel.ui.widgets.commands import Command, Commanded


class TouchView(Commanded, QWidget):
    """The setting as it stands and as it should stand; keys and clicks move it."""

    moved = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._sheet: SettingSheet | None = None
        self._now, self._want = "", ""
        self._part = 0
        """Dial or switch the keys act on."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(264, 168)

    def show_setting(self, sheet: SettingSheet, now: str, want: str, name: str) -> None:
        """Show ``now`` against ``want``."""
        self._sheet, self._now, self._want = sheet, now, want
        same = "as it should" if now == want else f"should stand at {want}"
        if not want:
            same = "nothing is wanted of it yet"
        self.setAccessibleName(f"{name} stands at {now or 'nothing'}, {same}. Arrow keys move it.")
        self.update()

    # ---- moving

    def commands(self) -> tuple[Command, ...]:
        """What keys do on a setting."""
        parts = self._face()
        if not parts:
            return ()
        found = [
            Command("Turn it up", "Up", partial(self._step, 1)),
            Command("Turn it down", "Down", partial(self._step, -1)),
        ]
        if isinstance(parts[0], Slide):
            found.append(Command("Slide the switch", "Space", partial(self._step, 1)))
        if len(parts) > 1:
            found.append(Command("The next dial or switch", "Right", partial(self._other, 1)))
            found.append(Command("The one before", "Left", partial(self._other, -1)))
        else:
            found.append(Command("Turn it up", "Right", partial(self._step, 1)))
            found.append(Command("Turn it down", "Left", partial(self._step, -1)))
        return tuple(found)

    def _other(self, by: int) -> None:
        self._part = (self._part + by) % len(self._face())
        self.update()

    def _face(self) -> tuple[Part, ...]:
        """What can be moved on its own."""
        return () if self._sheet is None else face(self._sheet, self._now, self._want)

    def _step(self, by: int) -> None:
        """Move the part with the keyboard by one place."""
        parts = self._face()
        if not parts or self._sheet is None:
            return
        self._part = min(self._part, len(parts) - 1)
        match parts[self._part]:
            case Slide(now=on):
                self._turn(self._part, int(not on))
            case Knob(places=places, now=None):
                self._turn(self._part, 0 if by > 0 else len(places) - 1)
            case Knob(places=places, now=int(at), endless=endless):
                to = (at + by) % len(places) if endless else _within(at + by, places)
                if to != at:
                    self._turn(self._part, to)
            case _:
                every = names(self._sheet)
                at = every.index(self._now) if self._now in every else -1
                if _within(at + by, every) != at:
                    self._turn(self._part, _within(at + by, every))

    def _turn(self, part: int, to: int) -> None:
        if self._sheet is not None:
            self.moved.emit(turned(self._sheet, self._now, part, to))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        parts, at = self._face(), event.position()
        if not parts:
            return
        self._part = min(max(int(at.x() // (self.width() / len(parts))), 0), len(parts) - 1)
        match parts[self._part]:
            case Knob(places=places):
                near = self._nearest(at, len(parts), len(places))
                if near is not None:
                    self._turn(self._part, near)
            case Slide():
                self._step(1)
            case _ if at.x() > self.width() - 70:
                self._step(1 if at.y() < self.height() / 2 else -1)
        self.update()

    def _nearest(self, at: QPointF, parts: int, count: int) -> int | None:
        """The place of a knob that was pointed at; None near its middle."""
        centre, radius = paint.dial_place(self.width(), parts, self._part)
        d = at - centre
        if math.hypot(d.x(), d.y()) < radius * 0.3:
            return None
        at_angle = math.atan2(d.x(), -d.y())
        return min(range(count), key=lambda i: abs(paint.wrap(angle(i, count) - at_angle)))

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._sheet is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = paint.Look(
            self._session.theme, QRectF(self.rect()), self._part if self.hasFocus() else -1
        )
        paint.draw(p, self._face(), look)


def _within(at: int, of: Sequence[str]) -> int:
    return min(max(at, 0), len(of) - 1)
