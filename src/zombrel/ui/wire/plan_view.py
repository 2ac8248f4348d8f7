"""The vehicle from above, painted: zones to drag, bundles, the chosen run."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.handover.report import end_words
from zombrel.harness.laid import bundles, laid
from zombrel.job.wiring import Wire, Zone
from zombrel.ui.session import Session
from zombrel.ui.theme import color, font
from zombrel.units.measure import written

HOT_K = 30.0
NUDGE = 0.05
"""What an arrow key moves a zone [m]."""
EDGE = 26.0


def _bent(a: QPointF, b: QPointF) -> list[QPointF]:
    """From ``a`` to ``b`` with one corner, the same whichever way round."""
    first, last = (a, b) if (a.x(), a.y()) <= (b.x(), b.y()) else (b, a)
    corner = QPointF(last.x(), first.y()) if last.y() < first.y() else QPointF(first.x(), last.y())
    if abs(a.x() - b.x()) < 24 or abs(a.y() - b.y()) < 24:
        return [a, b]
    return [a, corner, b]


class PlanView(QWidget):
    """Zones, bundles and one run; keys and mouse as the hint says."""

    wire_stepped = Signal(int)
    zone_chosen = Signal(str)
    zone_moved = Signal(str, float, float)
    run_taken = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._wire: Wire | None = None
        self.zone = ""
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

    def _scale(self) -> tuple[float, float, float, float]:
        """Pixels per metre, left and top edge of the drawing, and the plan's least y."""
        zones = self._session.job.zones
        right = max(z.x_m + z.wide_m / 2 for z in zones)
        left = min(z.x_m - z.wide_m / 2 for z in zones)
        top = min(z.y_m - z.deep_m / 2 for z in zones)
        low = max(z.y_m + z.deep_m / 2 for z in zones)
        wide, tall = max(right - left, 0.5), max(low - top, 0.5)
        s = min((self.width() - 2 * EDGE) / wide, (self.height() - 2 * EDGE) / tall)
        x0 = (self.width() - wide * s) / 2 - left * s
        y0 = (self.height() - tall * s) / 2 - top * s
        return s, x0, y0, top

    def at(self, x: float, y: float) -> QPointF:
        """A place on the plan [m] in pixels."""
        s, x0, y0, _ = self._scale()
        return QPointF(x0 + x * s, y0 + y * s)

    def box(self, zone: Zone) -> QRectF:
        """A zone in pixels, where the mouse holds it."""
        s, x0, y0, _ = self._scale()
        r = QRectF(
            x0 + (zone.x_m - zone.wide_m / 2) * s,
            y0 + (zone.y_m - zone.deep_m / 2) * s,
            zone.wide_m * s,
            zone.deep_m * s,
        )
        if self._drag is not None and self._drag[0] == zone.id:
            r.translate(self._drag[2] - self._drag[1])
        return r

    def _under(self, at: QPointF) -> str:
        hit = [z for z in self._session.job.zones if self.box(z).contains(at)]
        return min(hit, key=lambda z: z.wide_m * z.deep_m).id if hit else ""

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

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        steps = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }
        zones = self._session.job.zones
        found = next((z for z in zones if z.id == self.zone), None)
        if key == Qt.Key.Key_Z and zones:
            ids = [z.id for z in zones]
            self.zone_chosen.emit(ids[(ids.index(self.zone) + 1) % len(ids) if found else 0])
        elif key == Qt.Key.Key_Escape and found is not None:
            self.zone_chosen.emit("")
        elif found is not None and key in steps:
            dx, dy = steps[key]
            self.zone_moved.emit(found.id, found.x_m + dx * NUDGE, found.y_m + dy * NUDGE)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.wire_stepped.emit(1 if key == Qt.Key.Key_Down else -1)
        elif Qt.Key.Key_1 <= key <= Qt.Key.Key_9:
            self.run_taken.emit(event.key() - int(Qt.Key.Key_1))
        elif key == Qt.Key.Key_W:
            page = self.parentWidget()
            while page is not None and not hasattr(page, "why"):
                page = page.parentWidget()
            if page is not None:
                page.why()
        else:
            super().keyPressEvent(event)

    # ---- painting

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        zones = self._session.job.zones
        if not zones:
            p.setPen(QColor(t.quiet))
            p.setFont(font(14))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Take a plan at the right.")
            return
        self._paint_hull(p)
        for zone in zones:
            self._paint_zone(p, zone)
        self._paint_bundles(p)
        if self._wire is not None:
            self._paint_run(p, self._wire)
        for zone in zones:
            self._paint_name(p, zone)
        if self._wire is not None:
            self._paint_ends(p, self._wire)

    def _paint_hull(self, p: QPainter) -> None:
        """A calm outline round everything inside the car."""
        t = self._session.theme
        inside = [self.box(z) for z in self._session.job.zones if not z.id.startswith("under")]
        hull = inside[0]
        for r in inside:
            hull = hull.united(r)
        p.setPen(QPen(QColor(t.line), 2))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(hull.adjusted(-12, -12, 12, 12), 26, 26)
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        p.drawText(
            QRectF(hull.left() - 10, hull.top() - 32, 200, 18), Qt.AlignmentFlag.AlignLeft, "◂ nose"
        )

    def _paint_zone(self, p: QPainter, zone: Zone) -> None:
        t, r = self._session.theme, self.box(zone)
        chosen = zone.id == self.zone
        fill = QColor(t.well)
        if zone.over_ambient_k >= HOT_K:
            fill = color(t.trouble, 26 + min(int(zone.over_ambient_k - HOT_K), 40))
        p.setPen(QPen(QColor(t.focus if chosen else t.line), 2.5 if chosen else 1))
        p.setBrush(fill)
        p.drawRoundedRect(r, 6, 6)

    def _paint_name(self, p: QPainter, zone: Zone) -> None:
        t, r = self._session.theme, self.box(zone)
        chosen = zone.id == self.zone
        p.setPen(QColor(t.ink))
        p.setFont(font(12, bold=chosen))
        marks = self._marks(zone)
        if r.width() < 60 and r.height() > r.width():
            p.save()
            p.translate(r.center())
            p.rotate(-90)
            turned = QRectF(-r.height() / 2 + 4, -r.width() / 2, r.height() - 8, r.width())
            self._line(p, turned, zone.name, Qt.AlignmentFlag.AlignCenter)
            p.restore()
            return
        top = r.adjusted(6, 3, -4, -2)
        if r.height() < 34:
            line = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
            wide = p.fontMetrics().horizontalAdvance(zone.name) + 8
            plate = QRectF(r.left() + 2, r.center().y() - 8, min(wide, r.width() - 4), 16)
            p.fillRect(plate, QColor(t.well))
            self._line(p, r.adjusted(6, 0, -4, 0), zone.name, line)
            return
        self._line(
            p, QRectF(top.left(), top.top(), top.width(), 16), zone.name, Qt.AlignmentFlag.AlignLeft
        )
        if marks and r.height() > 48:
            p.setFont(font(12))
            p.setPen(QColor(t.quiet))
            self._line(
                p,
                QRectF(top.left(), top.bottom() - 17, top.width(), 16),
                marks,
                Qt.AlignmentFlag.AlignLeft,
            )

    @staticmethod
    def _line(p: QPainter, r: QRectF, text: str, where: Qt.AlignmentFlag) -> None:
        room = int(r.width())
        p.drawText(r, where, p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room))

    @staticmethod
    def _marks(zone: Zone) -> str:
        said = [
            *([f"+{zone.over_ambient_k:.0f} K"] if zone.over_ambient_k else []),
            *(["wet"] if zone.wet else []),
            *(["moving"] if zone.moving else []),
            *(["AIRBAG"] if zone.airbag else []),
            *(["raised"] if zone.lifted else []),
        ]
        return ", ".join(said)

    def _centres(self) -> dict[str, QPointF]:
        return {z.id: self.box(z).center() for z in self._session.job.zones}

    def _paint_bundles(self, p: QPainter) -> None:
        t, at = self._session.theme, self._centres()
        for b in bundles(laid(self._session.job)):
            pen = QPen(color(t.quiet, 130), 1.5 + 0.5 * b.diameter_mm)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
            p.setPen(pen)
            p.drawPolyline(QPolygonF(_bent(at[b.a], at[b.b])))

    def _paint_run(self, p: QPainter, wire: Wire) -> None:
        t, at = self._session.theme, self._centres()
        if any(z not in at for z in wire.via):
            return
        points = [at[z] for z in wire.via]
        pen = QPen(QColor(t.petrol), 5)
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if len(points) > 1:
            bent = [points[0]]
            for a, b in itertools.pairwise(points):
                bent += _bent(a, b)[1:]
            p.drawPolyline(QPolygonF(bent))
        zones = {z.id: z for z in self._session.job.zones}
        for near in wire.neighbours:
            if near.zone in at and near.what in ("coil", "ignition lead"):
                self._paint_near(p, self.box(zones[near.zone]), near.name, near.spacing_m)

    def _paint_ends(self, p: QPainter, wire: Wire) -> None:
        """The two ends with their names."""
        t, at = self._session.theme, self._centres()
        points = [at[z] for z in wire.via if z in at]
        ends = ((wire.a, points[0]), (wire.b, points[-1])) if points else ()
        same = len(points) == 1
        for i, (end, centre) in enumerate(ends):
            where = centre + (QPointF(0, -14 + 28 * i) if same else QPointF(0, 0))
            p.setPen(QPen(QColor(t.ink), 2))
            p.setBrush(QColor(t.panel))
            p.drawRoundedRect(QRectF(where.x() - 8, where.y() - 8, 16, 16), 4, 4)
            self._tag(p, where, end_words(self._session.job, end), below=not same or i == 1)

    def _paint_near(self, p: QPainter, r: QRectF, name: str, spacing: float) -> None:
        """What makes noise where the run passes."""
        t = self._session.theme
        p.setPen(QPen(QColor(t.watch), 2, Qt.PenStyle.DashLine))
        p.setBrush(color(t.marigold, 60))
        p.drawEllipse(r.center(), 26, 20)
        away = written("short", spacing, self._session.units)
        self._tag(p, r.center() - QPointF(0, 21), f"{name}, {away}", below=True)

    def _tag(self, p: QPainter, at: QPointF, text: str, below: bool) -> None:
        """A name on a plate, kept within the picture."""
        t = self._session.theme
        p.setFont(font(12, bold=True))
        wide = p.fontMetrics().horizontalAdvance(text) + 12
        x = min(max(at.x() - wide / 2, 2.0), self.width() - wide - 2.0)
        y = at.y() + 11 if below else at.y() - 31
        plate = QRectF(x, y, wide, 20)
        p.setPen(QPen(QColor(t.line), 1))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(plate, 5, 5)
        p.setPen(QColor(t.ink))
        p.drawText(plate, Qt.AlignmentFlag.AlignCenter, text)
