"""A connector face, drawn as the hand holds it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.catalog.colours import stripe
from zombrel.harness.plugs import face
from zombrel.job.wiring import Connector
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.marks import draw_mark
from zombrel.ui.widgets.tip import tip


def draw_swatch(p: QPainter, r: QRectF, colour: str, edge: str) -> None:
    """A short piece of wire in its colour."""
    base, mark = stripe(colour)
    p.setPen(QPen(QColor(edge), 1))
    p.setBrush(QColor(base))
    p.drawRoundedRect(r, 2, 2)
    if mark is not None:
        middle = QRectF(r.left() + 1, r.center().y() - 1.6, r.width() - 2, 3.2)
        p.fillRect(middle, QColor(mark))


class FaceView(Commanded, QWidget):
    """Cavities of any face; arrows walk, M turns it round."""

    nothing = "Neither end of this wire is in a connector that is drawn."
    """Said where there is no face to draw."""

    chosen = Signal(int)
    """Another cavity was chosen."""
    pulled = Signal(QPoint)
    """A hand draws from the chosen cavity to there, on the screen."""
    let_go = Signal(QPoint)

    def __init__(self, session: Session, largest: float = 40.0) -> None:
        super().__init__()
        self._session = session
        self._largest = largest
        """A cavity is drawn no larger [px]."""
        self._connector: Connector | None = None
        self._cavity = 0
        self._own = 0
        self._hover = 0
        self._grip = 0
        """The cavity that a hand holds."""
        self.mating = False
        self.lit: tuple[int, ...] = ()
        """Cavities shown as chosen besides the marked one."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(240, 150)

    def sizeHint(self) -> QSize:
        return QSize(320, 190)

    @property
    def cavity(self) -> int:
        """The marked cavity."""
        return self._cavity

    @property
    def view(self) -> face.View:
        """The side shown."""
        return "mating face" if self.mating else "wire side"

    def show_face(self, connector: Connector | None, cavity: int, keep: bool = False) -> None:
        """Show a connector with one cavity marked as the wire's own.

        ``keep`` leaves the marked cavity as it is when only the connector changed.
        """
        if connector is not self._connector or cavity != self._own:
            self._connector, self._own, self._cavity = connector, cavity, cavity
        elif keep:
            self._cavity = cavity
        self._name()
        self.update()

    def turn(self) -> None:
        """From wire side to mating face and back: left and right change places."""
        self.mating = not self.mating
        self._name()
        self.update()

    def choose(self, n: int) -> None:
        """Mark cavity ``n``."""
        if n != self._cavity:
            self._cavity = n
            self._name()
            self.update()
            self.chosen.emit(n)

    def words(self) -> str:
        """The marked cavity as it would be counted."""
        c = self._connector
        if c is None or not self._cavity:
            return "This end is not in a connector."
        return face.words(c, self._cavity)

    def _name(self) -> None:
        self.setAccessibleName(f"Connector face, {self.view}. {self.words()}")

    # ---- geometry

    def _pitch(self) -> tuple[float, float, float]:
        """Pixels to the pitch, and where the first cavity's centre lies."""
        c = self._connector
        assert c is not None  # only called with a connector
        seen = face.seen(c, self.view)
        wide, tall = max(p.x for p in seen) + 1, max(p.y for p in seen) + 1
        side = min((self.width() - 46) / wide, (self.height() - 56) / tall, self._largest)
        left = (self.width() - wide * side) / 2 + side / 2
        top = (self.height() - tall * side) / 2 + side / 2
        return side, left, top

    def _cell(self, n: int) -> QRectF:
        c = self._connector
        assert c is not None  # only called with a connector
        side, left, top = self._pitch()
        at = next(p for p in face.seen(c, self.view) if p.n == n)
        half = side / 2 - 2
        x, y = left + at.x * side, top + at.y * side
        return QRectF(x - half, y - half, 2 * half, 2 * half)

    def _shell(self) -> QRectF:
        c = self._connector
        assert c is not None  # only called with a connector
        cells = [self._cell(p.n) for p in face.places(c)]
        r = cells[0]
        for cell in cells:
            r = r.united(cell)
        return r.adjusted(-8, -8, 8, 8)

    def _at(self, where: QPointF) -> int:
        c = self._connector
        if c is None:
            return 0
        return next((p.n for p in face.places(c) if self._cell(p.n).contains(where)), 0)

    # ---- hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = self._at(event.position())
        self._grip = n
        if n:
            self.choose(n)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grip:
            self._grip = 0
            self.let_go.emit(event.globalPosition().toPoint())

    def cavity_at(self, where: QPointF) -> int:
        """The cavity drawn at a spot of this widget; 0 for none."""
        return self._at(where)

    def cell(self, n: int) -> QRectF | None:
        """Where a cavity is drawn; None where this face has none."""
        c = self._connector
        if c is None or n not in {q.n for q in face.places(c)}:
            return None
        return self._cell(n)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip and event.buttons() & Qt.MouseButton.LeftButton:
            self.pulled.emit(event.globalPosition().toPoint())
            return
        n = self._at(event.position())
        if n != self._hover:
            self._hover = n
            c = self._connector
            tip(self, face.words(c, n) if c is not None and n else "")

    def commands(self) -> tuple[Command, ...]:
        """What keys do on a face."""
        if self._connector is None:
            return ()
        walk = (("right", 1, 0), ("left", -1, 0), ("below", 0, 1), ("above", 0, -1))
        names = {"right": "Right", "left": "Left", "below": "Down", "above": "Up"}
        return (
            Command("Turn the connector face round", "M", self._turned),
            *(
                Command(f"Cavity {way}", names[way], partial(self._walk, dx, dy))
                for way, dx, dy in walk
            ),
        )

    def _turned(self) -> None:
        self.turn()
        self.chosen.emit(self._cavity)

    def _walk(self, dx: int, dy: int) -> bool:
        c = self._connector
        if c is None or not self._cavity:
            return False
        new = self._beside(c, dx, dy)
        if new:
            self.choose(new)
        return True

    def _beside(self, c: Connector, dx: int, dy: int) -> int:
        """The nearest cavity that way; 0 when there is none."""
        seen = {p.n: p for p in face.seen(c, self.view)}
        here = seen[self._cavity]
        best, least = 0, 1e9
        for p in seen.values():
            ahead = (p.x - here.x) * dx + (p.y - here.y) * dy
            aside = abs((p.x - here.x) * dy) + abs((p.y - here.y) * dx)
            if ahead > 0.3 and aside < 1.01 * ahead and ahead + 2 * aside < least:
                best, least = p.n, ahead + 2 * aside
        return best

    # ---- painting

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = self._connector
        if c is None:
            p.setPen(QColor(t.quiet))
            p.setFont(font(13))
            p.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.nothing,
            )
            return
        shell = self._shell()
        p.setPen(QPen(QColor(t.focus if self.hasFocus() else t.ink), 2))
        p.setBrush(QColor(t.well))
        if c.round and not c.places:
            p.drawEllipse(shell.adjusted(-6, -6, 6, 6))
        else:
            p.drawRoundedRect(shell, 6, 6)
        self._paint_key(p, c, shell)
        for place in face.places(c):
            self._paint_cavity(p, c, place.n)
        self._paint_corners(p, c, shell)

    def _paint_key(self, p: QPainter, c: Connector, shell: QRectF) -> None:
        """The lever or key on its side of the shell."""
        t = self._session.theme
        mid = shell.center()
        side = face.keyed_side(c, self.view)
        bars = {
            "left": QRectF(shell.left() - 9, mid.y() - 22, 8, 44),
            "right": QRectF(shell.right() + 1, mid.y() - 22, 8, 44),
            "top": QRectF(mid.x() - 22, shell.top() - 9, 44, 8),
            "bottom": QRectF(mid.x() - 22, shell.bottom() + 1, 44, 8),
        }
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(t.ink))
        if c.round and not c.places:
            p.drawRect(QRectF(mid.x() - 8, shell.top() - 8, 16, 10))
        else:
            p.drawRoundedRect(bars[side], 3, 3)

    def _paint_corners(self, p: QPainter, c: Connector, shell: QRectF) -> None:
        """Numbers at the ends of the first and the last row."""
        if c.round and not c.places:
            return
        t = self._session.theme
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        seen = face.seen(c, self.view)
        lines = sorted({q.y for q in seen})
        for y, at in ((lines[0], shell.top() - 19), (lines[-1], shell.bottom() + 3)):
            row = [q for q in seen if q.y == y]
            if len(lines) == 1 and at > shell.bottom():
                break
            for q in {row[0].n: row[0], row[-1].n: row[-1]}.values():
                cell = self._cell(q.n)
                p.drawText(
                    QRectF(cell.left() - 10, at, cell.width() + 20, 16),
                    Qt.AlignmentFlag.AlignCenter,
                    str(q.n),
                )

    def _paint_cavity(self, p: QPainter, c: Connector, n: int) -> None:
        t, cell, cavity = self._session.theme, self._cell(n), face.cavity(c, n)
        chosen = n == self._cavity or n in self.lit
        how = face.state(c, n)
        p.setPen(QPen(QColor(t.focus if chosen else t.line), 2.5 if chosen else 1))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(cell, 4, 4)
        if (cavity is not None and cavity.mark) or n in self.lit:
            p.setPen(QColor(t.ink))
            p.setFont(font(13, bold=chosen))
            mark = cavity.mark if cavity is not None and cavity.mark else str(n)
            p.drawText(cell, Qt.AlignmentFlag.AlignCenter, mark)
        elif how == "unusable":
            p.setPen(QPen(QColor(t.quiet), 1.2))
            p.drawLine(cell.topLeft() + QPointF(5, 5), cell.bottomRight() - QPointF(5, 5))
            p.drawLine(cell.topRight() + QPointF(-5, 5), cell.bottomLeft() + QPointF(5, -5))
        elif how == "blanked":
            p.setPen(QPen(QColor(t.quiet), 1.2))
            p.drawLine(cell.topLeft() + QPointF(5, 5), cell.bottomRight() - QPointF(5, 5))
        elif how == "not looked into" or cavity is None:
            p.setPen(QColor(t.quiet))
            p.setFont(font(13))
            p.drawText(cell, Qt.AlignmentFlag.AlignCenter, "?")
        elif how == "terminal":
            p.setPen(QPen(QColor(t.quiet), 2))
            p.drawRect(QRectF(cell.center().x() - 5, cell.center().y() - 5, 10, 10))
        elif how == "vacant":
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(t.quiet))
            p.drawEllipse(cell.center(), 2.2, 2.2)
        elif not face.colour_of(cavity):
            p.setPen(QPen(QColor(t.ink), 2))
            p.drawEllipse(cell.center(), cell.width() * 0.3, cell.width() * 0.3)
        else:
            self._paint_wire(p, cell, face.colour_of(cavity))
        if cavity is not None and face.contradicts(cavity):
            side = min(14.0, cell.width() * 0.4)
            corner = QRectF(cell.right() - side - 1, cell.top() + 1, side, side)
            draw_mark(p, corner, "watch", t)
        elif how == "occupied" and cavity is not None and not cavity.seen:
            # On paper only: a broken ring around what nobody has seen.
            p.setPen(QPen(QColor(t.quiet), 1.4, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(cell.center(), cell.width() * 0.42, cell.width() * 0.42)

    def _paint_wire(self, p: QPainter, cell: QRectF, colour: str) -> None:
        base, mark = stripe(colour)
        radius = min(cell.width(), cell.height()) * 0.34
        p.setPen(QPen(QColor(self._session.theme.quiet), 1))
        p.setBrush(QColor(base))
        p.drawEllipse(cell.center(), radius, radius)
        if mark is not None:
            d = radius * 0.62
            p.setPen(
                QPen(QColor(mark), radius * 0.5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
            )
            p.drawLine(cell.center() + QPointF(-d, d), cell.center() + QPointF(d, -d))
