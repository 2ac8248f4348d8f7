"""What the cards of Set share."""

from __future__ import annotations

from abc import abstractmethod

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QBoxLayout, QGridLayout, QHBoxLayout, QWidget

from zombrel.behaviour.tables import Table
from zombrel.job.ledger import evidence, provenance
from zombrel.ui.session import Session
from zombrel.ui.theme import current, font
from zombrel.ui.widgets.marks import WORDS, Mark, draw_mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import clear, label, row
from zombrel.ui.widgets.tip import tip

ENTRY_WIDTH = 214


class Card(Panel):
    """One thing to set: refreshed as a whole, given the keyboard as a whole."""

    def __init__(self, session: Session) -> None:
        super().__init__("card")
        self._session = session
        self._beside: QBoxLayout | None = None
        """The object to touch and what is said of it."""

    @abstractmethod
    def refresh(self) -> None:
        """Show what it is about as it stands."""

    def take_focus(self) -> None:
        """Put the keyboard where the work is."""

    def set_narrow(self, narrow: bool) -> None:
        """Stack what stands side by side when there is little room."""
        top = self._beside
        if top is not None:
            way = QBoxLayout.Direction.TopToBottom if narrow else QBoxLayout.Direction.LeftToRight
            top.setDirection(way)


class Entry(QAbstractButton):
    """One line of the list at the left: what it is, where it stands, a mark."""

    def __init__(self, key: str) -> None:
        super().__init__()
        self.key = key
        self._name, self._stands, self._mark = "", "", "open"
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(42)

    def sizeHint(self) -> QSize:
        return QSize(ENTRY_WIDTH, 42)

    def show_entry(self, name: str, stands: str, mark: str) -> None:
        """Show its words; the accessible name says them all."""
        if (name, stands, mark) != (self._name, self._stands, self._mark):
            self._name, self._stands, self._mark = name, stands, mark
            self.setAccessibleName(f"{name}: {stands}, {WORDS[mark]}")
            tip(self, f"{name}: {stands}")
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        edge = t.focus if self.hasFocus() or self.isChecked() else t.line
        p.setPen(QPen(QColor(edge), 2 if self.hasFocus() or self.isChecked() else 1))
        p.setBrush(QColor(t.panel if self.isChecked() else t.well))
        p.drawRoundedRect(box, 6, 6)
        draw_mark(p, QRectF(9, 13, 16, 16), self._mark, t)
        room = self.width() - 42
        p.setPen(QColor(t.ink))
        p.setFont(font(13, bold=True))
        fit = p.fontMetrics().elidedText
        p.drawText(
            QRectF(33, 4, room, 17),
            Qt.AlignmentFlag.AlignVCenter,
            fit(self._name, Qt.TextElideMode.ElideRight, room),
        )
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        fit = p.fontMetrics().elidedText
        p.drawText(
            QRectF(33, 21, room, 16),
            Qt.AlignmentFlag.AlignVCenter,
            fit(self._stands, Qt.TextElideMode.ElideRight, room),
        )


def marked(session: Session) -> tuple[QHBoxLayout, Mark, QWidget]:
    """A mark and the words beside it."""
    mark, words = Mark("open", 18), label("", "", wrap=True)
    line = row(mark, words, spacing=8)
    line.setStretch(1, 1)
    return line, mark, words


def read_back(session: Session, device: str, pin: str, name: str) -> None:
    """Write into the ledger that a setting was read off the device."""
    path = f"devices.{device}.settings.{pin}.at"
    edit = evidence(session.job, path, "measured", "read back from the device", session.now())
    session.do(f"{name} read back", edit)


def needs_read_back(session: Session, device: str, pin: str) -> bool:
    """Nobody has read this setting off the device since it was changed."""
    known = provenance(session.job, f"devices.{device}.settings.{pin}.at")
    return known not in ("measured", "proven")


class TableView(QWidget):
    """A small table of words: a truth table, errors at some speeds, gears."""

    def __init__(self) -> None:
        super().__init__()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(18)
        self._grid.setVerticalSpacing(3)
        self._shown: object = None

    def show_rows(
        self,
        heads: tuple[str, ...],
        rows: tuple[tuple[str, ...], ...],
        strong: tuple[int, ...] = (),
    ) -> None:
        """Show rows under heads; rows whose number is in ``strong`` stand out."""
        if (heads, rows, strong) == self._shown:
            return
        self._shown = (heads, rows, strong)
        clear(self._grid)
        for k, text in enumerate(heads):
            self._grid.addWidget(label(text, "small"), 0, k)
        for i, cells in enumerate(rows):
            for k, text in enumerate(cells):
                role = "strong13" if i in strong else "quiet" if k == 0 else "mono"
                self._grid.addWidget(label(text, role), i + 1, k)
        self._grid.setColumnStretch(len(heads), 1)

    def show_table(self, table: Table) -> None:
        """Show a truth table, the rows where nothing may happen first."""
        rows = tuple((*r.inputs, r.out) for r in table.rows)
        strong = tuple(i for i, r in enumerate(table.rows) if not r.fail_safe)
        self.show_rows((*table.heads, table.out), rows, strong)
        self.setAccessibleName(table.title)
