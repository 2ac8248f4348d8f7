"""The road sheet on screen: one leg at a time, large; who drives, who reads; the sign-off."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.notes import put_fact
from zombrel.actions.records import forget_proofs
from zombrel.diagnose.record import Outcome
from zombrel.findings.legs import WORDS, Leg, crew_lacks, drove, legs, sign, sign_lacks
from zombrel.job.follow.view import plain
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.stages import STAGE_NAMES
from zombrel.ui.prove.order import Order
from zombrel.ui.session import Session
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, card, clear, column, label, row, scroller
from zombrel.ui.widgets.why import show_why

MARKS = {
    "passed": "good",
    "failed": "trouble",
    "stale": "watch",
    "not reached": "watch",
    "open": "open",
}
ROLES = {"driver": "Who drives", "reader": "Who reads"}


class SheetView(Commanded, QWidget):
    """Legs at the left, the one at hand in the middle, people and sign-off at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._now = ""
        self._legs: tuple[Leg, ...] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.order = Order(self.choose)
        self.order.setAccessibleName("Legs in the order of the drive")
        left, inner = card(margins=8)
        inner.addWidget(label("Legs", "head"))
        inner.addWidget(self.order, 1)
        left.setFixedWidth(262)
        middle, self._body = card(margins=18)
        side = QVBoxLayout()
        side.setSpacing(10)
        side.setContentsMargins(0, 0, 0, 0)
        side.addWidget(self._crew())
        side.addWidget(self._sign_off())
        side.addStretch(1)
        holder = QWidget()
        holder.setLayout(side)
        holder.setFixedWidth(236)
        body = row(left, scroller(middle, "Leg at hand"), holder, spacing=10)
        body.setStretch(1, 1)
        self.setLayout(body)

    def _crew(self) -> QWidget:
        people, inner = card(margins=12)
        inner.addWidget(label("In the car", "head"))
        self._people: dict[str, QLineEdit] = {}
        for key, words in ROLES.items():
            field = QLineEdit()
            field.setAccessibleName(words)
            field.setMaxLength(80)
            field.editingFinished.connect(partial(self._named, key))
            self._people[key] = field
            inner.addWidget(label(words, "small"))
            inner.addWidget(field)
        self._crew_words = label("", "small", wrap=True)
        inner.addWidget(self._crew_words)
        return people

    def _sign_off(self) -> QWidget:
        signed, inner = card(margins=12)
        inner.addWidget(label("Sign-off", "head"))
        self._signer = QLineEdit()
        self._signer.setAccessibleName("Who signs the road test off")
        self._signer.setPlaceholderText("name")
        self._signer.setMaxLength(80)
        self._signer.returnPressed.connect(self.sign)
        self._sign = button("Sign off", self.sign, "primary", "Sign the road test off")
        self._signed = label("", "quiet", wrap=True)
        inner.addWidget(self._signer)
        inner.addLayout(row(self._sign, 1))
        inner.addWidget(self._signed)
        return signed

    def _named(self, key: str) -> None:
        if not self._people[key].isModified():
            return
        self._people[key].setModified(False)
        outing = self._session.job.outing
        words = " ".join(self._people[key].text().split())
        if words != getattr(outing, key):
            self._session.do(f"{ROLES[key]}: {words or 'nobody'}", put_fact(f"outing.{key}", words))

    # ---- what is shown

    def refresh(self) -> None:
        """Show the legs and the one at hand."""
        job = plain(self._session.history.present)
        self._legs = legs(job)
        keys = [x.sheet.id for x in self._legs]
        if self._now not in keys:
            undone = (x.sheet.id for x in self._legs if x.state != "passed")
            self._now = next(undone, keys[0] if keys else "")
        for key, field in self._people.items():
            if not (field.hasFocus() and field.isModified()):  # what is being typed stays
                field.setText(getattr(job.outing, key))
        self._crew_words.setText(crew_lacks(job.outing) or "The one who drives reads nothing.")
        lacks = sign_lacks(job, self._legs)
        self._sign.setEnabled(not lacks)
        by = f"{job.outing.signed}, {job.outing.signed_when}"
        was = f"Signed off by {by}" if job.outing.signed else ""
        left = [x.sheet.short for x in self._legs if x.state == "not reached"]
        words = f"{was}, no longer whole. {lacks}" if was and lacks else was or lacks
        if not lacks and left:
            words = f"{words} Left out: {', '.join(left)}.".strip()
        self._signed.setText(self._session.words(words or "Every leg went well."))
        self.order.show_steps([(x.sheet, x.state) for x in self._legs], self._now)
        self._show_leg()

    def _show_leg(self) -> None:
        clear(self._body)
        s, leg = self._session, self._leg()
        if leg is None:
            words = "Nothing to drive yet: no device is in the job. Add one in Survey."
            self._body.addWidget(label(words, "ask", wrap=True))
            self._body.addStretch(1)
            return
        sheet, n = leg.sheet, self._legs.index(leg) + 1
        state = row(Mark(MARKS[leg.state], 18), label(WORDS[leg.state], "quiet"), spacing=6)
        self._body.addLayout(row(label(f"{n} of {len(self._legs)}", "quiet"), 1, state))
        self._body.addWidget(label(sheet.short, "title", wrap=True))
        self._body.addWidget(label(s.words(sheet.ask), "ask", wrap=True))
        self._body.addWidget(label("What should come of it", "head"))
        self._body.addWidget(label(s.words(sheet.where), "strong", wrap=True))
        if sheet.caution:
            self._body.addWidget(self._caution(sheet.caution))
        if leg.said:
            self._body.addWidget(label(s.words(leg.said), "quiet", wrap=True))
        if leg.wait:
            line = row(Mark("locked", 20), label(s.words(leg.wait), "strong", wrap=True))
            line.setStretch(1, 1)
            self._body.addLayout(line)
            if s.assessment.road_lock:
                words = f"Go to {STAGE_NAMES[s.assessment.opens]}"
                go = button(words, partial(s.goto.emit, s.assessment.opens), "bigprimary")
                self._body.addLayout(row(go, 1))
        else:
            self._body.addLayout(self._answers(leg))
        if leg.state == "failed":
            self._body.addWidget(label(sheet.otherwise, "", wrap=True))
        self._body.addStretch(1)
        ways = row(
            button("Why?", self._why, name=f"Why: {sheet.short}"),
            button("Drive", partial(s.goto.emit, "road:drive"), "plain", "To Drive"),
            1,
        )
        if leg.state != "open" and sheet.kind != "read":
            ways.insertWidget(2, button("Forget it", self.forget, "plain", "Forget this leg"))
        self._body.addLayout(ways)
        self._body.addWidget(label("Up and Down: leg before and after.", "small"))

    def _caution(self, words: str) -> QWidget:
        panel = Panel("caution")
        line = row(Mark("watch", 18), label(words, "", wrap=True))
        line.setStretch(1, 1)
        line.setContentsMargins(10, 8, 10, 8)
        panel.setLayout(line)
        return panel

    def _answers(self, leg: Leg) -> QVBoxLayout:
        out = button("Left out   Q", self.left_out, "big", "Left out")
        if leg.sheet.kind == "read":
            go = button("Record it in Drive", partial(self._session.goto.emit, "road:drive"))
            return column(row(go, out, 1))
        well = button("As it should   Space", self.well, "bigprimary", "As it should")
        bad = button("Not so   X", self.not_so, "big", "Not so")
        return column(row(well, 1), row(bad, out, 1))

    # ---- what is done

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("The leg went as it should", "Space", self.well),
            Command("The leg did not go so", "X", self.not_so),
            Command("The leg is left out", "Q", self.left_out),
            Command("Leg after", "Down PgDown", partial(self._move, 1)),
            Command("Leg before", "Up PgUp", partial(self._move, -1)),
        )

    def focus_first(self) -> None:
        """Names first while they lack, then the keys of the legs."""
        lacking = next((f for f in self._people.values() if not f.text()), None)
        (lacking or self).setFocus(Qt.FocusReason.OtherFocusReason)

    def choose(self, key: str) -> None:
        """Turn to a leg."""
        self._now = key
        self.refresh()
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def well(self) -> None:
        """It came as it should."""
        self._note("pass")

    def not_so(self) -> None:
        """It came otherwise."""
        self._note("fail")

    def left_out(self) -> None:
        """It could not be driven."""
        self._note("not reached")

    def forget(self) -> None:
        """What was said of this leg goes."""
        edit = forget_proofs(self._session.history.present, self._now)
        if edit is not None:
            self._session.do("A leg forgotten", edit)

    def sign(self) -> None:
        """Sign off in the name that stands there."""
        s = self._session
        try:
            edit = sign(plain(s.history.present), self._signer.text(), s.now())
        except Problem as problem:
            s.said.emit("watch", s.words(str(problem)))
            return
        if s.do("Road test signed off", edit):
            self._signer.clear()

    def _note(self, verdict: Outcome) -> None:
        leg, s = self._leg(), self._session
        if leg is None:
            return
        try:
            edit = drove(plain(s.history.present), leg, verdict, "", s.now())
        except Problem as problem:
            s.said.emit("watch", s.words(str(problem)))
            return
        if s.do(f"{leg.sheet.short}: {verdict}", edit) and verdict != "fail":
            self._move(1)

    def _move(self, by: int) -> None:
        keys = [x.sheet.id for x in self._legs]
        if self._now in keys:
            self.choose(keys[min(max(keys.index(self._now) + by, 0), len(keys) - 1)])

    def _leg(self) -> Leg | None:
        return next((x for x in self._legs if x.sheet.id == self._now), None)

    def _why(self) -> None:
        leg = self._leg()
        if leg is not None:
            sheet = leg.sheet
            reason = Reason(
                title=sheet.short,
                result=sheet.where,
                formula=sheet.formula or "said by the driver",
                given=(),
                source=sheet.source,
                assumption="a level, dry road without wind, unless the leg says otherwise",
            )
            show_why(reason, self.window(), self._session.units)
