"""The pages of the window, one on top, to be scrolled where everything is drawn large."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QScrollArea, QStackedWidget

from zombrel.ui.widgets.paint import Bar
from zombrel.ui.widgets.parts import scroller


class Pages(QStackedWidget):
    """As large as the page on top wants to be, not as the largest of all."""

    def __init__(self) -> None:
        super().__init__()
        self.currentChanged.connect(lambda _: self.updateGeometry())

    def sizeHint(self) -> QSize:
        page = self.currentWidget()
        return page.sizeHint() if page is not None else super().sizeHint()

    def minimumSizeHint(self) -> QSize:
        page = self.currentWidget()
        return page.minimumSizeHint() if page is not None else super().minimumSizeHint()


def area_of(pages: Pages) -> QScrollArea:
    """What scrolls the pages, sideways too."""
    area = scroller(pages, "Page")
    area.setHorizontalScrollBar(Bar(Qt.Orientation.Horizontal))
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
    return area
