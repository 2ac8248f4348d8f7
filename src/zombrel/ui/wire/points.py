"""A feed or a ground stud, all of it in one place: to be made, changed and taken out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QDialog, QFormLayout, QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.points import put_feed, put_stud, remove_feed, remove_stud
from zombrel.job.edits import Edit
from zombrel.job.feed_classes import FEEDS
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Feed, Stud
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.parts import button, label, row

KINDS = {"slot": "slot of the fuse box", "box": "box of our own", "battery": "battery post"}


class PointDialog(QDialog):
    """Fields of one point; what is refused stays in its field until it is mended."""

    def __init__(
        self,
        session: Session,
        parent: QWidget,
        name: str,
        words: str,
        edit: Callable[[dict[str, object]], Edit],
        removal: Callable[[], Edit],
    ) -> None:
        """``edit`` makes of the fields what is kept; ``removal`` takes the point out."""
        super().__init__(parent)
        self._session, self._edit, self._removal = session, edit, removal
        self.setWindowTitle(name)
        dress(self)
        self.setMinimumWidth(470)
        self._fields: dict[str, tuple[QWidget, Callable[[], Any]]] = {}
        self._form = QFormLayout()
        self._form.setVerticalSpacing(9)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.setSpacing(12)
        body.addWidget(label(name, "title", wrap=True))
        body.addWidget(label(words, "quiet", wrap=True))
        body.addLayout(self._form)
        self._said = label("", "trouble", wrap=True)
        self._said.hide()
        body.addWidget(self._said)
        out = button("Take it out", self._take_out, "plain", f"Take {name} out")
        leave = button("Leave it", self.reject, "plain")
        keep = button("Keep", self.keep, "primary")
        for other in (out, leave):  # Enter in a field keeps, and never takes out
            other.setAutoDefault(False)
        keep.setDefault(True)
        body.addLayout(row(out, 1, leave, keep))

    # ---- fields

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._fields["name"][0].setFocus(Qt.FocusReason.OtherFocusReason)

    def _text(self, field: str, words: str, value: str, hint: str = "") -> None:
        edit = QLineEdit(value)
        edit.setPlaceholderText(hint)
        self._add(field, words, edit, lambda: edit.text().strip())

    def _choice(self, field: str, words: str, now: str, choices: dict[str, str]) -> None:
        box = Choice()
        box.addItems(list(choices.values()))
        keys = list(choices)
        box.setCurrentIndex(keys.index(now) if now in keys else 0)
        self._add(field, words, box, lambda: keys[box.currentIndex()])

    def _zone(self, now: str) -> None:
        zones = {"": "not said", **{z.id: z.name for z in self._session.job.zones}}
        self._choice("zone", "Where it is", now, zones)

    def _figure(
        self,
        field: str,
        words: str,
        what: str,
        value: float | None,
        unit: str,
        empty: float | None = None,
    ) -> None:
        edit = FigureField(self._session, what, words, unit)
        edit.setPlaceholderText("not known" if empty is None else "none")
        edit.setText("" if value is None or value == empty else f"{value:.4g}")

        def taken() -> float | None:
            found = edit.take(quiet=True)
            if found is None and edit.text().strip():
                edit.take()
                raise Problem(edit.refused)
            return empty if found is None else found

        self._add(field, words, edit, taken)

    def _add(self, field: str, words: str, edit: QWidget, read: Callable[[], Any]) -> None:
        edit.setAccessibleName(words)
        self._form.addRow(label(words, "quiet"), edit)
        self._fields[field] = (edit, read)

    # ---- what is done

    def keep(self) -> None:
        """Take what stands in the fields, or say what is wrong with one."""
        found: dict[str, object] = {}
        for field, (edit, read) in self._fields.items():
            try:
                found[field] = read()
            except Problem as problem:
                self._refuse(str(problem))
                edit.setFocus(Qt.FocusReason.OtherFocusReason)
                return
        if not found.get("name"):
            self._refuse("Give it a name: it is called by that on every sheet.")
            self._fields["name"][0].setFocus(Qt.FocusReason.OtherFocusReason)
            return
        if self._session.do(f"{found['name']}", self._edit(found)):
            self.accept()

    def _refuse(self, words: str) -> None:
        self._said.setText(words)
        self._said.show()

    def _take_out(self) -> None:
        try:
            edit = self._removal()
        except Problem as problem:
            self._refuse(str(problem))
            return
        if self._session.do(f"{self.windowTitle()} taken out", edit):
            self.accept()


class FeedDialog(PointDialog):
    """A slot, a box of our own, or the battery post."""

    def __init__(self, session: Session, feed: Feed, parent: QWidget) -> None:
        words = (
            "Pull its fuse and note what goes dead. The class is best metered in the matrix; the "
            "wire behind decides what fuse it may carry."
        )
        removal = partial(remove_feed, session.history.present, feed)
        super().__init__(session, parent, feed.name, words, partial(put_feed, feed), removal)
        self._text("name", "Name", feed.name)
        self._choice("kind", "It is a", feed.kind, KINDS)
        self._choice("feed", "Live when", feed.feed, {k: k for k in FEEDS})
        self._figure("fuse_a", "Fuse fitted, A", "current", feed.fuse_a, "A")
        self._figure("marked_a", "Marked for, A", "current", feed.marked_a, "A")
        metric, behind = session.units.area == "mm2", feed.wire_mm2
        self._figure(
            "wire_mm2",
            "Wire behind, mm²" if metric else "Wire behind, AWG or mm²",
            "area",
            behind,
            "mm2",
        )
        self._figure("load_a", "What hangs on it draws, A", "current", feed.load_a, "A", 0.0)
        self._text("hangs", "Goes dead with it", feed.hangs, "what died when its fuse was pulled")
        self._zone(feed.zone)


class StudDialog(PointDialog):
    """A ground stud."""

    def __init__(self, session: Session, stud: Stud, parent: QWidget) -> None:
        words = (
            "Measure from the stud to battery negative with its load on: volts by amperes are "
            "its ohms."
        )

        def edit(found: dict[str, object]) -> Edit:
            rings = found["rings"]
            assert isinstance(rings, int | float)  # a figure, or its empty value
            return put_stud(stud, {**found, "rings": round(rings)})

        removal = partial(remove_stud, session.history.present, stud)
        super().__init__(session, parent, stud.name, words, edit, removal)
        self._text("name", "Name", stud.name)
        self._zone(stud.zone)
        self._figure("ohm", "To battery negative, Ω", "resistance", stud.ohm, "ohm", 0.0)
        self._figure("load_a", "Others return through it, A", "current", stud.load_a, "A", 0.0)
        self._figure("rings", "Rings already on it", "number", stud.rings, "", 0.0)


def open_feed(session: Session, key: str, parent: QWidget) -> None:
    """Show a feed to be changed."""
    feed = by_id(session.history.present.feeds, key)
    if feed is not None:
        FeedDialog(session, feed, parent).open()


def open_stud(session: Session, key: str, parent: QWidget) -> None:
    """Show a ground stud to be changed."""
    stud = by_id(session.history.present.studs, key)
    if stud is not None:
        StudDialog(session, stud, parent).open()
