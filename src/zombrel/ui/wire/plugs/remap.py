"""Remap: what of the car's plug goes where on the new ones, row by row, and the lead it makes."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.plugs import leads
from zombrel.actions.records import remove_lead
from zombrel.harness.plugs.build import Build, build, remap_of
from zombrel.harness.plugs.conducts import plug_of
from zombrel.job.edits import Edit
from zombrel.job.follow.query import Watch
from zombrel.job.follow.view import plain
from zombrel.job.model import index
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.wiring import Lead
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, clear, column, label, row, scroller
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.plugs.bench_lead import BenchLead
from zombrel.ui.wire.plugs.facing import Drawn, Facing
from zombrel.ui.wire.plugs.remap_table import KINDS, MARKS, WORDS, Line, RemapView, lines_of
from zombrel.units.measure import length_of, short_of

TWO = 2
WIDE = 900
"""From this width the side is wide [px]."""
ACROSS = 2
"""Fields of lengths beside each other."""


class RemapPage(Commanded, QWidget):
    """Two sides, a row for each cavity that carries something."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._chosen = ""
        self._from: str = ""
        """The old cavity that is being joined by hand; empty: none is."""
        self._shown = Watch()
        self._pick = Choice()
        self._pick.setAccessibleName("Remap lead")
        self._pick.activated.connect(lambda i: self._picked(i))
        self._ends = [Choice() for _ in range(3)]
        for box, name in zip(self._ends, ("From", "To", "And to"), strict=True):
            box.setAccessibleName(f"{name} connector")
        self._begin = button("Begin", self.begin, "primary", "Begin a remap")
        self._new = row(
            label("From", "quiet"),
            self._ends[0],
            label("to", "quiet"),
            self._ends[1],
            label("and", "quiet"),
            self._ends[2],
            self._begin,
            1,
        )
        self.view = RemapView(session, self.commands)
        self.view.selectionModel().currentRowChanged.connect(lambda *_: self._show_row())
        self.facing = Facing(session)
        self.facing.chosen.connect(self._cavity_chosen)
        self.facing.joined.connect(self.join_two)
        self.facing.hide()
        self._drawn = False
        """The plugs are shown facing each other instead of the table."""
        self._turn = button("Plugs   F", self.turn, "plain", "Plugs facing each other")
        self._count = label("", "quiet")
        self._nothing = label("", "quiet", wrap=True)
        self._take = button(
            "Take all that match   A", self.take_all, "primary", "Take all that match"
        )
        self._join = button("Join by hand   J", self.join, "", "Join by hand")
        self._leave = button("Leave unused   U", self.leave, "", "Leave unused")
        head, inner = card(margins=12)
        inner.addLayout(row(self._pick, self._count, 1, self._turn))
        inner.addLayout(self._new)
        inner.addWidget(self._nothing)
        inner.addWidget(self.view, 1)
        inner.addWidget(self.facing, 1)
        inner.addLayout(row(self._take, self._join, self._leave, 1))
        area = self._side()
        line = row(head, area, spacing=12)
        line.setStretch(0, 1)
        self.setLayout(line)

    def _side(self) -> QWidget:
        """The chosen row, and the lead on the bench."""
        self._detail = QVBoxLayout()
        self._detail.setSpacing(7)
        detail, body = card(margins=14)
        body.addLayout(self._detail)
        self.bench = BenchLead(self._session)
        self._figures = label("", "quiet", wrap=True)
        self._lengths = QVBoxLayout()
        lead, bench = card(margins=14)
        bench.addWidget(label("The lead on the bench", "head"))
        bench.addWidget(self._figures)
        bench.addLayout(self._lengths)
        bench.addWidget(self.bench, 1)
        self._out = row(
            button("Build sheet", self._sheet, "", "Build sheet of this lead"),
            button("Probe it", self._probe, "", "Probe this lead"),
            1,
        )
        bench.addLayout(self._out)
        self._drop = button("Take it out", self._remove, "plain", "Take this remap out")
        bench.addLayout(row(self._drop, 1))
        side = QWidget()
        side.setLayout(column(detail, lead, spacing=10))
        side.layout().setStretch(1, 1)  # type: ignore[union-attr]
        area = scroller(side, "The row and the lead")
        self._side_area = area
        return area

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        wide = self.width() > WIDE
        self._side_area.setFixedWidth(356 if wide else 290)
        for kind in KINDS:  # the row beside says it too
            self.view.setColumnHidden(kind, not wide)

    # ---- what is chosen

    @property
    def lead(self) -> Lead | None:
        """The remap that is shown."""
        every = [x for x in self._session.job.leads if x.old]
        return next((x for x in every if x.id == self._chosen), every[0] if every else None)

    def _picked(self, i: int) -> None:
        every = [x for x in self._session.job.leads if x.old]
        self._chosen = every[i].id if i < len(every) else ""
        self.refresh()

    def show_item(self, item: str) -> None:
        """Choose a lead."""
        self._chosen = item
        self.refresh()

    def focus_first(self) -> None:
        if self._drawn:
            self.facing.focus_first()
        else:
            self.view.setFocus(Qt.FocusReason.OtherFocusReason)

    def turn(self) -> None:
        """The plugs facing each other, or the table."""
        self._drawn = not self._drawn
        self.refresh()
        self.focus_first()

    def _cavity_chosen(self, pin: str) -> None:
        """Bring the row of a cavity forward."""
        for i, line in enumerate(self.view.rows.lines):
            if pin in [w.cavity for w in (line.a, line.b) if w is not None]:
                self.view.choose(i)
                return
        self.view.clearSelection()
        self._show_row()

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("Take all that match", "A", self.take_all),
            Command("Take this row, or out again", "T Return Space", self.toggle),
            Command("Join by hand: one cavity, then the other", "J", self.join),
            Command("Leave unused, or no more", "U", self.leave),
            Command("Why this row", "W", self.why),
            Command("Plugs facing each other, or the table", "F", self.turn),
        )

    # ---- acting

    def _do(self, words: str, edit: Edit | None) -> None:
        if edit is None:
            self._session.said.emit("open", "All that is sure is in the lead already.")
            return
        at = self.view.currentIndex().row()
        self._session.do(words, edit)
        self.refresh()
        self.view.choose(at)

    def begin(self) -> None:
        """A lead between the chosen connectors."""
        s = self._session
        names = [str(box.currentData() or "") for box in self._ends]
        try:
            key, edit = leads.begin_remap(s.job, names[:1], [n for n in names[1:] if n])
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        if s.do("A remap begun", edit):
            self._chosen = key
            self.refresh()
            self.focus_first()

    def take_all(self) -> None:
        """All that is sure into the lead."""
        patch = self.lead
        if patch is not None:
            self._do(
                "All that match", leads.take_matching(plain(self._session.history.present), patch)
            )

    def toggle(self) -> None:
        """This row into the lead, or out of it."""
        patch, line = self.lead, self.view.line
        if patch is None or line is None:
            return
        if self._from:
            self.join()
            return
        if line.state == "link" and line.a is not None and line.b is not None:
            self._link(line.a.cavity, line.b.cavity)
        elif line.pair is not None:
            self._do(f"{line.pair.a.circuit}", leads.toggle(self._session.job, patch, line.pair))
        else:
            self._session.said.emit("open", "Nothing is joined in this row: J joins it by hand.")

    def join(self) -> None:
        """First the old cavity, then the new one."""
        patch, line = self.lead, self.view.line
        if patch is not None and self._drawn and self.facing.pin:
            if self._from:
                self.join_two(self._from, self.facing.pin)
            else:
                self._from = self.facing.pin
                self._show_row()
            return
        if patch is None or line is None:
            return
        ways = [w.cavity for w in (line.a, line.b) if w is not None]
        if not self._from:
            self._from = ways[0]
            self._show_row()
            return
        # the other side first; one that has only the same side is linked inside the lead
        new = plug_of(self._from) in patch.new
        far = [w for w in ways if (plug_of(w) in patch.new) != new]
        self.join_two(self._from, (far or ways)[0])

    def join_two(self, a: str, b: str) -> None:
        """Two cavities joined: across the lead by a conductor, on one side by a link."""
        patch = self.lead
        self._from = ""
        if patch is None or a == b:
            self._show_row()
            return
        news = [plug_of(x) in patch.new for x in (a, b)]
        if news[0] == news[1]:
            self._link(a, b)
            return
        old, new = (b, a) if news[0] else (a, b)
        self._do(f"{old} to {new}", leads.join(self._session.job, patch, old, new))

    def _link(self, a: str, b: str) -> None:
        patch = self.lead
        if patch is None:
            return
        try:
            self._do(f"{a} and {b} linked", leads.link(self._session.job, patch, a, b))
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self._from:
            self._from = ""
            self._show_row()
            return
        super().keyPressEvent(event)

    def leave(self) -> None:
        """This cavity stays unused on purpose, or no more so."""
        patch, line = self.lead, self.view.line
        if patch is None or line is None:
            return
        way = line.a or line.b
        assert way is not None  # a row has one side at least
        self._do(f"{way.cavity} left unused", leads.leave(self._session.job, patch, way.cavity))

    def _probe(self) -> None:
        if self.lead is not None:
            self._session.goto.emit(f"wire:probe/{self.lead.id}")

    def _sheet(self) -> None:
        self._session.goto.emit("handover:leads")

    def _remove(self) -> None:
        if self.lead is not None:
            self._session.do(f"{self.lead.name} taken out", remove_lead(self.lead))

    def why(self) -> None:
        """How a row came to be."""
        line = self.view.line
        if line is None:
            return
        ways = [w for w in (line.a, line.b) if w is not None]
        show_why(
            Reason(
                title=" to ".join(w.cavity for w in ways),
                result=line.conflict.why if line.conflict else WORDS[line.state],
                formula="the same function by name, number and sign; the kinds must go together",
                given=tuple(
                    Given(
                        name=w.cavity,
                        value=" ".join(
                            x for x in (w.function.name, w.function.which, w.function.sign) if x
                        ),
                        known=f"{w.circuit}; {w.kind or 'kind not said'}",
                    )
                    for w in ways
                ),
                source="words of the trade; what is electrically behind a pin by its paper",
                assumption="the paper is right: probe the lead before it is plugged in",
            ),
            self.window(),
            self._session.units,
        )

    # ---- showing

    def refresh(self) -> None:
        s, patch = self._session, self.lead
        every = [x for x in s.job.leads if x.old]
        names = [x.name for x in every] + ["Another remap …"]
        if [self._pick.itemText(i) for i in range(self._pick.count())] != names:
            self._pick.clear()
            self._pick.addItems(names)
        self._pick.setVisible(bool(every))
        if self._chosen == "" and every and self._pick.currentIndex() >= len(every):
            patch = None  # another one is asked for
        elif patch is not None:
            self._pick.setCurrentIndex(every.index(patch))
        self._offer(patch is None)
        self.view.setVisible(patch is not None and not self._drawn)
        self.facing.setVisible(patch is not None and self._drawn)
        self._turn.setText("Table   F" if self._drawn else "Plugs   F")
        for part in (self._turn, self._take, self._join, self._leave, self.bench, self._drop):
            part.setVisible(patch is not None)
        for i in range(self._out.count()):
            widget = self._out.itemAt(i).widget()
            if widget is not None:
                widget.setVisible(patch is not None)
        if patch is None:
            self._shown = Watch()
            self._count.setText("")
            clear(self._detail)
            clear(self._lengths)
            self._detail.addWidget(label("A remap shows here what each row is.", "quiet", True))
            self._figures.setText("")
            return
        own = (patch.id, s.theme, self._from)
        if self._shown.due(s.present, *own):
            with self._shown.making(*own):
                self._show_lead()

    def _offer(self, shown: bool) -> None:
        """Choose the connectors of a new one."""
        connectors = self._session.job.connectors
        enough = len(connectors) >= TWO
        for i in range(self._new.count()):
            widget = self._new.itemAt(i).widget()
            if widget is not None:
                widget.setVisible(shown and enough)
        self._nothing.setVisible(shown)
        self._nothing.setText(
            "Choose the car’s plug and the new ones; what they carry is matched by function."
            if enough
            else "A remap wants two connectors with what they carry: add them in Connectors."
        )
        items = [("", "—"), *((c.id, f"{c.id}, {c.name}") for c in connectors)]
        for box in self._ends:
            if [box.itemText(i) for i in range(box.count())] != [words for _, words in items]:
                box.clear()
                for key, words in items:
                    box.addItem(words, key)

    def _show_lead(self) -> None:
        patch = self.lead
        assert patch is not None  # refresh looked
        job = self._session.job  # what is read of it is what the page is shown anew for
        found = remap_of(job, patch)
        at = max(self.view.currentIndex().row(), 0)
        lines = lines_of(patch, found)
        self.view.rows.fill(lines)
        self.view.choose(at)
        self._show_plugs(patch, lines)
        open_ = sum(x.state in ("name", "kind", "conflict", "proposed", "unused") for x in lines)
        self._count.setText(f"{len(patch.rows)} joined, {open_} to decide")
        try:
            made: Build | None = build(job, patch)
        except Problem as problem:
            made = None
            self._figures.setText(str(problem))
        self.bench.show_build(made)
        clear(self._lengths)
        if made is not None:
            self._show_build(patch, made)
        self._show_row()

    def _show_plugs(self, patch: Lead, lines: list[Line]) -> None:
        """The same as the table, drawn: taken rows and what is proposed."""
        at = index(self._session.job.connectors)
        drawn = [Drawn(r.a, r.b, r.colour) for r in patch.rows]
        drawn += [
            Drawn(x.pair.a.cavity, x.pair.b.cavity, x.pair.a.colour, False)
            for x in lines
            if x.pair is not None and x.state != "taken"
        ]
        sides = [[at[k] for k in keys if k in at] for keys in (patch.old, patch.new)]
        self.facing.show_plugs(sides[0], sides[1], tuple(drawn))

    def _show_build(self, patch: Lead, made: Build) -> None:
        metres = sum(p.length_m for p in made.pieces)
        said = "" if patch.trunk_m else " Lengths are usual ones: say them."
        words = (
            f"{len(made.pieces)} pieces, {length_of(metres, 1)} of wire; bundle "
            f"{short_of(made.bundle_mm / 1000)}, tube {short_of(made.tube_mm / 1000)}.{said}"
        )
        self._figures.setText(self._session.words(words))
        s = self._session
        fields: dict[str, FigureField] = {}

        def put() -> None:
            values = {k: f.take() for k, f in fields.items()}
            if any(f.refused for f in fields.values()):
                return
            trunk = values.pop("") or 0.0
            branches = {k: v for k, v in values.items() if v}
            if (trunk, tuple(branches.items())) != (patch.trunk_m, patch.branch_m):
                s.do("Lengths of the lead", leads.put_lengths(patch, trunk, branches))

        given = {"": patch.trunk_m, **dict.fromkeys((p.name for p in made.plugs), 0.0)}
        given |= dict(patch.branch_m)
        for key, value in given.items():
            words = f"to {key}" if key else "trunk"
            field = FigureField(s, "length", f"Length, {words}", "m")
            field.setPlaceholderText(words)
            field.setText(f"{value:g} m" if value else "")
            field.editingFinished.connect(put)
            fields[key] = field
        boxes = list(fields.values())
        for i in range(0, len(boxes), ACROSS):
            self._lengths.addLayout(row(*boxes[i : i + ACROSS], spacing=6))

    def _show_row(self) -> None:
        clear(self._detail)
        line = self.view.line
        if line is None:
            return
        if self._from:
            words = (
                f"Join {self._from}: choose the other cavity, then J. On the same side it becomes "
                "a link inside the lead. Escape gives it up."
            )
            self._detail.addWidget(label(words, "watch", wrap=True))
        self._detail.addWidget(label(self._title(line), "head", wrap=True))
        ways = [w for w in (line.a, line.b) if w is not None]
        told = "; ".join(f"{w.circuit}, {w.kind or 'kind not said'}" for w in ways)
        self._detail.addWidget(label(told, "quiet", wrap=True))
        mark = "good" if line.state in ("taken", "link") else MARKS.get(line.state, "open")
        words = WORDS[line.state]
        if line.conflict is not None:
            mark = "watch" if line.state == "taken" else "trouble"
            words = line.conflict.why
        said = row(Mark(mark, 18), label(words, "strong13", wrap=True))
        said.setStretch(1, 1)
        self._detail.addLayout(said)
        if line.conflict is not None:
            self._detail.addWidget(label(line.conflict.mend, "quiet", wrap=True))
        if line.state == "kind":
            told = "Nothing but their kind agrees: a constant feed is no switched one. Meter both."
            self._detail.addWidget(label(told, "quiet", wrap=True))
        if line.state == "name":
            told = "One side does not say its kind: look it up, or take it knowing that."
            self._detail.addWidget(label(told, "quiet", wrap=True))
        buttons = []
        if line.state == "link":
            buttons.append(button("Out again   T", self.toggle, "", "Out again"))
        if line.pair is not None:
            words = "Out again   T" if line.state == "taken" else "Take it   T"
            buttons.append(button(words, self.toggle, "", words.partition("   ")[0]))
        buttons.append(button("Why?", self.why, name="Why this row"))
        self._detail.addLayout(row(*buttons, 1))

    def _title(self, line: Line) -> str:
        ends = [w for w in (line.a, line.b) if w is not None]
        return " to ".join(w.cavity.replace(".", " ") for w in ends)
