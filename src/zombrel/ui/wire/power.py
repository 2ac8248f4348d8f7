"""Power and ground: key-position matrix, what hangs on each feed and stud, drain, alternator."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from zombrel.actions import notes
from zombrel.actions.points import add_stud
from zombrel.actions.wires import add_feed, put_volts
from zombrel.findings.wiring.power_rules import days_reason
from zombrel.harness.power import FeedReading, StudReading
from zombrel.job.facts import POWER
from zombrel.job.feed_classes import FEEDS, serves
from zombrel.job.figures import figure
from zombrel.job.follow.query import Watch
from zombrel.job.model import by_id, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import FeedClass
from zombrel.job.wiring import Feed, KeyVolts
from zombrel.signals.ground import returns
from zombrel.signals.key_matrix import FeedVerdict, classify
from zombrel.signals.supply import all_ends
from zombrel.ui.session import Session
from zombrel.ui.survey.page import FactRow
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import (
    button,
    card,
    clear,
    clip,
    column,
    label,
    row,
    scroller,
    squeezable,
)
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.points import open_feed, open_stud

POSITIONS = (
    ("off", "off"),
    ("acc", "acc."),
    ("run", "run"),
    ("crank", "crank"),
    ("lights", "lights"),
    ("after", "10 min"),
)
NARROW = 1020
"""Below this width the sums stand under the matrix [px]."""
NEEDED = 4
"""Without lights and after, a point can be told apart all the same."""


NAME_WIDTH = 150
"""Room for the name of a feed [px]; the whole of it is in its tip."""


METER = "live when: meter it"
FEEDS_BY_WORD: dict[str, FeedClass] = {str(k): k for k in FEEDS}


class MatrixRow:
    """Volts of one feed; its class is said while they are typed."""

    def __init__(self, page: PowerPage, feed: Feed, grid: QGridLayout, line: int) -> None:
        self._page, self.feed = page, feed.id
        self._name = label("", "strong13")
        self.fields: list[FigureField] = []
        grid.addWidget(self._name, line, 0)
        for i in range(len(POSITIONS)):
            edit = FigureField(page.session, "voltage", "")
            edit.setFixedWidth(62)
            edit.setPlaceholderText("V")
            edit.textEdited.connect(lambda _: self.say())
            edit.editingFinished.connect(self.entered)
            self.fields.append(edit)
            grid.addWidget(edit, line, i + 1)
        self._mark = Mark("open", 16)
        self._said = label("", "quiet")
        self._take = button("", self.take, "primary")
        grid.addLayout(row(self._mark, self._said, 1, self._take), line, len(POSITIONS) + 1)
        self.warn = label("", "small", wrap=True)
        grid.addWidget(self.warn, line + 1, 0, 1, len(POSITIONS) + 2)

    def volts(self) -> KeyVolts | None:
        """What stands in the fields; None while something is missing or is no number."""
        numbers: list[float | None] = []
        for edit in self.fields:
            value = edit.take(quiet=not edit.isModified())
            if edit.refused:
                return None
            numbers.append(value)
        if any(n is None for n in numbers[:NEEDED]):
            return None
        return KeyVolts(**{k: n for (k, _), n in zip(POSITIONS, numbers, strict=True)})  # type: ignore[arg-type]

    def verdict(self) -> FeedVerdict | None:
        """The class of what stands in the fields."""
        volts = self.volts()
        try:
            return classify(volts) if volts is not None else None
        except Problem as problem:
            self.warn.setText(str(problem))
            self.warn.show()
            return None

    def say(self) -> None:
        """Class and warnings as they follow from the fields now."""
        feed = by_id(self._page.session.job.feeds, self.feed)
        if feed is None:
            return
        self.warn.hide()
        verdict = self.verdict()
        if verdict is None:
            known = f"noted: {feed.feed}" if not self._filled() else "four positions decide"
            self._said.setText(known)
            self._mark.show_mark("open")
            self._take.hide()
            return
        same = verdict.kind == feed.feed
        self._said.setText(verdict.kind if same else f"{verdict.kind}, noted: {feed.feed}")
        self._mark.show_mark("good" if same else "trouble")
        self._take.setText(f"It is {verdict.kind}")
        self._take.setAccessibleName(f"{feed.name}: it is {verdict.kind}")
        self._take.setVisible(not same)
        self.warn.setText("; ".join(verdict.warnings))
        self.warn.setVisible(bool(verdict.warnings))

    def _filled(self) -> bool:
        return any(e.text().strip() for e in self.fields)

    def entered(self) -> None:
        """Keep the volts once they make a whole row, or are all gone."""
        s = self._page.session
        feed, volts = by_id(s.job.feeds, self.feed), self.volts()
        if feed is None or volts == feed.volts or (volts is None and self._filled()):
            return
        try:
            edit = put_volts(feed, volts)
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        s.do(f"{feed.name}: key positions", edit)

    def take(self) -> None:
        """Note the class the volts give, as measured."""
        s, verdict = self._page.session, self.verdict()
        if verdict is None:
            return
        feed = by_id(s.job.feeds, self.feed)
        assert feed is not None  # its row is shown
        s.do(f"{self.feed}: {verdict.kind}", notes.classify(s.job, feed, verdict, s.now()))

    def show(self, feed: Feed) -> None:
        """The volts of the job, except where someone is typing."""
        self._name.ensurePolished()
        room = self._name.fontMetrics()
        self._name.setText(room.elidedText(feed.name, Qt.TextElideMode.ElideRight, NAME_WIDTH))
        tip(self._name, feed.name)
        for (_, words), edit in zip(POSITIONS, self.fields, strict=True):
            edit.setAccessibleName(f"{feed.name}: volts, {words}")
        if not any(e.hasFocus() for e in self.fields):
            for (key, _), edit in zip(POSITIONS, self.fields, strict=True):
                value = getattr(feed.volts, key) if feed.volts is not None else None
                edit.setText("" if value is None else f"{value:g}")
        self.say()


class PowerPage(Commanded, QWidget):
    """Matrix above; tree of feeds and studs and the sums below."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._rows: list[MatrixRow] = []
        self._shown = Watch()
        holder, inner = card()
        inner.addWidget(label("Volts in each key position", "head"))
        inner.addWidget(
            label(
                "Meter from the point to battery negative. The class follows as you type.", "quiet"
            )
        )
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(3)
        inner.addLayout(self._grid)
        self._none = label("No feeds yet: add the first slot or post.", "quiet")
        inner.addWidget(self._none)
        inner.addLayout(self._new_feed())
        self._feeds, self._studs = QVBoxLayout(), QVBoxLayout()
        tree, tree_in = card()
        tree_in.addWidget(label("What hangs where", "head"))
        tree_in.addLayout(self._feeds)
        ground, ground_in = card()
        add = button("Add a ground", self._add_stud)
        ground_in.addLayout(row(label("Grounds", "head"), 1, add))
        self._no_stud = label(
            "No ground point yet. Add the first; taking a vehicle plan offers one too.",
            "quiet",
            wrap=True,
        )
        ground_in.addWidget(self._no_stud)
        ground_in.addLayout(self._studs)
        sums, sums_in = card()
        self._days, self._idle = label("", "mid", wrap=True), label("", "mid", wrap=True)
        self._days_more, self._idle_more = label("", "quiet", True), label("", "quiet", True)
        sums_in.addLayout(
            row(
                label("Parked and idling", "head"),
                1,
                button("Why?", self._why_days, name="Why: days parked"),
            )
        )
        for widget in (self._days, self._days_more, self._idle, self._idle_more):
            sums_in.addWidget(widget)
        self._facts = [FactRow(session, f, 118) for f in POWER]
        for fact in self._facts:
            sums_in.addWidget(fact)
        inner.addStretch(1)
        left, right = column(holder, tree, 1, spacing=10), column(sums, ground, 1, spacing=10)
        self._both: QBoxLayout = row(left, right, spacing=10)
        self._both.setStretch(0, 5)
        self._both.setStretch(1, 3)
        inside = QWidget()
        inside.setLayout(self._both)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        self._area = scroller(inside, "Power and ground")
        body.addWidget(self._area)

    def _new_feed(self) -> QBoxLayout:
        """Name, kind and class of a feed to be added."""
        self._kind, self._live, self._new = Choice(), Choice(), QLineEdit()
        self._kind.setAccessibleName("Kind of new feed")
        self._kind.addItems(["slot of the fuse box", "box of our own", "battery post"])
        self._new.setAccessibleName("Name of a new feed")
        self._new.setPlaceholderText("F11")
        self._new.setFixedWidth(90)
        self._new.returnPressed.connect(self._add_feed)
        self._live.setAccessibleName("A new feed is live when")
        self._live.addItems([METER, *FEEDS])
        return row(self._new, self._kind, self._live, button("Add a feed", self._add_feed), 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        way = QBoxLayout.Direction
        self._both.setDirection(way.TopToBottom if self.width() < NARROW else way.LeftToRight)

    def focus_first(self) -> None:
        first = self._rows[0].fields[0] if self._rows else self._new
        # rows just made are shown with the next turn of the loop; a hidden field takes no focus
        QTimer.singleShot(0, first.setFocus)

    def show_item(self, item: str) -> None:
        """Go to a feed's row."""
        for line in self._rows:
            if line.feed == item:
                QTimer.singleShot(0, line.fields[0].setFocus)
                self._area.ensureWidgetVisible(line.fields[0])
                return
        self.focus_first()

    def commands(self) -> tuple[Command, ...]:
        """What is often done to feeds and grounds."""
        return (
            Command("Name a new feed", "F", self._name_feed),
            Command("Add a ground", "G", self._add_stud),
        )

    def _name_feed(self) -> None:
        self._new.setFocus(Qt.FocusReason.OtherFocusReason)

    def _add_feed(self) -> None:
        name = self._new.text().strip()
        if not name:
            self.session.said.emit("trouble", "Give the new feed a name first, as F11.")
            self._new.setFocus()
            return
        kind = ("slot", "box", "battery")[self._kind.currentIndex()]
        live = self._live.currentText()
        edit = add_feed(name, kind, FEEDS_BY_WORD.get(live))
        if self.session.do(f"Feed {name}", edit):
            self._new.clear()

    def _add_stud(self) -> None:
        """A new ground point, opened at once to be named."""
        s = self.session
        if s.do("A ground point", add_stud(s.history.present, "Ground")):
            open_stud(s, s.history.present.studs[-1].id, self.window())

    def _why_days(self) -> None:
        s = self.session
        show_why(days_reason(s.job, s.assessment.power), self.window(), s.units)

    # ---- showing

    def refresh(self) -> None:
        s = self.session
        ids = tuple(f.id for f in s.job.feeds)
        if ids != tuple(r.feed for r in self._rows):
            self._make_rows()
        for line, feed in zip(self._rows, s.job.feeds, strict=True):
            line.show(feed)
        self._none.setVisible(not ids)
        for fact in self._facts:
            fact.refresh()
        self._show_sums()
        if self._shown.due(s.present, s.theme):
            with self._shown.making(s.theme):
                self._show_tree()

    def _show_tree(self) -> None:
        power = self.session.assessment.power
        clear(self._feeds)
        clear(self._studs)
        for r in power.feeds:
            self._feed(r)
        self._no_stud.setVisible(not power.studs)
        for stud in power.studs:
            self._stud(stud)
        squeezable(self)

    def _make_rows(self) -> None:
        clear(self._grid)
        self._rows = []
        for i, (_, words) in enumerate(POSITIONS):
            self._grid.addWidget(label(words, "small"), 0, i + 1)
        for i, feed in enumerate(self.session.job.feeds):
            self._rows.append(MatrixRow(self, feed, self._grid, 1 + 2 * i))
        self._grid.setColumnStretch(len(POSITIONS) + 1, 1)

    def _needs(self) -> dict[str, tuple[str, str]]:
        """For each wire to a power pin: how it stands, and what it wants of the feed."""
        job = self.session.job
        out = {}
        for wire, e in zip(job.wires, all_ends(job).values(), strict=True):
            if wire.carries == "power" and e.supply is not None and e.device is not None:
                wants = " or ".join(e.supply.feeds) or "any feed"
                good = e.feed is not None and (
                    not e.supply.feeds or serves(e.feed.feed, e.supply.feeds)
                )
                tick = "✓" if good else "◆ wrong:"
                said = f"{tick} {wire.id} {e.device.name} {e.supply.pin}, wants {wants}"
                out[wire.id] = ("small" if good else "trouble", said)
        return out

    def _feed(self, r: FeedReading) -> None:
        s = self.session
        feed = by_id(s.job.feeds, r.id)
        assert feed is not None  # readings follow the feeds
        ids = (f"slot-{r.id}", f"load-{r.id}", f"class-{r.id}")
        found = [f for f in s.assessment.findings if f.id in ids]
        mark = found[0].level if found else "good" if r.wires else "open"
        share = s.job.house.fuse_load
        fuse = f"{r.fuse_a:g} A fuse" if r.fuse_a else "no fuse of its own"
        load = f"{r.total_a:.1f} A" + (f" of {r.fuse_a * share:.1f} A" if r.fuse_a else "")
        name = label(f"{clip(feed.name, 30)}, {feed.feed}", "strong13")
        change = partial(open_feed, s, r.id, self.window())
        edit = button("Change", change, "plain", f"Change {feed.name}")
        self._feeds.addLayout(row(Mark(mark, 16), name, 1, edit))
        self._feeds.addWidget(label(f"      {load}, {fuse}", "small", wrap=True))
        needs = self._needs()
        lines = [needs.get(w, ("small", w)) for w in r.wires]
        if feed.load_a:
            lines.append(("small", f"the car: {feed.load_a:g} A {feed.hangs}".rstrip()))
        if r.weakest:
            carries = f", carries {r.carries_a:.0f} A" if r.carries_a else ""
            lines.append(("small", f"thinnest behind it: {r.weakest}{carries}"))
        for role, line in lines or [("small", "nothing of ours")]:
            self._feeds.addWidget(label(f"      {line}", role, wrap=True))
        for f in found:
            self._feeds.addWidget(label(f"      {f.title}", f.level, wrap=True))
            mends = [m for m in f.mends if m.edit is not None]
            if mends:
                self._feeds.addLayout(
                    row(
                        button(
                            self.session.words(mends[0].label), partial(self._mend, f.id), "primary"
                        ),
                        1,
                    )
                )

    def _mend(self, key: str) -> None:
        found = next((f for f in self.session.assessment.findings if f.id == key), None)
        mend = next((m for m in found.mends if m.edit is not None), None) if found else None
        if mend is not None and mend.edit is not None:
            self.session.do(self.session.words(mend.label), mend.edit)

    def _ids_at(self, r: StudReading) -> set[str]:
        """Ids of what may be found at a stud: on it, or in a signal that stands on its wires."""
        own = {f"stack-{r.id}", f"shared-{r.id}"}
        if r.lift_v <= figure("clean stud"):
            return own
        job = self.session.job
        sources = index(job.sources)
        return own | {
            f"lift-{c.id}"
            for c in job.chains
            if not set(r.wires).isdisjoint(returns(job, c, sources[c.source]))
        }

    def _stud(self, r: StudReading) -> None:
        s = self.session
        stud = by_id(s.job.studs, r.id)
        assert stud is not None  # readings follow the studs
        bad = [f for f in s.assessment.findings if f.id in self._ids_at(r)]
        bad.sort(key=lambda f: f.level != "trouble")
        mark = bad[0].level if bad else "good" if r.wires else "open"
        ground_lift = f", lifted {r.lift_v:.2f} V" if r.lift_v >= 0.005 else ""
        rings = "1 ring" if r.rings == 1 else f"{r.rings} rings"
        change = partial(open_stud, s, r.id, self.window())
        self._studs.addLayout(
            row(
                Mark(mark, 16),
                label(clip(stud.name, 24), "strong13"),
                1,
                button("Change", change, "plain", f"Change {stud.name}"),
            )
        )
        said = f"{rings}, {r.amps:.1f} A{ground_lift}; {', '.join(r.wires) or 'nothing of ours'}"
        self._studs.addWidget(label(f"      {said}", "small", wrap=True))
        for f in bad:
            self._studs.addWidget(label(f"      {f.title}", f.level, wrap=True))

    def _show_sums(self) -> None:
        s, power = self.session, self.session.assessment.power
        house = s.job.house
        if power.days is None:
            self._days.setText("Battery not known")
        else:
            days = "for ever" if math.isinf(power.days) else f"{power.days:.0f} days"
            self._days.setText(f"Starts after {days}")
        self._days_more.setText(
            f"Ours draw {power.standby_a * 1000:.0f} mA asleep, the car "
            f"{s.job.vehicle.sleep_a * 1000:.0f} mA; {house.start_reserve * 100:.0f} % kept for "
            f"starting; the house wants {house.park_days:.0f} days."
        )
        if power.idle_margin_a is None:
            self._idle.setText("Alternator not known")
        else:
            left = power.idle_margin_a
            self._idle.setText(
                f"{left:.0f} A to spare at idle" if left >= 0 else f"{-left:.0f} A short at idle"
            )
        self._idle_more.setText(f"{power.idle_load_a:.1f} A of load at idle, ours and the car's.")
