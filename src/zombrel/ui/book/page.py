"""Job book: find what the shop knows, take it over, see what comes back, plan the bays."""

from __future__ import annotations

from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QLineEdit, QScrollArea, QWidget

from zombrel.actions.lessons import add_lesson
from zombrel.book.entries import title_of
from zombrel.book.stock import Order
from zombrel.book.times import clock
from zombrel.book.times import words as time_words
from zombrel.book.week import Shop, Stay, ics, let_go, moved
from zombrel.job.problem import Problem
from zombrel.ui.book.asked import Asked, Found, everything, orders_of, search, stays_of
from zombrel.ui.book.bays import BaysDialog
from zombrel.ui.book.files import BookFiles
from zombrel.ui.book.hits import HitList
from zombrel.ui.book.orders import OrderDialog
from zombrel.ui.book.together import Together
from zombrel.ui.book.week_view import WeekView
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, card, column, label, row, scroller

if TYPE_CHECKING:
    from zombrel.store.book.book import Hit

PAUSE_MS = 120
"""So long nothing is typed before it is looked for."""
WEEK_PX = 400
MOST = 60
"""The book gives so many hits at most."""
TOLD = 3
"""So many things that come back are told at once."""
LOOKING = "The book is being read."


class BookStage(Commanded, QWidget):
    """Search at the left with what comes back below, the bays at the right."""

    title = "Job book"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.background = Background(self)
        self.searching = Background(self)
        self._asked: Asked | None = None
        self._of: tuple[object, ...] = ()
        """What it was asked for."""
        self._shop = Shop()
        self._stays: tuple[Stay, ...] = ()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(PAUSE_MS)
        self._soon.timeout.connect(self._search)
        self.field = QLineEdit()
        self.field.setObjectName("find")
        self.field.setAccessibleName("Find in the job book")
        self.field.setPlaceholderText("a vehicle, colour, pin, figure, device: green/white heron")
        self.field.textChanged.connect(lambda _: self._soon.start())
        self.field.installEventFilter(self)
        self._count = label("", "quiet")
        self.hits = HitList(session)
        self.hits.use.connect(self._use)
        self.hits.show_job.connect(self._open)
        self._hit_area: QScrollArea = scroller(self.hits, "Found in the job book")
        self._back, self._times = label("", "watch", wrap=True), label("", "quiet", wrap=True)
        self._lesson = QLineEdit()
        self._lesson.setAccessibleName("A lesson of this job")
        self._lesson.setPlaceholderText("what the next one should know of this job, then Enter")
        self._lesson.returnPressed.connect(self._learn)
        self._priors = button("", self._go_by, "plain", "Go by the causes that the shop found")
        self.files = BookFiles(session, self, self)
        self.together = Together(session)
        self._menu = button("Files of the book  ▾", self._show_menu, "plain", "Files of the book")
        search_line = row(self.field, self._count)
        search_line.setStretch(0, 1)
        lesson_line = row(self._lesson, self._menu)
        lesson_line.setStretch(0, 1)
        left = column(
            search_line,
            self._hit_area,
            self._back,
            row(self._priors, 1),
            self._times,
            self.together,
            lesson_line,
            spacing=8,
        )
        left.setStretch(1, 1)
        panel = self._bay_panel()
        panel.setFixedWidth(WEEK_PX)
        whole = row(left, panel, spacing=14)
        whole.setStretch(0, 1)
        self.setLayout(whole)

    def _bay_panel(self) -> QWidget:
        """The bays, what to order, and their files."""
        self.week = WeekView(self._session)
        self.week.moved.connect(self._move)
        self.week.let_go.connect(self._let_go)
        self.week.opened.connect(self._open_number)
        panel, inner = card()
        self._week_head = label("The bays", "head")
        fewer = button("−", partial(self._bays, -1), "plain", "One bay less")
        more = button("+", partial(self._bays, 1), "plain", "One bay more")
        who = button(
            "Who…", self.show_bays, "plain", "Who works in which bay, and the helper's days"
        )
        inner.addLayout(row(self._week_head, 1, who, fewer, more, spacing=4))
        inner.addWidget(scroller(self.week, "The week of the bays"), 1)
        self._order = label("", "watch", wrap=True)
        inner.addWidget(self._order)
        inner.addLayout(
            row(
                button("Calendar…", self._save_ics, "plain", "Write the week as a calendar"),
                button("To order…", self.show_orders, "plain", "What to order, and the stock"),
                button(
                    "By planner", partial(self._let_go, ""), "plain", "Leave all to the planner"
                ),
                1,
                spacing=4,
            )
        )
        return panel

    def commands(self) -> tuple[Command, ...]:
        return self.files.commands()

    def _show_menu(self) -> None:
        self.files.show_menu(self._menu)

    @property
    def asked(self) -> Asked | None:
        """What was read last."""
        return self._asked

    @property
    def subtitle(self) -> str:
        """How much is in it."""
        asked = self._asked
        if asked is None:
            return "what the shop knows"
        vehicles = len({a.vehicle for a, _ in asked.jobs if a.vehicle})
        devices = len({sheet for a, _ in asked.jobs for sheet, _ in a.devices})
        made_up = ", some made up" if asked.synthetic else ""
        counts = (
            (len(asked.jobs), "job"),
            (vehicles, "vehicle"),
            (devices, "device"),
        )
        told = ", ".join(f"{n} {what}{'' if n == 1 else 's'}" for n, what in counts)
        return f"{told}{made_up}"

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        self.field.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_item(self, item: str) -> None:
        """Words to look for."""
        self.field.setText(item)
        self.focus_first()

    def refresh(self) -> None:
        """Ask the book anew where the job is another."""
        s = self._session
        key = (s.job, s.path)
        if len(key) == len(self._of) and all(
            a is b or a == b for a, b in zip(key, self._of, strict=True)
        ):
            return
        self._of = key
        if self._asked is None:
            self.hits.say(LOOKING)
        job = s.history.present
        work = partial(everything, job, self._asked, self.background.tell)
        self.background.start("Reading the job book", work, self.took, self._failed, quiet=True)

    def _failed(self, problem: Problem) -> None:
        self.hits.say(str(problem))
        self._session.said.emit("trouble", str(problem))

    def took(self, asked: Asked) -> None:
        """Show what was read."""
        from zombrel.store.book.shop import load_shop

        self._asked = asked
        try:
            self._shop = load_shop()
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
        if asked.report.wrong:
            self._session.said.emit("watch", asked.report.wrong[0])
        self._tell()
        self._lay()
        self._search()
        self._session.changed.emit()  # the head says how much is in it

    def _tell(self) -> None:
        """What comes back, and times."""
        asked = self._asked
        assert asked is not None  # told once it was asked
        words = self._session.words
        mine = [r for r in asked.back if r.here]
        told = "; ".join(words(r.words) for r in mine[:TOLD])
        self._back.setText(f"▲ Comes back: {told}" if told else "")
        self._back.setVisible(bool(told))
        found = sum(n for _, n in asked.causes.values())
        many = "once" if found == 1 else f"{found} times"
        self._priors.setText(f"Prove: go by causes found here ({many})")
        self._priors.setVisible(bool(asked.causes))
        r = asked.range
        left = ""
        if r.middle:
            span = f"{clock(r.low)} to {clock(r.high)}"
            left = f"Left on this job {clock(r.middle)} ({span}, 8 in 10). "
        learned = "; ".join(time_words(x) for x in asked.learned[:4])
        self._times.setText(f"{left}Times learned: {learned or 'none yet'}")

    # ---- searching

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            # what was taken over is undone from here too, rather than a letter
            return bool(event.matches(QKeySequence.StandardKey.Undo))
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            by = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if by is not None:
                chosen = self.hits.walk(by)
                if chosen is not None:
                    self._hit_area.ensureWidgetVisible(chosen)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.hits.take()
                return True
        return super().eventFilter(watched, event)

    def _search(self) -> None:
        asked, typed = self._asked, self.field.text().strip()
        if asked is None:
            return
        if not typed:
            self._count.setText("")
            job = self._session.history.present
            self.hits.show_jobs(asked.jobs, (job.number, job.title or title_of(job)))
            return
        work = partial(search, typed, self._session.history.present, asked.synthetic)
        self.searching.start("Looking for it", work, self._show, self._failed, quiet=True)

    def _show(self, found: Found) -> None:
        if found.asked != self.field.text().strip():
            return
        many = f"{len(found.hits)} or more" if len(found.hits) >= MOST else f"{len(found.hits)}"
        self._count.setText(f"{many} found in {found.took * 1000:.0f} ms")
        if found.hits:
            self.hits.show_hits(found.hits)
        else:
            self.hits.say(
                f"Nothing in the book has “{found.asked}”. Try fewer letters, a colour, a cavity "
                "or a figure; Files of the book, Add a folder, puts older jobs in."
            )

    # ---- acting

    def _use(self, hit: Hit) -> None:
        from zombrel.book.reuse import use
        from zombrel.store.zjob import peek

        s = self._session
        try:
            edit = use(s.history.present, peek(Path(hit.path)), hit.entry.at, s.now()[:10])
            done = s.do(f"Taken over from {hit.job.number}", edit)
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        if done:
            said = f"Taken over from {hit.job.number}, known from another car: count it."
            s.said.emit("good", f"{said} Ctrl+Z takes it back.")

    def _learn(self) -> None:
        s = self._session
        try:
            s.do("Lesson written", add_lesson(s.job, self._lesson.text(), when=s.now()[:10]))
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        self._lesson.clear()
        s.said.emit("good", "Written down: the next job finds it once this one is saved.")

    def _go_by(self) -> None:
        from zombrel.book.comes_back import go_by
        from zombrel.store.book.book import Book

        s = self._session
        try:
            with Book.opened() as book:
                told = book.told(self._asked.synthetic if self._asked is not None else False)
            s.do("Causes by the book", go_by(s.history.present, told))
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        s.said.emit("good", "Prove weighs causes by what the shop has found. Ctrl+Z takes it back.")

    def _open(self, path: str) -> None:
        self._session.ask.emit(f"path:{path}")

    def _open_number(self, number: str) -> None:
        asked = self._asked
        named = [(a.number or a.title, p) for a, p in asked.jobs] if asked is not None else []
        paths = [p for name, p in named if name == number]
        job = self._session.history.present
        if paths and number != (job.number or job.title or title_of(job)):
            self._open(paths[0])

    # ---- the bays

    def _lay(self) -> None:
        asked = self._asked
        if asked is None:
            return
        today = date.fromisoformat(self._session.now()[:10])
        self._stays = stays_of(asked.loads, self._shop, self._session.job.house, today)
        self.week.show_week(self._stays, self._shop, today)
        many = "one bay" if self._shop.bays == 1 else f"{self._shop.bays} bays"
        self._week_head.setText(f"This week, {many}")
        try:
            orders = [o for o in orders_of(asked, self._stays, self._shop) if o.order]
        except Problem as problem:
            self._order.setText(str(problem))
            return
        first = next((o for o in orders if o.by is not None), None)
        said = ""
        if first is not None and first.by is not None:
            by = "today" if first.by <= today else f"by {first.by:%a %d}"
            said = f"▲ {len(orders)} parts to order, the first {by}: {first.part}"
        self._order.setText(said)
        self._order.setVisible(bool(said))

    def _kept(self, shop: Shop, said: str) -> None:
        from zombrel.store.book.shop import save_shop

        try:
            save_shop(shop)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._shop = shop
        self._lay()
        self._session.said.emit("good", said)

    def _move(self, stay: Stay, bay: int, day: date, begin: int) -> None:
        shop = moved(self._shop, stay, bay, day, min(max(begin, 0), 24 * 60 - 1))
        self._kept(shop, f"{stay.number} moved by hand to bay {bay}, {day:%a %d}.")

    def _let_go(self, number: str) -> None:
        who = number or "Every job"
        self._kept(let_go(self._shop, number), f"{who} is laid out by the planner.")

    def _bays(self, by: int) -> None:
        count = min(max(self._shop.bays + by, 1), 12)
        shop = msgspec.structs.replace(self._shop, bays=count)
        self._kept(shop, "One bay." if count == 1 else f"{count} bays.")

    def show_bays(self) -> None:
        """Who works in each, the helper's days, how long parts take."""
        kept = partial(self._kept, said="The bays are as you said.")
        BaysDialog(self._shop, kept, self.window()).open()

    # ---- files

    def _save_ics(self) -> None:
        self.files.save("Calendar", "week.ics", "*.ics", partial(ics, self._stays))

    def show_orders(self) -> None:
        """What to order, with the stock as it is typed."""
        if self._asked is not None:
            today = date.fromisoformat(self._session.now()[:10])
            OrderDialog(self._orders, self._counted, self._save_orders, today, self.window()).open()

    def _orders(self) -> tuple[Order, ...]:
        asked = self._asked
        if asked is None:
            return ()
        try:
            return orders_of(asked, self._stays, self._shop)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return ()

    def _counted(self, part: str, have: float) -> None:
        """So many of a part are there."""
        from zombrel.store.book.shop import load_stock, save_stock

        save_stock(load_stock() | {part: have})
        self._lay()

    def _save_orders(self) -> None:
        from zombrel.book.stock import to_csv

        asked = self._asked
        if asked is not None:
            made = partial(orders_of, asked, self._stays, self._shop)
            self.files.save("Order list", "order.csv", "*.csv", lambda: to_csv(made()))
