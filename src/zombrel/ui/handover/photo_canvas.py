"""One photo, and what is drawn on it: arrows dragged, numbers set, all of it by keys too."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QImage,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.handover.marks import ARROW, HEAD, RADIUS, head_of
from zombrel.job.records.photo import Photo, PhotoMark
from zombrel.ui.session import Session
from zombrel.ui.theme import TEXT, font
from zombrel.ui.widgets.commands import Command, Commanded

STEP, LEAP = 0.01, 0.06
"""The cross-hair moves so far by a key, and with Shift [share of the picture]."""
DRAGGED = 0.015
"""A shorter drag is a tap [share]."""
WAYS = {"Left": (-1, 0), "Right": (1, 0), "Up": (0, -1), "Down": (0, 1)}
SIGHT_PX = 14
"""Arms of the cross-hair [px]."""


class PhotoCanvas(Commanded, QWidget):
    """A picture with its marks; says where a new one is wanted."""

    marked = Signal(object)
    """The mark that was made."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._photo: Photo | None = None
        self._image = QImage()
        self._sight = (0.5, 0.5)
        self._tail: tuple[float, float] | None = None
        """Where an arrow that is being drawn begins."""
        self._missing = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(260, 220)
        self.setAccessibleName("Photo")

    def sizeHint(self) -> QSize:
        return QSize(420, 280)

    def show_photo(self, photo: Photo | None, image: QImage, missing: str) -> None:
        """Another photo, or the same with other marks; ``missing`` is said where it has none."""
        if photo is None or self._photo is None or photo.id != self._photo.id:
            self._sight, self._tail = (0.5, 0.5), None
        self._photo, self._image, self._missing = photo, image, missing
        marks = photo.marks if photo is not None else ()
        said = "; ".join(f"{i}: {m.kind} {m.words}".strip() for i, m in enumerate(marks, 1))
        self.setAccessibleName(f"Photo {photo.name}" if photo is not None else "Photo")
        self.setAccessibleDescription(said or missing)
        self.update()

    def commands(self) -> tuple[Command, ...]:
        if self._photo is None:
            return ()
        moves = []
        for key, way in WAYS.items():
            near, far = partial(self._move, way, STEP), partial(self._move, way, LEAP)
            moves.append(Command(f"Photo: cross-hair {key.lower()}", key, near))
            moves.append(Command(f"Photo: cross-hair far {key.lower()}", f"Shift+{key}", far))
        return (
            Command("Photo: begin an arrow, and end it", "A", self._arrow),
            Command("Photo: a number at the cross-hair", "N", self._number),
            Command("Photo: leave the arrow", "Escape", self._leave),
            *moves,
        )

    # ---- what is made

    def _move(self, way: tuple[int, int], by: float) -> None:
        x, y = (min(max(a + w * by, 0.0), 1.0) for a, w in zip(self._sight, way, strict=True))
        self._sight = (x, y)
        self.update()

    def _arrow(self) -> None:
        if self._tail is None:
            self._tail = self._sight
        else:
            self._made(self._tail, self._sight)
        self.update()

    def _number(self) -> None:
        x, y = self._sight
        self.marked.emit(PhotoMark(kind="number", x=x, y=y))

    def _leave(self) -> bool:
        """Give up an arrow that was begun; without one the key is another's."""
        had, self._tail = self._tail is not None, None
        self.update()
        return had

    def _made(self, tail: tuple[float, float], tip: tuple[float, float]) -> None:
        self._tail = None
        if abs(tail[0] - tip[0]) + abs(tail[1] - tip[1]) < DRAGGED:
            self.marked.emit(PhotoMark(kind="number", x=tip[0], y=tip[1]))
            return
        made = PhotoMark(kind="arrow", x=tip[0], y=tip[1], from_x=tail[0], from_y=tail[1])
        self.marked.emit(made)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self._sight = self._tail = self._share(event.position())
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._sight = self._share(event.position())
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._sight = self._share(event.position())
        if self._photo is not None and self._tail is not None:
            self._made(self._tail, self._sight)
        self.update()

    # ---- paint

    def _frame(self) -> QRectF:
        """Where the picture lies."""
        wide, tall = max(self._image.width(), 1), max(self._image.height(), 1)
        scale = min(self.width() / wide, self.height() / tall)
        w, h = wide * scale, tall * scale
        return QRectF((self.width() - w) / 2, (self.height() - h) / 2, w, h)

    def _share(self, at: QPointF) -> tuple[float, float]:
        frame = self._frame()
        x, y = (at.x() - frame.left()) / frame.width(), (at.y() - frame.top()) / frame.height()
        return min(max(x, 0.0), 1.0), min(max(y, 0.0), 1.0)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if self._photo is None or self._image.isNull():
            p.setPen(QColor(t.quiet))
            p.setFont(font(14))
            wrapped = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            p.drawText(self.rect().adjusted(20, 0, -20, 0), wrapped, self._missing)
            return
        frame = self._frame()
        p.drawImage(frame, self._image)
        for i, mark in enumerate(self._photo.marks, 1):
            self._mark(p, frame, mark, str(i))
        if self._tail is not None:
            tail, tip = self._tail, self._sight
            made = PhotoMark(kind="arrow", x=tip[0], y=tip[1], from_x=tail[0], from_y=tail[1])
            self._mark(p, frame, made, "")
        if self.hasFocus():
            self._cross(p, frame)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(t.focus if self.hasFocus() else t.line), 2))
        p.drawRect(frame)

    def _cross(self, p: QPainter, frame: QRectF) -> None:
        x = frame.left() + self._sight[0] * frame.width()
        y = frame.top() + self._sight[1] * frame.height()
        for colour, width in (("#FFFFFF", 4.0), ("#0E5A66", 1.6)):
            p.setPen(QPen(QColor(colour), width))
            p.drawLine(QPointF(x - SIGHT_PX, y), QPointF(x + SIGHT_PX, y))
            p.drawLine(QPointF(x, y - SIGHT_PX), QPointF(x, y + SIGHT_PX))

    def _mark(self, p: QPainter, frame: QRectF, mark: PhotoMark, number: str) -> None:
        """An arrow with its number at its tail, or a number: amber with a dark rim, to be seen on
        anything."""

        def at(x: float, y: float) -> QPointF:
            return QPointF(frame.left() + x * frame.width(), frame.top() + y * frame.height())

        size = min(frame.width(), frame.height())
        tip = at(mark.x, mark.y)
        middle = tip
        if mark.kind == "arrow":
            middle = at(mark.from_x, mark.from_y)
            points = head_of((middle.x(), middle.y()), (tip.x(), tip.y()), size * HEAD)
            for colour, extra in (("#1C2630", 3.0), (ARROW, 0.0)):
                p.setPen(QPen(QColor(colour), size * 0.008 + extra))
                p.setBrush(QColor(colour))
                p.drawLine(middle, QPointF(*points[3]))
                p.drawPolygon(QPolygonF([QPointF(*x) for x in points[:3]]))
        if not number:
            return
        radius = size * RADIUS
        p.setPen(QPen(QColor("#1C2630"), max(radius * 0.14, 1.0)))
        p.setBrush(QColor(ARROW))
        p.drawEllipse(middle, radius, radius)
        face = QFont(TEXT)
        face.setPixelSize(max(round(radius * 1.2), 8))
        face.setBold(True)
        p.setFont(face)
        box = QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius)
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, number)
