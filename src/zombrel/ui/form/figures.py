"""The way to the figures of a source, from wherever it is named."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QWidget

from zombrel.job.model import by_id
from zombrel.job.source import Source
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import button


def open_source(session: Session, key: str, parent: QWidget) -> None:
    """Show the figures of a source to be changed."""
    from zombrel.ui.form.source_form import SourceDialog  # forms are not needed for a first look

    source = by_id(session.history.present.sources, key)
    if source is not None:
        SourceDialog(session, source, parent).open()


def figures_button(session: Session, source: Source, parent: QWidget) -> QWidget:
    """A button that opens the figures of ``source``."""
    act = partial(open_source, session, source.id, parent)
    return button("Figures", act, "plain", f"Figures of {source.name}")
