"""The table of conductors: one line each, its load, drop and fuse, and how sure its ends are."""

from __future__ import annotations

from typing import Any, Protocol

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, QRectF, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import (
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from zombrel.harness.ends import end_words
from zombrel.job.ledger import provenance
from zombrel.job.model import by_id
from zombrel.job.wiring import Wire
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.marks import draw_mark
from zombrel.ui.wire.plugs.face_view import draw_swatch
from zombrel.units.measure import section, written

HEADS = ("Wire", "From", "To", "Size", "Length", "Load", "Drop", "Fuse", "How sure")
Index = QModelIndex | QPersistentModelIndex


class WireModel(QAbstractTableModel):
    """The conductors of the job as rows."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: list[tuple[str, ...]] = []
        self.bad: list[set[int]] = []

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        return len(HEADS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return HEADS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None

    def data(self, index: Index, role: int = 0) -> Any:
        text = self.rows[index.row()][index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            return text
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return f"{HEADS[index.column()]}: {text or 'none'}"
        if role == Qt.ItemDataRole.ForegroundRole and index.column() in self.bad[index.row()]:
            return QColor(self._session.theme.trouble)
        if role == Qt.ItemDataRole.FontRole:
            return font(13, bold=index.column() == 0 or index.column() in self.bad[index.row()])
        return None

    def fill(self) -> None:
        """Take the wires from the session; rows keep their places."""
        s = self._session
        job, assessment = s.job, s.assessment
        rows: list[tuple[str, ...]] = []
        bad: list[set[int]] = []
        for wire, r in zip(assessment.runs, assessment.wires, strict=True):
            known = self._weakest(wire)
            wrong: set[int] = set()
            if r.drop > r.drop_limit and wire.carries != "signal":
                wrong.add(6)
            if r.overfused:
                wrong.add(7)
            if known not in ("counted", "measured", "proven", ""):
                wrong.add(8)
            area = section(wire.area_mm2, s.units).removesuffix("mm²").strip()
            load = f"{r.amps:.2g} A" if r.amps >= 0.05 else f"{r.amps * 1000:.1f} mA"
            rows.append(
                (
                    wire.id,
                    end_words(job, wire.a),
                    end_words(job, wire.b),
                    area,
                    written("length", wire.length_m, s.units),
                    load,
                    f"{r.drop * 100:.1f} %" if wire.carries != "signal" else "",
                    f"{r.fuse_a:g} A" if r.fuse_a else "",
                    known,
                )
            )
            bad.append(wrong)
        same = len(rows) == len(self.rows)
        if not same:
            self.beginResetModel()
        self.rows, self.bad = rows, bad
        if not same:
            self.endResetModel()
        elif rows:
            self.dataChanged.emit(self.index(0, 0), self.index(len(rows) - 1, len(HEADS) - 1))

    def _weakest(self, wire: Wire) -> str:
        """Evidence of the less certain end in the vehicle."""
        from zombrel.job.ledger import RANK

        job = self._session.job
        found = [
            provenance(job, f"wires.{wire.id}.{side}")
            for side, end in (("a", wire.a), ("b", wire.b))
            if by_id(job.devices, end.place) is None
        ]
        if not found:
            return ""
        if None in found:
            return "not said"
        return min((k for k in found if k is not None), key=lambda k: RANK[k])


class Swatch(QStyledItemDelegate):
    """The wire's number beside a piece of it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session

    def paint(self, p: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        t = self._session.theme
        p.save()
        r = QRectF(option.rect)  # type: ignore[attr-defined]
        wires = self._session.job.wires
        if index.row() < len(wires):
            here = self._table_row(option)
            if here:
                p.fillRect(r, QColor(t.tint))
            draw_swatch(
                p,
                QRectF(r.left() + 6, r.center().y() - 4, 30, 8),
                wires[index.row()].colour,
                t.quiet,
            )
            wire = wires[index.row()]
            levels = [f.level for f in self._session.assessment.findings if f.wire == wire.id]
            if levels:
                box = QRectF(r.right() - 18, r.center().y() - 7, 14, 14)
                draw_mark(p, box, levels[0], t)
            p.setPen(QColor(t.ink))
            p.setFont(font(13, bold=True))
            p.drawText(
                r.adjusted(43, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, wires[index.row()].id
            )
        p.restore()

    @staticmethod
    def _table_row(option: QStyleOptionViewItem) -> bool:
        from PySide6.QtWidgets import QStyle

        return bool(option.state & QStyle.StateFlag.State_Selected)  # type: ignore[attr-defined]


class Acts(Protocol):
    """What the table asks of the page it is on."""

    def why(self) -> None:
        """Why the figures of the chosen wire."""
        ...

    def turn(self) -> None:
        """Turn the face of its connector round."""
        ...

    def acts(self) -> tuple[Command, ...]:
        """What else is done to wires by key."""
        ...


class WireTable(Commanded, QTableView):
    """Arrow keys walk; W asks why."""

    def __init__(self, stage: Acts) -> None:
        super().__init__()
        self._stage = stage

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("Why the figures of this wire", "W", self._stage.why),
            Command("Turn the connector face round", "M", self._stage.turn),
            *self._stage.acts(),
        )
