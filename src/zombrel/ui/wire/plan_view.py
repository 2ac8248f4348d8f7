"""The vehicle from above, painted: zones to drag, bundles, the chosen run."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QHelpEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QTransform,
)
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from zombrel.harness.laid import bundles, laid
from zombrel.job.wiring import Wire, Zone
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.wire.plan_body import OUT_M, body, hull, is_under
from zombrel.ui.wire.plan_paint import Scene, marks_of, paint

NUDGE = 0.05
"""What an arrow key moves a zone [m]."""
EDGE = 26.0
WAYS = range(1, 10)
UNDER_M = 0.0
"""Beneath the body is drawn along its middle, moved by this [m]."""


class PlanView(Commanded, QWidget):
    """Zones, bundles and one run; keys and mouse as the hint says."""

    wire_stepped = Signal(int)
    zone_chosen = Signal(str)
    zone_moved = Signal(str, float, float)
    run_taken = Signal(int)
    layer_changed = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._wire: Wire | None = None
        self.zone = ""
        self.under = False
        """What lies beneath the body is on top."""
        self._drag: tuple[str, QPointF, QPointF] | None = None
        """Zone, where it was gripped and where the mouse is."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(420, 240)

    def sizeHint(self) -> QSize:
        return QSize(760, 420)

    def show_wire(self, wire: Wire | None) -> None:
        """Show a run."""
        self._wire = wire
        self.setAccessibleName(self._said())
        self.update()

    def _said(self) -> str:
        zones = {z.id: z.name for z in self._session.job.zones}
        if not zones:
            return "Plan of the vehicle: none yet"
        if self.zone:
            return f"Plan of the vehicle. Zone {zones.get(self.zone, '')} chosen; arrows move it"
        if self._wire is None:
            return "Plan of the vehicle"
        way = ", ".join(zones.get(z, z) for z in self._wire.via) or "no way yet"
        return f"Plan of the vehicle. {self._wire.id} runs through {way}"

    # ---- geometry

    def _scale(self) -> tuple[float, float, float]:
        """Pixels per metre, and where the plan's origin lies."""
        around = hull(self._session.job.zones).adjusted(-OUT_M, -OUT_M, OUT_M, OUT_M)
        wide, tall = max(around.width(), 0.5), max(around.height(), 0.5)
        s = min((self.width() - 2 * EDGE) / wide, (self.height() - 2 * EDGE) / tall)
        x0 = (self.width() - wide * s) / 2 - around.left() * s
        y0 = (self.height() - tall * s) / 2 - around.top() * s
        return s, x0, y0

    def box(self, zone: Zone) -> QRectF:
        """A zone in pixels, where the mouse holds it; one beneath the body in its middle."""
        s, x0, y0 = self._scale()
        zones = self._session.job.zones
        y, deep = zone.y_m, zone.deep_m
        if is_under(zone, zones):
            y, deep = hull(zones).center().y() + UNDER_M, max(deep, 0.3)
        r = QRectF(
            x0 + (zone.x_m - zone.wide_m / 2) * s,
            y0 + (y - deep / 2) * s,
            zone.wide_m * s,
            deep * s,
        )
        if self._drag is not None and self._drag[0] == zone.id:
            r.translate(self._drag[2] - self._drag[1])
        return r

    def _under(self, at: QPointF) -> str:
        zones = self._session.job.zones
        layer = [z for z in zones if is_under(z, zones) == self.under]
        hit = [z for z in layer if self.box(z).contains(at)]
        return min(hit, key=lambda z: z.wide_m * z.deep_m).id if hit else ""

    def turn_over(self) -> None:
        """Show what lies beneath the body, or what is above it again."""
        self.under = not self.under
        self.layer_changed.emit()
        self.update()

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        zone = self._under(event.position())
        self._drag = (zone, event.position(), event.position()) if zone else None
        if zone != self.zone:
            self.zone_chosen.emit(zone)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None:
            self._drag = (*self._drag[:2], event.position())
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        zone, start, end = self._drag
        self._drag = None
        moved = end - start
        found = next((z for z in self._session.job.zones if z.id == zone), None)
        if found is not None and moved.manhattanLength() > 4:
            s = self._scale()[0]
            self.zone_moved.emit(zone, found.x_m + moved.x() / s, found.y_m + moved.y() / s)
        self.update()

    def commands(self) -> tuple[Command, ...]:
        """What keys do on the plan."""
        if not self._session.job.zones:
            return ()
        found = [
            Command("Next zone", "Z", self._next_zone),
            Command("What lies beneath, or above", "U", self.turn_over),
            Command("Why the wire runs there", "W", self._why),
            *(Command(f"Take way {n}", str(n), partial(self.run_taken.emit, n - 1)) for n in WAYS),
        ]
        if not self.zone:
            found.append(Command("Next wire", "Down", partial(self.wire_stepped.emit, 1)))
            found.append(Command("Wire before", "Up", partial(self.wire_stepped.emit, -1)))
            return tuple(found)
        found.append(Command("Leave the zone", "Escape", partial(self.zone_chosen.emit, "")))
        for key, dx, dy in (("Left", -1, 0), ("Right", 1, 0), ("Up", 0, -1), ("Down", 0, 1)):
            words = f"Move the zone {key.lower()}"
            found.append(Command(words, key, partial(self._nudge, dx, dy)))
        return tuple(found)

    def _next_zone(self) -> None:
        ids = [z.id for z in self._session.job.zones]
        at = ids.index(self.zone) + 1 if self.zone in ids else 0
        self.zone_chosen.emit(ids[at % len(ids)])

    def _nudge(self, dx: int, dy: int) -> None:
        found = next((z for z in self._session.job.zones if z.id == self.zone), None)
        if found is not None:
            self.zone_moved.emit(found.id, found.x_m + dx * NUDGE, found.y_m + dy * NUDGE)

    def _why(self) -> bool:
        page = self.parentWidget()
        while page is not None and not hasattr(page, "why"):
            page = page.parentWidget()
        if page is None:
            return False
        page.why()
        return True

    def event(self, event: QEvent) -> bool:
        """Pointed at, a zone says its name and what it costs, though there be no room for it."""
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            key = self._under(QPointF(event.pos()))
            zone = next((z for z in self._session.job.zones if z.id == key), None)
            words = ", ".join(x for x in (zone.name, marks_of(zone)) if x) if zone else ""
            QToolTip.showText(event.globalPos(), words, self)
            return True
        return super().event(event)

    # ---- painting

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        job = self._session.job
        if not job.zones:
            p.setPen(QColor(t.quiet))
            p.setFont(font(14))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Take a plan at the right.")
            return
        s, x0, y0 = self._scale()
        scene = Scene(
            job,
            self._session.units,
            t,
            {z.id: self.box(z) for z in job.zones},
            QTransform(s, 0, 0, s, x0, y0),
            QRectF(self.rect()).adjusted(2, 2, -2, -2),
            body(job.zones),
            tuple(bundles(laid(job))),
            self._wire,
            self.zone,
            self.under,
        )
        paint(p, scene)
