"""Tool tips, always plain text: what somebody typed is shown, never obeyed."""

from __future__ import annotations

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QWidget

from zombrel.ui.widgets.paint import shown


def tip(on: QWidget | QAction, text: str) -> None:
    """Give ``on`` a tool tip.

    Qt takes a text with tags for a page to be laid out, pictures fetched and all; such a text is
    escaped, so that its tags are read as they stand.
    """
    text = shown(text)
    if "<" in text or "&" in text:
        plain = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        text = f"<span>{plain}</span>"
    on.setToolTip(text)
