"""A connector face, drawn as the hand holds it."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.job.wiring import Cavity, Connector
from zombrel.ui.session import Session
from zombrel.ui.theme import font

PAINT = {
    "red": "#B23232", "black": "#26282B", "white": "#F4F1EA", "green": "#2F8A57",
    "blue": "#2E5FA8", "yellow": "#E2BE3A", "brown": "#8A5A32", "grey": "#8C9196",
    "orange": "#D97B29", "violet": "#7A4C9E", "pink": "#D99AA8",
}  # fmt: skip


def stripe(colour: str) -> tuple[str, str | None]:
    """Base and stripe paint of a colour such as ``green/white``."""
    base, _, mark = colour.partition("/")
    return PAINT.get(base.strip(), "#B9B4A8"), PAINT.get(mark.strip()) if mark else None


def draw_swatch(p: QPainter, r: QRectF, colour: str, edge: str) -> None:
    """A short piece of wire in its colour."""
    base, mark = stripe(colour)
    p.setPen(QPen(QColor(edge), 1))
    p.setBrush(QColor(base))
    p.drawRoundedRect(r, 2, 2)
    if mark is not None:
        middle = QRectF(r.left() + 1, r.center().y() - 1.6, r.width() - 2, 3.2)
        p.fillRect(middle, QColor(mark))


class FaceView(QWidget):
    """Cavities of a rectangular connector; M turns it round."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._connector: Connector | None = None
        self._cavity = 0
        self._own = 0
        self.mating = False
        self.lit: tuple[int, ...] = ()
        """Cavities shown as chosen besides the marked one."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(240, 150)

    def sizeHint(self) -> QSize:
        return QSize(320, 190)

    def show_face(self, connector: Connector | None, cavity: int) -> None:
        """Show a connector with one cavity marked as the wire's own."""
        if connector is not self._connector or cavity != self._own:
            self._connector, self._own, self._cavity = connector, cavity, cavity
        self._name()
        self.update()

    def turn(self) -> None:
        """From wire side to mating face and back: left and right change places."""
        self.mating = not self.mating
        self._name()
        self.update()

    def words(self) -> str:
        """The marked cavity as it would be counted."""
        c = self._connector
        if c is None or not self._cavity:
            return "This end is not in a connector."
        line, place = divmod(self._cavity - 1, c.columns)
        text = (
            f"Cavity {self._cavity}: row {line + 1}, {_nth(place + 1)} from {c.key or 'cavity 1'}"
        )
        mine = self._at(self._cavity)
        twins = [x.n for x in c.cavities if mine and mine.colour and x.colour == mine.colour]
        others = [str(n) for n in twins if n != self._cavity]
        if mine is None or (not mine.colour and not mine.blank):
            return f"{text}. Vacant."
        if mine.blank and not mine.colour:
            return f"{text}. Blanked."
        if others:
            return f"{text}. Cavity {', '.join(others)} has the same {mine.colour}: count it."
        return f"{text}. {mine.colour}."

    def _at(self, n: int) -> Cavity | None:
        if self._connector is None:
            return None
        return next((x for x in self._connector.cavities if x.n == n), None)

    def _name(self) -> None:
        side = "mating face" if self.mating else "wire side"
        self.setAccessibleName(f"Connector face, {side}. {self.words()}")

    def _cell(self, n: int) -> QRectF:
        c = self._connector
        assert c is not None  # only called with a connector
        shell = self._shell()
        if c.round:
            return self._ring_cell(n, c.columns, shell)
        line, place = divmod(n - 1, c.columns)
        if self._mirrored():
            place = c.columns - 1 - place
        w, h = (shell.width() - 12) / c.columns, (shell.height() - 12) / c.rows
        return QRectF(shell.left() + 6 + place * w, shell.top() + 6 + line * h, w, h).adjusted(
            2, 2, -2, -2
        )

    def _mirrored(self) -> bool:
        """The side shown is not the one the cavities are counted on."""
        c = self._connector
        return c is not None and self.mating != (c.counted_on == "mating face")

    def _ring_cell(self, n: int, count: int, shell: QRectF) -> QRectF:
        """Cavities in a ring, clockwise from the upper left; the last in the middle."""
        size = shell.width() / 5.8
        centre = shell.center()
        if n < count:
            angle = 2 * math.pi * (n - 1) / (count - 1) - math.pi / 3
            if self._mirrored():
                angle = -angle
            reach = shell.width() * 0.34
            centre += QPointF(math.sin(angle), -math.cos(angle)) * reach
        return QRectF(centre.x() - size / 2, centre.y() - size / 2, size, size)

    def _shell(self) -> QRectF:
        c = self._connector
        assert c is not None  # only called with a connector
        if c.round:
            across = min(self.width() - 34.0, self.height() - 30.0, 230.0)
            return QRectF((self.width() - across) / 2, 14, across, across)
        w, h = self.width() - 34.0, self.height() - 44.0
        side = min(w / c.columns, h / c.rows, 40)
        width, height = side * c.columns + 12, side * c.rows + 12
        return QRectF((self.width() - width) / 2 + 5, 20, width, height)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        c = self._connector
        if c is None:
            return
        for n in range(1, c.rows * c.columns + 1):
            if self._cell(n).contains(event.position()):
                self._cavity = n
                self._name()
                self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        c = self._connector
        flip = -1 if self.mating else 1
        moves = {Qt.Key.Key_Right: flip, Qt.Key.Key_Left: -flip}
        if c is not None:
            moves |= {Qt.Key.Key_Down: c.columns, Qt.Key.Key_Up: -c.columns}
        step = moves.get(Qt.Key(event.key()))
        if event.key() == Qt.Key.Key_M:
            self.turn()
        elif c is not None and step is not None and self._cavity:
            new = self._cavity + step
            if 1 <= new <= c.rows * c.columns:
                self._cavity = new
                self._name()
                self.update()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = self._connector
        if c is None:
            p.setPen(QColor(t.quiet))
            p.setFont(font(13))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                       "Neither end of this wire is in a connector that is drawn.")  # fmt: skip
            return
        shell = self._shell()
        p.setPen(QPen(QColor(t.ink), 2))
        p.setBrush(QColor(t.well))
        if c.round:
            p.drawEllipse(shell)
            p.setBrush(QColor(t.ink))
            p.drawRect(QRectF(shell.center().x() - 8, shell.top() - 3, 16, 10))
        else:
            p.drawRoundedRect(shell, 6, 6)
            lever_x = shell.right() + 1 if self._mirrored() else shell.left() - 9
            p.setBrush(QColor(t.ink))
            p.drawRoundedRect(QRectF(lever_x, shell.center().y() - 26, 8, 52), 3, 3)
        for n in range(1, c.rows * c.columns + 1):
            self._paint_cavity(p, n)
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        if c.round:
            return
        for n in (1, c.columns, (c.rows - 1) * c.columns + 1, c.rows * c.columns):
            cell = self._cell(n)
            y = 2 if n <= c.columns else shell.bottom() + 2
            p.drawText(QRectF(cell.left() - 10, y, cell.width() + 20, 16),
                       Qt.AlignmentFlag.AlignCenter, str(n))  # fmt: skip

    def _paint_cavity(self, p: QPainter, n: int) -> None:
        t, cell, cavity = self._session.theme, self._cell(n), self._at(n)
        chosen = n == self._cavity or n in self.lit
        p.setPen(QPen(QColor(t.marigold if chosen else t.line), 2.5 if chosen else 1))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(cell, 4, 4)
        if cavity is not None and (cavity.mark or n in self.lit):
            p.setPen(QColor(t.ink))
            p.setFont(font(13, bold=chosen))
            p.drawText(cell, Qt.AlignmentFlag.AlignCenter, cavity.mark or str(n))
        elif cavity is not None and cavity.blank and not cavity.colour:
            p.setPen(QPen(QColor(t.quiet), 1.2))
            p.drawLine(cell.topLeft() + QPointF(5, 5), cell.bottomRight() - QPointF(5, 5))
        elif cavity is None or not cavity.colour:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(t.line))
            p.drawEllipse(cell.center(), 2.2, 2.2)
        else:
            base, mark = stripe(cavity.colour)
            radius = min(cell.width(), cell.height()) * 0.34
            p.setPen(QPen(QColor(t.quiet), 1))
            p.setBrush(QColor(base))
            p.drawEllipse(cell.center(), radius, radius)
            if mark is not None:
                d = radius * 0.62
                p.setPen(QPen(QColor(mark), radius * 0.5, Qt.PenStyle.SolidLine,
                              Qt.PenCapStyle.RoundCap))  # fmt: skip
                p.drawLine(cell.center() + QPointF(-d, d), cell.center() + QPointF(d, -d))


def _nth(n: int) -> str:
    words = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth",
             "ninth", "tenth", "eleventh", "twelfth")  # fmt: skip
    return words[n - 1] if n <= len(words) else f"{n}th"
