"""Continuity: two cavities large on the screen, yes or no by one key, and what it adds up to."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from zombrel.actions.plugs.probing import add_lead, metered, own_wires, take_back
from zombrel.actions.records import remove_lead
from zombrel.catalog import DEMO
from zombrel.harness.plugs import face, lead, outcomes
from zombrel.harness.plugs.conducts import plug_of, split_pin
from zombrel.harness.plugs.outcomes import OWN, Deviation
from zombrel.harness.plugs.probing import Probe
from zombrel.intake.name import file_name
from zombrel.job.follow.query import Watch
from zombrel.job.ledger import provenance
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.wiring import Lead
from zombrel.store.atomic import write_atomically
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, clear, column, label, row, scroller
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.plugs.face_view import FaceView

SIGNS = {"open": "✕", "bridge": "⚇", "swap": "⇄", "moved": "→", "slip": "⟲"}
"""Marks of what is the matter, beside its words."""


class ProbePage(Commanded, QWidget):
    """The next two cavities fill the page; Y and N answer; the verdict stands below."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._chosen = ""
        self._shown = Watch()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._pick = Choice()
        self._pick.setAccessibleName("Lead")
        self._pick.activated.connect(self._picked)
        self._own = button("Our own wires", self._own_wires, "plain", "Probe our own wires")
        self._csv = button("Pin-out from CSV…", self._from_csv, "plain")
        self._play = button("Take the sample probing", self.play, "plain")
        top = row(self._pick, self._own, self._csv, self._play, 1)
        holder, inner = card(margins=14)
        self._count = label("", "quiet")
        self._ask = label("", "ask", wrap=True)
        self._a, self._b = label("", "huge", wrap=True), label("", "huge", wrap=True)
        self._a_how, self._b_how = label("", "quiet", wrap=True), label("", "quiet", wrap=True)
        self._faces = (FaceView(session, 56), FaceView(session, 56))
        for f in self._faces:
            f.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        left = column(self._a, self._a_how, self._faces[0], spacing=4)
        right = column(self._b, self._b_how, self._faces[1], spacing=4)
        left.setStretch(2, 1)
        right.setStretch(2, 1)
        self._expect = label("", "mid", wrap=True)
        self._yes = button(
            "Y   it sounds", partial(self.answer, True), "bigprimary", "Yes, it conducts"
        )
        self._no = button("N   silent", partial(self.answer, False), "big", "No, it is open")
        self._back = button("Backspace   take back", self.back, "plain", "Take the last one back")
        sides = row(left, right, spacing=24)
        sides.setStretch(0, 1)
        sides.setStretch(1, 1)
        inner.addLayout(row(self._ask, 1, self._count))
        inner.addWidget(self._expect)
        inner.addLayout(sides, 1)
        inner.addStretch(0)
        inner.addLayout(row(self._yes, self._no, self._back, 1, spacing=12))
        self._work = holder
        side = QWidget()
        self._side = QVBoxLayout(side)
        self._side.setContentsMargins(0, 0, 6, 0)
        self._side.setSpacing(8)
        area = scroller(side, "What has been found")
        area.setFixedWidth(340)
        below = row(holder, area, spacing=10)
        below.setStretch(0, 1)
        body = column(top, below, spacing=8)
        body.setStretch(1, 1)
        self.setLayout(body)

    # ---- what is chosen

    @property
    def lead(self) -> Lead | None:
        """The lead that is probed."""
        every = self._session.job.leads
        return by_id(every, self._chosen) or (every[0] if every else None)

    def _next(self) -> Probe | None:
        patch = self.lead
        if patch is None or not patch.rows:
            return None
        return lead.progress(patch, self._session.job.connectors).next

    def _picked(self, i: int) -> None:
        every = self._session.job.leads
        if i < len(every):
            self._chosen = every[i].id
            self.refresh()
            self.setFocus()

    def show_item(self, item: str) -> None:
        """Choose a lead."""
        self._chosen = item
        self.refresh()
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def focus_first(self) -> None:
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("It conducts", "Y Space PgDown", partial(self.answer, True)),
            Command("It is open", "N X PgUp", partial(self.answer, False)),
            Command("Take the last probe back", "Backspace", self.back),
            Command("Why this probe", "W", self.why),
            Command("Turn both faces round", "M", self._turn),
        )

    def _turn(self) -> None:
        for f in self._faces:
            f.turn()
        self._shown = Watch()
        self.refresh()

    # ---- answering

    def answer(self, conducts: bool) -> None:
        """Note what the meter said and go on."""
        patch, probe = self.lead, self._next()
        if patch is None or probe is None:
            return
        said = "conducts" if conducts else "open"
        s = self._session
        edit = outcomes.answered(s.job, patch, probe.a, probe.b, conducts, s.now())
        s.do(f"{probe.a} to {probe.b}: {said}", edit)
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def back(self) -> None:
        """Take the last answer back."""
        patch = self.lead
        if patch is None or not patch.answers:
            self._session.said.emit("open", "Nothing to take back.")
            return
        self._session.do("Last probe taken back", take_back(patch))

    def play(self) -> None:
        """Take the made-up probing that comes with the demo."""
        from zombrel.calc.harness import read_pairs, read_text

        patch = self.lead
        if patch is None:
            return
        path = DEMO / file_name(self._session.job.number, "-seen.csv")
        try:
            seen = read_pairs(read_text(path, "list of conductors"), path.name)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._metered(patch, seen, "Sample probing")

    def _metered(self, patch: Lead, seen: list[tuple[str, str]], words: str) -> None:
        self._session.do(words, metered(self._session.job, patch, seen))

    def _own_wires(self) -> None:
        """A lead of our own conductors, plug to place."""
        s = self._session
        if not s.job.wires:
            s.said.emit("open", "There are no wires to probe yet.")
            return
        edit = own_wires(s.job)
        self._chosen = OWN
        if edit is not None:
            new = by_id(s.job.leads, OWN) is None
            s.do("Probe our own wires" if new else "Our own wires as they are now", edit)
        self.refresh()
        self.setFocus()

    def _from_csv(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Pin-out, a,b a row", "", "CSV (*.csv *.txt)")
        if name:
            self.read_file(Path(name))

    def read_file(self, path: Path) -> None:
        """A lead from a CSV of pairs; columns three and four are colour and signal."""
        from zombrel.calc.harness import read_pairs, read_text

        try:
            pairs = read_pairs(read_text(path, "pin-out"), path.name)
            if not pairs:
                raise Problem(f"{path.name} names no conductor; one pair a line, as P1.3,E2.14.")
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        key, edit = add_lead(self._session.job, path.stem, path.name, pairs)
        if self._session.do(f"Lead {key}", edit):
            self._chosen = key
            self.refresh()
            self.setFocus()

    def _to_csv(self) -> None:
        patch = self.lead
        name, _ = QFileDialog.getSaveFileName(
            self, "Pin-out as it is", file_name(self._chosen, ".csv", "pin-out"), "CSV (*.csv)"
        )
        if patch is not None and name:
            self.write_file(Path(name))

    def write_file(self, path: Path) -> None:
        """The pin-out as it stands, with how it is known."""
        from zombrel.handover.tables import defused

        patch = self.lead
        if patch is None:
            return
        known = provenance(self._session.job, f"leads.{patch.id}.rows") or patch.source
        lines = [f"# {patch.name}; known: {known}", "a,b,colour,signal"]
        lines += [
            ",".join(f'"{defused(x)}"' for x in (r.a, r.b, r.colour, r.signal)) for r in patch.rows
        ]
        try:
            write_atomically(path, ("\n".join(lines) + "\n").encode())
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._session.said.emit("good", f"Written: {path}")

    def _paper(self, found: Sequence[Deviation]) -> None:
        """The paper is wrong in these: it is corrected, with the day."""
        s, patch = self._session, self.lead
        if patch is not None:
            edit = outcomes.paper_wrong(s.job, patch, found, s.now())
            s.do("Pin-out corrected, as probed", edit)

    def _repaired(self, found: Deviation) -> None:
        """Our lead is wrong and was put right: what was touched is probed again."""
        s, patch = self._session, self.lead
        if patch is not None:
            s.do(f"Repaired: {found.words}", outcomes.repaired(patch, found, s.now()))
            self.setFocus(Qt.FocusReason.OtherFocusReason)

    def why(self) -> None:
        """Why these two, and why so many."""
        patch = self.lead
        if patch is None:
            return
        order = lead.order(patch)
        closed = sum(p.conducts for p in order)
        show_why(
            Reason(
                title="Which probes, and how many",
                result=f"{len(order)} probes",
                formula="⌈ends / 2⌉ for each conductor's net + 1 for each two nets side by side",
                given=(
                    Given(name="along conductors", value=str(closed), known="must sound"),
                    Given(
                        name="between neighbours",
                        value=str(len(order) - closed),
                        known="must stay silent",
                    ),
                    Given(name="conductors listed", value=str(len(patch.rows)), known=patch.source),
                ),
                source="path cover of trees (West, Introduction to Graph Theory, §2.1)",
                assumption="neighbours lie side by side on the plugs' faces"
                if patch.beside
                else "neighbours are cavities of one plug that follow in number",
            ),
            self.window(),
            self._session.units,
        )

    # ---- showing

    def refresh(self) -> None:
        s, patch = self._session, self.lead
        names = [x.name for x in s.job.leads]
        if [self._pick.itemText(i) for i in range(self._pick.count())] != names:
            self._pick.clear()
            self._pick.addItems(names)
        self._pick.setVisible(bool(names))
        sample = DEMO / file_name(s.job.number, "-seen.csv")
        self._play.setVisible(
            s.job.synthetic
            and patch is not None
            and patch.id != OWN
            and sample.exists()
            and not lead.whole(patch, self._session.job.connectors)
        )
        if patch is None:
            self._nothing()
            return
        self._chosen = patch.id
        self._pick.setCurrentIndex(s.job.leads.index(patch))
        own = (patch.id, s.theme, self._faces[0].mating)
        if self._shown.due(s.present, *own):
            with self._shown.making(*own):
                self._show_lead()

    def _show_lead(self) -> None:
        patch = self.lead
        assert patch is not None  # refresh looked
        self._show_next(patch)
        clear(self._side)
        self._verdict_card(patch)
        self._answers_card(patch)
        self._side.addStretch(1)

    def _take_out(self, patch: Lead) -> None:
        self._session.do(f"{patch.name} taken out", remove_lead(patch))

    def _nothing(self) -> None:
        self._shown = Watch()
        clear(self._side)
        self._ask.setText("Nothing to probe yet")
        self._expect.setText(
            "Take our own wires, or bring a pin-out as CSV: one pair a row, as P1.3,E2.14."
        )
        for made in (self._count, self._a, self._b, self._a_how, self._b_how):
            made.setText("")
        for widget in (*self._faces, self._yes, self._no, self._back):
            widget.hide()

    def _show_next(self, patch: Lead) -> None:
        progress = lead.progress(patch, self._session.job.connectors)
        total = len(lead.order(patch))
        probe = progress.next
        self._back.setVisible(bool(patch.answers))
        for push_button in (self._yes, self._no):
            push_button.setVisible(probe is not None)
        if probe is None:
            self._ask.setText("All probed")
            self._count.setText(f"{progress.done} probes made")
            self._a.setText("")
            self._b.setText("")
            for words in (self._a_how, self._b_how):
                words.setText("")
            for f in self._faces:
                f.hide()
            self._expect.setText(lead.result(patch, self._session.job.connectors).verdict)
            return
        if progress.searching:
            self._ask.setText("Where did it go?")
            self._count.setText(f"{progress.done} made, searching")
        else:
            self._ask.setText("Touch these two")
            self._count.setText(f"{total - progress.left + 1} of {total}")
        meant = "It should sound." if probe.conducts else "It should stay silent."
        if progress.searching and not probe.conducts:
            meant = "Does it come out here?"
        for plug, slip in lead.slips_so_far(patch, self._session.job.connectors).items():
            meant += f" {plug_of(plug)} looks like a slip ({slip.slip}): {slip.how}."
        row_of = next((r for r in patch.rows if (r.a, r.b) in probe.rows), None)
        signal = ", ".join(x for x in (row_of.signal, row_of.colour) if x) if row_of else ""
        self._expect.setText(f"{meant}  {signal}".strip())
        for pin, big, how, view in (
            (probe.a, self._a, self._a_how, self._faces[0]),
            (probe.b, self._b, self._b_how, self._faces[1]),
        ):
            self._show_pin(pin, big, how, view)

    def _show_pin(self, pin: str, big: QWidget, how: QWidget, view: FaceView) -> None:
        plug, n = split_pin(pin)
        c = by_id(self._session.job.connectors, plug_of(plug))
        big.setText(pin.replace(".", "  ", 1))  # type: ignore[attr-defined]
        if c is None or n is None or n not in {p.n for p in face.places(c)}:
            view.hide()
            how.setText("")  # type: ignore[attr-defined]
            return
        view.lit = (n,)
        view.show_face(c, n)
        view.show()
        how.setText(f"{face.counted(c, n)}, {view.view}; M turns it")  # type: ignore[attr-defined]

    def _verdict_card(self, patch: Lead) -> None:
        holder, inner = card()
        faces = self._session.job.connectors
        continuity, whole = lead.result(patch, faces), lead.whole(patch, faces)
        known = provenance(self._session.job, f"leads.{patch.id}.rows")
        mark = "trouble" if not continuity.right else "good" if whole else "open"
        title = "As the paper says" if continuity.right else "Not as the paper says"
        if not whole and continuity.right:
            title = "Nothing wrong so far"
        inner.addLayout(
            row(
                Mark(mark, 20),
                label(title, "head"),
                1,
                button("Why?", self.why, name="Why these probes"),
            )
        )
        said = f"The pin-out is from {patch.source or 'nowhere'}."
        inner.addWidget(
            label(continuity.verdict if whole or not continuity.right else said, "quiet", True)
        )
        if known:
            inner.addWidget(label(f"Pin-out known: {known}.", "small"))
        waits = outcomes.waiting(patch, faces)
        if waits:
            words = f"Repaired, to be probed again: {waits[-1].words}."
            inner.addWidget(label(words, "watch", wrap=True))
        found = outcomes.deviations(patch, faces) if whole else ()
        for one in found:
            inner.addWidget(label(f"{SIGNS[one.kind]} {one.words}", "trouble", wrap=True))
            inner.addLayout(
                row(
                    button(
                        "Lead repaired",
                        partial(self._repaired, one),
                        "",
                        f"The lead was wrong: {one.words}",
                    ),
                    button(
                        "Paper is wrong",
                        partial(self._paper, (one,)),
                        "",
                        f"The paper is wrong: {one.words}",
                    ),
                    1,
                    spacing=6,
                )
            )
        if len(found) > 1:
            words = "The paper is wrong in all of it"
            inner.addWidget(button(words, partial(self._paper, found), "plain"))
        out = button("Take it out", partial(self._take_out, patch), "plain", "Take this lead out")
        inner.addLayout(row(button("Save as CSV…", self._to_csv, "plain"), out, 1))
        self._side.addWidget(holder)

    def _answers_card(self, patch: Lead) -> None:
        holder, inner = card()
        inner.addWidget(label("Last answers", "head"))
        expected = {frozenset((p.a, p.b)): p.conducts for p in lead.order(patch)}
        for x in reversed(patch.answers[-10:]):
            want = expected.get(frozenset((x.a, x.b)))
            odd = want is not None and want != x.conducts
            words = f"{'◆ ' if odd else ''}{x.a} – {x.b}: {'sounds' if x.conducts else 'silent'}"
            inner.addWidget(label(words, "trouble" if odd else "quiet"))
        if not patch.answers:
            inner.addWidget(
                label(
                    "None yet. Clip one lead of the meter, touch with the other; Y or Space, "
                    "N or X. A foot pedal on Page Down and Page Up does as well.",
                    "quiet",
                    wrap=True,
                )
            )
        self._side.addWidget(holder)
