"""A paper as it will print: one page at a time, turned by keys."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from functools import partial
from typing import Any

from PySide6.QtCore import QMarginsF, QRectF, QSize, QSizeF, Qt
from PySide6.QtGui import (
    QColor,
    QImage,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPaintEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.commands import Command, Commanded

EDGE_PX, LINE_PX = 8, 26
"""Room around a page, and for its number below [px]."""
PRINT_DPI = 300
"""Pages go to a printer so finely."""
POINTS = 72.0
"""PDF counts lengths in so many to the inch (ISO 32000-1, 8.3.2.3)."""
SIGNS = 4000
MOVE_PX, NEAREST, KEPT = 80.0, 3.0, 6
"""A key moves a page so far [px]; it is looked at no nearer; so many are kept drawn."""


@contextlib.contextmanager
def _opened(data: bytes) -> Iterator[Any]:
    """A PDF for as long as it is looked at; the library is loaded with the first."""
    import pypdfium2

    document = pypdfium2.PdfDocument(data)
    try:
        yield document
    finally:
        document.close()


class PdfView(Commanded, QWidget):
    """Pages of a PDF; Page Up and Page Down turn them, + and - look nearer."""

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self._session, self.name = session, name
        self._data = b""
        self._pages: list[tuple[float, float, str]] = []
        """Width and height of each page [points], and what stands on it."""
        self._at, self._near = 0, 1.0
        self._down = 0.0
        """How far a page that is looked at from near is moved up [px]."""
        self._images: dict[tuple[int, float], QImage] = {}
        self.waiting = ""
        """What is said until there is a page."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(260, 220)
        self.setAccessibleName(name)

    def sizeHint(self) -> QSize:
        return QSize(700, 700)

    @property
    def count(self) -> int:
        """How many pages there are."""
        return len(self._pages)

    @property
    def page(self) -> int:
        """The page on show, from 1."""
        return self._at + 1

    def say(self, words: str) -> None:
        """Words in place of pages."""
        self._pages, self.waiting = [], words
        self.setAccessibleDescription(words)
        self.update()

    def show_pdf(self, data: bytes) -> None:
        """Other pages; the one that was looked at stays, as far as there is one."""
        self._data = data
        with _opened(data) as document:
            self._pages = [
                (*page.get_size(), page.get_textpage().get_text_range()) for page in document
            ]
        self._at = max(min(self._at, self.count - 1), 0)
        self._images = {}
        self._told()

    def _told(self) -> None:
        said = " ".join(self._pages[self._at][2].split()) if self._pages else ""
        self.setAccessibleName(f"{self.name}, page {self.page} of {self.count}")
        self.setAccessibleDescription(said[:SIGNS])
        self.update()

    def commands(self) -> tuple[Command, ...]:
        if self.count < 2:
            return self._looks()
        return (
            Command("Paper: next page", "PgDown Right Space", partial(self.turn, 1)),
            Command("Paper: page before", "PgUp Left", partial(self.turn, -1)),
            Command("Paper: first page", "Home", partial(self.turn, -self.count)),
            Command("Paper: last page", "End", partial(self.turn, self.count)),
            *self._looks(),
        )

    def _looks(self) -> tuple[Command, ...]:
        return (
            Command("Paper: nearer", "+ =", partial(self._zoom, 1.25)),
            Command("Paper: further", "-", partial(self._zoom, 0.8)),
            Command("Paper: lower down", "Down", partial(self._move, MOVE_PX)),
            Command("Paper: higher up", "Up", partial(self._move, -MOVE_PX)),
        )

    def turn(self, by: int) -> None:
        """Another page."""
        if self.count:
            self._at = min(max(self._at + by, 0), self.count - 1)
            self._down = 0.0
            self._told()

    def _zoom(self, by: float) -> None:
        self._near = min(max(self._near * by, 1.0), NEAREST)
        self._move(0.0)

    def _move(self, by: float) -> None:
        """Lower down or higher up on a page that does not fit."""
        room = self.height() - EDGE_PX - LINE_PX
        self._down = min(max(self._down + by, 0.0), max(room * (self._near - 1), 0.0))
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        notch = event.angleDelta().y()
        if self._near > 1:
            self._move(-notch / 2)
        else:
            self.turn(-1 if notch > 0 else 1)

    def _rendered(self, number: int, dots: float) -> QImage:
        """A page at so many dots a point."""
        with _opened(self._data) as document:
            page = document[number].render(scale=dots).to_pil().convert("RGB")
        form = QImage.Format.Format_RGB888
        return QImage(page.tobytes(), page.width, page.height, 3 * page.width, form).copy()

    def _kept(self, number: int, dots: float) -> QImage:
        key = (number, round(dots, 3))
        if key not in self._images:
            if len(self._images) > KEPT:
                self._images.clear()
            self._images[key] = self._rendered(number, dots)
        return self._images[key]

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        if not self._pages:
            p.setPen(QColor(t.quiet))
            p.setFont(font(14))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.waiting)
            return
        wide, tall, _ = self._pages[self._at]
        room = (self.width() - 2 * EDGE_PX, self.height() - EDGE_PX - LINE_PX)
        scale = min(room[0] / wide, room[1] / tall) * self._near
        dots = scale * self.devicePixelRatioF()
        side = max(1, min(int(room[0] // (wide * scale + EDGE_PX)), self.count - self._at, 2))
        left = (self.width() - side * wide * scale - (side - 1) * EDGE_PX) / 2
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.setPen(QColor(t.line))
        for k in range(side):
            x = left + k * (wide * scale + EDGE_PX)
            where = QRectF(x, EDGE_PX - self._down, wide * scale, tall * scale)
            p.drawImage(where, self._kept(self._at + k, dots))
            p.drawRect(where)
        p.setPen(QColor(t.quiet))
        p.setFont(font(13))
        below = QRectF(0, self.height() - LINE_PX, self.width(), LINE_PX)
        turned = "   Page Up and Page Down turn it;" if self.count > 1 else "  "
        turned += " + and − look nearer"
        p.fillRect(below, QColor(t.ground))
        p.drawText(below, Qt.AlignmentFlag.AlignCenter, f"{self.page} of {self.count}{turned}")

    def print_on(self, printer: QPagedPaintDevice) -> None:
        """Every page on a printer, in its own size where the printer has it."""
        p: QPainter | None = None
        for i, (wide, tall, _) in enumerate(self._pages):
            printer.setPageLayout(_layout(wide, tall))
            if p is None:
                p = QPainter(printer)
            else:
                printer.newPage()
            image = self._rendered(i, PRINT_DPI / POINTS)
            area = QRectF(p.viewport())
            scale = min(area.width() / image.width(), area.height() / image.height())
            p.drawImage(QRectF(0, 0, image.width() * scale, image.height() * scale), image)
        if p is not None:
            p.end()


def _layout(wide: float, tall: float) -> QPageLayout:
    """A page of so many points, without margins: they are part of the paper."""
    size = QPageSize(
        QSizeF(min(wide, tall), max(wide, tall)),
        QPageSize.Unit.Point,
        "",
        QPageSize.SizeMatchPolicy.FuzzyMatch,
    )
    lying = wide > tall
    way = QPageLayout.Orientation.Landscape if lying else QPageLayout.Orientation.Portrait
    return QPageLayout(size, way, QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Point)
