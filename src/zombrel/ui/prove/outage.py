"""Nothing works since yesterday: which devices are dead, what they share, where to meter."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.searches import answered, devices_are, keep, outage_of, untested
from zombrel.diagnose.misread.outage import Outage, outage, suspects
from zombrel.job.model import Search, index
from zombrel.ui.session import Session
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, card, clear, column, in_lines, label, row, scroller

STATES = ("not looked at", "dead", "alive")
SHOWN = 5


class OutageView(Commanded, QWidget):
    """Dead and living devices in, suspects and the next place of the meter out."""

    def __init__(self, session: Session, back: Callable[[], None]) -> None:
        super().__init__()
        self._session, self._back = session, back
        main, body = card(margins=16)
        body.addWidget(label("Nothing works since yesterday", "title"))
        words = "Say of each device whether it is dead or lives: press until it says so."
        body.addLayout(row(label(words, "quiet", wrap=True), 1))
        self._chips = QVBoxLayout()
        body.addLayout(self._chips)
        body.addStretch(1)
        body.addLayout(row(button("Steps   W", back, "plain", "Back to the steps"), 1))
        self._next, self._next_body = card(margins=14)
        self._next.set_kind("selected")
        self._causes = QVBoxLayout()
        self._causes.setSpacing(8)
        inside = QWidget()
        inside.setLayout(self._causes)
        side = QWidget()
        side.setLayout(
            column(self._next, label("What it may be", "head"), scroller(inside, "Suspects"))
        )
        side.setFixedWidth(340)
        line = row(main, side, spacing=12)
        line.setStretch(0, 1)
        self.setLayout(line)

    def refresh(self) -> None:
        """Show what stands now."""
        job = self._session.job
        fed = self._fed()
        states = self._states()
        for part in (self._chips, self._next_body, self._causes):
            clear(part)
        names = index(job.devices)
        chips: list[QWidget] = []
        for key in fed:
            state = states.get(key, 0)
            text = f"{('□', '◆', '✓')[state]} {names[key].name}: {STATES[state]}"
            chip = button(text, partial(self._turn, key), "plain")
            chip.set_on(state == 1)
            chips.append(chip)
        for line in in_lines(chips, 560, 8):
            self._chips.addLayout(row(*line, 1))
        if not fed:
            words = "No device has a supply drawn yet: draw one in Wire."
            self._chips.addWidget(label(words, "quiet", wrap=True))
        dead, alive = self._dead_and_alive()
        if not dead:
            words = "A device that is dead, and the next test stands here."
            self._next_body.addWidget(label(words, "quiet", wrap=True))
            self._causes.addStretch(1)
            return
        self._show(outage(job, dead, alive, self._answers()))

    def _fed(self) -> list[str]:
        return sorted(next(s for s in suspects(self._session.job) if s.kind == "battery").takes)

    def _states(self) -> dict[str, int]:
        """Of each fed device which of ``STATES``."""
        search, fed = outage_of(self._session.job), self._fed()
        found = dict.fromkeys(search.dead, 1) | dict.fromkeys(search.alive, 2)
        return {key: state for key, state in found.items() if key in fed}

    def _dead_and_alive(self) -> tuple[list[str], list[str]]:
        states = self._states()
        dead, alive = ([k for k, v in states.items() if v == n] for n in (1, 2))
        return dead, alive

    def _answers(self) -> dict[str, bool]:
        search = outage_of(self._session.job)
        return {a.id: a.answer == 1 for a in search.answers}

    def _keep(self, words: str, search: Search) -> None:
        self._session.do(words, keep(self._session.job, search))
        self.refresh()

    def _turn(self, key: str) -> None:
        states = self._states()
        states[key] = (states.get(key, 0) + 1) % len(STATES)
        told = {k: STATES[v] for k, v in states.items() if v}
        self._keep("What is dead", devices_are(outage_of(self._session.job), told))

    def _show(self, found: Outage) -> None:
        body, test = self._next_body, found.next
        if test is None:
            lead = found.ranked[0].suspect
            body.addWidget(label("Sure enough", "petrol"))
            body.addWidget(label(f"{lead.words}. {lead.mend}", "head", wrap=True))
        else:
            body.addWidget(label(f"Next test, {test.minutes:g} min.", "petrol"))
            body.addWidget(label(f"{test.words}.", "head", wrap=True))
            good = button(f"1   {test.good}", partial(self._answer, test.key, True), "")
            bad = button(f"2   {test.bad}", partial(self._answer, test.key, False), "")
            body.addLayout(row(good, bad, 1))
        if self._answers():
            body.addWidget(button("Forget the tests", self._forget, "plain"))
        for one in found.ranked[:SHOWN]:
            frame, inner = card(margins=10)
            words = label(one.suspect.words, "strong13", wrap=True)
            line = row(words, label(f"{one.share * 100:.0f} %", "head"))
            line.setStretch(0, 1)
            inner.addLayout(line)
            inner.addWidget(label(one.suspect.mend, "small", wrap=True))
            self._causes.addWidget(frame)
        self._causes.addStretch(1)

    def _answer(self, key: str, good: bool) -> None:
        self._keep("A test of a search", answered(outage_of(self._session.job), key, int(good)))

    def _forget(self) -> None:
        self._keep("Tests of a search forgotten", untested(outage_of(self._session.job)))

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("The next test came out well", "1", partial(self._by_key, True)),
            Command("The next test came out badly", "2", partial(self._by_key, False)),
            Command("Back to the steps", "W", self._back),
        )

    def _by_key(self, good: bool) -> bool | None:
        dead, alive = self._dead_and_alive()
        if not dead:
            return False
        test = outage(self._session.job, dead, alive, self._answers()).next
        if test is None:
            return False
        self._answer(test.key, good)
        return None
