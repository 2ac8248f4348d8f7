"""Jobs to go on with, worked examples, and what an earlier job knows of a like vehicle."""

from __future__ import annotations

from datetime import datetime
from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from zombrel.actions.begin import Like, like, likeness
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.prefs import JobNote
from zombrel.store.zjob import load
from zombrel.ui.job_files import DEMOS
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.marks import draw_mark
from zombrel.ui.widgets.parts import button, clear, column, label, row
from zombrel.ui.widgets.tip import tip

SHOWN = 4


class JobCard(QAbstractButton):
    """One earlier job: what it is, what is open, when."""

    def __init__(self, session: Session, note: JobNote, when: str) -> None:
        super().__init__()
        self._session, self._note, self._when = session, note, when
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        words = ", ".join(x for x in (note.name, note.devices, note.open, when) if x)
        self.setAccessibleName(f"Open {words}")
        tip(self, f"{words} ({note.path})")

    def sizeHint(self) -> QSize:
        return QSize(320, 62)

    def paintEvent(self, event: QPaintEvent) -> None:
        t, note = self._session.theme, self._note
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        edge = t.focus if self.hasFocus() else t.line
        p.setPen(QPen(QColor(edge), 2 if self.hasFocus() else 1))
        p.setBrush(QColor(t.tint if self.underMouse() else t.panel))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        draw_mark(p, QRectF(16, 12, 16, 16), note.mark, t)
        room = self.width() - 60
        p.setPen(QColor(t.ink))
        p.setFont(font(15, bold=True))
        self._text(p, QRectF(44, 9, room, 22), note.name, Qt.AlignmentFlag.AlignLeft)
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        right = " · ".join(x for x in (note.open, self._when) if x)
        wide = p.fontMetrics().horizontalAdvance(right) + 12
        self._text(p, QRectF(44, 34, room, 18), right, Qt.AlignmentFlag.AlignRight)
        left = QRectF(44, 34, room - wide, 18)
        self._text(p, left, note.devices, Qt.AlignmentFlag.AlignLeft)

    @staticmethod
    def _text(p: QPainter, box: QRectF, text: str, side: Qt.AlignmentFlag) -> None:
        fit = p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
        p.drawText(box, side | Qt.AlignmentFlag.AlignVCenter, fit)


class Earlier(QWidget):
    """The jobs that were open last, and the shipped ones to look at."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        self._read: dict[str, tuple[float, Job]] = {}
        self._list = column(spacing=8)
        self.setLayout(self._list)

    def refresh(self) -> None:
        """Show them; nothing is read but what was noted of them."""
        s = self._session
        notes = [n for n in s.prefs.notes if Path(n.path).exists()][:SHOWN]
        key = (s.theme, notes)
        if key == self._shown:
            return
        self._shown = key
        clear(self._list)
        for note in notes:
            card = JobCard(s, note, when_words(note.when, datetime.now()))
            card.clicked.connect(lambda _=False, p=note.path: s.ask.emit(f"path:{p}"))
            self._list.addWidget(card)
        if not notes:
            self._list.addWidget(
                label("No job was saved here yet. Look at a worked example:", "quiet", wrap=True)
            )
        line = row(spacing=6)
        for number, what in DEMOS.items():
            show = partial(s.ask.emit, f"demo:{number}")
            line.addWidget(
                button(what[0].upper() + what[1:], show, "", f"Worked example {number}, {what}")
            )
        line.addStretch(1)
        if notes:
            self._list.addWidget(label("Worked examples", "quiet"))
        self._list.addLayout(line)

    # ---- like vehicles

    def like(self) -> Like | None:
        """The earlier job whose vehicle is called most alike, if it knows anything asked here."""
        s = self._session
        name = s.job.vehicle.name
        if not name or not s.job.devices:
            return None
        mine = str(s.path.resolve()) if s.path is not None else ""
        ranked = sorted(
            ((likeness(name, n.vehicle), n) for n in s.prefs.notes if n.path != mine),
            key=lambda pair: -pair[0],
        )
        for alike, note in ranked:
            other = self._job(Path(note.path)) if alike else None
            found = like(s.history.present, other, s.now()) if other is not None else None
            if found is not None:
                return found
        return None

    def _job(self, path: Path) -> Job | None:
        """An earlier job, read once for as long as its file does not change."""
        try:
            when = path.stat().st_mtime
            known = self._read.get(str(path))
            if known is None or known[0] != when:
                known = self._read[str(path)] = (when, load(path))
        except (OSError, Problem):
            return None
        return known[1]


def when_words(when: str, now: datetime) -> str:
    """A moment as one says it: today 17:40, yesterday, Monday, 3 May."""
    try:
        then = datetime.strptime(when, "%Y-%m-%d %H:%M")
    except ValueError:
        return when
    days = (now.date() - then.date()).days
    if days <= 0:
        return f"today {then:%H:%M}"
    if days == 1:
        return f"yesterday {then:%H:%M}"
    week = 7
    return f"{then:%A}" if days < week else f"{then.day} {then:%B %Y}"
