"""The first questions: where a signal comes from, and the facts that the devices use."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QWidget

from zombrel.actions.begin import serve, wanted_title
from zombrel.behaviour.questions import Question, Wanted
from zombrel.catalog.sources import source_shelf
from zombrel.job.model import by_id
from zombrel.job.quantity import QUANTITIES
from zombrel.job.source import Source
from zombrel.store.prefs import user_sources
from zombrel.ui.session import Session
from zombrel.ui.survey.page import FactRow
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.figure import Field
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Words
from zombrel.ui.widgets.parts import button, column, label, row

FIELD_PX = 196


def _line(mark: Mark, title: str, why: Words, field: QWidget) -> QWidget:
    shown = QWidget()
    text = column(label(title, "strong13", wrap=True), why, spacing=0)
    line = row(mark, text, field, spacing=9)
    line.setStretch(1, 1)
    line.setContentsMargins(0, 2, 0, 2)
    shown.setLayout(line)
    return shown


class QuestionRow(FactRow):
    """A fact, with what hangs on it."""

    gone_on = Signal(str)
    """Its path, when Enter was pressed in it and what it holds could be taken."""

    def __init__(self, session: Session, question: Question) -> None:
        self._mark = Mark("open")
        self._why_words = label("", "small", wrap=True)
        super().__init__(session, question.sheet)
        if isinstance(self.field, Field):
            self.field.returnPressed.connect(self._go_on)
        else:
            self.field.activated.connect(lambda _: self._go_on())
        self.show_question(question)

    def _go_on(self) -> None:
        if not (isinstance(self.field, Field) and self.field.refused):
            self.gone_on.emit(self.sheet.path)

    def _lay_out(self, name: Words) -> None:
        self.known.hide()
        self.field.setFixedWidth(FIELD_PX - 46)
        self._unit.setFixedWidth(46)
        field = QWidget()
        field.setLayout(row(self.field, self._unit, spacing=6))
        text = column(label(self.sheet.label, "strong13", wrap=True), self._why_words, self._live)
        text.setSpacing(0)
        line = row(self._mark, text, field, spacing=9)
        line.setStretch(1, 1)
        line.setContentsMargins(0, 2, 0, 2)
        self.setLayout(line)
        self.known.setParent(self)

    def refresh(self, force: bool = False) -> None:
        super().refresh(force)
        self._unit.show()  # all fields end at one edge

    def show_question(self, question: Question) -> None:
        """Show it as it stands now."""
        self._mark.show_mark("good" if question.known else "open")
        assumed = "" if question.known or not self._text() else " · taken as usual, not said"
        self._why_words.setText(question.why + assumed)
        self.refresh()
        self._live.setVisible(bool(self._live.text()))


class SourceRow(QWidget):
    """Where does it come from: a choice of what the vehicle may offer."""

    def __init__(self, session: Session, want: Wanted) -> None:
        super().__init__()
        self._session = session
        shelf, _ = source_shelf(user_sources())
        own = [s for s in session.job.sources if s.quantity == want.quantity]
        kinds = [s for s in shelf if s.quantity == want.quantity]
        self._sources: list[Source] = [*own, *kinds]
        title = wanted_title(want.quantity)
        self.box = Choice()
        self.box.addItems(["not known yet", *(s.name for s in self._sources)])
        self.box.setFixedWidth(FIELD_PX + 6)
        self.box.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.box.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.box.setAccessibleName(title)
        self.box.activated.connect(self._chosen)
        mark = Mark("open" if not want.required else "watch")
        why = label(f"for {', '.join(want.pins)}", "small", wrap=True)
        line = row(_line(mark, title, why, self.box))
        line.setContentsMargins(0, 0, 0, 0)
        self.setLayout(line)

    def _chosen(self, index: int) -> None:
        if index:
            source = self._sources[index - 1]
            title = f"{QUANTITIES[source.quantity].title} from {source.name}"
            self._session.do(title, serve(self._session.job, source))


class ServedRow(QWidget):
    """A quantity that has its source."""

    def __init__(self, session: Session, quantity: str, source: str) -> None:
        super().__init__()
        found = by_id(session.job.sources, source)
        title = QUANTITIES[quantity].title  # type: ignore[index]
        name = found.name if found is not None else source
        self.change = button(
            "Change", partial(session.goto.emit, "source"), "plain", f"Change: {title} from {name}"
        )
        text = label(f"from {name}", "small", wrap=True)
        line = row(_line(Mark("good"), title, text, self.change))
        line.setContentsMargins(0, 0, 0, 0)
        self.setLayout(line)
