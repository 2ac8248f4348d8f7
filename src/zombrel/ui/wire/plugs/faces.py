"""Connectors: faces as the hand holds them, shared circuits, changes with steps and parts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QBoxLayout, QFileDialog, QLineEdit, QMenu, QVBoxLayout, QWidget

from zombrel.actions.connectors import remove_connector
from zombrel.actions.library import Offer, take
from zombrel.actions.made import make, metered, unmake
from zombrel.actions.parts import add_connector, free_name
from zombrel.actions.wires import plan_change, put_change, remove_change
from zombrel.harness.plugs import changes, face, moves
from zombrel.job.edits import Edit
from zombrel.job.follow.query import Watch
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Change, Connector
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, card, clear, label, row, scroller
from zombrel.ui.widgets.tip import tip
from zombrel.ui.wire.plugs.cavity_card import KEYS, WORDS, cavity_card, see
from zombrel.ui.wire.plugs.connector_form import ConnectorDialog, PinoutDialog
from zombrel.ui.wire.plugs.cylinder_card import CylinderCard
from zombrel.ui.wire.plugs.earlier_faces import earlier
from zombrel.ui.wire.plugs.face_view import FaceView
from zombrel.units.measure import area_of

TAKEN = ("tap", "intercept", "move", "remap", "swap", "cycle", "jumper", "pull", "rotate")
FREE = ("add", "blank")
"""Kinds of change at a cavity that holds a wire, and at one that does not."""
ACROSS = 4
GOES = {
    "move": "Goes to connector.cavity",
    "remap": "Goes to connector.cavity",
    "jumper": "Joins connector.cavity",
    "swap": "The other cavity",
    "cycle": "Where each goes in turn, 5, 7, 2",
    "rotate": "By how many places, +1 or -1",
}
"""Kinds that say where to, and how it is asked."""


class FacesPage(Commanded, QWidget):
    """The face at the left; what can be done at the chosen cavity at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown_right = Watch()
        self._chosen = ""
        self._change = ""
        self._after = False
        self._kept: dict[str, str] = {}
        self._pick = Choice()
        self._pick.setAccessibleName("Connector")
        self._pick.setMinimumWidth(150)
        self._pick.activated.connect(self._picked)
        self._side = label("", "quiet")
        self.face = FaceView(session, 60)
        self.face.nothing = "Its face is drawn here as the hand holds it."
        self.face.chosen.connect(self._cavity_chosen)
        self._words = label("", "strong", wrap=True)
        self._facts = label("", "quiet", wrap=True)
        holder, inner = card()
        turn = button("Turn   M", self._turn, "plain", "Turn the connector round")
        self._turner = turn
        self._bring = button("Add ▾", self._ask_new, "plain", "Add a connector")
        self._alter = button("Change ▾", self._ask_change, "plain", "Change this connector")
        inner.addLayout(row(self._pick, self._bring, self._alter, 1, turn))
        inner.addWidget(self._side)
        inner.addWidget(self.face, 1)
        inner.addWidget(self._words)
        inner.addWidget(self._facts)
        side = QWidget()
        self._right = QVBoxLayout(side)
        self._right.setContentsMargins(0, 0, 6, 0)
        self._right.setSpacing(8)
        area = scroller(side, "What is done here")
        area.setFixedWidth(376)
        body = row(holder, area, spacing=10)
        body.setStretch(0, 1)
        body.setContentsMargins(0, 0, 0, 0)
        self.setLayout(body)

    # ---- what is chosen

    @property
    def connector(self) -> Connector | None:
        """The connector on show, as it is."""
        found = by_id(self._session.job.connectors, self._chosen)
        every = self._session.job.connectors
        return found or (every[0] if every else None)

    def _shown(self) -> Connector | None:
        """The connector as it is, or as it will be once the chosen change is made."""
        c, change = self.connector, by_id(self._session.job.changes, self._change)
        if c is None or not self._after or change is None:
            return c
        try:
            after = change.before or changes.after(self._session.job, change)
        except Problem:
            return c
        return next((x for x in after if x.id == c.id), c)

    def show_item(self, item: str) -> None:
        """A connector, a cavity as CONNECTOR.CAVITY, or a change by its id."""
        change = by_id(self._session.job.changes, item)
        place, _, n = item.rpartition(".")
        if change is not None:
            self._change, self._chosen = change.id, change.connector
            self.refresh()
            self.face.choose(change.cavity)
        else:
            c = by_id(self._session.job.connectors, place)
            self._chosen, self._change, self._after = c.id if c else item, "", False
            self.refresh()
            if c is not None and n.isdigit() and int(n) in {p.n for p in face.places(c)}:
                self.face.choose(int(n))
        self.focus_first()

    def focus_first(self) -> None:
        self.face.setFocus(Qt.FocusReason.OtherFocusReason)

    def commands(self) -> tuple[Command, ...]:
        seen = (
            Command(f"{WORDS[what]} in this cavity", key, partial(self._see, what))
            for key, what in KEYS
        )
        return (Command("Before and after the change", "B", self._toggle_after), *seen)

    def _see(self, seen: str) -> None:
        see(self._session, self.connector, self.face.cavity, seen)

    def _picked(self, i: int) -> None:
        every = self._session.job.connectors
        if i < len(every):
            self._chosen, self._change, self._after = every[i].id, "", False
            self.refresh()

    def _turn(self) -> None:
        self.face.turn()
        self._show_side()

    def _toggle_after(self) -> None:
        self._after = not self._after
        self._shown_right = Watch()
        self.refresh()

    def _cavity_chosen(self, n: int) -> None:
        self._shown_right = Watch()
        self.refresh()

    # ---- changing

    def _menu(self, under: QWidget, acts: dict[str, Callable[[], object]]) -> None:
        menu = QMenu(self)
        dress(menu)
        for words, act in acts.items():
            menu.addAction(words).triggered.connect(lambda _=False, act=act: act())
        menu.popup(under.mapToGlobal(under.rect().bottomLeft()))

    def _ask_new(self) -> None:
        acts: dict[str, Callable[[], object]] = {
            "A new one": self.make_new,
            "From a file…": self._from_file,
        }
        c = self.connector
        if c is not None:
            acts[f"One like {c.id}"] = partial(self.make_new, c)
        for offer in earlier(self._session):
            acts[f"From before: {offer.words}"] = partial(self.take_over, offer)
        self._menu(self._bring, acts)

    def take_over(self, offer: Offer) -> None:
        """A connector of an earlier job, as another car's."""
        s = self._session
        if s.do(f"Connector {offer.connector.name}", take(s.history.present, offer, s.now())):
            self._chosen = s.job.connectors[-1].id
            self.refresh()

    def _ask_change(self) -> None:
        c = self.connector
        if c is not None:
            acts: dict[str, Callable[[], object]] = {
                "Its shape": partial(self.change_shape, c),
                "What the paper says": partial(self.paste_paper, c),
                "Take it out": partial(self.take_out, c),
            }
            self._menu(self._alter, acts)

    def make_new(self, like: Connector | None = None) -> None:
        """Describe a connector that the job does not have."""
        n = len(self._session.job.connectors) + 1
        fresh = msgspec.structs.replace(
            like or Connector(rows=2, columns=4, name=f"Connector {n}"),
            id=free_name(f"X{n}", {c.id for c in self._session.job.connectors}),
            cavities=(),
        )
        self.change_shape(fresh)

    def change_shape(self, c: Connector) -> None:
        """Open the fields of a connector."""
        dialog = ConnectorDialog(self._session, c, self.window())
        dialog.accepted.connect(lambda: self.show_item(dialog.key))
        dialog.open()

    def paste_paper(self, c: Connector) -> None:
        """Type or paste what the paper has in its cavities."""
        PinoutDialog(self._session, c, self.window()).open()

    def take_out(self, c: Connector) -> None:
        """Take a connector out of the job."""
        try:
            edit = remove_connector(self._session.history.present, c)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._session.do(f"{c.name} taken out", edit)

    def _from_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A connector as JSON", "", "JSON (*.json)")
        if name:
            self.read_file(name)

    def read_file(self, name: str) -> None:
        """Add the connector a file describes."""
        from pathlib import Path

        from zombrel.calc.harness import read_face, read_text

        try:
            c = read_face(read_text(Path(name), "connector"), name)
            face.places(c)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        edit = add_connector(self._session.job, c)
        if self._session.do(f"Connector {c.name}", edit):
            self._chosen = self._session.job.connectors[-1].id
            self.refresh()

    def start(self, kind: str) -> None:
        """Plan a change at the chosen cavity."""
        c = self.connector
        if c is None:
            return
        n = self.face.cavity
        self._change, edit = plan_change(self._session.job, kind, c, n)
        self._session.do(f"{kind} at {c.id} cavity {n}", edit)

    def _drop(self, change: Change) -> None:
        self._change, self._after = "", False
        self._session.do(f"Change {change.id} dropped", remove_change(change))

    def _put(self, change: Change, field: str, value: str) -> None:
        if getattr(change, field) != value:
            self._session.do(f"{change.id}: {field}", put_change(change, field, value))

    # ---- showing

    def refresh(self) -> None:
        s, c = self._session, self.connector
        names = [f"{x.id}, {x.name}" for x in s.job.connectors]
        if [self._pick.itemText(i) for i in range(self._pick.count())] != names:
            self._pick.clear()
            self._pick.addItems(names)
        self._pick.setVisible(bool(names))
        self._alter.setVisible(bool(names))
        self._turner.setVisible(bool(names))
        if c is None:
            self.face.show_face(None, 0)
            self._side.setText("")
            self._words.setText("")
            self._facts.setText("")
            clear(self._right)
            self._nothing_card()
            self._shown_right = Watch()
            return
        self._chosen = c.id
        self._pick.setCurrentIndex(s.job.connectors.index(c))
        shown = self._shown()
        keep = self.face.cavity if self.face.cavity in {p.n for p in face.places(c)} else 0
        self.face.show_face(shown, keep or min(p.n for p in face.places(c)), keep=True)
        self._show_side()
        own = (c.id, self._change, self._after, self.face.cavity, s.theme)
        if self._shown_right.due(s.present, *own):
            with self._shown_right.making(*own):
                self._show_right()

    def _nothing_card(self) -> None:
        holder, inner = card()
        inner.addWidget(label("No connector is drawn yet", "head"))
        words = (
            "Draw the plugs that our wires go into: rows and cavities, then what the paper has in "
            "each of them and, apart from that, what was seen."
        )
        inner.addWidget(label(words, "quiet", wrap=True))
        inner.addLayout(row(button("Draw a connector", self.make_new, "primary"), 1))
        self._right.addWidget(holder)
        self._right.addStretch(1)

    def _show_right(self) -> None:
        c = self.connector
        assert c is not None  # refresh looked
        clear(self._right)
        self._right.addWidget(cavity_card(self._session, c, self.face.cavity))
        self._cavity_card(c)
        self._changes_card(c)
        self._shared_card(c)
        self._right.addWidget(CylinderCard(self._session, self._kept))
        self._right.addStretch(1)

    def _show_side(self) -> None:
        c = self.connector
        if c is None:
            return
        side = "mating face" if self.face.mating else "wire side"
        change = by_id(self._session.job.changes, self._change)
        found = change is not None and change.state != "planned"
        when = "" if not self._after else ", as it was found" if found else ", after the change"
        keyed = face.keyed_side(c, self.face.view)
        self._side.setText(f"{side}{when}; {c.key or 'key'} {keyed}. Arrows walk, M turns it.")
        self._words.setText(self.face.words())
        size = f"{area_of(c.least_mm2)} to {area_of(c.most_mm2)}" if c.most_mm2 else ""
        unseen = sum(face.state(c, p.n) == "not looked into" for p in face.places(c))
        said = [
            c.family,
            f"{c.terminals} terminals" if c.terminals else "",
            size,
            "sealed" if c.sealed else "",
            f"{len(face.vacant(c))} vacant",
            f"{unseen} not looked into" if unseen else "",
            _known(self._session.job, c),
        ]
        self._facts.setText(", ".join(x for x in said if x))

    def _cavity_card(self, c: Connector) -> None:
        holder, inner = card()
        n = self.face.cavity
        inner.addWidget(label("What is done there", "head"))
        taken = face.state(c, n) == "occupied"
        kinds = TAKEN if taken else FREE
        if face.state(c, n) == "unusable":
            inner.addWidget(label("Nothing goes through here.", "quiet"))
        else:
            for i in range(0, len(kinds), ACROSS):
                buttons = [
                    button(k.capitalize(), partial(self.start, k), "", f"{k} at cavity {n}")
                    for k in kinds[i : i + ACROSS]
                ]
                for made, k in zip(buttons, kinds[i : i + ACROSS], strict=True):
                    tip(made, changes.KINDS[k])
                inner.addLayout(row(*buttons, 1, spacing=6))
            told = changes.KINDS[kinds[0]] + "; the others say what they do when pointed at."
            inner.addWidget(label(told, "small", True))
        self._right.addWidget(holder)

    def _changes_card(self, c: Connector) -> None:
        for change in self._session.job.changes:
            if change.connector == c.id:
                self._one_change(change)

    def _one_change(self, change: Change) -> None:
        job = self._session.job
        chosen = change.id == self._change
        holder, inner = card()
        name = f"{change.id}: {change.kind} at cavity {change.cavity}, {change.state}"
        if not chosen:
            show = button("Show", partial(self.show_item, change.id), "plain", f"Show {change.id}")
            line = row(label(name, "strong13", wrap=True), show)
            line.setStretch(0, 1)
            inner.addLayout(line)
            self._right.addWidget(holder)
            return
        holder.set_kind("selected")
        found = change.state != "planned"
        sides = ("As built", "As found") if found else ("Before", "After")
        after = button(
            sides[0] if self._after else sides[1],
            self._toggle_after,
            "plain",
            "Face before or after",
        )
        tip(after, "B")
        inner.addLayout(
            row(
                label(name, "head", wrap=True),
                after,
                button("Drop", partial(self._drop, change), "plain"),
            )
        )
        if change.note:
            inner.addWidget(label(change.note, "quiet", wrap=True))
        if found:
            self._made(inner, change)
            self._right.addWidget(holder)
            return
        if change.kind in GOES:
            edit = QLineEdit(change.to)
            edit.setAccessibleName(GOES[change.kind])
            edit.setPlaceholderText(GOES[change.kind])
            edit.editingFinished.connect(lambda: self._put(change, "to", edit.text().strip()))
            inner.addLayout(row(label("goes to", "quiet"), edit))
        else:
            box = Choice()
            box.setAccessibleName("Our wire")
            box.addItems(["no wire of ours", *(w.id for w in job.wires)])
            box.setCurrentText(change.wire or "no wire of ours")
            box.activated.connect(
                lambda i: self._put(change, "wire", box.currentText() if i else "")
            )
            inner.addLayout(row(label("our wire", "quiet"), box, 1))
        for trouble in changes.troubles(job, change):
            inner.addWidget(label(f"◆ {trouble}", "trouble", wrap=True))
        for i, step in enumerate(changes.steps(job, change)):
            inner.addWidget(label(f"{i + 1}. {step}", "quiet", wrap=True))
        parts = ", ".join(p.name for p in changes.parts(job, change))
        inner.addWidget(label(f"Lay out: {parts or 'nothing new'}.", "strong13", wrap=True))
        c = by_id(job.connectors, change.connector)
        back = moves.way_back(c, change) if c is not None and change.kind in moves.MANY else ""
        if back:
            inner.addWidget(label(back, "quiet", wrap=True))
        done = button("It is made", partial(self._make, change), "primary")
        inner.addLayout(row(done, 1))
        self._right.addWidget(holder)

    def _made(self, inner: QBoxLayout, change: Change) -> None:
        """A change that stands on the car: what was metered, and the way back."""
        when = f", {change.when}" if change.when else ""
        inner.addWidget(
            label(f"{changes.KINDS[change.kind]}. {change.state}{when}.", "quiet", True)
        )
        if change.metered:
            inner.addWidget(label(f"Metered: {change.metered}", "strong13", wrap=True))
        else:
            edit = QLineEdit()
            edit.setAccessibleName("What the meter showed")
            edit.setPlaceholderText("what the meter showed, then Enter")
            edit.returnPressed.connect(lambda: self._metered(change, edit.text()))
            inner.addWidget(edit)
        undo = button("Take it back on the car", partial(self._unmake, change), "plain")
        inner.addLayout(row(undo, 1))

    def _act(self, words: str, made: Callable[[], Edit]) -> None:
        try:
            edit = made()
        except Problem as problem:
            self._session.said.emit("trouble", self._session.words(str(problem)))
            return
        self._after = False
        self._session.do(words, edit)

    def _make(self, change: Change) -> None:
        s = self._session
        self._act(f"{change.id} is made", lambda: make(s.history.present, change, s.now()))

    def _metered(self, change: Change, said: str) -> None:
        s = self._session
        self._act(
            f"{change.id} is proven", lambda: metered(s.history.present, change, said, s.now())
        )

    def _unmake(self, change: Change) -> None:
        job = self._session.history.present
        self._act(f"{change.id} taken back", lambda: unmake(job, change))

    def _shared_card(self, c: Connector) -> None:
        every = self._session.job.connectors
        lines = []
        for m in face.shared_circuits(every):
            if c.id in (m.a.partition(".")[0], m.b.partition(".")[0]):
                lines.append(f"{m.circuit}: {m.a} and {m.b}; {m.advice}")
        for other in every:
            if other.id == c.id:
                continue
            kinds = face.two_kinds(c, other)
            if kinds:
                lines.append(f"{other.id} has the same wires {kinds}")
            elif (pair := face.joinable(c, other)) is not None:
                lines.append(
                    f"one wire from {c.id}.{pair[0]} to {other.id}.{pair[1]} joins "
                    f"{c.id} and {other.id}: both vacant"
                )
        holder, inner = card()
        inner.addWidget(label("With other connectors", "head"))
        for line in lines or ["No other connector shares a circuit or has a cavity free."]:
            inner.addWidget(label(line, "quiet", wrap=True))
        self._right.addWidget(holder)


def _known(job: Job, c: Connector) -> str:
    """How its pin-out is known; empty where nobody has said."""
    rung = provenance(job, f"connectors.{c.id}.cavities")
    return f"pin-out {MEANING[rung]}" if rung else ""
