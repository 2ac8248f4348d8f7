"""Jobs that nobody prepared: from an empty window to the printed sheet, by mouse and keys alone."""

from __future__ import annotations

import re
from pathlib import Path
from typing import NamedTuple
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QDialog, QFileDialog, QLineEdit, QWidget

from tests.ui.base import WindowTest
from zombrel.diagnose.steps import standing, steps

DEVICE = "What is fitted: type a device or its maker"
WISHES = {"IDLE": "1350", "SHIFT": "6800", "LAUNCH": "4000"}
"""What the owner wants of a control [rpm]."""
MOST = 150
"""Actions from an empty window to the sheet of a cluster job."""


class Own(NamedTuple):
    """One job: what is typed and chosen."""

    devices: tuple[str, ...]
    vehicle: str
    plan: str
    facts: tuple[tuple[str, str], ...]
    choices: tuple[tuple[str, str], ...]
    feeds: tuple[tuple[str, str], ...]
    """(name of a slot, when it is live)"""
    holds: dict[str, float]
    """Field of the vehicle -> what must have come of it, SI."""
    more: tuple[tuple[str, str], ...] = ()
    """Choices that stand behind “more”."""
    figures: tuple[tuple[str, str], ...] = ()
    """Of a source, as it is on this vehicle."""


JOBS = {
    "petrol pickup with a gauge cluster": Own(
        ("gauge cl",),
        "Fennel pickup V8",
        "Pickup, engine in front",
        (
            ("Tyres", "P265/70R17"),
            ("Cylinders", "8"),
            ("Idle", "650 rpm"),
            ("Redline", "5800"),
            ("Top speed", "105 mph"),
        ),
        (("Ignition", "coil per plug"), ("Airbag in the wheel", "yes")),
        (("F3", "run"), ("F9", "constant")),
        {"cylinders": 8, "idle_rps": 650 / 60, "top_mps": 46.939},
    ),
    "diesel van with a high idle and a boost gauge": Own(
        ("high-idle", "boost g"),
        "Brook van, 2.2 diesel",
        "Van or camper, engine in front",
        (("Tyres", "215/65 R16"), ("Top speed", "155 km/h")),
        (
            ("Ignition", "diesel, none"),
            ("Gearbox", "automatic"),
            ("Throttle", "by wire"),
            ("Tail lamps", "bulbs"),
            ("Airbag in the wheel", "no"),
        ),
        (("F2", "run"), ("F5", "constant"), ("F7", "accessory"), ("F8", "illumination")),
        {"top_mps": 43.0556},
    ),
    "coupe with a shift lamp and a spark box": Own(
        ("shift l", "spark b"),
        "Teal coupe, 2.7 flat six",
        "Coupe, engine behind",
        (("Cylinders", "6"), ("Idle", "900"), ("Redline", "7.2k")),
        (("Ignition", "one coil, distributor"),),
        (("F4", "run-and-crank"), ("F6", "run"), ("F1", "constant")),
        {"cylinders": 6, "redline_rps": 7200 / 60},
        (("Where does the engine speed signal come from?", "Crank toothed wheel"),),
        (("teeth", "3"), ("missing teeth", "0"), ("peak volts per hertz", "0,05 V/Hz")),
    ),
    "truck of 24 volts with a tachometer": Own(
        ("tachom",),
        "Slate truck, 11 l",
        "Boat or plant, no body",
        (("Cylinders", "6"), ("Idle", "550 rpm"), ("Redline", "2300")),
        (("Ignition", "diesel, none"), ("System", "24 V")),
        (("F2", "run"),),
        {"system_v": 24, "redline_rps": 2300 / 60},
    ),
}


class Hand(WindowTest):
    """Counts what a person does: a press, a choice, a text, an Enter."""

    demo = False

    def setUp(self) -> None:
        super().setUp()
        self.count = 0
        self.go("start")

    def hit(self, name: str, inside: QWidget | None = None) -> None:
        self.press(name, inside)
        self.count += 1

    def write(self, name: str, text: str, inside: QWidget) -> None:
        self.type(self.named(QLineEdit, name, inside), text)
        self.count += 2

    def pick(self, name: str, words: str, inside: QWidget) -> None:
        box = self.named(QComboBox, name, inside)
        self.assertGreaterEqual(box.findText(words), 0, f"{words} in {name}")
        box.setCurrentText(words)
        box.activated.emit(box.currentIndex())
        self.settle()
        self.count += 1

    def top(self) -> QDialog:
        return self.dialog()

    def has(self, name: str, inside: QWidget) -> bool:
        return any(
            b.isVisible() and b.accessibleName().startswith(name)
            for b in inside.findChildren(QAbstractButton)
        )

    # ---- the stages of a job

    def begin(self, own: Own) -> None:
        page = self.window.page("start")
        for device in own.devices:
            self.write(DEVICE, device, page)
        self.write("Which vehicle: name or model", own.vehicle, page)
        for name, text in own.facts:
            self.write(name, text, page)
        for name, words in own.choices:
            self.pick(name, words, page)
        self.hit("Take the best source for every input", page)
        self.several(own)

    def several(self, own: Own) -> None:
        """What the dialog of sources offers, then what stands behind “more”."""
        for _ in range(8):
            if not self.has("Take the usual", self.top()):
                break
            self.hit("Take the usual", self.top())
        self.hit("Close", self.top())
        page = self.window.page("start")
        if own.more:
            self.hit(next(b for b in self.labels(page) if "more that may" in b), page)
        for name, words in own.more:
            self.pick(name, words, page)
        for name, text in own.figures:
            self.write(name, text, self.go("survey"))

    @staticmethod
    def labels(page: QWidget) -> list[str]:
        return [b.text() for b in page.findChildren(QAbstractButton) if b.isVisible()]

    def wire(self, own: Own) -> None:
        page = self.go("wire:plan")
        self.hit(own.plan, page)
        if self.has("Put each where it usually is", page):
            self.hit("Put each where it usually is", page)
        page = self.go("wire:power")
        self.count += 2  # the two views
        for name, live in own.feeds:
            self.pick("A new feed is live when", live, page)
            self.write("Name of a new feed", name, page)
            self.hit(f"Change Slot {name}", page)
            self.write("Fuse fitted, A", "10 A", self.top())
        page = self.go("wire:list")
        self.hit("Draw the missing wires", page.parentWidget() or page)
        self.assertNotIn("not drawn", self.texts(self.top()))
        self.hit("Close", self.top())
        self.count += 1

    def prove(self) -> None:
        """Every step with what the page says to expect, typed and entered."""
        first = next(s for s in steps(self.job) if standing(self.job, s) != "passed")
        page = self.go(f"prove:{first.id}")
        self.count += 1
        for _ in range(80):
            todo = [s for s in steps(self.job) if standing(self.job, s) != "passed"]
            if not todo:
                return
            self.assertIn(todo[0].ask, self.texts(page))
            fields = [f for f in page._fields if not f.field.yes]
            ticked = not fields or not (todo[0].gate or any(f.field.given for f in fields))
            if ticked:
                self.key(Qt.Key.Key_Space, page)
                self.count += 1
                continue
            for i, seen in enumerate(fields):
                words = seen.expect.text().replace("−", "-")
                figures = [float(x) for x in re.findall(r"-?\d+(?:\.\d+)?", words)]
                if not figures or seen.field.by == "sum":  # as it was before: ten degrees
                    figures = [10.0]
                self.type(seen.edit, f"{sum(figures) / len(figures):.2f}{seen.edit._unit}")
                self.count += 2
                if i + 1 < len(fields):
                    self.assertIs(self.window.focusWidget(), fields[i + 1].edit)
        self.fail(f"not proven: {[s.short for s in todo]}")

    def unblock(self) -> None:
        """Go where what blocks a step is mended, wish for it, and set what is offered."""
        while blocked := [s for s in steps(self.job) if s.blocked]:
            page = self.go(f"prove:{blocked[0].id}")
            self.hit("Go and mend it", page)
            page = self.window.page(self.window._stage)
            wish = WISHES.get(blocked[0].go.rpartition("/")[2])
            if wish:
                fields = [f for f in page.findChildren(QLineEdit) if f.isVisible()]
                field = next(f for f in fields if "wanted, in rpm" in f.accessibleName())
                self.type(field, wish)
                self.count += 2
            offered = [b for b in self.offers(page) if ": set " in b]
            self.assertTrue(offered, (blocked[0].go, self.offers(page), self.texts(page)))
            self.hit(offered[0], page)
            left = [s.id for s in steps(self.job) if s.blocked]
            self.assertNotIn(blocked[0].id, left)

    def offers(self, page: QWidget) -> list[str]:
        """The names of the buttons that can be seen."""
        return [b.accessibleName() for b in page.findChildren(QAbstractButton) if b.isVisible()]

    def mend(self) -> None:
        """Take the first mend of the worst finding for as long as there is one."""
        for _ in range(40):
            before = self.session.history
            self.window.mend_first()
            self.settle()
            if self.session.history is before:
                return
            self.count += 1


class Jobs(Hand):
    def test_from_nothing_to_the_printed_sheet(self) -> None:
        for name, own in JOBS.items():
            with self.subTest(name):
                self.session.start(type(self.session.history.present)())
                self.go("start")
                self.count = 0
                self.begin(own)
                self.wire(own)
                self.mend()
                for field, value in own.holds.items():
                    held = getattr(self.job.vehicle, field)
                    self.assertAlmostEqual(held, value, delta=abs(value) * 1e-4)
                self.assertEqual(
                    [f.title for f in self.findings().values() if f.level == "trouble"], []
                )
                self.unblock()
                self.prove()
                page = self.go("handover")
                self.count += 2  # the stage, and the button that writes it
                file = Path(self.home, "sheet.pdf")
                page.save_pdf(file)
                self.wait(file.exists)
                self.assertGreater(file.stat().st_size, 10_000)
                file.unlink()
                print(f"{name}: {self.count} actions")
                self.assertLessEqual(self.count, MOST)

    def test_by_keyboard_alone(self) -> None:
        """Tab, Enter, arrows and the keys that are written on things, to the sheet; no mouse."""
        self.keys("tachom", Qt.Key.Key_Return)
        self.tab_to("Which vehicle")
        self.keys("Slate saloon", Qt.Key.Key_Tab)
        self.assertEqual(self.job.vehicle.name, "Slate saloon")
        self.choose("Where does the engine speed signal", "Common feed of the coils")
        self.assertEqual(len(self.job.chains), 1)
        for name, text in (("Cylinders", "6"), ("Idle", "800 rpm"), ("Redline", "6200")):
            self.tab_to(name)
            self.keys(text, Qt.Key.Key_Return)
        self.choose("Ignition", "coil per plug")
        self.key(Qt.Key.Key_3, ctrl=True)
        self.alt(Qt.Key.Key_2)
        self.tab_to("Car, engine in front")
        self.key(Qt.Key.Key_Space)
        self.alt(Qt.Key.Key_3)
        self.choose("A new feed is live when", "run")
        self.tab_to("Name of a new feed")
        self.keys("F3", Qt.Key.Key_Return)
        self.alt(Qt.Key.Key_1)
        self.tab_to("Draw the missing wires")
        self.key(Qt.Key.Key_Space)
        self.key(Qt.Key.Key_Escape, self.top())
        for _ in range(12):
            before = self.session.history
            self.key(Qt.Key.Key_M, ctrl=True)
            if self.session.history is before:
                break
        self.assertEqual([f for f in self.findings().values() if f.level == "trouble"], [])
        self.key(Qt.Key.Key_5, ctrl=True)
        while self.window.page("prove")._now != "idle-tach-t1":
            self.key(Qt.Key.Key_Space)
        self.keys("800", Qt.Key.Key_Return)
        self.keys("805", Qt.Key.Key_Return)
        self.assertEqual({standing(self.job, s) for s in steps(self.job)}, {"passed"}, self.said())
        self.key(Qt.Key.Key_7, ctrl=True)
        file = Path(self.home, "sheet.pdf")
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(file), "")):
            self.tab_to("Save as PDF")
            self.key(Qt.Key.Key_Space)
        self.wait(file.exists)
        self.assertGreater(file.stat().st_size, 10_000)
        print(f"a tachometer by keyboard alone: {self.count} keys")
        self.key(Qt.Key.Key_Home, ctrl=True)
        self.assertEqual(self.window._stage, "start")

    def keys(self, text: str, last: Qt.Key) -> None:
        for sign in text:
            QTest.keyClicks(self.window.focusWidget(), sign)
        self.count += len(text)
        self.key(last)

    def key(self, key: Qt.Key, to: QWidget | None = None, ctrl: bool = False) -> None:
        super().key(key, to, ctrl)
        self.count += 1

    def alt(self, key: Qt.Key) -> None:
        QTest.keyClick(self.window.focusWidget(), key, Qt.KeyboardModifier.AltModifier)
        self.settle()
        self.count += 1

    def tab_to(self, name: str) -> None:
        """Tab until the focus is on what is called ``name``; every stop has a name."""
        stops = []
        for _ in range(120):
            here = self.window.focusWidget()
            words = here.accessibleName() or getattr(here, "text", str)()
            stops.append(words)
            self.assertTrue(words, f"a nameless stop, {here}, after {stops[-3:]}")
            if words.startswith(name):
                return
            self.key(Qt.Key.Key_Tab)
        self.fail(f"Tab does not lead to {name}: {stops}")

    def choose(self, name: str, words: str) -> None:
        self.tab_to(name)
        box = self.window.focusWidget()
        assert isinstance(box, QComboBox)
        self.count += 2 + abs(box.findText(words) - box.currentIndex())
        self.arrow(box, words)


class Points(Hand):
    """Feeds and grounds are made, changed and taken out in the window."""

    def test_a_ground_is_made_named_and_held_while_wires_end_there(self) -> None:
        page = self.go("wire:power")
        self.assertIn("No ground point yet", self.texts(page))
        self.hit("Add a ground", page)
        form = self.top()
        self.type(self.named(QLineEdit, "To battery negative, Ω", form), "10m", enter=False)
        self.hit("Keep", form)
        self.assertIn("10 mΩ or 10 MΩ: which?", self.texts(form))
        self.type(self.named(QLineEdit, "To battery negative, Ω", form), "10 mohm", enter=False)
        self.write("Name", "Left wing bolt", form)
        self.assertFalse(form.isVisible())  # Enter keeps
        stud = self.job.studs[0]
        self.assertEqual((stud.name, stud.ohm), ("Left wing bolt", 0.01))
        self.go("start")
        self.write(DEVICE, "tachom", self.window.page("start"))
        page = self.go("wire:list")
        self.hit("Draw the missing wires", page.parentWidget() or page)
        said = self.texts(self.top())
        self.assertIn("Tachometer GROUND to Left wing bolt", said)
        self.assertIn("guessed: measure it", said)
        self.assertIn("The job has no feed.", said)
        self.hit("Add a feed that is", self.top())
        page = self.go("wire:power")
        self.hit("Change Left wing bolt", page)
        self.hit("Take Left wing bolt out", self.top())
        self.assertIn("move these ends elsewhere first", self.texts(self.top()))
        self.hit("Leave it", self.top())
        self.assertEqual(len(self.job.studs), 1)

    def test_a_slot_is_found_by_its_fuse(self) -> None:
        page = self.go("wire:power")
        self.pick("A new feed is live when", "run", page)
        self.write("Name of a new feed", "F11", page)
        self.hit("Change Slot F11", page)
        form = self.top()
        for name, text in (
            ("Fuse fitted, A", "7,5 A"),
            ("Wire behind, mm²", "AWG 16"),
            ("Goes dead with it", "wipers"),
        ):
            self.type(self.named(QLineEdit, name, form), text, enter=False)
        self.hit("Keep", form)
        feed = self.job.feeds[0]
        self.assertEqual((feed.feed, feed.fuse_a, feed.hangs), ("run", 7.5, "wipers"))
        self.assertAlmostEqual(feed.wire_mm2 or 0, 1.309, delta=0.001)
        self.hit("Change Slot F11", page)
        self.hit("Take Slot F11 out", self.top())
        self.assertEqual(self.job.feeds, ())
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(len(self.job.feeds), 1)
