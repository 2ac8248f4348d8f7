"""Set: the measured-distance method, and trimming with buttons until it matches."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLineEdit

from zombrel.calibrate.setting import nearest, pulses, value_of
from zombrel.findings.scene import put_setting, together
from zombrel.job.edits import Put
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.signals.reduce import box_for, counted_by, counter_of, emission, input_of
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import button, label
from zombrel.units import percent, speed_unit


class TrimRow(QHBoxLayout):
    """Enter what was true and what it showed; the setting that follows is one press away."""

    def __init__(self, session: Session, chain: str) -> None:
        super().__init__()
        self._session, self._chain = session, chain
        self.setSpacing(7)
        self.true, self.shown = QLineEdit(), QLineEdit()
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
        try:
            true, shown = (float(f.text().replace(",", ".")) for f in (self.true, self.shown))
        except ValueError:
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
        if not usable or numbers is None or at is None or sheet.numbers is None:
            return
        try:
            stood = value_of(sheet.numbers, at)
        except Problem as problem:
            self.trim.hide()
            self._say.setText(str(problem))
            return
        wanted, _ = nearest(sheet.numbers, self._aim(stood, numbers, sheet.numbers.unit))
        self.trim.setText(f"Trim to {wanted}")
        self._say.setText(f"it read {percent(numbers[1] / numbers[0] - 1)}")

    @staticmethod
    def _aim(stood: float, numbers: tuple[float, float], unit: str) -> float:
        """The setting it should have had: it counts more, so it must believe more."""
        return stood * numbers[1] / numbers[0]

    def _take(self) -> None:
        s = self._session
        chain, numbers = by_id(s.job.chains, self._chain), self._numbers()
        source = by_id(s.job.sources, chain.source) if chain is not None else None
        if chain is None or numbers is None or source is None:
            return
        device, sheet = input_of(s.job, chain)
        at = device.setting(chain.pin)
        if at is None or sheet.numbers is None:
            return
        stood = value_of(sheet.numbers, at)
        wanted, _ = nearest(sheet.numbers, self._aim(stood, numbers, sheet.numbers.unit))
        # what really comes: what it believed in, times what it over-read
        rate = (
            pulses(sheet.numbers.unit, stood)
            * numbers[1]
            / numbers[0]
            * counted_by(counter_of(chain))
        )
        try:
            model = emission(source, s.job.vehicle, box_for(s.job, source)).rate
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        trim = source.trim * rate / model
        edits = [put_setting(device, chain.pin, wanted)]
        if 0.2 < trim < 5:
            edits.append(Put(path=f"sources.{source.id}.trim", value=trim))
        self.true.clear()
        self.shown.clear()
        s.do(f"{device.name} {chain.pin} trimmed to {wanted}", together(*edits))
