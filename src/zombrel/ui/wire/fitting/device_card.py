"""One device: where it sits, how it is fixed, and the panel cut through at a screw."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.fitting import put_mounting
from zombrel.actions.plan import place_in, put_zone
from zombrel.catalog.form.fields import Path, put
from zombrel.harness.fitting import place
from zombrel.harness.fitting.mounting import Fixing, fixing
from zombrel.job.model import Device, by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Zone
from zombrel.ui.form.record_form import RecordForm
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.parts import card, clear, label, row
from zombrel.ui.wire.fitting.said import say_findings
from zombrel.ui.wire.fitting.section import Section
from zombrel.units.measure import short_of, token

SEEN = (("nobody has looked", None), ("yes", True), ("no", False))
"""Whether the driver sees what is at a place."""
RULES = ("place does not suit", "mounting does not hold")


class DeviceCard(QWidget):
    """Place at the top, fixing below it, the cut panel beside."""

    def __init__(self, session: Session, device: str) -> None:
        super().__init__()
        self._session, self._id = session, device
        self._zone = Choice()
        self._zone.setAccessibleName("It lies in")
        self._zone.activated.connect(self._placed)
        self._seen = Choice()
        self._seen.setAccessibleName("The driver sees what is there")
        self._seen.addItems([words for words, _ in SEEN])
        self._seen.activated.connect(self._looked)
        self._name = label("", "head", wrap=True)
        self._there = label("", "quiet", wrap=True)
        self._said = QVBoxLayout()
        self._said.setSpacing(6)
        self._form = RecordForm(session)
        self._form.changed.connect(self._put)
        self._fixed = label("", "strong", wrap=True)
        self._section = Section(session)
        top, inner = card(margins=14)
        inner.addWidget(self._name)
        inner.addLayout(
            row(
                label("lies in", "quiet"),
                self._zone,
                label("driver sees it", "quiet"),
                self._seen,
                1,
            )
        )
        inner.addWidget(self._there)
        inner.addLayout(self._said)
        below, fixed = card(margins=14)
        fixed.addWidget(label("How it is fixed", "head"))
        side = QVBoxLayout()
        side.addWidget(self._form)
        side.addWidget(self._fixed)
        side.addStretch(1)
        cut = row(spacing=16)
        cut.addLayout(side, 3)
        cut.addWidget(self._section, 2)
        fixed.addLayout(cut)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(10)
        body.addWidget(top)
        body.addWidget(below, 1)

    @property
    def _device(self) -> Device | None:
        return by_id(self._session.job.devices, self._id)

    def focus_first(self) -> None:
        self._zone.setFocus()

    # ---- changing

    def _placed(self, i: int) -> None:
        zones = self._session.job.zones
        key = zones[i - 1].id if i else ""
        device = self._device
        if device is not None and device.zone != key:
            words = zones[i - 1].name if i else "no zone"
            self._session.do(f"{device.name} in {words}", place_in("devices", device.id, key))

    def _looked(self, i: int) -> None:
        device = self._device
        zone = by_id(self._session.job.zones, device.zone) if device is not None else None
        if zone is not None and zone.seen is not SEEN[i][1]:
            said = put_zone(zone, "seen", SEEN[i][1])
            self._session.do(f"{zone.name}: seen by the driver, {SEEN[i][0]}", said)

    def _put(self, path: Path, value: object) -> None:
        device = self._device
        if device is None:
            return
        try:
            mount = put(device.mount, path, value)
        except Problem as problem:
            self._form.refuse(path, str(problem))
            return
        words = f"{device.name}: how it is fixed"
        edit = put_mounting(device, mount)
        QTimer.singleShot(0, self, lambda: self._session.do(words, edit))

    # ---- showing

    def refresh(self) -> None:
        device = self._device
        if device is None:
            return
        s = self._session
        names = ["no zone yet", *(z.name for z in s.job.zones)]
        if [self._zone.itemText(i) for i in range(self._zone.count())] != names:
            self._zone.clear()
            self._zone.addItems(names)
        zone = by_id(s.job.zones, device.zone)
        self._zone.setCurrentIndex(s.job.zones.index(zone) + 1 if zone is not None else 0)
        self._seen.setEnabled(zone is not None)
        said = [value for _, value in SEEN].index(zone.seen if zone is not None else None)
        self._seen.setCurrentIndex(said)
        self._name.setText(device.name)
        self._there.setText(s.words(self._place_words(device, zone)))
        clear(self._said)
        fine = "" if zone is None else "Nothing that is known stands against its place."
        say_findings(self._said, s, device.id, RULES, fine)
        self._form.show_record(device.mount)
        hot = place.air_k(zone) if zone is not None else place.AIR_K
        f = fixing(device.sheet, device.mount, zone, hot)
        self._fixed.setText(s.words(_fixed_words(device, f)))
        self._section.show_mounting(device.mount, f)
        self._section.setVisible(device.mount.how in ("screws", "hole"))

    def _place_words(self, device: Device, zone: Zone | None) -> str:
        if not self._session.job.zones:
            return "There is no plan yet: take one under “Where it runs” (Alt+2), then say where."
        sheet, said = device.sheet, []
        if zone is not None:
            others = place.sheets_in(self._session.job, zone.id, device.id)
            air = token("temperature", place.air_k(zone, [sheet, *others]))
            said.append(f"There: {air} on a hot day")
            said += ["water thrown"] if zone.spray else ["wet"] if zone.wet else []
            said += [f"{zone.access_min:g} min to open"] if zone.access_min else []
        stands = [f"up to {token('temperature', sheet.hottest_k)}"] if sheet.hottest_k else []
        stands += [f"{sheet.sealing} case"] if sheet.sealing else []
        if sheet.long_m and sheet.wide_m and sheet.high_m:
            sides = (short_of(x) for x in (sheet.long_m, sheet.wide_m, sheet.high_m))
            stands.append(" × ".join(sides))
        told = ", ".join(stands) or "not on its sheet: say size, case and heat on the parts shelf"
        return f"{', '.join(said)}. Its sheet: {told}." if said else f"Its sheet: {told}."


def _fixed_words(device: Device, f: Fixing) -> str:
    if not device.mount.how:
        return "Say how it is fixed: screws, a bracket, hook-and-loop, or set into a hole."
    said = []
    if f.length_m and not device.mount.screw_m:
        said.append(f"Take {device.mount.screw} × {short_of(f.length_m)}.")
    if f.tool:
        said.append(f"{f.tool[0].upper()}{f.tool[1:]}.")
    if f.stop_m:
        said.append(f"Stop at {short_of(f.stop_m)}.")
    return " ".join(said)
