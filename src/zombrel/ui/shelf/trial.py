"""A pin tried on the open job: what it would see and show at the supposed state."""

from __future__ import annotations

from zombrel.catalog.sources import source_shelf
from zombrel.findings.tried import Tried, tried
from zombrel.job.problem import Problem
from zombrel.job.quantity import group
from zombrel.job.sheet import DeviceSheet
from zombrel.store.prefs import user_sources
from zombrel.ui.session import Session
from zombrel.ui.source.electrical import hz_words
from zombrel.ui.source.words import verdict
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import column, label, row
from zombrel.units import rpm, speed


class Trial(Panel):
    """The number large, where it comes from, what is wrong with it."""

    def __init__(self, session: Session) -> None:
        super().__init__("well")
        self._session = session
        self._kinds = source_shelf(user_sources())[0]
        self._head = label("Tried on this vehicle", "small", wrap=True)
        self._big, self._from = label("", "mid"), label("", "small", wrap=True)
        self._mark, self._words = Mark("open", 16), label("", "", wrap=True)
        self._more = label("", "small", wrap=True)
        said = row(self._mark, self._words, spacing=7)
        said.setStretch(1, 1)
        number = row(self._big, self._from, spacing=10)
        number.setStretch(1, 1)
        body = column(self._head, number, said, self._more, spacing=3)
        body.setContentsMargins(12, 9, 12, 9)
        self.setLayout(body)

    def show_pin(self, sheet: DeviceSheet, pin: str, at: str) -> str:
        """Try the pin with its setting at ``at``, or at its best; where it stood then."""
        s = self._session
        try:
            found = tried(s.job, s.state, sheet, pin, self._kinds, at)
        except Problem as problem:
            self._say("open", "", "", s.words(str(problem)), "")
            return ""
        self._show(found)
        return found.setting

    def _show(self, found: Tried) -> None:
        s, r = self._session, found.assessment.chains[0]
        if r.problem:
            self._say("open", "", "", s.words(r.problem), "")
            return
        said = verdict(found.job, found.chain, r, found.assessment, s.units)
        about = [f for f in found.assessment.findings if f.chain == found.chain.id]
        why = next((f.title for f in about if f.level == said.mark), "")
        name = f"{found.source.name}, as usual" if found.usual else found.source.name
        shows = f"{said.big} {said.unit}".strip()
        words = f"shows {shows}, {said.words}; {said.truth}"
        if group(found.chain.quantity) == "rate":
            true = speed(r.true, s.units, 0) if r.quantity == "speed" else rpm(r.true)
            self._say(said.mark, hz_words(r.device_hz), f"at {true}, from {name}", words, why)
        else:
            self._say(said.mark, shows, f"from {name}", f"{said.words}; {said.truth}", why)

    def _say(self, mark: str, big: str, source: str, words: str, why: str) -> None:
        self._mark.show_mark(mark)
        self._big.setText(big)
        self._big.setVisible(bool(big))
        self._from.setText(source)
        self._from.setVisible(bool(source))
        self._words.setText(words)
        self._words.set_role(mark if mark != "open" else "quiet")
        self._more.setText(self._session.words(why))
        self._more.setVisible(bool(why))
        said = ", ".join(x for x in ("Tried on this vehicle", big, source, words, why) if x)
        self.setAccessibleName(said)
