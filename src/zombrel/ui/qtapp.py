"""The one Qt application of the process."""

from __future__ import annotations

import sys

from PySide6.QtWidgets import QApplication

from zombrel.ui.theme import font, load_fonts
from zombrel.ui.threads import Sweep


def application() -> QApplication:
    """The Qt application with the shipped fonts; made when first asked for."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        # Named as an option: to set it by a call would have Python learn all of QStyle's names.
        app = QApplication([*sys.argv[:1], "-style", "Fusion"])
        app.setApplicationName("zombrel")
        app.setApplicationDisplayName("Zombrel")
        Sweep(app)
    load_fonts()
    app.setFont(font(14))
    return app
