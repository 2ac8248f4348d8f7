"""One cavity: what the paper says of it, and, apart from that, what was seen in it."""

from __future__ import annotations

from typing import get_args

from PySide6.QtWidgets import QLineEdit

from zombrel.actions.photos import photos_of
from zombrel.actions.plugs.connectors import note_cavity, note_paper, note_rest_empty, note_seen
from zombrel.harness.plugs import face
from zombrel.harness.plugs.terminals import TERMINALS
from zombrel.job.edits import Edit
from zombrel.job.ledger import MEANING
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Connector, Known
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.figure import Field, FigureField
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, card, label, row
from zombrel.ui.widgets.tip import tip
from zombrel.units.measure import area_of

SEEN = {
    "": "not looked into",
    "wire": "a wire",
    "terminal": "a terminal, no wire",
    "empty": "empty",
    "blanked": "blanked",
}


def cavity_card(session: Session, c: Connector, n: int) -> Panel:
    """Fields for cavity ``n`` of ``c``."""
    holder, inner = card()
    found = face.cavity(c, n) or Cavity(n=n)
    at = f"connectors.{c.id}.{n}"
    many = len(photos_of(session.job, at))
    words = f"Photos: {many}" if many else "Photo…"
    photos = button(
        words, lambda: session.goto.emit(f"handover:photos/{at}"), "plain", f"Photos of cavity {n}"
    )
    inner.addLayout(row(label(f"In cavity {n}", "head"), 1, photos))
    inner.addLayout(
        row(
            label("on paper", "quiet"),
            _paper(session, c, found, "colour"),
            _paper(session, c, found, "circuit"),
        )
    )
    kind = _paper(session, c, found, "kind")
    tip(kind, "What lies behind it: feed, ground, driver 1 A, Hall, NTC, 0 to 5 V …")
    inner.addLayout(row(label("kind", "quiet"), kind))
    families = list(dict.fromkeys(t.family for t in (*session.job.terminals, *TERMINALS)))
    terminal = Choice()
    terminal.setAccessibleName("Terminal family of this cavity")
    terminal.addItems([f"as the housing: {c.family or 'not said'}", *families])
    terminal.setCurrentIndex(families.index(found.family) + 1 if found.family in families else 0)
    terminal.activated.connect(
        lambda i: _do(session, c, n, note_cavity(c, n, family=["", *families][i]))
    )
    inner.addLayout(row(label("terminal", "quiet"), terminal))
    inner.addLayout(
        row(label("size", "quiet"), _size(session, c, found), _known(session, c, found))
    )
    box = Choice()
    box.setAccessibleName("Seen in it")
    box.addItems(list(SEEN.values()))
    box.setCurrentIndex(list(SEEN).index(found.seen))
    box.activated.connect(lambda i: _see(session, c, n, list(SEEN)[i]))
    line = row(label("seen in it", "quiet"), box)
    if found.seen == "wire":
        colour = Field(session, "Colour that was seen")
        colour.setPlaceholderText(found.colour or "its colour")
        colour.setText(found.seen_colour)
        colour.editingFinished.connect(
            lambda: _do(session, c, n, note_seen(c, n, "wire", colour.text().strip()))
        )
        line.addWidget(colour)
    inner.addLayout(line)
    if face.contradicts(found):
        said = face.paper_words(found)
        words = f"◆ The paper has {said}; that is not what was seen. Count again, then meter."
        inner.addWidget(label(words, "watch", wrap=True))
    unseen = [p.n for p in face.places(c) if face.state(c, p.n) == "not looked into"]
    if len(unseen) > 1:
        words = f"The other {len(unseen)} not noted are empty"
        rest = button(words, lambda: session.do(words, note_rest_empty(c)), "plain")
        inner.addLayout(row(rest, 1))
    return holder


def _size(session: Session, c: Connector, found: Cavity) -> FigureField:
    """The section of the wire that is there."""
    edit = FigureField(session, "area", "Section of the wire that is there", lambda: _unit(session))
    edit.setPlaceholderText("not said")
    edit.setMinimumWidth(92)
    if found.area_mm2:
        edit.setText(session.words(area_of(found.area_mm2)))
    shown = edit.text()

    def taken() -> None:
        if edit.text().strip() == shown:
            return
        area = 0.0 if not edit.text().strip() else edit.take()
        if area is not None:
            _do(session, c, found.n, note_cavity(c, found.n, area_mm2=area))

    edit.editingFinished.connect(taken)
    return edit


def _unit(session: Session) -> str:
    return "mm2" if session.units.area == "mm2" else "AWG"


def _known(session: Session, c: Connector, found: Cavity) -> Choice:
    """How this line is known."""
    rungs = get_args(Known)
    box = Choice()
    box.setAccessibleName("How this cavity is known")
    box.setMinimumContentsLength(8)
    box.setSizeAdjustPolicy(Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.addItems(["as the rest", *(MEANING[r] for r in rungs if r)])
    box.setCurrentIndex(rungs.index(found.known))
    box.activated.connect(
        lambda i: _do(session, c, found.n, note_cavity(c, found.n, known=rungs[i]))
    )
    return box


def _paper(session: Session, c: Connector, found: Cavity, field: str) -> QLineEdit:
    edit = Field(session, f"{field.capitalize()} on paper")
    edit.setPlaceholderText(field)
    edit.setText(getattr(found, field))

    def taken() -> None:
        text = edit.text().strip()
        if text == getattr(found, field):
            return
        colour = text if field == "colour" else found.colour
        circuit = text if field == "circuit" else found.circuit
        kind = text if field == "kind" else found.kind
        table = f"cavity\tcolour\tcircuit\tkind\n{found.n}\t{colour}\t{circuit}\t{kind}"
        _do(session, c, found.n, note_paper(c, table))

    edit.editingFinished.connect(taken)
    return edit


def _see(session: Session, c: Connector, n: int, seen: str) -> None:
    _do(session, c, n, note_seen(c, n, seen))


def _do(session: Session, c: Connector, n: int, edit: Edit) -> None:
    try:
        session.do(f"{c.id} cavity {n}", edit)
    except Problem as problem:
        session.said.emit("trouble", str(problem))


def see(session: Session, c: Connector | None, n: int, seen: str) -> None:
    """Note what was seen in a cavity, as a key does."""
    if c is not None:
        _see(session, c, n, seen)


KEYS = (("E", "empty"), ("K", "blanked"), ("S", "wire"), ("U", ""))
"""Keys of the face: what was seen in the chosen cavity."""
WORDS = {
    "empty": "Seen empty",
    "blanked": "Seen blanked",
    "wire": "A wire is seen",
    "": "Not looked into",
}
