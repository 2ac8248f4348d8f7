"""Plugs facing each other: a wire is drawn from cavity to cavity, by hand or by keys."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from zombrel.catalog.colours import stripe
from zombrel.job.value import Value
from zombrel.job.wiring import Connector
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import clear, clip, label, row
from zombrel.ui.wire.plugs.face_view import FaceView

LARGEST = 44.0
FADED = 0.5
"""How strongly wires are drawn beside the chosen one."""


class Drawn(Value, frozen=True):
    """One wire between two cavities."""

    a: str
    b: str
    colour: str
    sure: bool = True
    """False: it is proposed, drawn broken."""


class Facing(QWidget):
    """Plugs of one side at the left, of the other at the right, and the wires between."""

    joined = Signal(str, str)
    """Two cavities, as ``plug.cavity``, that a hand drew together."""
    chosen = Signal(str)
    """A cavity was chosen."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._sides = (QVBoxLayout(), QVBoxLayout())
        self._faces: dict[str, FaceView] = {}
        self._plugs: dict[str, Connector] = {}
        self._shown: tuple[tuple[str, ...], tuple[str, ...]] = ((), ())
        self._drawn: tuple[Drawn, ...] = ()
        self._pulled: tuple[str, QPointF] | None = None
        self.pin = ""
        """The cavity that was chosen last."""
        body = row(*self._sides, spacing=70)
        for i, side in enumerate(self._sides):
            side.setSpacing(4)
            body.setStretch(i, 1)
        body.setContentsMargins(4, 4, 4, 4)
        self.setLayout(body)
        self._over = _Wires(self)
        self.setMinimumHeight(240)

    # ---- shown

    def show_plugs(
        self, left: list[Connector], right: list[Connector], drawn: tuple[Drawn, ...]
    ) -> None:
        """Show these plugs with these wires; the chosen cavity stays."""
        keys = (tuple(c.id for c in left), tuple(c.id for c in right))
        if keys != self._shown:
            self._shown = keys
            self._build(left, right)
        self._plugs = {c.id: c for c in (*left, *right)}
        for c in (*left, *right):
            view = self._faces[c.id]
            at = view.cavity or min((x.n for x in c.cavities), default=1)
            view.show_face(c, at, keep=True)
        self._drawn = drawn
        self._over.update()

    def _build(self, left: list[Connector], right: list[Connector]) -> None:
        self._faces = {}
        for layout, plugs in zip(self._sides, (left, right), strict=True):
            clear(layout)
            for c in plugs:
                view = FaceView(self._session, LARGEST)
                view.setMinimumSize(150, 90)
                view.chosen.connect(lambda n, key=c.id: self._choose(key, n))
                view.pulled.connect(lambda at, key=c.id: self._pull(key, at))
                view.let_go.connect(self._drop)
                name = label(clip(f"{c.id}, {c.name}", 34), "strong13")
                name.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
                layout.addWidget(name)
                layout.addWidget(view, 1)
                self._faces[c.id] = view
        self._over.raise_()

    def sizeHint(self) -> QSize:
        return QSize(400, 260)

    def minimumSizeHint(self) -> QSize:
        """It takes the room that is left and asks for little: faces shrink."""
        return QSize(320, 240)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._over.setGeometry(self.rect())

    def focus_first(self) -> None:
        """Give the first plug the keyboard."""
        first = next(iter(self._faces.values()), None)
        if first is not None:
            first.setFocus()

    # ---- hands

    def _choose(self, key: str, n: int) -> None:
        self.pin = f"{key}.{n}"
        for d in self._drawn:
            if self.pin in (d.a, d.b):
                self._mark(d.b if d.a == self.pin else d.a)
        self.chosen.emit(self.pin)
        self._over.update()

    def _mark(self, pin: str) -> None:
        """Ring the far end of a wire on its own plug."""
        key, _, n = pin.rpartition(".")
        c = self._plugs.get(key)
        if c is not None and n.isdigit():
            self._faces[key].show_face(c, int(n), keep=True)

    def _pull(self, key: str, at: QPoint) -> None:
        self._pulled = (f"{key}.{self._faces[key].cavity}", QPointF(self.mapFromGlobal(at)))
        self._over.update()

    def _drop(self, at: QPoint) -> None:
        pulled, self._pulled = self._pulled, None
        self._over.update()
        if pulled is None:
            return
        for key, view in self._faces.items():
            n = view.cavity_at(QPointF(view.mapFromGlobal(at)))
            if n and f"{key}.{n}" != pulled[0]:
                self.joined.emit(pulled[0], f"{key}.{n}")

    def spot(self, pin: str) -> QRectF | None:
        """Where a cavity is drawn; None for one of a plug that is not."""
        key, _, n = pin.rpartition(".")
        view = self._faces.get(key)
        if view is None or not n.isdigit():
            return None
        r = view.cell(int(n))
        return r.translated(QPointF(view.mapTo(self, QPoint(0, 0)))) if r is not None else None

    def wires(self) -> list[tuple[QPointF, QPointF, Drawn]]:
        """What is drawn between, with both its ends."""
        found = []
        for d in self._drawn:
            a, b = self.spot(d.a), self.spot(d.b)
            if a is not None and b is not None:
                found.append((a.center(), b.center(), d))
        return found

    def rubber(self) -> tuple[QPointF, QPointF] | None:
        """The wire that a hand is drawing."""
        start = self.spot(self._pulled[0]) if self._pulled is not None else None
        if start is None or self._pulled is None:
            return None
        return start.center(), self._pulled[1]


class _Wires(QWidget):
    """Painted over the faces; hands go through it."""

    def __init__(self, facing: Facing) -> None:
        super().__init__(facing)
        self._facing = facing
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        wires = self._facing.wires()
        pin = self._facing.pin
        for a, b, d in sorted(wires, key=lambda w: pin in (w[2].a, w[2].b)):
            strong = pin in (d.a, d.b)
            p.setOpacity(1.0 if strong or not pin else FADED)
            self._wire(p, a, b, d, strong)
        p.setOpacity(1.0)
        rubber = self._facing.rubber()
        if rubber is not None:
            p.setPen(QPen(QColor(self._facing._session.theme.focus), 3, Qt.PenStyle.DashLine))
            p.drawLine(*rubber)

    def _wire(self, p: QPainter, a: QPointF, b: QPointF, d: Drawn, strong: bool) -> None:
        path = QPainterPath(a)
        same = abs(a.x() - b.x()) < self.width() / 4
        bend = 60.0 if same else (b.x() - a.x()) / 2
        path.cubicTo(QPointF(a.x() + bend, a.y()), QPointF(b.x() - bend * (not same), b.y()), b)
        base, mark = stripe(d.colour)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if strong:
            p.setPen(QPen(QColor(self._facing._session.theme.focus), 6))
            p.drawPath(path)
        pen = QPen(QColor(base), 2.6 if strong else 1.8)
        if not d.sure:
            pen.setStyle(Qt.PenStyle.DotLine)
        p.setPen(pen)
        p.drawPath(path)
        if mark is not None and d.sure:
            pen = QPen(QColor(mark), 1.0)
            pen.setDashPattern([5, 5])
            p.setPen(pen)
            p.drawPath(path)
