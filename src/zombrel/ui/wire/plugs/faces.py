"""Connectors: faces as the hand holds them, shared circuits, changes with steps and parts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QMenu, QVBoxLayout, QWidget

from zombrel.actions.parts import add_connector, free_name
from zombrel.actions.plugs.connectors import remove_connector
from zombrel.actions.plugs.library import Offer, take, to_keep
from zombrel.actions.wires import plan_change
from zombrel.harness.plugs import changes, face
from zombrel.harness.plugs.in_common import in_common
from zombrel.job.follow.query import Watch
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Connector
from zombrel.store.plug_library import folder, throw_plug_away
from zombrel.store.shelf_files import is_own
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, card, clear, label, row, scroller
from zombrel.ui.widgets.tip import tip
from zombrel.ui.wire.plugs.cavity_card import KEYS, WORDS, cavity_card, see
from zombrel.ui.wire.plugs.change_card import ChangeCard
from zombrel.ui.wire.plugs.connector_form import (
    ConnectorDialog,
    KeepDialog,
    PinoutDialog,
    TerminalDialog,
)
from zombrel.ui.wire.plugs.cylinder_card import CylinderCard
from zombrel.ui.wire.plugs.earlier_faces import earlier
from zombrel.ui.wire.plugs.face_view import FaceView
from zombrel.units.measure import area_of

TAKEN = ("tap", "intercept", "move", "remap", "swap", "cycle", "jumper", "pull", "rotate")
FREE = ("add", "blank")
"""Kinds of change at a cavity that holds a wire, and at one that does not."""
ACROSS = 4


class FacesPage(Commanded, QWidget):
    """The face at the left; what can be done at the chosen cavity at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown_right = Watch()
        self._chosen = ""
        self._change = ""
        self.after = False
        self._kept: dict[str, str] = {}
        self._pick = Choice()
        self._pick.setAccessibleName("Connector")
        self._pick.setMinimumWidth(150)
        self._pick.activated.connect(self._picked)
        self._side = label("", "quiet")
        self.face = FaceView(session, 60)
        self.face.nothing = "Its face is drawn here as the hand holds it."
        self.face.chosen.connect(self._cavity_chosen)
        self.half = FaceView(session, 60)
        self.half.chosen.connect(self.face.choose)
        self._half_words = label("", "quiet", wrap=True)
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
        inner.addWidget(self._half_words)
        inner.addWidget(self.half, 1)
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
        if c is None or not self.after or change is None:
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
            self._chosen, self._change, self.after = c.id if c else item, "", False
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
        return (Command("Before and after the change", "B", self.toggle_after), *seen)

    def _see(self, seen: str) -> None:
        see(self._session, self.connector, self.face.cavity, seen)

    def _picked(self, i: int) -> None:
        every = self._session.job.connectors
        if i < len(every):
            self._chosen, self._change, self.after = every[i].id, "", False
            self.refresh()

    def _turn(self) -> None:
        self.face.turn()
        self._show_side()

    def toggle_after(self) -> None:
        self.after = not self.after
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
                "A terminal of one's own…": partial(self.own_terminal, c),
                "Keep it for other jobs…": partial(self.keep_it, c),
                **self._kept_act(c),
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

    def own_terminal(self, c: Connector) -> None:
        """Describe a terminal that is not on record."""
        TerminalDialog(self._session, c, self.window()).open()

    def keep_it(self, c: Connector) -> None:
        """Into the shop's library, by vehicle or device."""
        KeepDialog(self._session, c, self.window()).open()

    def _kept_act(self, c: Connector) -> dict[str, Callable[[], object]]:
        """Taking it out of the library again, where it is there."""
        key = to_keep(self._session.history.present, c).id
        if not is_own(folder(), key):
            return {}
        return {"Take it out of the library": partial(self.forget, key)}

    def forget(self, key: str) -> None:
        """Out of the library; this job keeps its connector."""
        if throw_plug_away(key):
            self._session.said.emit("good", f"{key} is no longer in the library.")

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
        own = (c.id, self._change, self.after, self.face.cavity, s.theme)
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
        for change in self._session.job.changes:
            if change.connector == c.id:
                chosen = change.id == self._change
                self._right.addWidget(ChangeCard(self._session, self, change, chosen))
        self._others_card(c)
        self._right.addWidget(CylinderCard(self._session, self._kept))
        self._right.addStretch(1)

    def _show_side(self) -> None:
        c = self.connector
        if c is None:
            return
        side = "mating face" if self.face.mating else "wire side"
        change = by_id(self._session.job.changes, self._change)
        found = change is not None and change.state != "planned"
        when = "" if not self.after else ", as it was found" if found else ", after the change"
        keyed = face.keyed_side(c, self.face.view)
        self._side.setText(f"{side}{when}; {c.key or 'key'} {keyed}. Arrows walk, M turns it.")
        self._words.setText(self.face.words())
        self._show_half(c)
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

    def _show_half(self, c: Connector) -> None:
        """The half that it is pushed into, seen through it: cavities that meet lie alike."""
        other = by_id(self._session.job.connectors, c.mates)
        for part in (self.half, self._half_words):
            part.setVisible(other is not None)
        if other is None:
            return
        self.half.mating = not self.face.mating
        n = self.face.cavity if self.face.cavity in {p.n for p in face.places(other)} else 0
        self.half.show_face(other, n, keep=True)
        side = "its mating face" if self.half.mating else "its wire side"
        self._half_words.setText(f"Behind it {other.id}, {other.name}: {side}, as the two meet.")

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

    def _others_card(self, c: Connector) -> None:
        holder, inner = card()
        inner.addWidget(label("With other connectors", "head"))
        nothing = ["No other connector shares a circuit or has a cavity free."]
        for line in in_common(self._session.job, c) or nothing:
            inner.addWidget(label(line, "quiet", wrap=True))
        self._right.addWidget(holder)


def _known(job: Job, c: Connector) -> str:
    """How its pin-out is known; empty where nobody has said."""
    rung = provenance(job, f"connectors.{c.id}.cavities")
    return f"pin-out {MEANING[rung]}" if rung else ""
