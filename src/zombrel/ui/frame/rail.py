"""The rail of stages at the left edge."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from zombrel.findings.finding import StageState
from zombrel.job.stages import STAGE_NAMES, STAGES
from zombrel.ui.session import Session
from zombrel.ui.theme import NIGHT, font
from zombrel.ui.widgets.marks import WORDS, draw_mark
from zombrel.ui.widgets.paint import fill
from zombrel.ui.widgets.parts import button
from zombrel.ui.widgets.tip import tip

WIDTH, SMALL = 150, 112
"""Width of the rail, and where room is dear."""
TALL, LOW = 58, 36
"""Height of a stage on it, and where room is dear."""


class StageButton(QAbstractButton):
    """One stage: name, how far it is, its mark."""

    def __init__(self, session: Session, stage: str, key: str) -> None:
        super().__init__()
        self._session, self._key = session, key
        self.stage = stage
        self._state = StageState(stage="survey", mark="open", words="")
        self.next_up = False
        """The first stage that still has something to do."""
        self.small = False
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(SMALL, LOW) if self.small else QSize(WIDTH, TALL)

    def show_state(self, state: StageState, next_up: bool) -> None:
        """Show how far it is; ``next_up`` marks where to go on."""
        if (state, next_up) != (self._state, self.next_up):
            self._state, self.next_up = state, next_up
            name = STAGE_NAMES[state.stage]
            on = ", next" if next_up else ""
            self.setAccessibleName(f"{name}: {state.words}, {WORDS[state.mark]}{on}")
            tip(self, f"{name}: {state.words}{on} ({self._key})")
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        on = self.isChecked()
        box = QRectF(8, 1, self.width() + 8, self.height() - 2)
        if on:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(t.ground))
            p.drawRoundedRect(box, 8, 8)
        if self.next_up:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(t.marigold))
            p.drawRoundedRect(QRectF(0, 12, 5, self.height() - 24), 2, 2)
        if self.hasFocus():
            p.setPen(QColor(t.marigold))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(QRectF(10, 3, self.width() - 14, self.height() - 6), 7, 7)
        marks = t if on or t is NIGHT else NIGHT  # light marks on the dark rail by day too
        p.setPen(QColor(t.ink if on else t.rail_ink))
        name = STAGE_NAMES[self._state.stage]
        if self.small:  # what it stands at is in its tip and its spoken name
            p.setFont(font(14, bold=on))
            p.drawText(QRectF(14, 0, 80, self.height()), Qt.AlignmentFlag.AlignVCenter, name)
            place = QRectF(self.width() - 22, self.height() / 2 - 7, 14, 14)
            draw_mark(p, place, self._state.mark, marks)
            return
        p.setFont(font(16, bold=on))
        p.drawText(QRectF(20, 9, 100, 22), Qt.AlignmentFlag.AlignVCenter, name)
        p.setPen(QColor(t.quiet if on else t.rail_quiet))
        p.setFont(font(12))
        p.drawText(QRectF(20, 31, WIDTH - 26, 18), Qt.AlignmentFlag.AlignVCenter, self._state.words)
        draw_mark(p, QRectF(WIDTH - 36, 12, 17, 17), self._state.mark, marks)


class Rail(QWidget):
    """All stages, one below the other."""

    chosen = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._small = False
        self.setFixedWidth(WIDTH)
        self.setAccessibleName("Stages")
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 62, 0, 12)
        body.setSpacing(4)
        self._buttons: dict[str, StageButton] = {}
        for i, stage in enumerate(STAGES):
            push_button = StageButton(session, stage, f"Ctrl+{i + 1}")
            push_button.clicked.connect(lambda _=False, s=stage: self.chosen.emit(s))
            self._buttons[stage] = push_button
            body.addWidget(push_button)
        body.addStretch(1)
        self.start = button("Start", lambda: self.chosen.emit("start"), "plain", "Start page")
        body.addWidget(self.start)
        body.setAlignment(self.start, Qt.AlignmentFlag.AlignHCenter)
        self.book = button("Job book", lambda: self.chosen.emit("book"), "plain")
        body.addWidget(self.book)
        body.setAlignment(self.book, Qt.AlignmentFlag.AlignHCenter)
        self.shelf = button("Parts shelf", lambda: self.chosen.emit("shelf"), "plain")
        body.addWidget(self.shelf)
        body.setAlignment(self.shelf, Qt.AlignmentFlag.AlignHCenter)
        self.below = body

    def set_small(self, small: bool) -> None:
        """Narrow and low, where room is dear."""
        self._small = small
        self.setFixedWidth(SMALL if small else WIDTH)
        self.below.setContentsMargins(0, 8 if small else 62, 0, 6 if small else 12)
        self.below.setSpacing(1 if small else 4)
        self.shelf.setText("Shelf" if small else "Parts shelf")
        self.book.setText("Book" if small else "Job book")
        for stage in self._buttons.values():
            stage.small = small
            stage.updateGeometry()
        self.update()

    def refresh(self, current: str) -> None:
        """Show the stages as assessed."""
        s = self._session
        ahead = next((x.stage for x in s.assessment.stages if x.mark != "good"), "")
        begun = (
            current not in ("start", "shelf", "book") or bool(s.job.devices) or s.path is not None
        )
        for state in s.assessment.stages:
            push_button = self._buttons[state.stage]
            push_button.show_state(state, state.stage == ahead)
            # an exclusive button cannot be let go: off the stages none is the chosen one
            push_button.setAutoExclusive(current in self._buttons)
            push_button.setChecked(state.stage == current)
            push_button.setVisible(begun)
        self.shelf.set_on(current == "shelf")
        self.book.set_on(current == "book")
        self.start.set_on(current == "start")

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        fill(p, self.rect(), t.rail)
        if self._small:
            return
        p.setPen(QColor(t.rail_ink))
        p.setFont(font(20, bold=True))
        p.drawText(QRectF(20, 14, WIDTH, 32), Qt.AlignmentFlag.AlignVCenter, "Zombrel")
