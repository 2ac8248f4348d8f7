"""What can be changed at the chosen hop of a chain, and what else could stand there."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.signals import fit_way, remove_signal
from zombrel.actions.wires import put_wire
from zombrel.catalog.cautions import cautions
from zombrel.findings.explain import explain_candidate, explain_input, explain_source, explain_wire
from zombrel.findings.take import take
from zombrel.job.model import Chain, Hop, Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.quantity import group
from zombrel.job.sheet import TABLE, InputSheet
from zombrel.job.source import Source, WheelRing
from zombrel.signals.chain_reading import ChainReading, is_brake_line
from zombrel.signals.finder import Candidate, candidates
from zombrel.signals.reduce import input_of
from zombrel.signals.ways import Way, way_words, ways
from zombrel.ui.form.figures import figures_button
from zombrel.ui.session import Session
from zombrel.ui.source.words import kind_of
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, clear, column, label, row
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why
from zombrel.units import Units, percent, prefixed
from zombrel.units.measure import area_of, difference, length_of, short_of

MINDS = {
    "tach": ("ignition",),
    "speed": ("tap", "lift"),
    "brake": ("cancel",),
    "fuel": ("fuel",),
    "blend": ("fuel",),
    "coolant": ("hot",),
    "exhaust": ("hot",),
    "charge": ("hot",),
    "oil": ("hot",),
    "boost": ("hot",),
}
"""Which cautions belong to which quantity."""


def setting_words(setting: str, error: float, worst: float, quantity: str, units: Units) -> str:
    """What a candidate or a way would be set to, and what is left."""
    if not setting:
        return ""
    if group(quantity) == "sensed":
        name = "own table" if setting == TABLE else f"curve {setting}"
        return f"{name}: within {difference(kind_of(quantity), worst, units).lstrip('+')}"
    return f"set {setting}: {percent(error, 2)}"


def best_words(job: Job, chain: Chain, units: Units) -> str:
    """The best way from the source in use, in a line; empty where there is nothing to set."""
    source = by_id(job.sources, chain.source)
    device, sheet = input_of(job, chain)
    if source is None:
        return ""
    try:
        best = ways(job, device, sheet, source)[0]
    except Problem as problem:
        return str(problem)
    said = setting_words(best.setting, best.error, best.worst, chain.quantity, units)
    return f"Best: {way_words(best.hops)}" + (f", {said}" if said else "")


class HopDetail:
    """The panels below a chosen chain."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.body = QVBoxLayout()
        self.body.setSpacing(4)
        self._key: tuple[object, ...] = ()
        self._chain: Chain | None = None
        self._reading: ChainReading | None = None
        self._hop = "source"

    def show(self, chain: Chain, r: ChainReading, hop: str) -> None:
        """Build anew when what is shown has changed."""
        s = self._session
        self._chain, self._reading, self._hop = chain, r, hop
        key = (
            chain,
            hop,
            s.theme,
            s.units,
            s.job.vehicle,
            s.job.devices,
            s.job.sources,
            s.job.house,
            s.job.wires if hop == "run" else None,
        )
        if len(key) == len(self._key) and all(
            a is b or a == b for a, b in zip(key, self._key, strict=True)
        ):
            return
        self._key = key
        clear(self.body)
        {"source": self._source, "way": self._way, "run": self._run, "input": self._input}[hop](
            chain
        )

    def _option(
        self, title: str, text: str, *right: QWidget, strong: str = "", long: str = ""
    ) -> None:
        """A line with ``text``, ``strong`` below it, ``long`` for who points at it or asks."""
        frame = Panel("well")
        name = label(title, "strong13")
        name.setFixedWidth(150)
        name.setWordWrap(True)
        said = [label(text, "quiet", wrap=True)]
        if strong:
            said.append(label(strong, "watch", wrap=True))
        middle = column(*said, spacing=1)
        line = row(name, middle, *right, spacing=10)
        line.setStretch(1, 1)
        line.setContentsMargins(10, 2, 8, 2)
        frame.setLayout(line)
        frame.setAccessibleName(f"{title}: {long or f'{text} {strong}'}".strip())
        tip(frame, long)
        self.body.addWidget(frame)

    def _head(
        self, text: str, why: Callable[[], None] | None, source: Source | None = None
    ) -> None:
        line = row(label(text, "quiet"), 1)
        if source is not None:
            line.addWidget(figures_button(self._session, source, self._parent()))
        if why is not None:
            line.addWidget(button("Why?", why, name=f"Why: {text}"))
        self.body.addLayout(line)

    # ---- source

    def _source(self, chain: Chain) -> None:
        s = self._session
        device, sheet = input_of(s.job, chain)
        source = by_id(s.job.sources, chain.source)
        self._head("Every source for it, the best first; more points cost less", self.why, source)
        self._mind(chain)
        for c in candidates(s.job, device, sheet):
            self._candidate(chain, c)

    def _candidate(self, chain: Chain, c: Candidate) -> None:
        s = self._session
        here = c.source == chain.source
        right = button("In use" if here else "Use", name=f"Use {c.name}")
        right.setEnabled(not here and c.possible)
        right.clicked.connect(lambda _=False, c=c: self._use(chain, c))
        why = button("Why?", partial(self._why_score, c), name=f"Why: {c.name}")
        score = label(f"{c.score:.0f}" if c.possible else "no", "mid")
        score.setFixedWidth(40)
        score.setAccessibleName(f"score {c.score:.0f}" if c.possible else "not possible")
        brief = [r for r in c.reasons if r not in c.risks][:1] or list(c.reasons[:1])
        brief += [re.split("[:,]", risk)[0] for risk in c.risks if risk not in brief]
        text = "; ".join(brief).rstrip(".")
        loses = f"Loses by {c.loses.partition(':')[0]}." if c.loses and c.possible else ""
        long = s.words("; ".join([*c.reasons, *([f"loses because of {c.loses}"] * bool(loses))]))
        beside = QWidget()
        beside.setFixedWidth(168)
        beside.setLayout(row(right, why, spacing=6))
        said = s.words(f"{text[0].upper()}{text[1:]}.")
        self._option(c.name, said, score, beside, strong=s.words(loses), long=long)

    def _use(self, chain: Chain, c: Candidate) -> None:
        self._session.do(f"{chain.title} from {c.name}", take(self._session.job, chain, c))

    def _parent(self) -> QWidget:
        return self.body.parentWidget().window()

    def _why_score(self, c: Candidate) -> None:
        show_why(
            explain_candidate(self._session.job, c),
            self._parent(),
            self._session.units,
        )

    def _mind(self, chain: Chain) -> None:
        """The cautions that belong to this kind of signal, where the work is."""
        wanted = set(MINDS.get(chain.quantity, ()))
        if not any(isinstance(s.spec, WheelRing) for s in self._session.job.sources):
            wanted.discard("tap")  # nothing here is shared with the brake control
        texts = [c.text for c in cautions(self._session.job) if c.id in wanted]
        if not texts:
            return
        frame = Panel("caution")
        said = column(*(label(text, "small", wrap=True) for text in texts), spacing=2)
        line = row(Mark("watch", 18), said)
        line.setStretch(1, 1)
        line.setContentsMargins(10, 4, 10, 4)
        frame.setLayout(line)
        frame.setAccessibleName(f"Caution: {' '.join(texts)}")
        self.body.addWidget(frame)

    # ---- conditioning

    def _way(self, chain: Chain) -> None:
        s = self._session
        source = by_id(s.job.sources, chain.source)
        device, sheet = input_of(s.job, chain)
        if source is None:
            return
        brake = is_brake_line(source, sheet)
        self._head(
            "What may be fitted on the lamp line"
            if brake
            else "Ways from this source to this input, best first",
            self.why,
        )
        try:
            tried = ways(s.job, device, sheet, source)
        except Problem as problem:
            self.body.addWidget(label(s.words(str(problem)), "trouble", wrap=True))
            tried = ()
        for way in tried:
            self._fit_option(chain, sheet, way)
        if chain.hops and all(w.hops != chain.hops for w in tried):
            b = button("Take it out", lambda: self._fit(chain, (), "", way_words(chain.hops)))
            self._option(way_words(chain.hops), "fitted now; not among what was tried", b)

    def _fit_option(self, chain: Chain, sheet: InputSheet, way: Way) -> None:
        s = self._session
        device, _ = input_of(s.job, chain)
        here = chain.hops == way.hops and (
            not way.setting or device.setting(chain.pin) == way.setting
        )
        words = way_words(way.hops)
        said = setting_words(way.setting, way.error, way.worst, chain.quantity, s.units)
        verdict = "; ".join(way.failed) if way.failed else "satisfies level, rate and waveform"
        if group(chain.quantity) != "rate":
            verdict = "; ".join(way.failed) if way.failed else "serves"
        b = button("Fitted" if here else "Fit", name=f"Fit {words}, {way.setting}".rstrip(", "))
        b.setEnabled(not here)
        b.clicked.connect(lambda _=False: self._fit(chain, way.hops, way.setting, words, way))
        text = ". ".join(p for p in (said, s.words(verdict)) if p).rstrip(".")
        self._option(words[0].upper() + words[1:], text[0].upper() + text[1:] + ".", b)

    def _fit(
        self, chain: Chain, hops: tuple[Hop, ...], setting: str, words: str, way: Way | None = None
    ) -> None:
        table = way.table if way is not None else ()
        edit = fit_way(self._session.job, chain, hops, setting, table)
        self._session.do(f"{chain.title}: {words}", edit)

    # ---- run and input
    def _run(self, chain: Chain) -> None:
        s = self._session
        self._head("Wires of this run", None)
        for key in chain.wires:
            wire = by_id(s.job.wires, key)
            if wire is None:
                continue
            near = "; ".join(
                f"{short_of(n.spacing_m)} from {n.name} for {short_of(n.along_m)}"
                for n in wire.neighbours
            )
            text = f"{wire.colour}, {area_of(wire.area_mm2)}, {length_of(wire.length_m)}"
            text += f", {near}" if near else ""
            reading = s.assessment.wire(key)
            twist = button("Untwist" if wire.twisted else "Twist", name=f"Twist {key}")
            edit = put_wire(wire, "twisted", not wire.twisted)
            twist.clicked.connect(lambda _=False, e=edit, k=key: s.do(f"Twist {k}", e))
            why = button("Why?", name=f"Why: {key}")
            why.clicked.connect(
                lambda _=False, w=wire, r=reading: show_why(
                    explain_wire(s.job, w, r, s.state),
                    self.body.parentWidget(),
                    self._session.units,
                )
            )
            go = button("Open", partial(s.goto.emit, f"wire:{key}"), name=f"Open {key} in Wire")
            self._option(key, text, twist, why, go)
        if not chain.wires:
            self.body.addWidget(label("No wire is drawn for it yet.", "quiet"))

    def _input(self, chain: Chain) -> None:
        s = self._session
        device, sheet = input_of(s.job, chain)
        self._head(f"{device.name}, {chain.pin}", self.why)
        go = button("Open in Set", lambda: s.goto.emit(f"set:{chain.id}"))
        go.setVisible(sheet.setting is not None)
        cut = button(
            "Remove this signal",
            lambda: self._remove(chain),
            "plain",
            f"Remove the signal {chain.title} for {device.name}",
        )
        self._option("Device sheet", ", ".join(_input_facts(sheet)) + ".", go, cut)

    def _remove(self, chain: Chain) -> None:
        """The chain goes; its wires and its source stay noted."""
        self._session.do(f"Remove {chain.title}", remove_signal(chain))

    def why(self) -> None:
        """Why the chosen hop gives what it gives."""
        s, chain, r = self._session, self._chain, self._reading
        if chain is None or r is None:
            return
        if self._hop in ("input", "way"):
            reason = explain_input(s.job, chain, r, s.units)
        else:
            reason = explain_source(s.job, chain, r, s.units)
        show_why(reason, self.body.parentWidget().window(), s.units)


def _input_facts(sheet: InputSheet) -> list[str]:
    if sheet.need_ohm:
        return [
            f"wants ground below {sheet.need_ohm:g} Ω at rest",
            f"pull-up {prefixed(sheet.pull_up_ohm, 'Ω')}",
        ]
    if sheet.takes == "contact":
        return [f"takes a contact {sheet.active} to {sheet.closes_to} for on"]
    if sheet.takes == "pulses":
        return [
            f"threshold {sheet.threshold_v:g} V",
            f"up to {sheet.max_hz:g} Hz",
            " or ".join(sheet.waveforms),
            prefixed(sheet.input_ohm, "Ω"),
        ]
    facts = [f"reads {sheet.takes}"]
    if sheet.pull_up_ohm:
        to = f"{sheet.pull_up_v:g} V" if sheet.pull_up_v else "its supply"
        facts.append(f"pull-up {prefixed(sheet.pull_up_ohm, 'Ω')} to {to}")
    if sheet.adc_bits:
        facts.append(f"{sheet.adc_bits} bits over {sheet.full_v:g} V")
    return facts
