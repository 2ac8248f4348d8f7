"""A connector of the vehicle, made and changed: its face is drawn while it is described."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QDialog, QPlainTextEdit, QVBoxLayout, QWidget

from zombrel.actions.plugs.connectors import note_paper, put_connector, put_terminal
from zombrel.actions.plugs.library import check_kept, to_keep
from zombrel.catalog.form.fields import Path, put
from zombrel.harness.plugs import face
from zombrel.harness.plugs.pinout import read_pinout
from zombrel.harness.plugs.terminals import TERMINALS
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Connector
from zombrel.store.plug_library import keep_plug
from zombrel.ui.form.form_dialog import FormDialog
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, column, label, row, scroller, set_role
from zombrel.ui.wire.plugs.face_view import FaceView


class ConnectorDialog(FormDialog):
    """Fields at the left, the face as the hand holds it at the right."""

    def __init__(self, session: Session, connector: Connector, parent: QWidget) -> None:
        new = by_id(session.job.connectors, connector.id) is None
        super().__init__(session, "New connector" if new else connector.name, parent)
        self.connector, self.key = connector, connector.id
        self.resize(900, 620)
        self.form.changed.connect(self._put)
        self.face = FaceView(session, 60)
        self._side = label("", "quiet", wrap=True)
        turn = button("Turn it round", self._turn, "plain")
        turn.setAutoDefault(False)
        fields = scroller(self.form, "Shape")
        fields.setMinimumWidth(430)
        drawn = column(self.face, self._side, row(turn, 1))
        drawn.setStretch(0, 1)
        middle = row(fields, spacing=14)
        middle.addLayout(drawn, 1)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.addWidget(label(self.windowTitle(), "title", wrap=True))
        words = "Hold it as it is counted: the drawing must look like what is in the hand."
        body.addWidget(label(words, "quiet", wrap=True))
        body.addLayout(middle, 1)
        body.addWidget(self._said)
        body.addLayout(self._footer(self.keep))
        self._show()
        self.focus_first()

    def _show(self) -> None:
        others = [c.id for c in self._session.job.connectors if c.id != self.key]
        self.form.show_record(self.connector, named={("Connector", "mates"): ("", *others)})
        self.face.show_face(self.connector, min(p.n for p in face.places(self.connector)))
        self._say_side()

    def _turn(self) -> None:
        self.face.turn()
        self._say_side()

    def _say_side(self) -> None:
        c = self.connector
        keyed = face.keyed_side(c, self.face.view)
        self._side.setText(
            f"{self.face.view}; {c.key or 'key'} {keyed}; {face.cavity_count(c)} cavities"
        )

    def _put(self, path: Path, value: object) -> None:
        try:
            changed = put(self.connector, path, value)
            face.places(changed)
        except Problem as problem:
            self.refuse(str(problem))
            self.form.refuse(path, str(problem))
            return
        self.refuse("")
        self.connector = changed
        QTimer.singleShot(0, self._show)

    def keep(self) -> None:
        """Put the connector into the job as one edit."""
        try:
            edit = put_connector(self._session.history.present, self.connector)
        except Problem as problem:
            self.refuse(str(problem))
            return
        before = {c.id for c in self._session.job.connectors}
        if self._session.do(f"Connector {self.connector.name}", edit):
            fresh = [c.id for c in self._session.job.connectors if c.id not in before]
            self.key = fresh[0] if fresh else self.key
            self.accept()


class KeepDialog(FormDialog):
    """Of which vehicle or device a connector is, for the library."""

    def __init__(self, session: Session, connector: Connector, parent: QWidget) -> None:
        super().__init__(session, "Keep it for other jobs", parent)
        self.kept = to_keep(session.history.present, connector, session.now())
        self.resize(560, 520)
        self.form.changed.connect(self._put)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.addWidget(label(f"{connector.name}, for other jobs", "title", wrap=True))
        words = (
            "It is offered in the next job on such a vehicle, as another car's: to be counted "
            "before use. What you say here decides where it turns up."
        )
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(scroller(self.form, "Of which vehicle"), 1)
        body.addWidget(self._said)
        body.addLayout(self._footer(self.keep))
        self._show()
        self.focus_first()

    def _show(self) -> None:
        sheets = tuple(d.sheet.id for d in self._session.job.devices)
        self.form.show_record(self.kept, named={("KeptPlug", "device"): ("", *sheets)})

    def _put(self, path: Path, value: object) -> None:
        try:
            self.kept = put(self.kept, path, value)
        except Problem as problem:
            self.refuse(str(problem))
            self.form.refuse(path, str(problem))
            return
        self.refuse("")
        QTimer.singleShot(0, self, self._show)

    def keep(self) -> None:
        """Write it into the library."""
        try:
            keep_plug(check_kept(self.kept))
        except Problem as problem:
            self.refuse(str(problem))
            return
        name = self.kept.of
        self._session.said.emit("good", f"Kept for other jobs: {name}.")
        self.accept()


class TerminalDialog(FormDialog):
    """A terminal that is not on record: what it takes, how it is crimped."""

    def __init__(self, session: Session, connector: Connector, parent: QWidget) -> None:
        super().__init__(session, "A terminal of one's own", parent)
        family = connector.family or "Own family"
        known = next((t for t in session.job.terminals if t.family == family), None)
        like = next((t for t in TERMINALS if t.family == family), TERMINALS[0])
        own = known or msgspec.structs.replace(like, id=f"{family}, own", family=family)
        self.terminal = own
        self.resize(560, 620)
        self.form.changed.connect(self._put)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.addWidget(label(self.windowTitle(), "title", wrap=True))
        words = "From its maker's sheet. Wires, seals and crimps of that family are judged by it."
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(scroller(self.form, "The terminal"), 1)
        body.addWidget(self._said)
        body.addLayout(self._footer(self.keep))
        self.form.show_record(self.terminal)
        self.focus_first()

    def _put(self, path: Path, value: object) -> None:
        try:
            self.terminal = put(self.terminal, path, value)
        except Problem as problem:
            self.refuse(str(problem))
            self.form.refuse(path, str(problem))
            return
        self.refuse("")
        QTimer.singleShot(0, self, lambda: self.form.show_record(self.terminal))

    def keep(self) -> None:
        """Into the job, as one edit."""
        try:
            edit = put_terminal(self._session.history.present, self.terminal)
        except Problem as problem:
            self.refuse(str(problem))
            return
        if self._session.do(f"Terminal {self.terminal.id}", edit):
            self.accept()


class PinoutDialog(QDialog):
    """The paper's pin-out, typed or pasted; every line is read while it is written."""

    def __init__(self, session: Session, connector: Connector, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._connector = session, connector
        self.setWindowTitle(f"{connector.name}: what the paper says")
        dress(self)
        self.resize(560, 480)
        self.text = QPlainTextEdit()
        self.text.setAccessibleName("Pin-out, one cavity a line")
        self.text.setTabChangesFocus(True)
        self.text.setPlaceholderText("27, green/white, brake lamps")
        self.text.setPlainText(
            "\n".join(
                f"{x.n}, {x.colour}, {x.circuit}" for x in connector.cavities if face.on_paper(x)
            )
        )
        self.text.textChanged.connect(self._typed)
        self._said = label("", "quiet", wrap=True)
        leave = button("Leave it", self.reject, "plain")
        self._keep = button("Keep", self.keep, "primary")
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.addWidget(label(self.windowTitle(), "title", wrap=True))
        words = (
            "One cavity a line: number, colour, circuit. A table copied from anywhere will do. "
            "What was seen in the cavities stays as it is."
        )
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(self.text, 1)
        body.addWidget(self._said)
        body.addLayout(row(1, leave, self._keep))
        self._typed()

    def _typed(self) -> None:
        try:
            lines = read_pinout(self.text.toPlainText(), self._connector)
        except Problem as problem:
            self._said.setText(str(problem))
            self._said.set_role("trouble" if self.text.toPlainText().strip() else "quiet")
            set_role(self.text, "bad", "true" if self.text.toPlainText().strip() else "false")
            self._keep.setEnabled(False)
            return
        set_role(self.text, "bad", "false")
        self._said.set_role("quiet")
        self._said.setText(f"{len(lines)} cavities are understood.")
        self._keep.setEnabled(True)

    def keep(self) -> None:
        """Put the paper's pin-out into the connector."""
        edit = note_paper(self._connector, self.text.toPlainText())
        if self._session.do(f"Pin-out of {self._connector.name}", edit):
            self.accept()
