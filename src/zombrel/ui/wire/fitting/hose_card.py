"""One hose: what it carries, where it leads, what it is made of, and how it is joined."""

from __future__ import annotations

from collections import Counter

import msgspec
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.fitting import ends, put_hose, remove_hose
from zombrel.catalog.form.fields import Path, put
from zombrel.harness.fitting.hoses import plan
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Hose
from zombrel.ui.form.record_form import RecordForm
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.parts import button, card, clear, label, row
from zombrel.ui.wire.fitting.said import say_findings
from zombrel.units.measure import length_of, token

RULES = ("hose does not do",)


class HoseCard(QWidget):
    """Fields at the left; at the right its way, what joins it and in which order."""

    def __init__(self, session: Session, hose: str) -> None:
        super().__init__()
        self._session, self._id = session, hose
        self._name = label("", "head", wrap=True)
        self._ends = (Choice(), Choice())
        for side, (box, name) in enumerate(zip(self._ends, ("From", "To"), strict=True)):
            box.setAccessibleName(f"{name}: where the hose leads")
            box.activated.connect(lambda i, side=side: self._led(side, i))
        self._form = RecordForm(session)
        self._form.changed.connect(self._put)
        self._said = QVBoxLayout()
        self._said.setSpacing(6)
        self._way = label("", "strong", wrap=True)
        self._steps = QVBoxLayout()
        drop = button("Take it out", self._drop, "plain", "Take this hose out")
        top, inner = card(margins=14)
        head = row(self._name, drop)
        head.setStretch(0, 1)
        inner.addLayout(head)
        inner.addLayout(
            row(label("from", "quiet"), self._ends[0], label("to", "quiet"), self._ends[1], 1)
        )
        inner.addLayout(self._said)
        fields, left = card(margins=14)
        left.addWidget(self._form)
        left.addStretch(1)
        order, right = card(margins=14)
        right.addWidget(label("How it is joined", "head"))
        right.addWidget(self._way)
        right.addLayout(self._steps)
        right.addStretch(1)
        below = row(fields, order, spacing=10)
        below.setStretch(0, 1)
        below.setStretch(1, 1)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(10)
        body.addWidget(top)
        body.addLayout(below, 1)

    @property
    def _hose(self) -> Hose | None:
        return by_id(self._session.job.hoses, self._id)

    def focus_first(self) -> None:
        self._ends[0].setFocus()

    def _drop(self) -> None:
        hose = self._hose
        if hose is not None:
            self._session.do(f"{hose.name} taken out", remove_hose(hose))

    def _led(self, side: int, i: int) -> None:
        hose = self._hose
        if hose is None:
            return
        key = ["", *ends(self._session.job)][i]
        new = msgspec.structs.replace(hose, **{"ab"[side]: key})
        if new != hose:
            self._give(hose, new)

    def _put(self, path: Path, value: object) -> None:
        hose = self._hose
        if hose is None:
            return
        try:
            new = put(hose, path, value)
        except Problem as problem:
            self._form.refuse(path, str(problem))
            return
        QTimer.singleShot(0, self, lambda: self._give(hose, new))

    def _give(self, old: Hose, new: Hose) -> None:
        try:
            edit = put_hose(self._session.job, new)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._session.do(f"{old.name}: its facts", edit)

    def refresh(self) -> None:
        hose, s = self._hose, self._session
        if hose is None:
            return
        self._name.setText(hose.name)
        known = ends(s.job)
        names = ["not said", *known.values()]
        for box, at in zip(self._ends, (hose.a, hose.b), strict=True):
            if [box.itemText(i) for i in range(box.count())] != names:
                box.clear()
                box.addItems(names)
            box.setCurrentIndex(list(known).index(at) + 1 if at in known else 0)
        self._form.show_record(hose)
        clear(self._said)
        say_findings(self._said, s, hose.id, RULES, "Nothing that is known stands against it.")
        p, zones = plan(s.job, hose), {z.id: z.name.lower() for z in s.job.zones}
        way = f"{length_of(p.length_m, 2)} by {', '.join(zones[z] for z in p.via)}" if p.via else ""
        stands = f"stands {token('temperature', p.hot_k)} and {token('pressure', p.peak_pa)}"
        parts = [f"{n} × {x}" if n > 1 else x for x, n in Counter(p.joints).items()]
        lay = f"Lay out: {', '.join(parts)}." if parts else ""
        grade = f"Take {p.grade}: it {stands}." if p.grade and p.grade != hose.grade else ""
        said = [f"{way[0].upper()}{way[1:]}." if way else "", grade, lay]
        self._way.setText(s.words("\n".join(x for x in said if x)))
        clear(self._steps)
        for i, step in enumerate(p.steps):
            self._steps.addWidget(label(f"{i + 1}. {step}", "quiet", wrap=True))
