"""Sources from a bus description: read aside, kept on the shelf."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QWidget

from zombrel.job.problem import Problem
from zombrel.job.source import Source
from zombrel.store.prefs import user_sources
from zombrel.store.shelf_files import keep
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background

if TYPE_CHECKING:
    from zombrel.logs.bus import BusValue


class BusSources:
    """Reads bus descriptions; ``kept`` hears of the sources that came of one."""

    def __init__(
        self, session: Session, parent: QWidget, kept: Callable[[tuple[Source, ...]], object]
    ) -> None:
        self._session, self._parent, self._kept = session, parent, kept
        self.background = Background(parent)

    def ask(self) -> None:
        """Ask for a file and read it."""
        name, _ = QFileDialog.getOpenFileName(
            self._parent,
            "Bus description",
            "",
            "Bus description (*.dbc *.kcd *.sym);;All files (*)",
        )
        if name:
            self.read(name)

    def read(self, name: str) -> None:
        """Keep a source for every value of a bus description that means something here."""
        from zombrel.logs.bus import values

        self.background.start(
            f"Reading {Path(name).name}",
            partial(values, Path(name)),
            self._keep,
            lambda problem: self._session.said.emit("trouble", str(problem)),
        )

    def _keep(self, found: tuple[BusValue, ...]) -> None:
        from zombrel.logs.bus import as_source

        sources = tuple(s for s in map(as_source, found) if s is not None)
        try:
            for source in sources:
                keep(user_sources(), source)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._kept(sources)
        self._session.said.emit(
            "good" if sources else "watch",
            f"{len(sources)} of {len(found)} values are on the shelf as sources: "
            f"{', '.join(s.name for s in sources) or 'none has a unit known here'}.",
        )
