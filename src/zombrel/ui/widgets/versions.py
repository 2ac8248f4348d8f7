"""The last saved versions of the job, what differs, and the way back to one of them."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from zombrel.job.differences import differences, into
from zombrel.job.problem import Problem
from zombrel.store.prefs import versions_root
from zombrel.store.versions import Version, versions
from zombrel.store.zjob import load
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, card, label, row, scroller

TOLD = 4
"""Differences told of one version."""


class VersionsDialog(QDialog):
    """A card for each version: when it was saved, how it differs from what is open."""

    def __init__(self, session: Session, path: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Earlier versions")
        self.resize(640, 480)
        dress(self)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(12)
        body.addWidget(label(f"Earlier versions of {path.name}", "title"))
        found = versions(versions_root(), path)
        words = (
            "The last five that were saved. Going back is one step: Ctrl+Z takes it back, and the "
            "file itself is as it is until you save."
            if found
            else "None yet: each save keeps one here, the last five of them."
        )
        body.addWidget(label(words, "quiet", wrap=True))
        inside = QWidget()
        cards = QVBoxLayout(inside)
        cards.setContentsMargins(0, 0, 6, 0)
        cards.setSpacing(8)
        for version in found:
            cards.addWidget(self._card(version))
        cards.addStretch(1)
        body.addWidget(scroller(inside, "Versions, the newest first"), 1)
        close = button("Close", self.reject, "plain")
        body.addLayout(row(1, close))
        close.setFocus(Qt.FocusReason.OtherFocusReason)

    def _card(self, version: Version) -> QWidget:
        panel, inner = card()
        when = version.saved.strftime("%Y-%m-%d %H:%M:%S")
        try:
            job = load(version.file)
        except Problem as problem:
            inner.addWidget(label(when, "strong"))
            inner.addWidget(label(str(problem), "quiet", wrap=True))
            return panel
        lines = differences(self._session.job, job, TOLD)
        same = not lines
        back = button(
            "Go back to it", partial(self._back, version, when), name=f"Go back to {when}"
        )
        back.setEnabled(not same)
        inner.addLayout(row(label(when, "strong"), 1, back))
        told = "The same as what is open." if same else self._session.words("\n".join(lines))
        inner.addWidget(label(told, "quiet", wrap=True))
        return panel

    def _back(self, version: Version, when: str) -> None:
        try:
            edit = into(self._session.job, load(version.file))
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        if self._session.do(f"Back to the version of {when}", edit):
            self._session.said.emit("good", f"Back to the version of {when}. Ctrl+Z takes it back.")
        self.accept()
