"""The best source for every input: taken as one act, with what was chosen and what was not."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from zombrel.actions.begin import Answer, Offer, Refused, best_for_all, serve, usual_source
from zombrel.catalog.sources import source_shelf
from zombrel.job.quantity import QUANTITIES
from zombrel.job.source import Source
from zombrel.store.prefs import user_sources
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, clear, column, label, row, scroller

TITLE = "The best source for every input"


def offer_best(session: Session, parent: QWidget) -> None:
    """Take what can be taken, then show what came of it."""
    offer = best_for_all(session.history.present)
    if offer.edit is not None:
        session.do(TITLE, offer.edit)
    OfferDialog(session, offer, parent).open()


class OfferDialog(QDialog):
    """What was chosen and why; what was refused, by which fact, and that fact's answer."""

    def __init__(self, session: Session, offer: Offer, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._joined = session, 0
        self.setWindowTitle(TITLE)
        dress(self)
        self.resize(620, 560)
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setSpacing(7)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 18)
        self._head = label("", "title", wrap=True)
        body.addWidget(self._head)
        body.addWidget(scroller(inside, "What was chosen"), 1)
        close = button("Done", self.accept, "primary", "Close")
        undo = button("Take it back", self._undo)
        undo.setVisible(offer.edit is not None)
        body.addLayout(row(close, undo, 1))
        self._show(offer)
        close.setFocus(Qt.FocusReason.OtherFocusReason)

    def _undo(self) -> None:
        self._session.undo()
        self.accept()

    def _show(self, offer: Offer) -> None:
        clear(self._list)
        needed = sum(r.required for r in offer.refused)
        self._joined += len(offer.taken)
        words = f"{self._joined} joined" if self._joined else "Nothing could be joined yet"
        self._head.setText(words + (f", {needed} still without" if needed else ""))
        for taken in offer.taken:
            words = f"{taken.device} {taken.pin}: {taken.source}"
            self._list.addWidget(self._line("good", words, self._session.words(taken.why)))
        optional = [f"{r.device} {r.pin}" for r in offer.refused if not r.required]
        for refused in offer.refused:
            if refused.required:
                self._list.addWidget(self._refusal(refused))
        if optional:
            words = f"Left open, for they need not be joined: {', '.join(optional)}."
            self._list.addWidget(self._line("open", words))
        self._list.addStretch(1)

    def _line(self, mark: str, head: str, *more: str) -> QWidget:
        shown = QWidget()
        text = column(
            label(head, "strong13", wrap=True),
            *(label(m, "quiet", wrap=True) for m in more),
            spacing=1,
        )
        line = row(Mark(mark), text, spacing=9)
        line.setStretch(1, 1)
        shown.setLayout(line)
        return shown

    def _refusal(self, refused: Refused) -> QWidget:
        title = QUANTITIES[refused.quantity].title.lower()
        why = [self._session.words(r) for r in refused.reasons]
        if not why:
            why = [f"Nothing on this vehicle is noted that gives the {title} signal."]
        shown = self._line("watch", f"{refused.device} {refused.pin}: nothing fits", *why)
        layout = shown.layout()
        assert layout is not None  # _line gave it one
        buttons = [button(a.words, partial(self._answer, a)) for a in refused.answers]
        if not refused.reasons:
            kinds, _ = source_shelf(user_sources())
            usual = usual_source(self._session.history.present, refused.quantity, kinds)
            if usual is not None:
                take = partial(self._usual, usual)
                buttons.append(button(f"Take the usual: {usual.name}", take))
        words = "Enter what is missing" if refused.reasons else "Choose another"
        buttons.append(button(words, partial(self._go, refused.where), "plain"))
        outside = QWidget()
        buttons_line = row(*buttons, 1)
        buttons_line.setContentsMargins(27, 0, 0, 4)
        outside.setLayout(column(shown, buttons_line, spacing=3))
        return outside

    def _usual(self, source: Source) -> None:
        """Note the usual source of the vehicle and join it; it is still to be found there."""
        s = self._session
        title = QUANTITIES[source.quantity].title
        if s.do(f"{title} from {source.name}", serve(s.history.present, source)):
            self._show(best_for_all(s.history.present))

    def _answer(self, answer: Answer) -> None:
        """Say the fact that stood in the way, and try again."""
        if self._session.do(answer.words, answer.edit):
            offer = best_for_all(self._session.history.present)
            if offer.edit is not None:
                self._session.do(TITLE, offer.edit)
            self._show(offer)

    def _go(self, where: str) -> None:
        self.accept()
        self._session.goto.emit(where)
