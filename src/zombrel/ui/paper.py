"""Print HTML to PDF with Qt."""

from __future__ import annotations

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF
from PySide6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPdfWriter, QTextDocument

from zombrel.ui.theme import load_fonts


def pdf_bytes(html: str) -> bytes:
    """The PDF of a sheet, A4 upright."""
    app = QGuiApplication.instance() or QGuiApplication(["zombrel"])
    load_fonts()
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle("Zombrel hand-over sheet")
    writer.setPageLayout(
        QPageLayout(
            QPageSize(QPageSize.PageSizeId.A4),
            QPageLayout.Orientation.Landscape,
            QMarginsF(12, 12, 12, 14),
            QPageLayout.Unit.Millimeter,
        )
    )
    writer.setResolution(144)
    document = QTextDocument()
    document.setHtml(html)
    document.print_(writer)
    buffer.close()
    del app
    return bytes(data.data())
