"""Every conductor with its current, size, drop, fuse and how its ends are known."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QGridLayout,
    QHeaderView,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from zombrel.actions import parts
from zombrel.actions.wires import put_length, put_wire
from zombrel.findings.explain import explain_wire
from zombrel.harness.conductor import ALL_FUSES, AREAS
from zombrel.harness.ends import end_words
from zombrel.harness.parts_list import end_joint
from zombrel.job.model import by_id
from zombrel.job.reason import Given, Reason
from zombrel.job.wiring import Wire
from zombrel.ui.session import Session
from zombrel.ui.survey.page import KnownButton
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.parts import button, card, label, row
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.plugs.face_view import FaceView
from zombrel.ui.wire.wire_table import Swatch, WireModel, WireTable
from zombrel.units import gauge
from zombrel.units.measure import area_of, section, short_of, value_in

BELOW_PX = 252
"""What the chosen wire needs."""
ROW_PX = 29
"""Height of a wire's row: ten of them are seen at 1280 × 800."""


class WireList(QWidget):
    """Table above, the chosen wire and its connector face below."""

    title = "Wire"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName("Conductors")
        self.model = WireModel(session)
        self.table = WireTable(self)
        self.table.setModel(self.model)
        self._swatch = Swatch(session)
        self.table.setItemDelegateForColumn(0, self._swatch)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setShowGrid(False)
        self.table.setWordWrap(False)
        self.table.setTabKeyNavigation(False)  # Tab leaves it
        self.table.setAccessibleName("Wires")
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(ROW_PX)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_chosen())
        self._chosen = ""
        self._none = label(
            "No wires yet. Choose devices in Survey and signals in Source, then draw what is "
            "missing here; or add wires one by one.",
            "quiet",
            wrap=True,
        )
        self._editor, inner = card(margins=10)
        self._build_editor(inner)
        self._face_card, face = card(margins=10)
        self._face_title = label("", "head")
        self._face_words = label("", "quiet", wrap=True)
        self.face = FaceView(session)
        turn = button("Turn it round   M", self._turn, "plain", "Turn the connector round")
        face.addLayout(row(self._face_title, 1, turn))
        face.addWidget(self.face, 1)
        face.addWidget(self._face_words)
        below = row(self._editor, self._face_card, spacing=10)
        below.setStretch(0, 1)
        below.setStretch(1, 1)
        self._below = QWidget()
        self._below.setLayout(below)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(10)
        self._draw = button("", self.draw_missing, "", "Draw the missing wires")
        self._new = button("New wire   N", self._new_wire, "", "New wire")
        self.extras: tuple[QWidget, ...] = (self._new, self._draw)
        """Buttons the stage shows beside the caution while this view is up."""
        body.addWidget(self._none)
        body.addWidget(self.table, 1)
        body.addWidget(self._below)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The list has what room there is; the chosen wire and its face what they need."""
        super().resizeEvent(event)
        self._below.setFixedHeight(max(BELOW_PX, round(self.height() * 0.36)))

    def _build_editor(self, inner: Any) -> None:
        self._name, self._ends = label("", "head"), label("", "quiet", wrap=True)
        ends = button("Ends…", self._edit_ends, "plain", "Change the wire's ends")
        out = button("Take out", self._take_out, "plain", "Take the wire out")
        why = button("Why?", self.why, name="Why: this wire")
        inner.addLayout(row(self._name, 1, ends, out, why, spacing=6))
        self._remarks = label("", "trouble", wrap=True)
        inner.addWidget(self._ends)
        inner.addWidget(self._remarks)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(6)
        self._area = Choice()
        self._area.setAccessibleName("Cross-section")
        self._area.activated.connect(self._area_chosen)
        s = self._session
        self._length = FigureField(s, "length", "Length", lambda: s.units.length)
        self._length.editingFinished.connect(self._length_entered)
        self._fuse = Choice()
        self._fuse.setAccessibleName("In-line fuse")
        self._fuse.addItems(["none", *(f"{f:g} A" for f in ALL_FUSES)])
        self._fuse.activated.connect(lambda i: self._put("fuse_a", ALL_FUSES[i - 1] if i else None))
        self._twisted = QCheckBox("twisted pair")
        self._twisted.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self._twisted.clicked.connect(lambda on: self._put("twisted", on))
        self._screened = QCheckBox("shielded")
        self._screened.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self._screened.clicked.connect(lambda on: self._put("shielded", on))
        for i, (words, field) in enumerate(
            (("Size", self._area), ("Length", self._length), ("In-line fuse", self._fuse))
        ):
            grid.addWidget(label(words, "quiet"), 0, i)
            grid.addWidget(field, 1, i)
            grid.setColumnStretch(i, 1)
        inner.addLayout(grid)
        self._unfix = button("Length by plan", self._from_plan, "plain")
        plan = button("Plan", self._to_plan, "plain", "Show this wire on the plan")
        joints = button("Joints", self._joints, "plain", "How each end is joined")
        inner.addLayout(row(self._twisted, self._screened, 1, self._unfix, joints, plan))
        self._sure = QVBoxLayout()
        self._sure.setSpacing(4)
        inner.addLayout(self._sure)
        inner.addStretch(1)
        self._sure_for = ""
        self._known: list[KnownButton] = []

    # ---- editing

    def _wire(self) -> Wire | None:
        return by_id(self._session.job.wires, self._chosen)

    def _put(self, field: str, value: object) -> None:
        wire = self._wire()
        if wire is not None and getattr(wire, field) != value:
            words = field.replace("_mm2", "").replace("_m", "").replace("_a", "")
            self._session.do(f"{wire.id}: {words}", put_wire(wire, field, value))

    def _areas(self) -> tuple[float, ...]:
        """The sections one can choose: metric, or gauges."""
        return AREAS if self._session.units.area == "mm2" else gauge.stocked()

    def _area_chosen(self, i: int) -> None:
        self._put("area_mm2", round(self._areas()[i], 4))

    def _length_entered(self) -> None:
        value, wire = self._length.take(), self._wire()
        if wire is None or value is None:
            return
        if self._length.text() == self._length_words(
            self._session.assessment.run(wire.id).length_m
        ):
            return
        self._session.do(f"{wire.id}: length", put_length(wire, value))

    def _length_words(self, metres: float) -> str:
        return f"{value_in('length', metres, self._session.units):.4g}"

    def turn(self) -> None:
        """The other side of the connector."""
        self.face.turn()
        self.refresh()

    def _from_plan(self) -> None:
        """The length follows the plan again."""
        self._put("fixed", False)

    def acts(self) -> tuple[Command, ...]:
        """What is often done to wires, by key."""
        found = [Command("New wire", "N", self._new_wire)]
        if self._draw.isVisible():
            found.append(Command("Draw the missing wires", "D", self.draw_missing))
        if self._wire() is not None:
            found += [
                Command("Take the wire out", "Delete", self._take_out),
                Command("Change the wire's ends", "E", self._edit_ends),
                Command("How each end is joined", "J", self._joints),
                Command("Show the wire on the plan", "P", self._to_plan),
                Command("Photos of the wire", "O", self._to_photos),
            ]
        return tuple(found)

    def why(self) -> None:
        """Why the figures of the chosen wire are what they are."""
        wire, s = self._wire(), self._session
        if wire is not None:
            show_why(
                explain_wire(s.job, s.assessment.run(wire.id), s.assessment.wire(wire.id), s.state),
                self.window(),
                self._session.units,
            )

    def draw_missing(self) -> None:
        """Every wire the job still lacks, in one edit, and what came of it."""
        from zombrel.ui.wire.drawn import draw_and_tell

        draw_and_tell(self._session, self.window())

    def _new_wire(self) -> None:
        self._ask_wire(None)

    def _edit_ends(self) -> None:
        self._ask_wire(self._wire())

    def _ask_wire(self, wire: Wire | None) -> None:
        from zombrel.ui.wire.new_wire import WireDialog

        dialog = WireDialog(self._session, wire, self.window())
        dialog.accepted.connect(lambda: self.show_item(dialog.made))
        dialog.open()

    def _take_out(self) -> None:
        wire = self._wire()
        if wire is not None:
            self._session.do(f"{wire.id} taken out", parts.remove_wire(self._session.job, wire.id))

    def _joints(self) -> None:
        """How both ends are joined, with the order of hands and the pull to test."""
        wire, s = self._wire(), self._session
        if wire is None:
            return
        lines, found = [], []
        for end in (wire.a, wire.b):
            how = end_joint(s.job, wire, end)
            found.append(how.words)
            lines.append(Given(name=end_words(s.job, end), value=how.words, known=how.why))
            lines += [Given(name=f"{i + 1}", value=h) for i, h in enumerate(how.hands)]
        show_why(
            Reason(
                title=f"Joints of {wire.id}, {area_of(wire.area_mm2)}",
                result=" and ".join(dict.fromkeys(found)),
                formula="by what the end goes into, then by heat, shaking and signal there, then "
                "by the house's school",
                given=tuple(lines),
                source="IEC 60352-2, table 1, for the pull test",
                assumption="the terminal's own sheet comes before this",
            ),
            self.window(),
            s.units,
        )

    def _to_plan(self) -> None:
        self._session.goto.emit(f"wire:plan/{self._chosen}")

    def _to_photos(self) -> None:
        wire = self._wire()
        if wire is not None:
            self._session.goto.emit(f"handover:photos/wires.{wire.id}")

    def _turn(self) -> None:
        self.face.turn()
        self._show_chosen()

    # ---- showing

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_item(self, item: str) -> None:
        """Choose a wire."""
        ids = [w.id for w in self._session.job.wires]
        if item in ids:
            self.table.selectRow(ids.index(item))
            self.table.scrollTo(self.model.index(ids.index(item), 0))
            self.table.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        """Show the wires."""
        self.model.fill()
        any_wires = bool(self.model.rows)
        from zombrel.harness.missing import undrawn

        count = len(undrawn(self._session.job))
        self._draw.setText(f"Draw {count} missing" if count else "")
        self._draw.setVisible(count > 0)
        self._none.setVisible(not any_wires)
        self.table.setVisible(any_wires)
        self._editor.setVisible(any_wires)
        self._face_card.setVisible(any_wires)
        if any_wires and not self.table.currentIndex().isValid():
            self.table.selectRow(0)
        self._columns()
        self._show_chosen()

    def _columns(self) -> None:
        header = self.table.horizontalHeader()
        fixed = {0: 92, 3: 58, 4: 58, 5: 66, 6: 58, 7: 56, 8: 86}
        if self._session.units.length == "ft":
            fixed[4] = 70
        if self._session.units.area == "awg":
            fixed[3] = 72
        header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        for i, width in fixed.items():
            self.table.setColumnWidth(i, width)
        for i in (1, 2):
            header.setSectionResizeMode(i, QHeaderView.ResizeMode.Stretch)

    def _show_chosen(self) -> None:
        s = self._session
        index = self.table.currentIndex().row()
        if not 0 <= index < len(s.job.wires):
            return
        wire = s.assessment.runs[index]
        self._chosen = wire.id
        r = s.assessment.wire(wire.id)
        self._name.setText(f"{wire.id}, {wire.colour}")
        near = "; ".join(
            f"{short_of(n.spacing_m)} from {n.name} for {short_of(n.along_m)}"
            for n in wire.neighbours
        )
        carry = f"May carry {r.ampacity:.0f} A where it lies"
        near = f"Passes {near}" if near else ""
        names = {z.id: z.name for z in s.job.zones}
        way = " – ".join(names.get(z, z) for z in wire.via)
        way = f"{'Measured length. ' if wire.fixed else ''}{way}"
        self._unfix.setVisible(bool(wire.via) and wire.fixed)
        self._ends.setText(". ".join(x for x in (carry, near, way) if x) + ".")
        remarks = [f.title for f in s.assessment.findings if f.wire == wire.id]
        said = s.words(". ".join(remarks))
        room = self._editor.width() - 30
        elided = Qt.TextElideMode.ElideRight
        self._remarks.setText(self._remarks.fontMetrics().elidedText(said, elided, room))
        tip(self._remarks, said)
        self._remarks.setVisible(bool(remarks))
        areas = self._areas()
        items = [section(a, s.units) for a in areas]
        if [self._area.itemText(i) for i in range(self._area.count())] != items:
            self._area.clear()
            self._area.addItems(items)
        nearest = min(range(len(areas)), key=lambda i: abs(areas[i] - wire.area_mm2))
        self._area.setCurrentIndex(nearest)
        if not self._length.hasFocus() and not self._length.refused:
            self._length.setText(self._length_words(wire.length_m))
        fuse = wire.fuse_a
        self._fuse.setCurrentText(f"{fuse:g} A" if fuse else "none")
        self._twisted.setChecked(wire.twisted)
        self._screened.setChecked(wire.shielded)
        self._show_sure(wire)
        self._show_face(wire)

    def _show_sure(self, wire: Wire) -> None:
        from zombrel.ui.widgets.parts import clear

        s = self._session
        ends = [(side, e, end_words(s.job, e)) for side, e in (("a", wire.a), ("b", wire.b))]
        key = f"{wire.id}|{ends}"
        if key != self._sure_for:
            self._sure_for = key
            clear(self._sure)
            self._known = []
            for side, end, words in ends:
                if by_id(s.job.devices, end.place) is None:
                    known = KnownButton(s, f"wires.{wire.id}.{side}", f"{wire.id} at {words}")
                    name = label(f"{words} known by", "quiet", wrap=True)
                    line = row(name, known)
                    line.setStretch(0, 1)
                    self._sure.addLayout(line)
                    self._known.append(known)
        for known in self._known:
            known.refresh()

    def _show_face(self, wire: Wire) -> None:
        for end in (wire.a, wire.b):
            connector = by_id(self._session.job.connectors, end.place)
            if connector is not None:
                side = "mating face" if self.face.mating else "wire side"
                self._face_title.setText(f"{connector.id}, {side}")
                self.face.show_face(connector, int(end.pin) if end.pin.isdigit() else 0)
                self._face_words.setText(self.face.words())
                return
        self._face_title.setText("Connector face")
        self.face.show_face(None, 0)
        self._face_words.setText("")
