"""The bays over the days: blocks that are moved by keys or by hand."""

from __future__ import annotations

from datetime import date, timedelta
from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.book.week import WEEKEND, Shop, Stay, workdays
from zombrel.plan.day import clock_of, minutes_of
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.commands import Command, Commanded

HEAD_PX, DAY_PX, GAP_PX, BAY_PX = 22, 146, 10, 18
"""Above a day, a day, between two, and the name of a bay [px]."""
LINE_PX = 17
STEP_MIN = 30
"""A job is moved by so much [min]."""
DAYS = 10
"""Working days that are shown."""
WHOLE = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop


class WeekView(Commanded, QWidget):
    """Days below one another, bays beside one another."""

    moved = Signal(object, int, object, int)
    """(stay, bay, day, minute of the day)"""
    let_go = Signal(str)
    """The number of a job that is the planner's again."""
    opened = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._stays: tuple[Stay, ...] = ()
        self._shop = Shop()
        self._first = date.min
        self._chosen = ""
        self._held: tuple[Stay, QPointF] | None = None
        self._at = QPointF()
        self.empty = "No open job: what is still to be done stands here, bay by bay."
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The week of the bays")

    def show_week(self, stays: tuple[Stay, ...], shop: Shop, first: date) -> None:
        """Other stays, or the same elsewhere."""
        self._stays, self._shop, self._first = stays, shop, first
        if self._chosen not in {s.number for s in stays}:
            self._chosen = stays[0].number if stays else ""
        self.setFixedHeight(self.sizeHint().height())
        self._told()

    def sizeHint(self) -> QSize:
        return QSize(360, len(self._days()) * (HEAD_PX + DAY_PX + GAP_PX) + 4)

    def _told(self) -> None:
        said = [
            f"{s.number} {s.title}: bay {s.bay}{f', {s.who}' * bool(s.who)}, "
            f"{s.day:%a %d}, {clock_of(s.begin)} to "
            f"{clock_of(s.end)}" + "".join(f", {x}" for x in s.says)
            for s in self._stays
        ]
        self.setAccessibleDescription("; ".join(said) or self.empty)
        self.update()

    def _days(self) -> list[date]:
        """From the first to the last that anything is on, five at least."""
        if self._first == date.min:
            return []
        every = [d for _, d in zip(range(DAYS), workdays(self._first), strict=False)]
        last = max((s.day for s in self._stays), default=self._first)
        return [d for i, d in enumerate(every) if i < WEEKEND or d <= last]

    # ---- by keys

    def commands(self) -> tuple[Command, ...]:
        if not self._stays:
            return ()
        return (
            Command("Week: next job", "Down Right", partial(self._choose, 1)),
            Command("Week: job before", "Up Left", partial(self._choose, -1)),
            Command("Week: to the bay before", "Shift+Left", partial(self._push, -1, 0, 0)),
            Command("Week: to the next bay", "Shift+Right", partial(self._push, 1, 0, 0)),
            Command("Week: a day earlier", "Shift+Up", partial(self._push, 0, -1, 0)),
            Command("Week: a day later", "Shift+Down", partial(self._push, 0, 1, 0)),
            Command("Week: half an hour earlier", "-", partial(self._push, 0, 0, -STEP_MIN)),
            Command("Week: half an hour later", "+ =", partial(self._push, 0, 0, STEP_MIN)),
            Command("Week: leave it to the planner", "Delete", self._leave),
            Command("Week: open the job", "Return", lambda: self.opened.emit(self._chosen)),
        )

    def _numbers(self) -> list[str]:
        return list(dict.fromkeys(s.number for s in self._stays))

    def _choose(self, by: int) -> None:
        numbers = self._numbers()
        at = numbers.index(self._chosen) if self._chosen in numbers else 0
        self._chosen = numbers[(at + by) % len(numbers)]
        self.update()

    def _stay(self) -> Stay | None:
        return next((s for s in self._stays if s.number == self._chosen), None)

    def _push(self, bays: int, days: int, minutes: int) -> None:
        stay = self._stay()
        if stay is None:
            return
        bay = min(max(stay.bay + bays, 1), self._shop.bays)
        self.moved.emit(stay, bay, self._other_day(stay.day, days), stay.begin + minutes)

    def _other_day(self, day: date, by: int) -> date:
        step = timedelta(days=1 if by > 0 else -1)
        while by:
            day += step
            if day.weekday() < WEEKEND:
                by -= 1 if by > 0 else -1
        return max(day, self._first)

    def _leave(self) -> None:
        self.let_go.emit(self._chosen)

    # ---- by hand

    def _span(self) -> tuple[int, int]:
        house = self._session.job.house
        opens, closes = minutes_of(house.day_start), minutes_of(house.day_end)
        last = max((s.end for s in self._stays), default=closes)
        return opens, max(closes, min(last, opens + 780))

    def _bay_box(self, i: int, bay: int) -> QRectF:
        wide = (self.width() - GAP_PX * (self._shop.bays - 1) - 2) / self._shop.bays
        top = i * (HEAD_PX + DAY_PX + GAP_PX) + HEAD_PX
        return QRectF((bay - 1) * (wide + GAP_PX) + 1, top, wide, DAY_PX)

    def _box(self, stay: Stay) -> QRectF:
        box = self._bay_box(self._days().index(stay.day), stay.bay)
        opens, closes = self._span()
        room = box.height() - BAY_PX - 4
        y = box.top() + BAY_PX + room * (stay.begin - opens) / (closes - opens)
        tall = room * (stay.end - stay.begin) / (closes - opens)
        return QRectF(box.left() + 4, y, box.width() - 8, max(tall, LINE_PX + 4))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        for stay in self._stays:
            if stay.day in self._days() and self._box(stay).contains(at):
                self._chosen, self._held, self._at = stay.number, (stay, at), at
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._at = event.position()
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, None
        self._at = event.position()
        self.update()
        if held is None:
            return
        stay, begun = held
        if (self._at - begun).manhattanLength() < LINE_PX:
            return
        top = self._box(stay).top() + (self._at.y() - begun.y())
        for i, day in enumerate(self._days()):
            for bay in range(1, self._shop.bays + 1):
                box = self._bay_box(i, bay)
                if box.contains(self._at):
                    opens, closes = self._span()
                    room = box.height() - BAY_PX - 4
                    share = (top - box.top() - BAY_PX) / room
                    minute = opens + round(share * (closes - opens) / STEP_MIN) * STEP_MIN
                    self.moved.emit(stay, bay, day, max(minute, opens))
                    return

    # ---- paint

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, day in enumerate(self._days()):
            p.setPen(QColor(t.quiet))
            p.setFont(font(13))
            top = i * (HEAD_PX + DAY_PX + GAP_PX)
            helper = "   the helper is there" if day.weekday() in self._shop.helper_days else ""
            p.drawText(QRectF(0, top, self.width(), HEAD_PX), WHOLE, f"{day:%a %d}{helper}")
            for bay in range(1, self._shop.bays + 1):
                box = self._bay_box(i, bay)
                p.setPen(QPen(QColor(t.line), 1))
                p.setBrush(QColor(t.well))
                p.drawRoundedRect(box, 6, 6)
                p.setPen(QColor(t.quiet))
                p.setFont(font(12))
                who = self._shop.who_in(bay)
                named = f"bay {bay}, {who}" if who else f"bay {bay}"
                p.drawText(box.adjusted(8, 1, -8, 0), WHOLE, named)
        for stay in self._stays:
            if stay.day in self._days():
                self._paint(p, stay)
        if self._held is not None:
            stay, begun = self._held
            p.setPen(QPen(QColor(t.focus), 2, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(self._box(stay).translated(self._at - begun), 6, 6)

    def _paint(self, p: QPainter, stay: Stay) -> None:
        t = self._session.theme
        box = self._box(stay)
        chosen = stay.number == self._chosen
        edge = t.focus if chosen and self.hasFocus() else t.trouble if stay.late else t.petrol
        p.setPen(QPen(QColor(edge), 2 if chosen or stay.late else 1))
        p.setBrush(QColor(t.tint))
        p.drawRoundedRect(box, 6, 6)
        lines = [f"{stay.number} {stay.title}".strip() + (" ●" if stay.moved else "")]
        lines += ["late for its day"] if stay.late else []
        lines += stay.says
        room = int(box.width() - 12)
        wrapped = [
            (part, k == 0) for k, x in enumerate(lines) for part in _wrapped(x, k == 0, room)
        ]
        if len(wrapped) * LINE_PX > box.height() - 2:
            wrapped = [(_cut(x, k == 0, room), k == 0) for k, x in enumerate(lines)]
        y = box.top() + 3
        for said, head in wrapped:
            if y + LINE_PX > box.bottom() + 1 and not head:
                break
            p.setPen(QColor(t.ink if head else t.quiet))
            p.setFont(font(12, bold=head))
            p.drawText(QRectF(box.left() + 6, y, room, LINE_PX), WHOLE, said)
            y += LINE_PX


def _cut(said: str, head: bool, room: int) -> str:
    """A line cut to its room [px]."""
    return _metrics(head).elidedText(said, Qt.TextElideMode.ElideRight, room)


def _metrics(head: bool) -> QFontMetrics:
    return QFontMetrics(font(12, bold=head))


def _wrapped(said: str, head: bool, room: int) -> list[str]:
    """A line in as many as its room [px] makes of it; a word that is too long is cut."""
    metrics = _metrics(head)
    lines: list[str] = []
    for word in said.split(" "):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and metrics.horizontalAdvance(longer) <= room:
            lines[-1] = longer
        else:
            lines.append(_cut(word, head, room))
    return lines
