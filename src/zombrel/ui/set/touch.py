"""Settings painted as the thing the installer touches, in the orientation it is seen."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.calibrate.setting import options
from zombrel.calibrate.setting_kinds import places
from zombrel.job.sheet import TABLE, Curves, Dials, Rotary, SettingSheet, Switches
from zombrel.ui.session import Session
from zombrel.ui.set import touch_paint as paint


class TouchView(QWidget):
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

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        sideways = key in (Qt.Key.Key_Left, Qt.Key.Key_Right)
        parts = self._parts()
        if sideways and parts > 1:
            self._part = (self._part + (1 if key == Qt.Key.Key_Right else -1)) % parts
            self.update()
        elif sideways or key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._step(1 if key in (Qt.Key.Key_Up, Qt.Key.Key_Right) else -1)
        elif key == Qt.Key.Key_Space and isinstance(self._sheet, Switches):
            self._step(1)
        else:
            super().keyPressEvent(event)

    def _parts(self) -> int:
        """How many things of this setting can be moved on their own."""
        if isinstance(self._sheet, Dials):
            return len(self._sheet.dials)
        return len(self._sheet.weights) if isinstance(self._sheet, Switches) else 1

    def names(self) -> tuple[str, ...]:
        """Every position in order."""
        sheet = self._sheet
        if sheet is None:
            return ()
        if isinstance(sheet, Curves):
            own = (TABLE,) if sheet.free_points else ()
            return tuple(p.name for p in sheet.presets) + own
        return tuple(options(sheet).names)

    def _step(self, by: int) -> None:
        sheet = self._sheet
        if sheet is None:
            return
        if isinstance(sheet, Dials):
            self._turn(sheet, by)
        elif isinstance(sheet, Switches):
            self._flip(sheet, self._part)
        else:
            names = self.names()
            at = names.index(self._now) if self._now in names else -1
            new = min(max(at + by, 0), len(names) - 1)
            if new != at:
                self.moved.emit(names[new])

    def _turn(self, sheet: Dials, by: int) -> None:
        here = places(sheet, self._now)
        if here is None:
            self.moved.emit(options(sheet).names[0])
            return
        size = len(sheet.dials[self._part].positions)
        here[self._part] = (here[self._part] + by) % size
        self._emit_dials(sheet, here)

    def _emit_dials(self, sheet: Dials, at: list[int]) -> None:
        self.moved.emit("".join(d.positions[i] for d, i in zip(sheet.dials, at, strict=True)))

    def _flip(self, sheet: Switches, i: int) -> None:
        bits = list(self._now.ljust(len(sheet.weights), "0"))
        bits[i] = "0" if bits[i] == "1" else "1"
        self.moved.emit("".join(bits))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        sheet, at = self._sheet, event.position()
        if isinstance(sheet, Dials):
            self._part = min(int(at.x() // (self.width() / len(sheet.dials))), self._parts() - 1)
            here = places(sheet, self._now) or [0] * len(sheet.dials)
            near = self._nearest(at, self._part, len(sheet.dials[self._part].positions))
            if near is not None:
                here[self._part] = near
                self._emit_dials(sheet, here)
        elif isinstance(sheet, Rotary):
            near = self._nearest(at, 0, len(sheet.positions))
            if near is not None:
                self.moved.emit(sheet.positions[near][0])
        elif isinstance(sheet, Switches):
            self._part = min(int(at.x() // (self.width() / self._parts())), self._parts() - 1)
            self._flip(sheet, self._part)
        elif at.x() > self.width() - 70:
            self._step(1 if at.y() < self.height() / 2 else -1)
        self.update()

    def _nearest(self, at: QPointF, part: int, count: int) -> int | None:
        """The position of a dial that was pointed at; None near its middle."""
        centre, radius = paint.dial_place(self.width(), self._parts(), part)
        d = at - centre
        if math.hypot(d.x(), d.y()) < radius * 0.3:
            return None
        angle = math.atan2(d.x(), -d.y())
        return min(range(count), key=lambda i: abs(paint.wrap(paint.angle(i, count) - angle)))

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._sheet is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = paint.Look(
            self._session.theme,
            QRectF(self.rect()),
            self._now,
            self._want,
            self._part if self.hasFocus() else -1,
        )
        paint.draw(p, self._sheet, look)
