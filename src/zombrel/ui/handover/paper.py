"""Print HTML to PDF with Qt."""

from __future__ import annotations

import math

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSizeF, Qt, QThread
from PySide6.QtGui import (
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QTextDocument,
)

from zombrel.ui.qtapp import application
from zombrel.ui.theme import font

DPI = 120
"""Resolution of the page; type sizes in points come out right at any."""
FOOT = 34
"""Room for the page number [dots]."""
LYING = QPageLayout(
    QPageSize(QPageSize.PageSizeId.A4),
    QPageLayout.Orientation.Landscape,
    QMarginsF(14, 12, 14, 10),
    QPageLayout.Unit.Millimeter,
)
Paged = QPagedPaintDevice


def pdf_bytes(html: str) -> bytes:
    """The PDF of a sheet, A4 lying, with page numbers; makes the application if there is none."""
    app = application()
    data = pdf_of(html)
    del app
    return data


def pdf_of(html: str) -> bytes:
    """The PDF of a sheet; may be called in any thread of a running application."""
    made: list[bytes] = []
    if QThread.isMainThread():
        return _pdf(html)

    class Work(QThread):
        """A document lays itself out by timers, which only a thread of Qt's has."""

        def run(self) -> None:
            made.append(_pdf(html))

    thread = Work()
    thread.start()
    thread.wait()
    return made[0]


def _pdf(html: str) -> bytes:
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle("Zombrel hand-over sheet")
    writer.setResolution(DPI)
    writer.setPageLayout(LYING)
    print_html(html, writer)
    buffer.close()
    return bytes(data.data())


def print_html(html: str, writer: Paged) -> None:
    """Print a sheet on a PDF or a printer, page by page, each with its number."""
    document = QTextDocument()
    document.documentLayout().setPaintDevice(writer)
    document.setDefaultFont(font(14))
    document.setHtml(html)
    wide, tall = writer.width(), writer.height() - FOOT
    document.setPageSize(QSizeF(wide, tall))
    pages = max(1, math.ceil(document.size().height() / tall - 1e-6))
    painter = QPainter(writer)
    for i in range(pages):
        if i:
            writer.newPage()
        painter.save()
        painter.translate(0, -i * tall)
        document.drawContents(painter, QRectF(0, i * tall, wide, tall))
        painter.restore()
        painter.setFont(font(13))
        painter.drawText(
            QRectF(0, tall, wide, FOOT),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom,
            f"{i + 1} of {pages}",
        )
    painter.end()
