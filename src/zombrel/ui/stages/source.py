"""Source: the board of signal chains."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from zombrel.catalog.cautions import cautions
from zombrel.findings.explain import (
    explain_input,
    explain_source,
    explain_wire,
    reach_words,
    value_words,
)
from zombrel.findings.scene import put_divider, put_setting, together
from zombrel.job.edits import Edit, Put
from zombrel.job.model import Chain, by_id
from zombrel.job.problem import Problem
from zombrel.signals.alternatives import Alternative, alternatives
from zombrel.signals.reading import ChainReading, choices, strip, top_of
from zombrel.signals.reduce import divider_of, input_of
from zombrel.ui.marks import Mark
from zombrel.ui.paint import Panel
from zombrel.ui.parts import button, clear, column, label, row, scroller
from zombrel.ui.session import Session
from zombrel.ui.stages.board import HopTile, RangeStrip
from zombrel.ui.stages.words import tiles, verdict, way_choices
from zombrel.ui.why import show_why
from zombrel.units import percent, speed_value

HOPS = ("source", "way", "run", "input")
BRING_MS = 30
"""A row has its new size only after the next layout."""


class ChainRow(Panel):
    """One chain: what it is, its hops, what the device reads."""

    picked = Signal(str, str)
    """(chain, hop)"""

    def __init__(self, session: Session, chain: str) -> None:
        super().__init__("card")
        self._session, self.chain = session, chain
        self._title, self._for = label("", "head"), label("", "small")
        self._mark, self._words = Mark(session.theme, "open", 17), label("", "open")
        self._words.setWordWrap(True)
        mark_row = row(self._mark, self._words, spacing=7)
        mark_row.setStretch(1, 1)
        left = QWidget()
        left.setFixedWidth(134)
        left.setLayout(column(self._title, self._for, mark_row, 1, spacing=3))
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
        right.setLayout(column(self._big, self._unit, self._truth, 1, spacing=0))
        top = QHBoxLayout()
        top.setSpacing(10)
        top.addWidget(left)
        top.addLayout(middle, 1)
        top.addWidget(right)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 9, 14, 9)
        body.setSpacing(8)
        body.addLayout(top)
        self.below = QVBoxLayout()
        self.below.setSpacing(6)
        body.addLayout(self.below)

    def refresh(self, chain: Chain, r: ChainReading, chosen: bool, hop: str) -> None:
        s = self._session
        t = s.theme
        device, _ = input_of(s.job, chain)
        said = verdict(s.job, chain, r, s.assessment, s.units)
        self._title.setText(chain.title)
        self._for.setText(f"for {device.name}, {chain.pin}")
        self._mark.show_mark(said.mark, t)
        self._words.setText(said.words)
        self._words.set_role(said.mark)
        self._big.setText(said.big)
        size = "big" if len(said.big) < 7 else "mid"
        self._big.set_role(size + ("bad" if said.bad else ""))
        self._unit.setText(said.unit)
        self._unit.setVisible(bool(said.unit))
        self._truth.setText(said.truth)
        for tile in tiles(s.job, chain, r, s.units):
            self.tiles[tile.key].show_tile(tile, chosen and hop == tile.key, chain.title)
        self.set_kind("selected" if chosen else "card")
        self.setAccessibleName(
            f"{chain.title} for {device.name}: {said.words}, shows {said.big} {said.unit}, "
            f"{said.truth}"
        )


class SourceStage(QWidget):
    """The board; arrow keys walk it, Enter opens what can be changed."""

    title = "Source"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._rows: dict[str, ChainRow] = {}
        self._order: tuple[str, ...] = ()
        self._chosen, self._hop = "", "source"
        self._strip = RangeStrip(session)
        self._strip_words = label("", "quiet", wrap=True)
        self._best = label("", "strong13", wrap=True)
        self._detail = QVBoxLayout()
        self._detail.setSpacing(5)
        self._detail_key: tuple[object, ...] = ()
        self._extra = QWidget()
        beside = QWidget()
        beside.setFixedWidth(250)
        beside.setLayout(column(self._strip_words, self._best, 1, spacing=3))
        self._extra_strip = QWidget()
        self._extra_strip.setLayout(row(self._strip, beside, spacing=14))
        inner = column(self._extra_strip, self._detail, spacing=6)
        self._extra.setLayout(inner)
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 8)
        self._list.setSpacing(8)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
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
        self.refresh()
        if chain in self._rows:
            self._rows[chain].tiles[self._hop].setFocus(Qt.FocusReason.OtherFocusReason)
            QTimer.singleShot(BRING_MS, partial(self._bring, chain))

    def _bring(self, chain: str) -> None:
        """Scroll so that the whole chosen row is seen, once it has its size."""
        row_ = self._rows.get(chain)
        if row_ is not None:
            self._area.ensureVisible(0, row_.geometry().bottom(), 0, 8)
            self._area.ensureVisible(0, row_.geometry().top(), 0, 8)

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        if self._chosen in self._rows:
            self._rows[self._chosen].tiles[self._hop].setFocus(Qt.FocusReason.OtherFocusReason)

    def show_item(self, item: str) -> None:
        """Called when a finding or the search leads here."""
        if any(c.id == item for c in self._session.job.chains):
            self.select(item, "source")

    def _walk(self, event: QKeyEvent) -> bool:
        ids = list(self._order)
        if self._chosen not in ids:
            return False
        i, k = ids.index(self._chosen), HOPS.index(self._hop)
        match event.key():
            case Qt.Key.Key_Down:
                self.select(ids[min(i + 1, len(ids) - 1)])
            case Qt.Key.Key_Up:
                self.select(ids[max(i - 1, 0)])
            case Qt.Key.Key_Right:
                self.select(self._chosen, HOPS[min(k + 1, 3)])
            case Qt.Key.Key_Left:
                self.select(self._chosen, HOPS[max(k - 1, 0)])
            case Qt.Key.Key_W:
                self._why()
            case _:
                return False
        return True

    # ---- showing

    def refresh(self) -> None:
        """Show the chains as assessed."""
        s = self._session
        ids = tuple(c.id for c in s.job.chains)
        if ids != self._order:
            self._rebuild(ids)
        if self._chosen not in ids:
            self._chosen = ids[0] if ids else ""
        for chain, r in zip(s.job.chains, s.assessment.chains, strict=True):
            self._rows[chain.id].refresh(chain, r, chain.id == self._chosen, self._hop)
        if self._chosen:
            self._place_extra()
            self._show_strip()
            self._show_detail()

    def _rebuild(self, ids: tuple[str, ...]) -> None:
        self._extra.setParent(None)
        clear(self._list)
        self._rows = {}
        self._order = ids
        for key in ids:
            made = ChainRow(self._session, key)
            made.picked.connect(self.select)
            for tile in made.tiles.values():
                tile.walk = self._walk
            self._rows[key] = made
            self._list.addWidget(made)
        if not ids:
            self._list.addWidget(
                label("No signals yet. In Survey, add the devices wanted and what the car "
                      "offers; each input then gets its best source from Settle next.",
                      "quiet", wrap=True)
            )  # fmt: skip
        self._list.addStretch(1)

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
        usable = not r.problem and r.brake is None and source is not None
        self._extra_strip.setVisible(usable)
        if not usable or source is None:
            return
        device, _ = input_of(s.job, chain)
        k = speed_value(1.0, s.units) if chain.quantity == "speed" else 60.0
        top = value_words(chain, top_of(chain, s.job.vehicle), s.units)
        reach = reach_words(s.job, chain, r, s.units)
        reach = f"{reach[0].upper()}{reach[1:]}."
        corners = [(x * k, y * k) for x, y in strip(s.job, chain, source, device)]
        self._strip.show_range(corners, r.true * k, ("0", top), reach)
        self._strip_words.setText(reach)
        self._best.setText(self._best_words(chain))

    def _best_words(self, chain: Chain) -> str:
        s = self._session
        source = by_id(s.job.sources, chain.source)
        _, sheet = input_of(s.job, chain)
        if source is None or sheet.setting is None:
            return ""
        try:
            best = choices(s.job, chain, source, sheet)[0]
        except Problem as problem:
            return s.words(str(problem))
        behind = f" behind ÷{best.divider}" if best.divider > 1 else ""
        return f"Best: {best.setting}{behind}, {percent(best.error, 2)}"

    # ---- what can be changed

    def _show_detail(self) -> None:
        s = self._session
        chain, r = self._current()
        if self._hop == "source":
            ranked = alternatives(s.job, chain)
            key: tuple[object, ...] = ("source", chain.source, ranked, s.units)
            build: Callable[[], None] = lambda: self._source_detail(chain, ranked)  # noqa: E731
        elif self._hop == "way":
            key = ("way", chain, s.job.vehicle, s.job.devices, s.job.sources)
            build = lambda: self._way_detail(chain)  # noqa: E731
        elif self._hop == "run":
            key = ("run", chain, s.job.wires, r.problem)
            build = lambda: self._run_detail(chain)  # noqa: E731
        else:
            key = ("input", chain, s.job.vehicle, s.job.devices, s.job.sources)
            build = lambda: self._input_detail(chain)  # noqa: E731
        key = (self._chosen, s.theme, *key)
        if len(key) == len(self._detail_key) and all(
            a is b or a == b for a, b in zip(key, self._detail_key, strict=True)
        ):
            return
        self._detail_key = key
        clear(self._detail)
        build()

    def _option(self, title: str, text: str, *right: QPushButton) -> None:
        frame = Panel("well")
        name = label(title, "strong13")
        name.setFixedWidth(190)
        name.setWordWrap(True)
        detail = label(text, "quiet", wrap=True)
        line = row(name, detail, *right, spacing=10)
        line.setStretch(1, 1)
        line.setContentsMargins(10, 5, 8, 5)
        frame.setLayout(line)
        frame.setAccessibleName(f"{title}: {text}")
        self._detail.addWidget(frame)

    def _source_detail(self, chain: Chain, ranked: tuple[Alternative, ...]) -> None:
        self._head("Other sources for it, best first", self._why)
        self._mind(chain)
        for a in ranked:
            here = a.source == chain.source
            parts = []
            if a.setting:
                behind = f" behind ÷{a.divider}" if a.divider > 1 else ""
                parts.append(f"set {a.setting}{behind}: {percent(a.error)}")
            parts += list(a.faults) or ["nothing speaks against it"]
            right = button("In use" if here else "Use", name=f"Use {a.name}")
            right.setEnabled(not here and a.possible)
            right.clicked.connect(lambda _=False, a=a: self._use(chain, a))
            self._option(a.name, self._session.words("; ".join(parts) + "."), right)

    def _mind(self, chain: Chain) -> None:
        """The caution that belongs to this kind of signal, where the work is."""
        wanted = {"tach": "ignition", "speed": "tap", "brake": "cancel"}[chain.quantity]
        for caution in cautions(self._session.job):
            if caution.id == wanted:
                frame = Panel("caution")
                line = row(
                    Mark(self._session.theme, "watch", 18), label(caution.text, "quiet", wrap=True)
                )
                line.setStretch(1, 1)
                line.setContentsMargins(10, 6, 10, 6)
                frame.setLayout(line)
                frame.setAccessibleName(f"Caution: {caution.text}")
                self._detail.addWidget(frame)

    def _use(self, chain: Chain, a: Alternative) -> None:
        device, sheet = input_of(self._session.job, chain)
        edits: list[Put] = [Put(path=f"chains.{chain.id}.source", value=a.source)]
        more = []
        if sheet.setting is not None and a.setting:
            more = [put_divider(chain, a.divider), put_setting(device, chain.pin, a.setting)]
        self._session.do(f"{chain.title} from {a.name}", together(*edits, *more))

    def _way_detail(self, chain: Chain) -> None:
        s = self._session
        if chain.quantity == "brake":
            self._head("What is fitted on the lamp line", self._why)
            for words, edit in way_choices(chain):
                fitted = [h["type"] for h in edit.value] == [
                    str(h.__struct_config__.tag) for h in chain.hops
                ]
                b = button("Fitted" if fitted else "Fit", name=f"Fit: {words}")
                b.setEnabled(not fitted)
                b.clicked.connect(lambda _=False, e=edit, w=words: s.do(f"Fit: {w}", e))
                self._option(words, "", b)
            return
        source = by_id(s.job.sources, chain.source)
        device, sheet = input_of(s.job, chain)
        if source is None or sheet.setting is None:
            self._head("Nothing to set behind a divider here", self._why)
            return
        self._head("Divider and the setting that fits it, best first", self._why)
        try:
            ranked = choices(s.job, chain, source, sheet)
        except Problem as problem:
            self._detail.addWidget(label(s.words(str(problem)), "trouble", wrap=True))
            ranked = ()
        now = divider_of(chain)
        for c in ranked[:4]:
            fitted = (now.by if now else 1) == c.divider and device.setting(chain.pin) == c.setting
            words = f"÷{c.divider}, set {c.setting}" if c.divider > 1 else f"none, set {c.setting}"
            text = f"{percent(c.error, 2)}, {c.hz_at_top:.0f} Hz at the top"
            b = button("Fitted" if fitted else "Fit", name=f"Fit {words}")
            b.setEnabled(not fitted)
            both = together(
                put_divider(chain, c.divider), put_setting(device, chain.pin, c.setting)
            )
            b.clicked.connect(lambda _=False, e=both, w=words: s.do(f"Divider {w}", e))
            self._option(words, text, b)
        if now is not None:
            b = button("Take it out", lambda: s.do("Take the divider out", put_divider(chain, 1)))
            self._option("No divider", "the setting stays as it is", b)

    def _run_detail(self, chain: Chain) -> None:
        s = self._session
        self._head("Wires of this run", None)
        for key in chain.wires:
            wire = by_id(s.job.wires, key)
            if wire is None:
                continue
            near = "; ".join(
                f"{n.spacing_m * 1000:.0f} mm from {n.name} for {n.along_m * 1000:.0f} mm"
                for n in wire.neighbours
            )
            text = f"{wire.colour}, {wire.area_mm2:g} mm², {wire.length_m:g} m"
            text += f", {near}" if near else ""
            reading = s.assessment.wire(key)
            twist = button("Untwist" if wire.twisted else "Twist", name=f"Twist {key}")
            edit: Edit = Put(path=f"wires.{key}.twisted", value=not wire.twisted)
            twist.clicked.connect(lambda _=False, e=edit, k=key: s.do(f"Twist {k}", e))
            why = button("Why?", name=f"Why: {key}")
            why.clicked.connect(
                lambda _=False, w=wire, r=reading: show_why(
                    explain_wire(s.job, w, r, s.state), self.window(), self._session.units
                )
            )
            go = button("Open", partial(s.goto.emit, f"wire:{key}"), name=f"Open {key} in Wire")
            self._option(key, text, twist, why, go)
        if not chain.wires:
            self._detail.addWidget(label("No wire is drawn for it yet.", "quiet"))

    def _input_detail(self, chain: Chain) -> None:
        s = self._session
        device, sheet = input_of(s.job, chain)
        self._head(f"{device.name}, {chain.pin}", self._why)
        facts = [f"threshold {sheet.threshold_v:g} V", f"up to {sheet.max_hz:g} Hz",
                 " or ".join(sheet.waveforms), f"{sheet.input_ohm / 1000:g} kΩ"]  # fmt: skip
        if chain.quantity == "brake":
            facts = [f"wants ground below {sheet.need_ohm:g} Ω at rest",
                     f"pull-up {sheet.pull_up_ohm / 1000:g} kΩ"]  # fmt: skip
        go = button("Open in Set", lambda: s.goto.emit(f"set:{chain.id}"))
        go.setVisible(sheet.setting is not None)
        self._option("Device sheet", ", ".join(facts) + ".", go)

    def _head(self, text: str, why: Callable[[], None] | None) -> None:
        line = row(label(text, "quiet"), 1)
        if why is not None:
            line.addWidget(button("Why?", why, name=f"Why: {text}"))
        self._detail.addLayout(line)

    def _why(self) -> None:
        s = self._session
        chain, r = self._current()
        if self._hop in ("input", "way"):
            reason = explain_input(s.job, chain, r, s.units)
        else:
            reason = explain_source(s.job, chain, r, s.units)
        show_why(reason, self.window(), self._session.units)
