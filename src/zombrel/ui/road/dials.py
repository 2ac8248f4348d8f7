"""Every setting of a pace unit at a glance: what the driver would feel at each."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from zombrel.behaviour.reports import Spot
from zombrel.ui.session import Session
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import clear, label, row
from zombrel.units import KMH, number, speed_unit, speed_value


class DialsMap(QWidget):
    """Sensitivity down, take-up across; each cell says how far it sags and how far it swings."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._title = label("", "head", wrap=True)
        self._words = label("", "quiet", wrap=True)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(10)
        body.addWidget(self._title)
        body.addWidget(self._words)
        body.addLayout(self._grid)
        body.addStretch(1)

    def say(self, why: str) -> None:
        """Why there is no map."""
        clear(self._grid)
        self._title.setText("What every setting would do cannot be told yet")
        self._words.setText(self._session.words(why))

    def show_spots(self, spots: Sequence[Spot], grade: float) -> None:
        """Show a map; ``grade`` [rise over run]."""
        words = self._session.words
        where = f"on {number(grade * 100)} % up" if grade else "on the level"
        self._title.setText(words(f"Every setting, held at 90 km/h {where}"))
        self._words.setText(
            words(
                "How far it sags as it takes hold, how far it swings after, in km/h: by the loop, "
                "its motor and friction assumed. Sensitivity goes down, take-up across. Change one "
                "dial at a time."
            ).replace("in km/h", f"in {speed_unit(self._session.units)}")
        )
        clear(self._grid)
        rows = list(dict.fromkeys(s.gain for s in spots))
        columns = list(dict.fromkeys(s.take_up for s in spots))
        for j, take in enumerate(columns):
            head = label(f"take-up {take}" if take else "", "small")
            head.setAlignment(Qt.AlignmentFlag.AlignCenter)
            self._grid.addWidget(head, 0, j + 1)
            self._grid.setColumnStretch(j + 1, 1)
        for i, gain in enumerate(rows):
            self._grid.addWidget(label(gain, "strong"), i + 1, 0)
        for spot in spots:
            self._grid.addWidget(
                self._cell(spot), rows.index(spot.gain) + 1, columns.index(spot.take_up) + 1
            )

    def _cell(self, spot: Spot) -> Panel:
        cell = Panel("selected" if spot.stands else "well")
        sags, swings = self._figure(spot.felt.droop_kmh), self._figure(spot.felt.surge_kmh)
        mark = Mark("good" if spot.calm else "watch", 16)
        words = ["stands"] if spot.stands else []
        words += [] if spot.calm else ["felt"]
        text = QVBoxLayout()
        text.setSpacing(2)
        text.addLayout(row(mark, label(f"sags {sags}", "strong"), 1, spacing=4))
        text.addWidget(label(f"swings {swings}", ""))
        text.addWidget(label(", ".join(words) or " ", "small"))
        text.setContentsMargins(8, 7, 6, 7)
        cell.setLayout(text)
        cell.setAccessibleName(
            f"Sensitivity {spot.gain}, take-up {spot.take_up}: sags {sags}, swings {swings}"
            + "".join(f", {w}" for w in words)
        )
        return cell

    def _figure(self, kmh: float) -> str:
        return number(speed_value(kmh * KMH, self._session.units), 1)
