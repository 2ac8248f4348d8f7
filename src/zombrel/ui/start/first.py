"""The first useful number: what a device will see, as soon as it can be worked out."""

from __future__ import annotations

from collections.abc import Callable

from zombrel.actions.signals import fit_way
from zombrel.job.edits import Edit
from zombrel.job.model import Chain, by_id
from zombrel.job.quantity import group
from zombrel.signals.chain_reading import ChainReading
from zombrel.signals.finder import candidates
from zombrel.signals.following import given_by
from zombrel.signals.reduce import input_of
from zombrel.ui.session import Session
from zombrel.ui.source.electrical import hz_words
from zombrel.ui.source.words import verdict
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, column, label, row
from zombrel.units import rpm, speed

NOTHING = "Fit a device and say where its signal comes from: what it will see stands here."


class FirstNumber(Panel):
    """Device and pin, the number large, and what is wrong with it, if anything is."""

    def __init__(self, session: Session, go: Callable[[str], None]) -> None:
        super().__init__("card")
        self._session, self._go, self._where = session, go, ""
        self._do: tuple[str, Edit] | None = None
        """What the button does, where it does not go somewhere."""
        self._for, self._big = label("", "quiet", wrap=True), label("", "big")
        self._at = label("", "quiet", wrap=True)
        self._mark, self._words = Mark("open"), label("", "", wrap=True)
        self._next = button("", self._on)
        said = row(self._mark, self._words)
        said.setStretch(1, 1)
        number = row(self._big, self._at)
        number.setStretch(1, 1)
        body = column(self._for, number, said, row(self._next, 1), spacing=5)
        body.setContentsMargins(16, 12, 16, 12)
        self.setLayout(body)

    def _on(self) -> None:
        if self._do is not None:
            self._session.do(*self._do)
        else:
            self._go(self._where)

    def refresh(self) -> None:
        """Show the first signal that can be worked out, else what the first one lacks."""
        s = self._session
        readings = {r.id: r for r in s.assessment.chains}
        chains = [c for c in s.job.chains if c.id in readings]
        ready = [c for c in chains if not readings[c.id].problem]
        chain = next(iter([*ready, *chains]), None)
        for part in (self._mark, self._words, self._for):
            part.setVisible(chain is not None)
        if chain is None:
            self._show("", "", NOTHING, "", "")
            return
        r = readings[chain.id]
        device, _ = input_of(s.job, chain)
        self._for.setText(f"{device.name}, {chain.pin}")
        if r.problem and self._show_offer(chain):
            return
        if r.problem:
            self._mark.show_mark("open")
            self._words.set_role("quiet")
            self._words.setText(s.words(r.problem))
            where = r.where or f"source:{chain.id}"
            self._show(self._for.text(), "", "", "Say it", where)
            return
        self._show_reading(chain, r)

    def _show_offer(self, chain: Chain) -> bool:
        """A signal whose device is not set yet: its rate, and what the best setting would read."""
        s = self._session
        device, sheet = input_of(s.job, chain)
        source = by_id(s.job.sources, chain.source)
        ranked = candidates(s.job, device, sheet)
        best = next((c for c in ranked if c.source == chain.source and c.possible), None)
        if source is None or best is None or group(chain.quantity) != "rate":
            return False
        true = s.state.speed if chain.quantity == "speed" else s.state.engine
        words = speed(true, s.units, 0) if chain.quantity == "speed" else rpm(true)
        self._mark.show_mark("watch" if best.faults else "good")
        self._words.set_role("watch" if best.faults else "good")
        self._words.setText(s.words("; ".join(best.faults or best.reasons[:2])))
        hz = given_by(s.job, source).rate * true
        on = "Set it so" if best.setting and not best.faults else "Show it on the board"
        at = f"at {words} from {source.name}"
        self._show(self._for.text(), hz_words(hz), at, on, f"source:{chain.id}")
        if best.setting and not best.faults:
            edit = fit_way(s.history.present, chain, best.hops, best.setting, best.table)
            self._do = (f"{device.name} {chain.pin}: {best.setting}", edit)
        return True

    def _show_reading(self, chain: Chain, r: ChainReading) -> None:
        s = self._session
        said = verdict(s.job, chain, r, s.assessment, s.units)
        source = by_id(s.job.sources, chain.source)
        name = source.name if source is not None else chain.source
        big = f"{said.big} {said.unit}".strip()
        at = f"from {name}"
        if group(chain.quantity) == "rate":
            big = hz_words(r.device_hz)
            true = speed(r.true, s.units, 0) if chain.quantity == "speed" else rpm(r.true)
            at = f"at {true} from {name}"
        self._mark.show_mark(said.mark)
        self._words.setText(said.words)
        self._words.set_role(said.mark)
        self._show(self._for.text(), big, at, "Show it on the board", f"source:{chain.id}")

    def _show(self, title: str, big: str, at: str, words: str, where: str) -> None:
        self._big.setText(big)
        self._big.setVisible(bool(big))
        self._at.setText(at)
        self._next.setText(words)
        self._next.setVisible(bool(words))
        self._where, self._do = where, None
        self.setAccessibleName(", ".join(x for x in (title, big, at, self._words.text()) if x))
