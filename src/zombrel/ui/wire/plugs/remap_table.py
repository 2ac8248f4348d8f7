"""The table of a remap: old cavities at the left, new ones at the right, how they join between."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import (
    QAbstractTableModel,
    QLineF,
    QModelIndex,
    QPersistentModelIndex,
    QRectF,
    Qt,
)
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QHeaderView, QStyledItemDelegate, QStyleOptionViewItem, QTableView

from zombrel.harness.plugs.build import inside
from zombrel.harness.plugs.remap import Conflict, Joined, Remap, Way
from zombrel.job.value import Value
from zombrel.job.wiring import Lead
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.marks import draw_mark

HEADS = ("Old", "carries", "kind", "", "New", "carries", "kind")
JOIN, NEW_FIRST = 3, 4
KINDS = (2, 6)
"""Columns that say the kind."""
Index = QModelIndex | QPersistentModelIndex
WORDS = {
    "taken": "in the lead",
    "proposed": "matches, not taken yet",
    "name": "matches by name only",
    "kind": "only the last of its kind on both sides",
    "conflict": "does not fit",
    "unused": "nothing like it on the new side",
    "left": "left unused",
    "link": "linked inside the lead",
    "missing": "not in this car",
}
MARKS = {"name": "watch", "kind": "watch", "conflict": "trouble"}


class Line(Value, frozen=True):
    """One row."""

    a: Way | None
    b: Way | None
    state: str
    conflict: Conflict | None = None
    pair: Joined | None = None


def lines_of(lead: Lead, found: Remap) -> list[Line]:
    """The rows of a remap: what joins, what is left over, what is missing."""
    have = {(r.a, r.b) for r in lead.rows}
    bad = {(c.a, c.b): c for c in reversed(found.conflicts)}
    out = []
    for p in found.pairs:
        key = (p.a.cavity, p.b.cavity)
        doubt = p.by if p.by in ("name", "kind") else "proposed"
        state = "taken" if key in have else doubt
        conflict = bad.get(key)
        if conflict is not None and state != "taken":
            state = "conflict"
        out.append(Line(p.a, p.b, state, conflict, p))
    for w in found.unused:
        shared = next((c for c in found.conflicts if c.a == w.cavity), None)
        state = "left" if w.cavity in lead.left else "unused"
        if shared is not None and (w.cavity, shared.b) in have:
            state = "taken"
        out.append(Line(w, None, state, shared))
    linked = [r for r in lead.rows if inside(lead, r)]
    known = {w.cavity: w for w in (*found.unused, *found.missing)}
    known |= {w.cavity: w for p in found.pairs for w in (p.a, p.b)}
    for r in linked:
        ends = (known.get(r.a) or Way(r.a, r.signal), known.get(r.b) or Way(r.b, r.signal))
        out.append(Line(*ends, "link"))
    held = {pin for r in linked for pin in (r.a, r.b)}
    out = [x for x in out if not (x.b is None and x.a and x.a.cavity in held)]
    for w in found.missing:
        if w.cavity in held:
            continue
        out.append(Line(None, w, "left" if w.cavity in lead.left else "missing"))
    return out


class RemapModel(QAbstractTableModel):
    """The rows for the view."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.lines: list[Line] = []

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        return 0 if parent.isValid() else len(self.lines)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        return len(HEADS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if orientation == Qt.Orientation.Horizontal:
            if role == Qt.ItemDataRole.DisplayRole:
                return HEADS[section]
            if role == Qt.ItemDataRole.TextAlignmentRole:
                return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None

    def data(self, index: Index, role: int = 0) -> Any:
        line = self.lines[index.row()]
        text = self._text(line, index.column())
        if role == Qt.ItemDataRole.DisplayRole:
            return "" if index.column() == JOIN else text
        if role == Qt.ItemDataRole.ToolTipRole:
            return text
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return f"{HEADS[index.column()]} {text or 'none'}".strip()
        if role == Qt.ItemDataRole.FontRole:
            return font(13, bold=index.column() in (0, NEW_FIRST))
        if role == Qt.ItemDataRole.ForegroundRole:
            quiet = line.state in ("unused", "left", "missing") or index.column() in (2, 6)
            return QColor(self._session.theme.quiet if quiet else self._session.theme.ink)
        return None

    def _text(self, line: Line, column: int) -> str:
        if column == JOIN:
            return WORDS[line.state]
        way = line.a if column < JOIN else line.b
        if way is None:
            other = line.b is None and column == NEW_FIRST + 1
            mine = line.a is None and column == 1
            return WORDS[line.state] if other or mine else ""
        at = column % NEW_FIRST
        return (way.cavity.replace(".", " "), way.circuit, way.kind)[at]

    def fill(self, lines: list[Line]) -> None:
        """Show other rows."""
        self.beginResetModel()
        self.lines = lines
        self.endResetModel()


class JoinPaint(QStyledItemDelegate):
    """The line between the two sides, by what it is."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session

    def paint(self, p: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        super().paint(p, option, index)
        model = index.model()
        assert isinstance(model, RemapModel)
        line, t = model.lines[index.row()], self._session.theme
        r = QRectF(option.rect)  # type: ignore[attr-defined]
        if line.pair is None and line.state not in ("taken", "link"):
            return
        p.save()
        mark = MARKS.get(line.state, "")
        ink = QColor(t.mark(mark) if mark else t.petrol)
        pen = QPen(ink, 2.4)
        if line.state == "proposed":
            pen.setStyle(Qt.PenStyle.DotLine)
        p.setPen(pen)
        y = r.center().y()
        p.drawLine(QLineF(r.left() + 6, y, r.right() - 6, y))
        if mark or line.conflict is not None:
            side = 14.0
            place = QRectF(r.center().x() - side / 2, y - side / 2, side, side)
            p.fillRect(place.adjusted(-3, 0, 3, 0), QColor(t.panel))
            draw_mark(p, place, mark or "watch", t)
        p.restore()


class RemapView(Commanded, QTableView):
    """Arrows walk; the page's keys act on the row."""

    def __init__(self, session: Session, acts: Callable[[], Sequence[Command]]) -> None:
        super().__init__()
        self._acts = acts
        self.rows = RemapModel(session)
        self._paint = JoinPaint(session)
        self.setModel(self.rows)
        self.setItemDelegateForColumn(JOIN, self._paint)
        self.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QTableView.SelectionMode.SingleSelection)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(32)
        head = self.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        for column in (1, 5):
            head.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
        head.setSectionResizeMode(JOIN, QHeaderView.ResizeMode.Fixed)
        head.resizeSection(JOIN, 76)
        self.setAccessibleName("Old and new cavities")

    def commands(self) -> tuple[Command, ...]:
        return tuple(self._acts())

    @property
    def line(self) -> Line | None:
        """The row that is chosen."""
        at = self.currentIndex().row()
        return self.rows.lines[at] if 0 <= at < len(self.rows.lines) else None

    def choose(self, row: int) -> None:
        """Bring a row forward."""
        if self.rows.lines:
            self.selectRow(min(max(row, 0), len(self.rows.lines) - 1))
