"""Set: the measured-distance method, and trimming with buttons until it matches."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout

from zombrel.actions.signals import trim
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.signals.reduce import input_of
from zombrel.ui.session import Session
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.parts import button, label
from zombrel.units import percent, speed_unit


class TrimRow(QHBoxLayout):
    """Enter what was true and what it showed; the setting that follows is one press away."""

    def __init__(self, session: Session, chain: str) -> None:
        super().__init__()
        self._session, self._chain = session, chain
        self.setSpacing(7)
        self.true = FigureField(session, "number", "")
        self.shown = FigureField(session, "number", "")
        for field, name in ((self.true, "True"), (self.shown, "It showed")):
            field.setMaximumWidth(84)
            field.textChanged.connect(self.refresh)
            self.addWidget(label(name, "quiet"))
            self.addWidget(field)
        self._unit = label("", "quiet")
        self.trim = button("", self._take)
        self._say = label("", "quiet", wrap=True)
        self.addWidget(self._unit)
        self.addWidget(self.trim)
        self.addWidget(self._say, 1)

    def _numbers(self) -> tuple[float, float] | None:
        true, shown = (f.take(quiet=True) for f in (self.true, self.shown))
        if true is None or shown is None:
            return None
        return (true, shown) if true > 0 and shown > 0 else None

    def refresh(self) -> None:
        """Offer the setting that the two numbers ask for."""
        s = self._session
        chain = by_id(s.job.chains, self._chain)
        if chain is None:
            return
        device, sheet = input_of(s.job, chain)
        name = f"{device.name} {chain.pin}"
        unit = "rpm" if chain.quantity == "tach" else f"{speed_unit(s.units)}, or a distance"
        self._unit.setText(unit)
        self.true.setAccessibleName(f"{name}: true value")
        self.shown.setAccessibleName(f"{name}: what it showed")
        self.trim.setAccessibleName(f"{name}: take the measured trim")
        numbers, at = self._numbers(), device.setting(chain.pin)
        usable = numbers is not None and at is not None and sheet.numbers is not None
        self.trim.setVisible(usable)
        self._say.setText("")
        if numbers is None:
            return
        try:
            trimmed = trim(s.job, chain, *numbers)
        except Problem as problem:
            self.trim.hide()
            self._say.setText(str(problem))
            return
        if trimmed is None:
            return
        wanted, _ = trimmed
        self.trim.setText(f"Trim to {wanted}")
        self._say.setText(f"it read {percent(numbers[1] / numbers[0] - 1)}")

    def _take(self) -> None:
        s = self._session
        chain, numbers = by_id(s.job.chains, self._chain), self._numbers()
        if chain is None or numbers is None:
            return
        device, _ = input_of(s.job, chain)
        try:
            trimmed = trim(s.job, chain, *numbers)
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        if trimmed is None:
            return
        wanted, edit = trimmed
        self.true.clear()
        self.shown.clear()
        s.do(f"{device.name} {chain.pin} trimmed to {wanted}", edit)
