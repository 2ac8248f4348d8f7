"""Paint flat sheets: on paper, and as the preview on the screen."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import (
    QColor,
    QFont,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QPen,
)

from zombrel.handover.sheet import Box, Item, Sheet, Text
from zombrel.handover.sheet import Path as Line
from zombrel.ui.qtapp import application
from zombrel.ui.theme import TEXT

DPI = 300
ANCHORS = {
    "start": Qt.AlignmentFlag.AlignLeft,
    "middle": Qt.AlignmentFlag.AlignHCenter,
    "end": Qt.AlignmentFlag.AlignRight,
}


def sheets_pdf(pages: Sequence[Sheet]) -> bytes:
    """All pages as a PDF, each in its own size; makes the application where there is none."""
    app = application()
    data = sheets_pdf_of(pages)
    del app
    return data


def sheets_pdf_of(pages: Sequence[Sheet]) -> bytes:
    """All pages as a PDF; may be called in any thread of a running application."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(DPI)
    print_sheets(pages, writer)
    buffer.close()
    return bytes(data.data())


def print_sheets(pages: Sequence[Sheet], writer: QPdfWriter | QPagedPaintDevice) -> None:
    """Print all pages on a PDF or a printer, each in its own size."""
    scale = writer.logicalDpiX() / 25.4
    painter: QPainter | None = None
    for page in pages or (Sheet(210.0, 297.0, (Text(20, 30, "Nothing to print yet.", 5),)),):
        writer.setPageLayout(_layout(page))
        if painter is None:
            painter = QPainter(writer)
        else:
            writer.newPage()
        paint(painter, page, scale)
    if painter is not None:
        painter.end()


def _layout(page: Sheet) -> QPageLayout:
    size = QPageSize(
        QSizeF(min(page.width, page.height), max(page.width, page.height)),
        QPageSize.Unit.Millimeter,
        "",
        QPageSize.SizeMatchPolicy.FuzzyMatch,
    )
    lying = page.width > page.height
    way = QPageLayout.Orientation.Landscape if lying else QPageLayout.Orientation.Portrait
    return QPageLayout(size, way, QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Millimeter)


def paint(p: QPainter, page: Sheet, scale: float) -> None:
    """Paint ``page`` with ``scale`` dots to the millimetre from the painter's origin."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.fillRect(QRectF(0, 0, page.width * scale, page.height * scale), QColor("#FFFFFF"))
    for item in page.items:
        _item(p, item, scale)
    p.restore()


def _item(p: QPainter, item: Item, scale: float) -> None:
    if isinstance(item, Text):
        face = QFont(TEXT)
        face.setPixelSize(max(round(item.size * scale), 1))
        face.setBold(item.bold)
        p.setFont(face)
        p.setPen(QColor(item.colour))
        wide = 400 * scale
        left = {"start": 0.0, "middle": wide / 2, "end": wide}[item.anchor]
        ascent = p.fontMetrics().ascent()
        box = QRectF(item.x * scale - left, item.y * scale - ascent, wide, ascent * 2)
        p.drawText(box, ANCHORS[item.anchor] | Qt.AlignmentFlag.AlignTop, item.text)
    elif isinstance(item, Box):
        p.setPen(QPen(QColor(item.colour), item.width * scale))
        p.setBrush(QColor(item.fill) if item.fill else Qt.BrushStyle.NoBrush)
        box = QRectF(item.x * scale, item.y * scale, item.w * scale, item.h * scale)
        p.drawRoundedRect(box, item.radius * scale, item.radius * scale)
    else:
        _line(p, item, scale)


def _line(p: QPainter, item: Line, scale: float) -> None:
    points = [QPointF(x * scale, y * scale) for x, y in item.points]
    p.setBrush(Qt.BrushStyle.NoBrush)
    for colour, width in ((item.colour, item.width), (item.stripe, item.width * 0.4)):
        if not colour:
            continue
        pen = QPen(QColor(colour), max(width * scale, 1.0))
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        if item.dashed:
            pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        p.drawPolyline(points)
