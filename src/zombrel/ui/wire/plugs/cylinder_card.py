"""Leads that belong to a cylinder each: do they lie the right way round?"""

from __future__ import annotations

from PySide6.QtWidgets import QLineEdit

from zombrel.actions.notes import put_fact
from zombrel.calibrate.firing import judge_leads, parse_banks, parse_order
from zombrel.job.problem import Problem
from zombrel.ui.session import Session
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import column, label


class CylinderCard(Panel):
    """Firing order, banks and lengths in; the verdict out."""

    def __init__(self, session: Session, kept: dict[str, str]) -> None:
        """``kept`` holds the lengths while the page lives."""
        super().__init__()
        kept.setdefault("lengths", "")
        inner = column(spacing=8)
        inner.setContentsMargins(12, 12, 12, 12)
        self.setLayout(inner)
        inner.addWidget(label("Leads by cylinder", "head"))
        order = QLineEdit(session.job.vehicle.firing_order)
        order.setAccessibleName("Firing order")
        order.setPlaceholderText("firing order, 1-5-3-6-2-4")
        banks = QLineEdit(session.job.vehicle.banks)
        banks.setAccessibleName("Cylinders of each bank from the front")
        banks.setPlaceholderText("V or flat: 1,3,5;2,4,6 from the front")
        lengths = QLineEdit(kept["lengths"])
        lengths.setAccessibleName("Lead lengths in mm, marked 1, 2, …")
        lengths.setPlaceholderText("lengths in mm of the leads marked 1, 2, …")
        said = label("", "quiet", wrap=True)

        def judge() -> None:
            kept["lengths"] = lengths.text()
            said.setText(session.words(_judged(lengths.text(), order.text(), banks.text())))

        def keep() -> None:
            stands = session.job.vehicle
            for name, field in (("firing_order", order), ("banks", banks)):
                text = field.text().strip()
                if text != getattr(stands, name):
                    words = name.replace("_", " ").capitalize()
                    session.do(words, put_fact(f"vehicle.{name}", text))

        for field in (order, banks, lengths):
            field.textEdited.connect(judge)
            inner.addWidget(field)
        for field in (order, banks):
            field.editingFinished.connect(keep)
        inner.addWidget(said)
        judge()


def _judged(lengths: str, order: str, banks: str) -> str:
    """The verdict on what stands in the fields, or what is wanted."""
    if not lengths.strip() or not order.strip():
        return "Measure each lead from the last tie to its plug, cylinder 1 at the front."
    try:
        numbers = [float(x) for x in lengths.replace(",", " ").split()]
        fires = parse_order(order)
        stand = parse_banks(banks, len(fires), "v" if ";" in banks else "inline")
        return judge_leads(numbers, fires, banks=stand).verdict
    except ValueError as problem:
        said = str(problem) if isinstance(problem, Problem) else "Lengths are numbers in mm."
        return said
