"""What a source gives at the supposed state, as its figures stand."""

from __future__ import annotations

from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.source import Source
from zombrel.signals.alone import Alone, alone
from zombrel.ui.session import Session
from zombrel.ui.source.electrical import electrical_words, hz_words
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import column, label, row
from zombrel.units import Units, prefixed, rpm, speed
from zombrel.units.measure import written


class Gives(Panel):
    """The number large, at what, and what keeps it from being known."""

    def __init__(self, session: Session) -> None:
        super().__init__("well")
        self._session = session
        self._big, self._at = label("", "mid"), label("", "", wrap=True)
        number = row(self._big, self._at, spacing=10)
        number.setStretch(1, 1)
        body = column(label("Tried on this vehicle", "small"), number, spacing=3)
        body.setContentsMargins(12, 9, 12, 9)
        self.setLayout(body)

    def show_source(self, source: Source) -> None:
        """Try the figures of ``source``; nothing is shown of a contact."""
        s = self._session
        try:
            found = alone(s.job, s.state, source)
        except Problem as problem:
            self.setVisible(True)
            self._say("", s.words(str(problem)))
            return
        self.setVisible(found is not None)
        if found is not None:
            self._say(_gives(found), f"at {_at(source, found, s.units)}")

    def _say(self, big: str, words: str) -> None:
        self._big.setText(big)
        self._big.setVisible(bool(big))
        self._at.setText(words)
        self.setAccessibleName(", ".join(x for x in ("Tried on this vehicle", big, words) if x))


def _gives(found: Alone) -> str:
    if found.silent:
        return "nothing"
    if found.takes == "pulses":
        return f"{hz_words(found.value)}, {prefixed(found.peak_v, 'V', 2)}"
    return electrical_words(found.takes, found.value)


def _at(source: Source, found: Alone, units: Units) -> str:
    match source.quantity:
        case "speed":
            return speed(found.true, units, 0)
        case "tach":
            return rpm(found.true)
    sheet = QUANTITIES[source.quantity]
    return f"{sheet.title.lower()} {written(sheet.kind, found.true, units)}"
