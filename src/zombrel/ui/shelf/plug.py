"""A diagnostic connector of the shelf: its face, and which cavities each protocol has."""

from __future__ import annotations

from zombrel.catalog.diagnostic import Diagnostic
from zombrel.catalog.diagnostic import label as cavity_label
from zombrel.ui.set.cards import TableView
from zombrel.ui.wire.plugs.face_view import FaceView


def show_plug(part: Diagnostic, face: FaceView, table: TableView) -> str:
    """Show the connector; which side of it is seen, in words."""
    face.show_face(part.connector, part.protocols[0].pins[0])
    face.lit = part.protocols[0].pins
    rows = tuple(
        (p.name, ", ".join(cavity_label(part.connector, n) for n in p.pins), p.standard)
        for p in part.protocols
    )
    table.show_rows(("protocol", "cavities", "standard"), rows)
    return side_words(face)


def side_words(face: FaceView) -> str:
    """Which side is seen."""
    side = "Mating face" if face.mating else "Wire side, the mirror image"
    return f"{side}. Marked: the cavities of the first protocol below."
