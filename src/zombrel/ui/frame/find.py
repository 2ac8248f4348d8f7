"""Find anything, or work out a sum: one field over the whole job."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from zombrel.actions.photos import place_words
from zombrel.calc.sums import work_out
from zombrel.harness.ends import end_words
from zombrel.harness.plugs.face import held
from zombrel.job.facts import POWER, all_facts
from zombrel.job.typed.facts import show
from zombrel.job.value import Value
from zombrel.ui.actions import Actions
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.commands import commands_in
from zombrel.ui.widgets.parts import label


class Hit(Value, frozen=True):
    """One thing found."""

    words: str
    run: Callable[[], object] | None


class FindDialog(QDialog):
    """Type; Enter takes the first, arrows choose."""

    def __init__(self, session: Session, actions: Actions, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._actions = session, actions
        self._here = tuple(commands_in(parent))
        """What can be done on the page behind."""
        self.setWindowTitle("Find")
        dress(self)
        self.resize(620, 420)
        body = QVBoxLayout(self)
        body.setContentsMargins(18, 18, 18, 14)
        self.field = QLineEdit()
        self.field.setObjectName("find")
        self.field.setPlaceholderText("a wire, pin, device, fact, action, or 4.8 A over 6.2 m")
        self.field.setAccessibleName("Find anything, or type a sum")
        self.field.textChanged.connect(self._search)
        self.field.returnPressed.connect(self._take)
        self.field.installEventFilter(self)
        self.results = QListWidget()
        self.results.setAccessibleName("Found")
        self.results.itemActivated.connect(lambda _: self._take())
        body.addWidget(self.field)
        body.addWidget(self.results, 1)
        body.addWidget(
            label(
                "Sums: 205/60 R15 3.64 46 teeth · 70 km/h 24054 per km · 3000 rpm 3 per rev · "
                "AWG 18",
                "small",
                wrap=True,
            )
        )
        self._hits: list[Hit] = []
        self._search("")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            move = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if move is not None and self._hits:
                at = (self.results.currentRow() + move) % len(self._hits)
                self.results.setCurrentRow(at)
                return True
        return super().eventFilter(watched, event)

    def _search(self, text: str) -> None:
        self._hits = [Hit(f"{what}: {value}", None) for what, value in work_out(text)]
        words = text.lower().split()
        for hit in self._everything():
            if all(w in hit.words.lower() for w in words):
                self._hits.append(hit)
            if len(self._hits) >= 60:
                break
        self.results.clear()
        for hit in self._hits:
            self.results.addItem(QListWidgetItem(hit.words))
        if not self._hits:
            self.results.addItem(QListWidgetItem("Nothing by that name. Try fewer letters."))
        self.results.setCurrentRow(0)

    def _everything(self) -> list[Hit]:
        s, job = self._session, self._session.job

        def go(where: str) -> Callable[[], object]:
            return lambda: s.goto.emit(where)

        hits = [Hit(f"{a.label}   {' '.join(a.keys)}", a.run) for a in self._actions.all.values()]
        hits += [Hit(f"{c.words}   {c.keys}", c.run) for c in self._here]
        hits += [
            Hit(f"Finding: {s.words(f.title)}", go(f"{f.stage}:{f.wire or f.chain}"))
            for f in s.assessment.findings
        ]
        hits += [
            Hit(f"Signal: {c.title} to {c.device} {c.pin}", go(f"source:{c.id}"))
            for c in job.chains
        ]
        for w in job.wires:
            ends = f"{end_words(job, w.a)} to {end_words(job, w.b)}"
            hits.append(Hit(f"Wire {w.id}: {w.colour}, {ends}", go(f"wire:{w.id}")))
        hits += [
            Hit(f"Device: {d.name}, {d.sheet.maker} {d.sheet.model}", go("set"))
            for d in job.devices
        ]
        hits += [
            Hit(f"Feed {f.id}: {f.name}, {f.feed}", go(f"wire:power/{f.id}")) for f in job.feeds
        ]
        for c in job.connectors:
            hits.append(Hit(f"Connector {c.id}: {c.name}", go(f"wire:faces/{c.id}")))
            hits += [
                Hit(f"{c.id} cavity {x.n}: {held(x)}", go(f"wire:faces/{c.id}.{x.n}"))
                for x in c.cavities
                if held(x)
            ]
        for p in job.photos:
            said = ", ".join(x for x in (p.note, *(m.words for m in p.marks)) if x)
            words = f"Photo: {place_words(job, p.at)}, {said or p.name}"
            hits.append(Hit(words, go(f"handover:photos/{p.id}")))
        hits += [Hit(f"Zone: {z.name}", go(f"wire:plan/{z.id}")) for z in job.zones]
        for patch in job.leads:
            hits.append(Hit(f"Lead: {patch.name}", go(f"wire:probe/{patch.id}")))
            hits += [
                Hit(
                    f"{patch.name}: {r.signal} {r.colour} {r.a} to {r.b}",
                    go(f"wire:probe/{patch.id}"),
                )
                for r in patch.rows
                if r.signal
            ]
        power = {f.path for f in POWER}
        for f in all_facts(job):
            where = "wire:power" if f.path in power else f"survey:{f.path}"
            hits.append(Hit(f"Fact: {f.label} {show(job, f, s.units)} {f.unit}", go(where)))
        return hits

    def _take(self) -> None:
        at = self.results.currentRow()
        if 0 <= at < len(self._hits) and self._hits[at].run is not None:
            run = self._hits[at].run
            self.accept()
            if run is not None:
                run()
