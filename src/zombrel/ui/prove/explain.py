"""Something reads wrong: pairs of true and shown, what may explain them, the next test."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.lessons import found_cause
from zombrel.actions.searches import (
    answered,
    answers_of,
    drop,
    keep,
    search_of,
    toggled,
    untested,
    with_pairs,
)
from zombrel.diagnose.misread import cases, of_job
from zombrel.diagnose.misread.complaints import Complaint, Entrance, entrances
from zombrel.diagnose.misread.probes import Next
from zombrel.diagnose.misread.together import Seen, common
from zombrel.diagnose.misread.weigh import Pair
from zombrel.diagnose.step import KINDS_OF, said
from zombrel.job.model import Job, Search, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.typed.kinds import BY_UNIT
from zombrel.plots.picture import Axis, Dot, Line, Picture
from zombrel.ui.prove.seen import shown_unit
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, card, clear, column, in_lines, label, row, scroller
from zombrel.ui.widgets.plot import Plot
from zombrel.units import METRIC
from zombrel.units.measure import unit, value_from, value_in

STYLES = ("main", "second", "faint")
POINTS = 60
WIDE = 1000
"""From this width the side is wide [px]."""
SHOWN = 5
"""So many causes are listed."""
RARE = 0.005


class Explain(Commanded, QWidget):
    """One line that reads wrong."""

    def __init__(self, session: Session, back: Callable[[], None]) -> None:
        super().__init__()
        self._session = session
        self._back = back
        self._key = ""
        self._case: cases.Case | None = None
        self.chain = Choice()
        self.chain.setAccessibleName("Which signal reads wrong")
        self.chain.activated.connect(lambda _: self.show_chain(str(self.chain.currentData())))
        self.plot = Plot(session)
        self.plot.setMinimumHeight(150)
        self._pair_line = QVBoxLayout()
        self._symptoms = QVBoxLayout()
        self._title = label("", "title", wrap=True)
        self._words = label("", "quiet", wrap=True)
        self.complaint = Choice()
        self.complaint.setAccessibleName("What is said of it")
        self.complaint.activated.connect(lambda _: self._complained())
        main, body = card(margins=16)
        top = row(
            self.chain, self.complaint, button("Steps   W", back, "plain", "Back to the steps")
        )
        top.setStretch(0, 1)
        top.setStretch(1, 1)
        body.addLayout(top)
        body.addWidget(self._title)
        body.addWidget(self._words)
        body.addWidget(self.plot, 1)
        body.addLayout(self._pair_line)
        body.addWidget(label("Or what it does", "head"))
        body.addLayout(self._symptoms)
        self._next, self._next_body = card(margins=14)
        self._next.set_kind("selected")
        self._causes = QVBoxLayout()
        self._causes.setSpacing(8)
        inside = QWidget()
        inside.setLayout(self._causes)
        area = scroller(inside, "What it may be")
        side = QWidget()
        side.setLayout(column(self._next, label("What it may be", "head"), area, spacing=8))
        self._beside = side
        inner = QWidget()
        inner.setLayout(column(main, 1))
        line = row(scroller(inner, "The reading"), side, spacing=12)
        line.setStretch(0, 1)
        self.setLayout(line)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._beside.setFixedWidth(352 if self.width() > WIDE else 284)

    # ---- what is looked at

    @property
    def key(self) -> str:
        """The signal at work."""
        return self._key

    def show_chain(self, key: str) -> None:
        """Take up another signal, with what its steps saw."""
        self._key = key
        self.refresh()

    @property
    def _search(self) -> Search:
        return search_of(self._session.job, self._key)

    def _keep(self, words: str, search: Search) -> None:
        """Note it in the job, where it can be undone and is found again."""
        self._session.do(words, keep(self._session.job, search))
        self.refresh()

    def refresh(self) -> None:
        """Show what stands now."""
        s = self._session
        keys = readable(s.job)
        if self._key not in keys:
            self._key = next(iter(keys), "")
        self._list(keys)
        clear(self._pair_line)
        clear(self._symptoms)
        clear(self._next_body)
        clear(self._causes)
        self._case = None
        if not self._key:
            self._title.setText("No signal can read wrong yet")
            self._words.setText("Signals with a reading appear here: add one in Source.")
            self.plot.hide()
            return
        try:
            self._case = of_job.case_of(s.job, self._key)
        except Problem as problem:
            self._title.setText("This cannot be explained as it stands")
            self._words.setText(s.words(str(problem)))
            self.plot.hide()
            return
        self._show(self._case)

    def _list(self, keys: Mapping[str, str]) -> None:
        self.chain.clear()
        for key, words in keys.items():
            self.chain.addItem(words, key)
        self.chain.setCurrentIndex(max(self.chain.findData(self._key), 0))
        self.complaint.clear()
        self.complaint.addItem("Or begin at a complaint …", "")
        self.complaint.addItem("Nothing works since yesterday", "outage")
        for entrance in entrances(self._session.job):
            self.complaint.addItem(entrance.complaint.words, entrance.complaint.key)

    def _show(self, case: cases.Case) -> None:
        s = self._session
        search = self._search
        pairs = [Pair(*p) for p in search.pairs]
        told = [e.complaint for e in entrances(s.job) if self._key in e.chains]
        said = [c.odds for c in told if c.key in search.said]
        found = cases.answer(case, pairs, answers_of(search), said, self._shared(case, pairs))
        name = readable(s.job)[self._key]
        wrong = bool(pairs) and found.sound < max(r.share for r in found.ranked)
        self._title.setText(f"{name} reads wrong" if wrong else name)
        words = "Enter what was true and what was shown, or what it does."
        if pairs:
            beside = ", ".join(readable(s.job)[k] for k in self._others())
            words = "Shown against true, and what each rival would show"
            words += f"; weighed together with {beside}" if beside else ""
        self._words.setText(words)
        self.plot.show()
        self.plot.show_picture(self._picture(case, found, pairs))
        self._enter(pairs)
        self._say(told, search.said)
        self._show_next(found, bool(pairs) or bool(said))
        self._show_causes(case, found, pairs, bool(pairs) or bool(said))

    def _others(self) -> list[str]:
        """Other signals of the same device with a search of their own."""
        job = self._session.job
        at = index(job.chains)[self._key].device
        keys = [c.id for c in job.chains if c.device == at and c.id != self._key]
        return [k for k in keys if k in readable(job) and search_of(job, k).pairs]

    def _shared(self, case: cases.Case, pairs: list[Pair]) -> dict[str, float]:
        """How likely one cause is behind these and what was seen of the device's others."""
        lines = [Seen(case, tuple(pairs))]
        job = self._session.job
        for key in self._others() if pairs else ():
            try:
                other = of_job.case_of(job, key)
            except Problem:
                continue
            lines.append(Seen(other, tuple(Pair(*p) for p in search_of(job, key).pairs)))
        return common(lines)

    # ---- pairs and symptoms

    def _unit(self) -> str:
        return unit_of(self._session.job, self._key)

    def _enter(self, pairs: list[Pair]) -> None:
        s = self._session
        name = self._unit()
        shown = shown_unit(name, s.units)
        brake = index(s.job.chains)[self._key].quantity == "brake"
        words = ("pedal, 0 up, 1 down" if brake else f"true, {shown}", f"shown, {shown}")
        kind = BY_UNIT.get(name, "number")
        self.true = FigureField(s, "number" if brake else kind, f"Pair: {words[0]}", shown)
        self.shown = FigureField(s, kind, f"Pair: {words[1]}", shown)
        for field, text in zip((self.true, self.shown), words, strict=True):
            field.setPlaceholderText(text)
            field.setMaximumWidth(170)
        self.true.returnPressed.connect(self.shown.setFocus)
        self.shown.returnPressed.connect(self.add_pair)
        add = button("Add", self.add_pair, "", "Add the pair")
        self._pair_line.addLayout(row(self.true, self.shown, add, 1))
        chips: list[QWidget] = []
        for i, pair in enumerate(pairs):
            text = f"{self._figure(pair.true)} shown {self._figure(pair.shown)}  ✕"
            chips.append(button(text, partial(self._drop, i), "plain", f"Take out pair {i + 1}"))
        for line in in_lines(chips, 520, 6):
            self._pair_line.addLayout(row(*line, 1, spacing=6))

    def _own(self, value: float, converts: bool = True) -> float:
        """A figure of this line in the user's unit."""
        kind = KINDS_OF.get(self._unit()) if converts else None
        if kind is None:
            return value
        return value_in(kind, value_from(kind, value, METRIC), self._session.units)

    def _figure(self, value: float, digits: int = 4) -> str:
        return f"{self._own(value):.{digits}g}"

    def add_pair(self) -> None:
        """Take the pair that was typed."""
        true, shown = self.true.take(), self.shown.take()
        if true is None or shown is None:
            if not (self.true.refused or self.shown.refused):
                self._session.said.emit("open", "A pair wants both: what was true, what was shown.")
            return
        search = self._search
        self._keep("A pair of true and shown", with_pairs(search, (*search.pairs, (true, shown))))
        self.true.setFocus(Qt.FocusReason.OtherFocusReason)

    def _drop(self, at: int) -> None:
        search = self._search
        left = tuple(p for i, p in enumerate(search.pairs) if i != at)
        self._keep("A pair taken out", with_pairs(search, left))

    def _say(self, told: list[Complaint], said: Collection[str]) -> None:
        chips: list[QWidget] = []
        for complaint in told:
            chip = button(complaint.words, partial(self._toggle, complaint.key), "plain")
            chip.set_on(complaint.key in said)
            chips.append(chip)
        for line in in_lines(chips, 520, 6):
            self._symptoms.addLayout(row(*line, 1, spacing=6))

    def _toggle(self, key: str) -> None:
        self._keep("What it does", toggled(self._search, key))

    def start_from(self, entrance: Entrance) -> None:
        """Begin at a complaint, with the first line it may be about."""
        keys = [k for k in entrance.chains if k in readable(self._session.job)]
        if not keys:
            return
        self._key = keys[0]
        if entrance.complaint.key not in self._search.said:
            self._keep("What it does", toggled(self._search, entrance.complaint.key))
        self.show_chain(self._key)

    def _complained(self) -> None:
        """A complaint was chosen: the line it may be about, or the step that shows it."""
        key = self.complaint.currentData()
        if key == "outage":
            self._session.goto.emit("prove:outage")
            return
        found = next((e for e in entrances(self._session.job) if e.complaint.key == key), None)
        if found is None:
            return
        if found.steps and (not found.chains or found.complaint.key in ("wrong-revs",)):
            self._session.goto.emit(f"prove:{found.steps[0].id}")
        else:
            self.start_from(found)

    # ---- what comes of it

    def _show_next(self, found: cases.Answer, asked: bool) -> None:
        body = self._next_body
        if not asked:
            body.addWidget(label("A pair, or a word about it, and the next test stands here.",
                                 "quiet", wrap=True))  # fmt: skip
            return
        if found.next is None:
            lead = max(found.ranked, key=lambda r: r.share)
            sound = found.sound > lead.share
            body.addWidget(label("Sure enough" if not sound else "Nothing is the matter", "petrol"))
            words = self._session.words(lead.mend if not sound else "It reads within its error.")
            body.addWidget(label(words, "head", wrap=True))
            body.addWidget(label("Mend it, and read it once more.", "quiet", wrap=True))
            if not sound:
                was = button("That was it", partial(self._was, lead), "", f"It was: {words}")
                body.addLayout(row(was, 1))
            return
        self._offer(found.next)

    def _was(self, lead: cases.Ranked) -> None:
        """The cause is found: the job remembers it, and the book counts it."""
        s = self._session
        words = s.words(lead.words)
        edit = found_cause(s.history.present, self._key, lead.cause, lead.words, s.now()[:10])
        if s.do(f"It was: {words}", edit):
            s.said.emit("good", "Written down: the job book counts it for the next search.")

    def _offer(self, test: Next) -> None:
        body, probe = self._next_body, test.probe
        risk = " With care: the engine runs." if probe.hazard else ""
        body.addWidget(label(f"Next test, {probe.minutes:g} min.{risk}", "petrol"))
        body.addWidget(label(f"{probe.words}.", "head", wrap=True))
        for i, (answer, leads, likely) in enumerate(test.split):
            text = f"{i + 1}   {answer}"
            choice = button(text, partial(self._answer, probe.key, i), "", f"It is: {answer}")
            then = label(f"{likely * 10:.0f} in 10; then {_name(leads)}", "small", wrap=True)
            line = row(choice, then, spacing=8)
            line.setStretch(1, 1)
            body.addLayout(line)
        body.addWidget(
            button(
                "Cannot reach   Q", partial(self._answer, probe.key, -1), "plain", "Cannot reach"
            )
        )

    def _answer(self, key: str, answer: int) -> None:
        self._keep("A test of a search", answered(self._search, key, answer))

    def _forget(self) -> None:
        self._keep("Tests of a search forgotten", untested(self._search))

    def _anew(self) -> None:
        edit = drop(self._session.job, self._key)
        if edit is not None:
            self._session.do("A search begun anew", edit)
        self.refresh()

    def _show_causes(
        self, case: cases.Case, found: cases.Answer, pairs: list[Pair], asked: bool
    ) -> None:
        s = self._session
        if not asked:
            self._causes.addStretch(1)
            return
        anew = button("Begin anew", self._anew, "plain", "Forget pairs, words and tests")
        line = row(anew, 1)
        if self._search.answers:
            line.insertWidget(0, button("Forget the tests", self._forget, "plain"))
        self._causes.addLayout(line)
        if found.sound > RARE:
            self._causes.addWidget(self._cause("Nothing is the matter", found.sound, "", ""))
        listed = [r for r in found.ranked if r.share >= RARE or r.cause == "none-of-these"][:SHOWN]
        if not any(r.cause == "none-of-these" for r in listed):
            listed.append(next(r for r in found.ranked if r.cause == "none-of-these"))
        for i, ranked in enumerate(listed):
            none = ranked.cause == "none-of-these"
            style = "" if none or i >= len(STYLES) else ("━", "┅", "─")[i]
            words = [s.words(ranked.mend)]
            if not none and pairs:
                words += [
                    s.words(fits(case, ranked, pairs, self._unit())),
                    self._mended(case, pairs),
                ]
            told = " ".join(w for w in words if w)
            self._causes.addWidget(self._cause(s.words(ranked.words), ranked.share, told, style))
        self._causes.addStretch(1)

    def _mended(self, case: cases.Case, pairs: list[Pair]) -> str:
        """What the last pair would show once all is sound."""
        sound = next((r for r in case.rivals if r.cause == "sound"), None)
        if sound is None or case.family == "brake":
            return ""
        last = pairs[-1].true
        would = sound.predicts(sound.grid[0][0], 0, last)
        return f"Mended, {self._figure(last)} would show {self._figure(would, 3)}."

    @staticmethod
    def _cause(words: str, share: float, mend: str, style: str) -> Panel:
        frame, inner = card(margins=10)
        line = row(label(style, "petrol"), label(words, "strong13", wrap=True))
        line.setStretch(1, 1)
        line.addWidget(label(f"{share * 100:.0f} %", "head"))
        inner.addLayout(line)
        if mend:
            inner.addWidget(label(mend, "small", wrap=True))
        frame.setAccessibleName(f"{words}: {share * 100:.0f} per cent")
        return frame

    def _picture(self, case: cases.Case, found: cases.Answer, pairs: list[Pair]) -> Picture:
        low, high = self._range(case, pairs)
        xs = [low + (high - low) * i / POINTS for i in range(POINTS + 1)]
        own = self._own
        flat = case.family != "brake"
        lines = [Line(tuple((own(x), own(x)) for x in xs), "as it should", "faint")] if flat else []
        top = [r for r in found.ranked if r.cause != "none-of-these" and r.share >= RARE][:2]
        for ranked, style in zip(top, STYLES, strict=False):
            rival = ranked.form
            ys = [(own(x, flat), own(rival.predicts(ranked.unknown, 0, x))) for x in xs]
            lines.append(Line(tuple(ys), _name(ranked.cause), style))
        dots = tuple(Dot(own(p.true, flat), own(p.shown), held=False, doubt=True) for p in pairs)
        every = [y for line in lines for _, y in line.points] + [d.y for d in dots]
        floor, ceiling = min(every, default=0.0), max(every, default=1.0)
        room = 0.05 * ((ceiling - floor) or 1.0)
        name = shown_unit(self._unit(), self._session.units)
        return Picture(
            Axis(f"true {name}" if flat else "pedal", own(low, flat), own(high, flat)),
            Axis(f"shown {name}", floor - room, ceiling + room),
            tuple(lines),
            dots,
            about="Shown against true, with what the leading causes would show",
        )

    @staticmethod
    def _range(case: cases.Case, pairs: list[Pair]) -> tuple[float, float]:
        """What is drawn along the bottom."""
        usual = {"speed": 120.0, "tach": 6500.0, "brake": 1.0, "supply": 16.0}.get(case.family)
        far = max((p.true for p in pairs), default=0.0)
        if usual is not None:
            return 0.0, max(usual, far * 1.1)
        near = min((p.true for p in pairs), default=case.low)
        return min(case.low, near), max(case.high, far)

    def commands(self) -> tuple[Command, ...]:
        by_number = [
            Command(f"The next test: answer {i + 1}", str(i + 1), partial(self._by_key, i))
            for i in range(3)
        ]
        return (
            *by_number,
            Command("The next test cannot be reached", "Q", partial(self._by_key, -1)),
            Command("Back to the steps", "W", self._back),
        )

    def _by_key(self, at: int) -> bool | None:
        """Answer the test by its number; a digit typed elsewhere is left alone."""
        if self._case is None:
            return False
        s = self._session
        told = [e.complaint for e in entrances(s.job) if self._key in e.chains]
        search = self._search
        said = [c.odds for c in told if c.key in search.said]
        pairs = [Pair(*p) for p in search.pairs]
        shared = self._shared(self._case, pairs)
        found = cases.answer(self._case, pairs, answers_of(search), said, shared)
        if found.next is None or at >= len(found.next.split) or not (pairs or said):
            return False
        self._answer(found.next.probe.key, at)
        return None


def fits(case: cases.Case, ranked: cases.Ranked, pairs: list[Pair], name: str) -> str:
    """What speaks for a cause, and what against it."""
    rival = ranked.form
    if rival.scatter is not None:
        return "Scattered like that."
    missed = []
    for i, pair in enumerate(pairs):
        would = rival.predicts(ranked.unknown, i, pair.true)
        if abs(pair.shown - would) > 2 * case.meter.sigma(would, rival.wide):
            told = [said(v, name) for v in (pair.true, would, pair.shown)]
            missed.append(f"for {told[0]} it would show {told[1]}, not {told[2]}")
    return f"Against it: {'; '.join(missed)}." if missed else "Fits what was seen."


def _name(cause: str) -> str:
    return cause.replace("-", " ")


def unit_of(job: Job, key: str) -> str:
    """What a line is read in."""
    quantity = index(job.chains)[key].quantity
    if quantity == "brake":
        return "V"
    if quantity == "tach":
        return "rpm"
    return unit(QUANTITIES[quantity].kind, METRIC)


def readable(job: Job) -> dict[str, str]:
    """Signals that have a reading: their ids, in words."""
    devices = index(job.devices)
    found = {}
    for chain in job.chains:
        sheet = devices[chain.device].sheet.input(chain.pin)
        if sheet is None:
            continue
        felt = sheet.takes not in ("pulses", "contact")
        if chain.quantity in ("speed", "tach") or sheet.need_ohm or felt:
            found[chain.id] = f"{chain.title} on {devices[chain.device].name}"
    return found
