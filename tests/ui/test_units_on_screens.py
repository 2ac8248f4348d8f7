"""Every screen in both systems of units: nothing of the other one can be read on it."""

from __future__ import annotations

import re

import msgspec
from PySide6.QtWidgets import QComboBox, QWidget

from tests.ui.base import WindowTest
from zombrel.ui.wire.views import VIEWS
from zombrel.units import CUSTOMARY, METRIC

PLACES = (
    "start",
    "survey",
    "source:speed-pace",
    "source:temp-hub",
    "source:brake-pace",
    *(f"wire:{key}" for key in VIEWS),
    "wire:W1",
    "set",
    "prove",
    *(f"prove:sensor-{key}-hub" for key in ("temp", "oil", "fuel")),
    "prove:lift-speed-hub",
    "prove:roll-speed-pace",
    "prove:slack-pace",
    "prove:wrong/temp-hub",
    "prove:wrong/speed-hub",
    "road",
)
OTHER = {
    CUSTOMARY: r"(km/h|km\b|mm?\b|mm²|l\b|kg|N\b|N·m|°C|kPa|bar)(?![\w/])",
    METRIC: r"(mph|mi\b|miles?\b|ft\b|in\b(?! \d)|gal\b|lb\b|lbf|lb·ft|°F|psi|AWG)(?![\w/])",
}
OWN = re.compile(r"\([^()]*\)|per km|ISO [\d-]+|\d+ bar\b|to \d+ bar")
"""What stands on a device or in a standard, in its own unit."""


class Screens(WindowTest):
    def read(self) -> str:
        """All that can be read or heard of the window now, but for what is typed."""
        words = [self.texts()]
        for widget in self.window.findChildren(QWidget):
            if widget.isVisible():
                words += [widget.accessibleName(), widget.accessibleDescription()]
                words.append(widget.toolTip())
                if isinstance(widget, QComboBox):
                    words += [widget.itemText(i) for i in range(widget.count())]
        return "\n".join(words)

    def test_nothing_of_the_other_system_on_any_screen(self) -> None:
        for units in (CUSTOMARY, METRIC):
            prefs = msgspec.structs.replace(self.session.prefs, units=units)
            self.session.set_prefs(prefs)
            other = re.compile(rf"\d[\d.,\u00a0]* ?{OTHER[units]}")
            for place in PLACES:
                self.go(place)
                self.window.hush()
                read = re.sub(r"\d+ h \d+ in ", "", self.read())  # “2 h 56 in all” is a time
                for device in self.job.devices:
                    for caution in device.sheet.cautions:  # in the maker's own words
                        read = read.replace(caution, "")
                found = {
                    m[0] for line in OWN.sub("", read).split("\n") for m in other.finditer(line)
                }
                with self.subTest(f"{place}, {units.distance}"):
                    self.assertEqual(found, set())
