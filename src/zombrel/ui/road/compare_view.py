"""Before and after: pulls over what was put in, what they rise by, and the plain verdict."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.logs import (
    compare_logs,
    day_of,
    keep_comparison,
    of_part,
    put_changed,
    put_day,
    remove_log,
    stale,
)
from zombrel.catalog import DEMO
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.records.logs import Comparison, JobLog, Part
from zombrel.logs.compare import BACK_K
from zombrel.ui.road.log_kinds import LOGS
from zombrel.ui.road.logs_reader import LogReader
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, clear, label, row, scroller, squeezable
from zombrel.ui.widgets.why import show_why
from zombrel.units import measure

WEATHER = {"": "not noted", "dry": "dry", "damp": "damp", "rain": "rain", "snow": "snow"}
TANKS = {None: "not noted", 0.25: "a quarter", 0.5: "half", 0.75: "three quarters", 1.0: "full"}
HEADS = ("pull", "begins at", "rises by", "full load", "recovers in", "outside")
VERDICTS = {"better": "good", "worse": "trouble", "not-shown": "watch", "refused": "open"}
SIDES: tuple[Part, ...] = ("before", "after")


class CompareView(QWidget):
    """Graph and pulls at the left, verdict and what would forbid one at the right."""

    def __init__(self, session: Session, reader: LogReader) -> None:
        super().__init__()
        self._session, self._reader = session, reader
        self._graph_card, self._graph_box = card(margins=12)
        self._graph_box.addWidget(label("Charge over ambient during a pull", "head"))
        self._graph: QWidget | None = None
        self._none = label("", "quiet", wrap=True)
        self._graph_box.addWidget(self._none)
        self._graph_box.addStretch(0)
        pulls, inner = card(margins=12)
        self._count = label("The pulls", "head")
        inner.addWidget(self._count)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(3)
        inner.addLayout(self._grid)
        left = QVBoxLayout()
        left.setSpacing(10)
        left.addWidget(self._graph_card, 1)
        left.addWidget(pulls)
        side = QWidget()
        self._side = QVBoxLayout(side)
        self._side.setContentsMargins(0, 0, 6, 0)
        self._side.setSpacing(10)
        area = scroller(side, "Verdict")
        area.setFixedWidth(310)
        body = row(left, area, spacing=10)
        body.setStretch(0, 1)
        body.setContentsMargins(0, 0, 0, 0)
        self.setLayout(body)

    # ---- what there is

    @property
    def made(self) -> Comparison | None:
        """The comparison of the logs that are here, as it comes out now; None until both are."""
        job = self._session.history.present
        kept = job.compared[-1] if job.compared else None
        if kept is not None and not stale(job, kept):
            return kept
        logs = [self._reader.held(of_part(job, p)) for p in SIDES]
        if logs[0] is None or logs[1] is None:
            return None
        try:
            return compare_logs(job, logs[0], logs[1])
        except Problem as problem:
            self._session.said.emit("trouble", self._session.words(str(problem)))
            return None

    def _logs(self) -> tuple[JobLog | None, JobLog | None]:
        job = self._session.job
        return of_part(job, "before"), of_part(job, "after")

    # ---- doing

    def ask(self, part: Part) -> None:
        """Choose a file for one side."""
        name, _ = QFileDialog.getOpenFileName(self, f"The log {part}", "", LOGS)
        if name:
            self.read(Path(name), part)

    def read(self, path: Path, part: Part) -> None:
        """Read a file for one side."""
        self._reader.add(path, part, lambda _: self.refresh())

    def read_demo(self) -> None:
        """Both logs of the demo job."""
        first, second = (DEMO / f"0413-pulls-{p}.csv" for p in SIDES)
        self._reader.add(
            first, "before", lambda _: self._reader.add(second, "after", lambda _: self.refresh())
        )

    def keep(self) -> None:
        """The outcome into the sheet."""
        made, s = self.made, self._session
        if made is not None:
            s.do("Before and after, kept", keep_comparison(s.history.present, made, s.now()[:10]))

    def _put(self, part: Part, **what: object) -> None:
        job = self._session.history.present
        day = day_of(job, part)
        if any(getattr(day, k) != v for k, v in what.items()):
            self._session.do(f"The day of the log {part}", put_day(job, part, **what))

    def _drop(self, log: JobLog) -> None:
        self._session.do(f"{log.name} taken out", remove_log(self._session.history.present, log))

    def why(self) -> None:
        """How the verdict came about."""
        made = self.made
        if made is None:
            return
        rows = [
            Given(
                name=f"{p.side} {i}",
                value=f"rises {measure.size_token('temperature', p.rise_k)}",
                known=f"{p.length_s:.1f} s at {100 * p.load:.0f} %",
            )
            for i, p in enumerate(made.pulls, 1)
        ]
        show_why(
            Reason(
                title="Before and after",
                result=made.why,
                formula="rise of a pull = charge over ambient where as much work was put in as in "
                "the smallest of all, less where it began; difference of means ± t·√(s₁²/n₁ + "
                "s₂²/n₂)",
                given=tuple(rows),
                source="Welch 1947 for the interval",
                assumption="runs of one day scatter alike and by chance; work = load × time",
            ),
            self.window(),
            self._session.units,
        )

    # ---- showing

    def focus_first(self) -> None:
        first = self.findChild(QWidget, "first")
        (first or self).setFocus()

    def refresh(self) -> None:
        logs = [x for x in self._logs() if x is not None]
        unread = [x for x in logs if self._reader.held(x) is None]
        job = self._session.history.present
        kept = job.compared[-1] if job.compared else None
        if unread and (kept is None or stale(job, kept)) and not self._reader.background.busy:
            self._reader.want(unread, self.refresh)
        self._show()

    def _show(self) -> None:
        made = self.made
        self._draw(made)
        clear(self._grid)
        if made is not None and made.pulls:
            self._fill(made)
        self._count.setText(f"The pulls, {len(made.pulls)}" if made else "The pulls")
        clear(self._side)
        self._verdict(made)
        for part, log in zip(SIDES, self._logs(), strict=True):
            self._day(part, log)
        self._refusals()
        self._side.addStretch(1)
        squeezable(self)

    def _draw(self, made: Comparison | None) -> None:
        self._none.setVisible(made is None or not made.pulls)
        self._none.setText(
            "Read a log from before the change and one from after: each with two pulls or more, "
            "a load or pedal in %, the charge temperature and, better, the air outside."
        )
        if made is None or not made.pulls:
            if self._graph is not None:
                self._graph.hide()
            return
        import numpy as np

        from zombrel.ui.widgets.graph import Curve, Graph

        t = self._session.theme
        factor = 1.0 if self._session.units.temperature == "C" else 1.8
        unit = "K over ambient" if factor == 1.0 else "°F over ambient"
        if self._graph is None:
            self._graph = Graph(t, "s of full load", unit)
            self._graph_box.insertWidget(1, self._graph, 1)
        graph = self._graph
        assert isinstance(graph, Graph)  # made above
        graph.dress(t)
        graph.show()
        curves, words = [], []
        for side, colour, style in (("before", t.quiet, "dash"), ("after", t.petrol, "main")):
            of = [p for p in made.pulls if p.side == side and p.curve]
            for i, p in enumerate(of, 1):
                x, y = np.array(p.curve).T
                curves.append(Curve(x, y * factor, f"{side} {i}", colour, style))
            if of:
                x, y = np.array(of[0].curve).T
                at = len(x) * 2 // 3
                air = of[0].ambient_k
                told = side if air is None else f"{side}, {self._air(air)} outside"
                above = 3.0 if side == "before" else -6.0
                words.append((float(x[at]) * 0.7, (float(y[at]) + above) * factor, told, colour))
        graph.show_curves(curves, words=words)

    def _air(self, kelvin: float) -> str:
        from zombrel.units.measure import written

        return written("temperature", kelvin, self._session.units)

    def _fill(self, made: Comparison) -> None:
        s = self._session
        for k, head in enumerate(HEADS):
            self._grid.addWidget(label(head, "small"), 0, k)
        counts = {"before": 0, "after": 0}
        for i, p in enumerate(made.pulls, 1):
            counts[p.side] += 1
            cells = (
                f"{p.side} {counts[p.side]}",
                _kelvin(p.starts_k, s),
                _kelvin(p.rise_k, s),
                f"{p.length_s:.1f} s at {100 * p.load:.0f} %",
                "not in the log" if p.back_s is None else f"{p.back_s:.0f} s",
                "not measured" if p.ambient_k is None else self._air(p.ambient_k),
            )
            for k, text in enumerate(cells):
                self._grid.addWidget(label(text, "strong13" if k == 0 else ""), i, k)
        back = measure.size("temperature", BACK_K, s.units, 0)
        words = f"A pull has recovered when it is back within {back} of where it began."
        self._grid.addWidget(label(words, "small"), len(made.pulls) + 1, 0, 1, len(HEADS))

    def _verdict(self, made: Comparison | None) -> None:
        s = self._session
        holder, inner = card(margins=14)
        inner.addWidget(label("Verdict", "head"))
        if made is None:
            inner.addWidget(label("Nothing is compared yet.", "quiet", wrap=True))
            if s.job.synthetic and s.job.number == "0413":
                demo = button("Demo logs", self.read_demo, "primary", "Read the demo logs")
                inner.addLayout(row(demo, 1))
            self._side.addWidget(holder)
            return
        holder.set_kind("selected")
        inner.addWidget(label(_head(made, s), "title", wrap=True))
        if made.low_k is not None and made.high_k is not None:
            low, high = sorted((made.low_k, made.high_k))
            told = f"{_kelvin(low, s)} to {_kelvin(high, s)}, 95 of 100"
            inner.addWidget(label(told, "", wrap=True))
        line = row(
            Mark(VERDICTS[made.verdict], 18), label(s.words(made.why), "strong13", wrap=True)
        )
        line.setStretch(1, 1)
        inner.addLayout(line)
        for words in made.mind:
            said = s.words(words)
            inner.addWidget(label(f"{said[0].upper()}{said[1:]}.", "quiet", wrap=True))
        backs = {
            side: [p.back_s for p in made.pulls if p.side == side and p.back_s is not None]
            for side in SIDES
        }
        if all(backs.values()):
            mean = {k: sum(v) / len(v) for k, v in backs.items()}
            words = f"It recovers in {mean['after']:.0f} s instead of {mean['before']:.0f}."
            inner.addWidget(label(words, "quiet", wrap=True))
        kept = any(c.id == made.id and not stale(s.history.present, c) for c in s.job.compared)
        keep = button("In the sheet" if kept else "Put into the sheet", self.keep, "primary")
        keep.setEnabled(not kept)
        keep.setObjectName("first")
        inner.addLayout(row(keep, button("Why?", self.why, name="Why this verdict"), 1))
        if kept:
            edit = QLineEdit(made.changed)
            edit.setAccessibleName("What was changed between them")
            edit.setPlaceholderText("what was changed between them")
            edit.editingFinished.connect(lambda: self._changed(made, edit.text().strip()))
            inner.addWidget(edit)
            if "," in made.changed or " and " in made.changed:
                words = "Several things were changed together: this says nothing of each alone."
                inner.addWidget(label(words, "watch", wrap=True))
        self._side.addWidget(holder)

    def _changed(self, made: Comparison, words: str) -> None:
        if words != made.changed:
            self._session.do("What was changed", put_changed(made, words))

    def _day(self, part: Part, log: JobLog | None) -> None:
        """The log of one side, and what is known of its day."""
        holder, inner = card(margins=12)
        inner.addWidget(label(f"The log {part}", "head"))
        if log is None:
            words = f"Read the log {part}"
            inner.addLayout(row(button(words, lambda: self.ask(part), "", words), 1))
            self._side.addWidget(holder)
            return
        drop = button("Out", lambda: self._drop(log), "plain", f"Take {log.name} out")
        line = row(label(f"{log.name}, {log.day}", "quiet", wrap=True), drop)
        line.setStretch(0, 1)
        inner.addLayout(line)
        day = day_of(self._session.job, part)
        weather, tank = Choice(), Choice()
        weather.setAccessibleName(f"Weather {part}")
        weather.addItems(list(WEATHER.values()))
        weather.setCurrentIndex(list(WEATHER).index(day.weather))
        weather.activated.connect(lambda i: self._put(part, weather=list(WEATHER)[i]))
        tank.setAccessibleName(f"Tank {part}")
        tank.addItems(list(TANKS.values()))
        tank.setCurrentIndex(list(TANKS).index(day.tank) if day.tank in TANKS else 0)
        tank.activated.connect(lambda i: self._put(part, tank=list(TANKS)[i]))
        for words, box in (("weather", weather), ("tank", tank)):
            line = row(label(words, "quiet"), box)
            line.setStretch(1, 1)
            inner.addLayout(line)
        codes = QLineEdit(day.codes)
        codes.setAccessibleName(f"Codes stored {part}")
        codes.setPlaceholderText("codes stored, or none")
        codes.editingFinished.connect(lambda: self._put(part, codes=codes.text().strip()))
        inner.addWidget(codes)
        self._side.addWidget(holder)

    def _refusals(self) -> None:
        holder, inner = card(margins=12)
        inner.addWidget(label("Nothing is said of", "head"))
        for words in (
            "one pull on either side",
            "loads that differ by over 10 %",
            "rain on one day and not the other",
            "another gear, or another boost",
        ):
            inner.addWidget(label(f"·  {words}", "quiet", wrap=True))
        self._side.addWidget(holder)


def _head(made: Comparison, s: Session) -> str:
    """The verdict in three words."""
    if made.verdict == "refused":
        return "Not comparable"
    if made.verdict == "not-shown" or made.difference_k is None:
        return "No difference shown"
    size = _kelvin(abs(made.difference_k), s)
    return f"{size} {'less' if made.verdict == 'better' else 'more'} rise"


MINUS = "\u2212"


def _kelvin(kelvin: float, s: Session) -> str:
    """A difference of temperature as the user has it: ``7.9 K``, or ``14.2 °F``."""
    return f"{MINUS if kelvin < 0 else ''}{measure.size('temperature', kelvin, s.units)}"
