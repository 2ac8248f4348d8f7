"""Source: the board of signal chains."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from zombrel.actions import parts
from zombrel.findings.explain import reach_words
from zombrel.job.model import Chain, Device, by_id
from zombrel.job.problem import Problem
from zombrel.job.sheet import InputSheet
from zombrel.signals.begin import best_chain
from zombrel.signals.chain_reading import ChainReading
from zombrel.signals.over_range import strip
from zombrel.signals.reduce import input_of
from zombrel.ui.session import Session
from zombrel.ui.source.board import HopTile
from zombrel.ui.source.detail import HopDetail, best_words
from zombrel.ui.source.strip import range_picture
from zombrel.ui.source.words import Verdict, kind_of, tiles, verdict
from zombrel.ui.theme import dress
from zombrel.ui.widgets.commands import Command, Commanded, do
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.offer import offer_best
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import (
    after_frame,
    button,
    clear,
    column,
    label,
    row,
    scroller,
    when_loaded,
)
from zombrel.ui.widgets.tip import tip
from zombrel.units.measure import unit, value_in, written

if TYPE_CHECKING:
    from zombrel.ui.widgets.plot import Plot

HOPS = ("source", "way", "run", "input")
LONG = 7
"""A reading of so many signs is written smaller."""
FIRST = 5
"""Rows made before the first paint: the chosen one fills a screen."""
SETTLED_MS = 40
"""By then a row has its height [ms]."""
STRIP_PX = 78
"""Height of the strip over the range."""


class ChainRow(Panel):
    """One chain: what it is, its hops, what the device reads."""

    picked = Signal(str, str)
    """(chain, hop)"""

    def __init__(self, session: Session, chain: str) -> None:
        super().__init__("card")
        self._session, self.chain = session, chain
        self._title, self._for = label("", "head"), label("", "small", wrap=True)
        self._mark, self._words = Mark("open", 17), label("", "open")
        self._words.setWordWrap(True)
        self._small = Mark("open", 17)
        self._verdict = QWidget()
        mark_row = row(self._mark, self._words, spacing=7)
        mark_row.setStretch(1, 1)
        self._verdict.setLayout(mark_row)
        names = row(self._small, column(self._title, self._for, spacing=1), spacing=8)
        names.setStretch(1, 1)
        left = QWidget()
        left.setFixedWidth(146)
        left.setLayout(column(names, self._verdict, 1, spacing=3))
        self.tiles = {key: HopTile(session, key) for key in HOPS}
        middle = QHBoxLayout()
        middle.setSpacing(8)
        for key, tile in self.tiles.items():
            tile.clicked.connect(lambda _=False, k=key: self.picked.emit(self.chain, k))
            middle.addWidget(tile, 1)
        self._big, self._unit, self._truth = (
            label("", "big"),
            label("", "quiet"),
            label("", "quiet"),
        )
        right = QWidget()
        right.setFixedWidth(104)
        for part in (self._big, self._unit, self._truth):
            part.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._truth.setWordWrap(True)
        self._brief = label("", "open")
        self._brief.setAlignment(Qt.AlignmentFlag.AlignRight)
        right.setLayout(column(self._big, self._unit, self._brief, self._truth, 1, spacing=0))
        top = QHBoxLayout()
        top.setSpacing(10)
        top.addWidget(left)
        top.addLayout(middle, 1)
        top.addWidget(right)
        self._body = body = QVBoxLayout(self)
        body.setSpacing(8)
        body.addLayout(top)
        self.below = QVBoxLayout()
        self.below.setSpacing(6)
        body.addLayout(self.below)

    def refresh(self, chain: Chain, r: ChainReading, chosen: bool, hop: str) -> None:
        s = self._session
        device, _ = input_of(s.job, chain)
        said = verdict(s.job, chain, r, s.assessment, s.units)
        self._title.setText(chain.title)
        where = f"{device.name}, {chain.pin}"
        self._for.setText(f"for {where}" if chosen else where)
        self._mark.show_mark(said.mark)
        self._words.setText(said.words)
        self._words.set_role(said.mark)
        self._small.show_mark(said.mark)
        self._brief.setText(said.words)
        self._brief.set_role(said.mark)
        self._truth.setText(said.truth)
        self._open(chosen, said)
        for tile in tiles(s.job, chain, r, s.units):
            self.tiles[tile.key].show_tile(tile, chosen and hop == tile.key, chain.title)
        self.set_kind("selected" if chosen else "card")
        self.setAccessibleName(
            f"{chain.title} for {device.name}: {said.words}, shows {said.big} {said.unit}, "
            f"{said.truth}"
        )

    def _open(self, chosen: bool, said: Verdict) -> None:
        """The chosen signal in full, the others in two lines each."""
        brief: tuple[QWidget, ...] = (self._small, self._brief)
        full: tuple[QWidget, ...] = (self._verdict, self._truth)
        for part in brief:
            part.setVisible(not chosen)
        for part in full:
            part.setVisible(chosen)
        size = "big" if chosen and len(said.big) < LONG else "mid"
        self._big.set_role(size + ("bad" if said.bad else ""))
        self._big.setText(said.big if chosen else f"{said.big} {said.unit}".strip())
        self._unit.setText(said.unit)
        self._unit.setVisible(chosen and bool(said.unit))
        for tile in self.tiles.values():
            tile.set_brief(not chosen)
        edge = 9 if chosen else 5
        self._body.setContentsMargins(14, edge, 14, edge)


class SourceStage(Commanded, QWidget):
    """The board; arrow keys walk it, Enter opens what can be changed."""

    title = "Source"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._rows: dict[str, ChainRow] = {}
        self._order: tuple[str, ...] = ()
        self.waiting: list[str] = []
        """Chains whose rows are still to be made."""
        self._sought = ""
        """A chain to be brought into view once it has its size."""
        self._chosen, self._hop = "", "source"
        self._strip: Plot | None = None
        self._loading = False
        """Made after the first frame: what draws it takes its time to load."""
        self._strip_words = label("", "quiet", wrap=True)
        self._best = label("", "strong13", wrap=True)
        self._detail = HopDetail(session)
        self._extra = QWidget()
        beside = QWidget()
        beside.setFixedWidth(250)
        beside.setLayout(column(self._strip_words, self._best, 1, spacing=3))
        self._extra_strip = QWidget()
        self._strip_row = row(beside, spacing=14)
        self._strip_row.insertStretch(0, 1)  # the place of the strip, until it has been loaded
        beside.setMinimumHeight(STRIP_PX)
        self._extra_strip.setLayout(self._strip_row)
        inner = column(self._extra_strip, self._detail.body, spacing=6)
        self._extra.setLayout(inner)
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 8)
        self._list.setSpacing(6)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(6)
        self._add = button("Add a signal ▾", self._ask_input, name="Add a signal")
        self._free = label("", "quiet")
        best = "Take the best source for every input"
        self._all = button(best, lambda: offer_best(session, self.window()))
        body.addLayout(row(self._free, 1, self._all, self._add))
        self._area = scroller(inside, "Signal chains")
        body.addWidget(self._area)
        self.setAccessibleName("Board of signal chains")

    @property
    def subtitle(self) -> str:
        """One line under the title."""
        return "from the car to what the device makes of it"

    # ---- selection

    def select(self, chain: str, hop: str = "") -> None:
        """Choose a chain and perhaps a hop."""
        self._chosen = chain
        self._hop = hop or self._hop
        self._finish()
        self.refresh()
        if chain in self._rows:
            self._rows[chain].tiles[self._hop].setFocus(Qt.FocusReason.OtherFocusReason)
            self._sought = chain
            self.update()

    def _bring(self, chain: str) -> None:
        """Scroll so that the whole chosen row is seen."""
        chain_row = self._rows.get(chain)
        if chain_row is not None:
            spare = self._area.viewport().height() - chain_row.height()
            margin = min(8, max(0, spare // 2))
            self._area.ensureVisible(0, chain_row.geometry().bottom(), 0, margin)
            self._area.ensureVisible(0, chain_row.geometry().top(), 0, margin)

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        if self._chosen in self._rows:
            self._rows[self._chosen].tiles[self._hop].setFocus(Qt.FocusReason.OtherFocusReason)

    def show_item(self, item: str) -> None:
        """Called when a finding or the search leads here."""
        if any(c.id == item for c in self._session.job.chains):
            self.select(item, "source")

    def commands(self) -> tuple[Command, ...]:
        """What keys do on the board."""
        more = [Command("Add a signal", "A", self._ask_input)] if self.free_inputs() else []
        if self._chosen not in self._order:
            return tuple(more)
        return (
            *more,
            Command("Next signal", "Down", partial(self._step, 1)),
            Command("Signal before", "Up", partial(self._step, -1)),
            Command("Next hop of the signal", "Right", partial(self._hop_on, 1)),
            Command("Hop before", "Left", partial(self._hop_on, -1)),
            Command("Why the hop is so", "W", self._detail.why),
        )

    def _step(self, by: int) -> None:
        at = self._order.index(self._chosen) + by
        self.select(self._order[min(max(at, 0), len(self._order) - 1)])

    def _hop_on(self, by: int) -> None:
        at = HOPS.index(self._hop) + by
        self.select(self._chosen, HOPS[min(max(at, 0), len(HOPS) - 1)])

    def _walk(self, event: QKeyEvent) -> bool:
        return do(self.commands(), event)

    # ---- showing

    def refresh(self) -> None:
        """Show the chains as assessed."""
        s = self._session
        ids = tuple(c.id for c in s.job.chains)
        if ids != self._order:
            self._rebuild(ids)
        free = len(self.free_inputs())
        inputs = "1 input has" if free == 1 else f"{free} inputs have"
        signals = "1 signal" if len(ids) == 1 else f"{len(ids)} signals"
        said = f"{signals}; {inputs} none yet" if free else f"{signals}; every input has one"
        self._free.setText(said if s.job.devices else "")
        self._all.setVisible(bool(free))
        self._add.setVisible(bool(s.job.devices))
        if self._chosen not in ids:
            self._chosen = ids[0] if ids else ""
        if self._chosen in self.waiting:
            self._finish()
            return
        for chain, r in zip(s.job.chains, s.assessment.chains, strict=True):
            if chain.id in self._rows:
                self._rows[chain.id].refresh(chain, r, chain.id == self._chosen, self._hop)
        if self._chosen:
            s.watch(self._current()[0].quantity)
            self._place_extra()
            self._show_strip()
            chain, r = self._current()
            self._detail.show(chain, r, self._hop)

    def _rebuild(self, ids: tuple[str, ...]) -> None:
        self._extra.setParent(None)
        clear(self._list)
        self._rows = {}
        self._order = ids
        self.waiting = list(ids[FIRST:])
        for key in ids[:FIRST]:
            self._add_row(key)
        self.update()
        if not ids:
            self._list.addWidget(
                label(
                    "No signals yet. A signal leads from where the car has it to an input of a "
                    "device.",
                    "quiet",
                    wrap=True,
                )
            )
            go = partial(self._session.goto.emit, "start")
            self._list.addLayout(row(button("Say what is fitted", go, "primary"), 1))
        self._list.addStretch(1)

    def free_inputs(self) -> list[tuple[Device, InputSheet]]:
        """Inputs of the job's devices that nothing leads to yet."""
        job = self._session.job
        joined = {(c.device, c.pin) for c in job.chains}
        return [
            (device, sheet)
            for device in job.devices
            for sheet in device.sheet.inputs
            if (device.id, sheet.pin) not in joined
        ]

    def _ask_input(self) -> None:
        menu = QMenu(self)
        dress(menu)
        for device, sheet in self.free_inputs():
            best = best_chain(self._session.job, device, sheet)
            source = by_id(self._session.job.sources, best.source) if best is not None else None
            said = f"from {source.name}" if source is not None else "no source noted yet"
            push_button = menu.addAction(f"{device.name} {sheet.pin}, {sheet.quantity}: {said}")
            push_button.triggered.connect(lambda _=False, d=device, i=sheet: self.add_signal(d, i))
        if menu.isEmpty():
            menu.addAction("Every input of every device has its signal").setEnabled(False)
        menu.popup(self._add.mapToGlobal(self._add.rect().bottomLeft()))

    def add_signal(self, device: Device, sheet: InputSheet) -> None:
        """Begin a chain for an input from the best source the car offers."""
        s = self._session
        try:
            add = parts.begin_signal(s.job, device, sheet)
        except Problem as problem:
            s.said.emit("watch", str(problem))
            return
        if s.do(f"{device.name} {sheet.pin} from the best source", add):
            self.select(s.job.chains[-1].id, "source")

    def _add_row(self, key: str) -> None:
        chain_row = ChainRow(self._session, key)
        chain_row.picked.connect(self.select)
        for tile in chain_row.tiles.values():
            tile.walk = self._walk
        self._list.insertWidget(len(self._rows), chain_row)
        self._rows[key] = chain_row

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.waiting:
            after_frame(self, self._finish)
        if not self._loading:
            self._loading = True
            after_frame(self, self._load_strip)
        if self._sought:  # what is painted has been laid out
            for ms in (0, SETTLED_MS):  # words that wrap anew find their height a little later
                QTimer.singleShot(ms, self, partial(self._bring, self._sought))
            self._sought = ""

    def _load_strip(self) -> None:
        when_loaded(self, "zombrel.ui.widgets.axis", self._make_strip)

    def _make_strip(self) -> None:
        from zombrel.ui.widgets.plot import Plot

        self._strip = Plot(self._session, bare=True)
        self._strip.setFixedHeight(STRIP_PX)
        self._strip_row.takeAt(0)
        self._strip_row.insertWidget(0, self._strip, 1)
        if self._chosen:
            self._show_strip()

    def _finish(self) -> None:
        """Make the rows that nobody could see yet."""
        if not self.waiting:
            return
        waiting, self.waiting = self.waiting, []
        for key in waiting:
            self._add_row(key)
        self.refresh()

    def _place_extra(self) -> None:
        below = self._rows[self._chosen].below
        if below.indexOf(self._extra) < 0:
            below.addWidget(self._extra)
        self._extra.show()

    def _current(self) -> tuple[Chain, ChainReading]:
        chain = next(c for c in self._session.job.chains if c.id == self._chosen)
        return chain, self._session.assessment.chain(self._chosen)

    def _show_strip(self) -> None:
        s = self._session
        chain, r = self._current()
        source = by_id(s.job.sources, chain.source)
        usable = not r.problem and r.brake is None and r.contact is None and source is not None
        self._extra_strip.setVisible(usable)
        if not usable or source is None:
            return
        device, _ = input_of(s.job, chain)
        kind = kind_of(chain.quantity)
        if r.sense is not None:
            reach = (
                f"Looked at from {written(kind, r.start, s.units)} "
                f"to {written(kind, r.stop, s.units)}."
            )
        else:
            reach = reach_words(s.job, chain, r, s.units)
            reach = f"{reach[0].upper()}{reach[1:]}."
        corners = [
            (value_in(kind, x, s.units), value_in(kind, y, s.units))
            for x, y in strip(s.job, chain, source, device, s.state)
        ]
        if self._strip is not None:
            now, name = value_in(kind, r.true, s.units), unit(kind, s.units)
            self._strip.show_picture(range_picture(corners, now, name, reach))
            tip(self._strip, reach)
        self._strip_words.setText(reach)
        self._best.setText(best_words(s.job, chain, s.units))
