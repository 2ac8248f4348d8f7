"""The one window: rail, stage, settle next, bench of suppositions."""

from __future__ import annotations

import importlib
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, cast

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import (
    QCloseEvent,
    QContextMenuEvent,
    QDragEnterEvent,
    QDropEvent,
    QPaintEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QLineEdit,
    QMainWindow,
    QVBoxLayout,
    QWidget,
)

from zombrel.actions.begin import name_of
from zombrel.findings.met import mended
from zombrel.job.follow.query import take_notes, takes_notes
from zombrel.job.stages import STAGE_NAMES, STAGES
from zombrel.ui.actions import Actions
from zombrel.ui.frame.bench import BenchPanel
from zombrel.ui.frame.copied import Copying
from zombrel.ui.frame.pages import Pages, area_of
from zombrel.ui.frame.rail import Rail
from zombrel.ui.frame.settle import SettlePanel
from zombrel.ui.job_files import JobFiles
from zombrel.ui.last_line import LastLine, keep_noted
from zombrel.ui.scale import again_of, begin_anew, stepped
from zombrel.ui.session import Session
from zombrel.ui.stages import BARE, CLASSES, Stage
from zombrel.ui.theme import dress, palette, use
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, column, label, row
from zombrel.ui.widgets.tip import tip
from zombrel.ui.wire.views import VIEWS

LEAST = (640, 440)
"""A smaller window shows nothing [px]."""
SMALL = (900, 620)
"""Below this the rail and the head give way [px]."""
NARROW = 1180
"""Below this width the window drops what it can do without [px]."""
IDLE_MS = 400
"""A newly opened job has been drawn by then, and is being looked at."""


class MainWindow(QMainWindow):
    """Everything on one screen."""

    _small = False
    """The rail and the head have given way."""

    def __init__(self, session: Session, stage: str = "source") -> None:
        super().__init__()
        self._session = session
        self._stage = stage
        self._stages: dict[str, QWidget] = {}
        self.first_paint: Callable[[], None] | None = None
        self._asks = True
        self._settle_shown: bool | None = None
        """None: the window decides."""
        self.resize(1280, 800)
        self.setMinimumSize(*LEAST)
        self.setAcceptDrops(True)
        self.actions_ = Actions(self)
        self._title, self._subtitle = label("", "title"), label("", "quiet")
        self._count = button("", self._toggle_settle, "plain", "Show or hide what to settle next")
        self._find = button(
            "Find anything, or type a sum    Ctrl K", self.open_find, "plain", "Find"
        )
        self._units = button("km", self._change_distance, "plain", "Kilometres or miles")
        self._night = button("Night", session.toggle_night, "plain", "Day or night look")
        self._unkept = button("◆ No recovery is being kept", self._why_not_kept, "plain")
        self._unkept.hide()
        self.files = JobFiles(
            self,
            session,
            self.say,
            lambda where: self.go(where or self._stage),
            self._take_draft,
            self.take_field,
        )
        self._said = Panel("caution")
        self._said_mark, self._said_words = Mark(), label("", "", wrap=True)
        self._details = button("Copy details", self._copy_details)
        self._report = ""
        self.last_line = LastLine(self._tell_broken)
        self._hush = QTimer(self)
        self._hush.setSingleShot(True)
        self._hush.timeout.connect(self._said.hide)
        self.idle = QTimer(self)  # runs while a job has been opened and no notes are taken yet
        self.idle.setSingleShot(True)
        self.idle.timeout.connect(self.take_notes)
        self.rail = Rail(session)
        self.settle = SettlePanel(session)
        self.bench = BenchPanel(session)
        self._pages = Pages()
        self._restyle()
        self._lay_out()
        self._copying = Copying(self, self.say)
        self._define_actions()
        session.changed.connect(self._refresh)
        session.restyled.connect(self._restyle)
        session.said.connect(self.say)
        session.mended.connect(self._unsay)
        session.taken_back.connect(self._tell_taken_back)
        session.keeping.connect(self._show_keeping)
        session.goto.connect(self.go)
        session.ask.connect(self._asked)
        self.rail.chosen.connect(self.go)
        self.go(stage)
        self.idle.start(IDLE_MS)

    # ---- layout

    def _lay_out(self) -> None:
        self._job_menu = button("Job file  ▾", self._show_job_menu, "plain", "Job file menu")
        self.rail.below.addWidget(self._job_menu)
        self.rail.below.setAlignment(self._job_menu, Qt.AlignmentFlag.AlignHCenter)
        head = row(
            column(self._title, self._subtitle, spacing=1),
            1,
            self._unkept,
            self._count,
            self._find,
            self._units,
            self._night,
        )
        okay = button("OK", self._said.hide, "plain")
        said = row(self._said_mark, self._said_words, self._details, okay)
        said.setStretch(1, 1)
        said.setContentsMargins(12, 6, 8, 6)
        self._said.setLayout(said)
        self._said.hide()
        self._area = area_of(self._pages)
        middle = row(self._area, self.settle, spacing=12)
        middle.setStretch(0, 1)
        work = column(head, self._said, middle, spacing=10)
        work.setContentsMargins(16, 12, 12, 8)
        work.setStretch(2, 1)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        right.addLayout(work, 1)
        right.addWidget(self.bench)
        body = row(self.rail, right, spacing=0)
        body.setStretch(1, 1)
        central = QWidget()
        central.setLayout(body)
        self.setCentralWidget(central)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        small = self.width() < SMALL[0] or self.height() < SMALL[1]
        if small != self._small:
            self._small = small
            self.rail.set_small(small)
            self._job_menu.setText("Job  ▾" if small else "Job file  ▾")
            for rare in (self._units, self._night):  # both stand in the menu of the job file
                rare.setVisible(not small)
        self._place_settle()
        self._find.setText("Find   Ctrl K" if narrow else "Find anything, or type a sum    Ctrl K")
        self._show_head()

    def _place_settle(self) -> None:
        """Beside the stage where there is room, in its place where there is not."""
        narrow = self.width() < NARROW
        roomy = self._stage in ("set", "prove", "handover", "shelf", "book") or (
            self._stage in self._stages and getattr(self._stages[self._stage], "roomy", False)
        )
        start = self._stage == "start"
        room = not narrow and not roomy and not start
        wanted = room if self._settle_shown is None else self._settle_shown and not start
        self.settle.setVisible(wanted)
        self.settle.setMaximumWidth(2000 if narrow else 300)
        self.settle.setMinimumWidth(236 if narrow else 300)
        self._area.setVisible(not (narrow and wanted))
        if wanted:
            self.settle.refresh()

    def _toggle_settle(self) -> None:
        self._settle_shown = self.settle.isHidden()
        self._place_settle()

    def _define_actions(self) -> None:
        add, s = self.actions_.add, self._session
        for i, stage in enumerate(STAGES):
            add(
                f"go-{stage}",
                f"Go to {STAGE_NAMES[stage]}",
                f"Ctrl+{i + 1}",
                partial(self.go, stage),
            )
        for i, (key, view) in enumerate(VIEWS.items()):
            go = partial(self.go, f"wire:{key}")
            add(f"wire-{key}", f"Wire: {view.words}", f"Alt+{i + 1}", go)
        for key, words in (
            ("drive", "the drive"),
            ("compare", "before and after"),
            ("logs", "logs"),
        ):
            add(f"road-{key}", f"Road: {words}", "", partial(self.go, f"road:{key}"))
        add("start", "Go to the start page", "Ctrl+Home", partial(self.go, "start"))
        add("shelf", "Go to the parts shelf", "Ctrl+8", partial(self.go, "shelf"))
        add("book", "Go to the job book", "Ctrl+9", partial(self.go, "book"))
        add("undo", "Undo", "Ctrl+Z", self.undo)
        add("redo", "Redo", "Ctrl+Shift+Z Ctrl+Y", s.redo)
        add("find", "Find anything", "Ctrl+K", self.open_find)
        self.files.define(self.actions_)
        add("night", "Day or night", "Ctrl+L", s.toggle_night)
        add("distance", "Kilometres or miles", "Ctrl+U", self._change_distance)
        add("area", "mm² or AWG", "", lambda: s.next_units("area", ("mm2", "awg")))
        add("temperature", "°C or °F", "", lambda: s.next_units("temperature", ("C", "F")))
        add(
            "pressure",
            "kPa, bar or psi",
            "",
            lambda: s.next_units("pressure", ("kPa", "bar", "psi")),
        )
        add("volume", "Litres or gallons", "", lambda: s.next_units("volume", ("l", "gal")))
        add("bench", "Open or close the bench of suppositions", "Ctrl+B", self.bench.toggle)
        add("mend", "Mend the first finding", "Ctrl+M", self.mend_first)
        add("why", "Why is the first finding there", "Alt+W", self._why_first)
        add("settle", "Show or hide what to settle next", "Ctrl+J", self._toggle_settle)
        add("keys", "Show all keys", "F1", self._show_keys)
        add("print", "Print what is handed over", "Ctrl+P", self._print)
        for by, words, key in ((1, "larger", "Ctrl++ Ctrl+="), (-1, "smaller", "Ctrl+-")):
            add(f"scale{by}", f"Everything {words}", key, partial(self.scale, by))
        add("scale0", "Everything in its usual size", "Ctrl+0", partial(self.scale, 0))
        add("copy", "Copy what has the keyboard", "Ctrl+C", self._copying.focused)
        add("quit", "Quit", "Ctrl+Q", self.close)

    def scale(self, by: int) -> None:
        """Draw everything larger or smaller: the program begins anew where it is."""
        now = self._session.prefs.scale or 1.0
        to = stepped(now, by)
        if to == now:
            self.say("open", "It goes no further that way.")
            return
        self.take_field()
        self._session.keep_size(self.width(), self.height())
        self._session.keep_scale(to)
        begin_anew(again_of(self._session, self._stage))

    def _print(self) -> None:
        self.go("handover")
        page: Any = self.page("handover")
        page.print_shown()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Whatever can be read can be copied."""
        self._copying.offer(self.childAt(event.pos()), event.globalPos())

    def undo(self) -> None:
        """Take the last edit back; what is being typed is taken first, and is that edit."""
        self.take_field()
        self._session.undo()

    def take_field(self) -> None:
        """What is still being typed counts: take it as if the field were left."""
        field = self.focusWidget()
        if isinstance(field, QLineEdit) and field.isModified():
            field.editingFinished.emit()

    def _change_distance(self) -> None:
        self._session.next_units("distance", ("km", "mi"))

    # ---- stages

    def go(self, where: str) -> None:
        """Show ``stage`` or ``stage:item``."""
        stage, _, item = where.partition(":")
        if stage not in CLASSES:
            return
        self._stage = stage
        if self.width() < NARROW:
            self._settle_shown = None
        page = self.page(stage)
        if hasattr(page, "choose"):
            page.choose(item)
        self._pages.setCurrentWidget(page)
        self._place_settle()
        self._refresh()
        if item:
            cast("Stage", page).show_item(item)
        else:
            cast("Stage", page).focus_first()

    def page(self, stage: str) -> QWidget:
        """The page of a stage, made when first asked for."""
        if stage not in self._stages:
            module = importlib.import_module(f"zombrel.ui.{stage}.page")
            page: QWidget = getattr(module, CLASSES[stage])(self._session)
            if stage != "source":
                dress(page)
            if not page.accessibleName():
                page.setAccessibleName(cast("Stage", page).title)
            self._stages[stage] = page
            self._pages.addWidget(page)
        return self._stages[stage]

    def take_notes(self) -> None:
        """While nobody waits: have the engine note what is read, so that an edit costs little."""
        if not takes_notes():
            take_notes()
            self._refresh()
        if self._session.prefs.book_server:
            self.page("book")  # what is edited is taken in hand, whichever page is open

    def _refresh(self) -> None:
        if not takes_notes() and not self.idle.isActive():
            self.idle.start(IDLE_MS)
        for show in (self._show_page, self._show_head, self._show_rail, self._show_settle):
            try:
                show()
            except Exception as error:
                self.last_line.tell(error)
        keep_noted()

    def _show_page(self) -> None:
        cast("Stage", self.page(self._stage)).refresh()

    def _show_rail(self) -> None:
        self.rail.refresh(self._stage)
        bare = getattr(self._stages.get(self._stage), "bare", False)
        self.bench.setVisible(self._stage not in BARE and not bare)
        self.bench.refresh()

    def _show_settle(self) -> None:
        if self.settle.isVisibleTo(self):
            self.settle.refresh()

    def _show_head(self) -> None:
        s = self._session
        page = cast("Stage", self.page(self._stage))
        self._title.setText(page.title)
        job = name_of(s.history.present)
        unsaved = " · not saved" if s.dirty else ""
        if s.desk.read_only:
            unsaved += " · to read only"
        where = (s.job.number or job) if self.width() < NARROW else job
        self._show_subtitle(" · ".join(x for x in (where + unsaved, page.subtitle) if x))
        self.setWindowTitle(f"{job}{' *' if s.dirty else ''} – Zombrel")
        self._units.setText("km" if s.units.distance == "km" else "miles")
        self._night.setText("Day" if s.prefs.night else "Night")
        self._count.setText(f"{len(s.assessment.findings)} to settle")
        self._count.setVisible(bool(s.job.devices) and self._stage != "start")

    def _show_subtitle(self, text: str) -> None:
        """One line; what does not fit beside the buttons is in the tool tip."""
        text = self._session.words(text)
        buttons = (self._unkept, self._count, self._find, self._units, self._night)
        taken = sum(b.sizeHint().width() + 8 for b in buttons if not b.isHidden())
        room = self.width() - self.rail.width() - taken - 48
        metrics = self._subtitle.fontMetrics()
        self._subtitle.setText(metrics.elidedText(text, Qt.TextElideMode.ElideRight, room))
        tip(self._subtitle, text)

    def _restyle(self) -> None:
        app = QApplication.instance()
        t = self._session.theme
        if isinstance(app, QApplication):
            app.setPalette(palette(t))
            use(t)
        self.update()

    # ---- saying things

    def say(self, mark: str, words: str) -> None:
        """Tell the user something; good news goes away by itself."""
        words = self._session.words(words)
        self._said_mark.show_mark(mark)
        self._said_words.setText(words)
        self._details.hide()
        self._said.setAccessibleName(words)
        self._said.show()
        self._hush.start(6000 if mark in ("good", "open") else 20000)

    def _tell_broken(self, words: str, report: str) -> None:
        """Say what went wrong unforeseen, with a way to hand the report on."""
        self._session.broken = True
        self._report = report
        self.say("trouble", words)
        self._details.show()

    def _tell_taken_back(self, words: str) -> None:
        self.say("trouble", f"{self._said_words.text()} {words}")
        self._details.show()

    def _copy_details(self) -> None:
        QApplication.clipboard().setText(self._report)
        self.say("good", "The report is copied: paste it where it can be read.")

    def _unsay(self, words: str) -> None:
        """What stands there is mended."""
        if self._said_words.text() == self._session.words(words):
            self._said.hide()

    def hush(self) -> None:
        """Take the message away."""
        self._said.hide()

    def close_quietly(self) -> None:
        """Close without asking; what is not saved is given up."""
        self._session.close_journal()
        self._asks = False
        self.close()

    def open_find(self) -> None:
        """Open the search-and-sum field."""
        from zombrel.ui.frame.find import FindDialog

        dialog = FindDialog(self._session, self.actions_, self)
        dialog.open()
        dialog.field.setFocus(Qt.FocusReason.OtherFocusReason)

    def _show_keys(self) -> None:
        from zombrel.ui.frame.keys import KeysDialog

        KeysDialog(self.actions_, self).open()

    def mend_first(self) -> None:
        """Make the first edit that the worst finding offers."""
        for finding in self._session.assessment.findings:
            for mend in finding.mends:
                if mend.edit is not None:
                    label = self._session.words(mend.label)
                    s = self._session
                    edit = mended(s.history.present, finding, mend.edit, s.now()[:10])
                    if s.do(label, edit):
                        title = self._session.words(finding.title)
                        self.say("good", f"{title}: {label}. Ctrl+Z takes it back.")
                    return
        self.say("open", "No finding can be mended by itself now.")

    def _why_first(self) -> None:
        from zombrel.ui.widgets.why import show_why

        if self._session.assessment.findings:
            show_why(self._session.assessment.findings[0].reason, self, self._session.units)

    # ---- job files

    def _asked(self, what: str) -> None:
        """A page wants something done with job files."""
        verb, _, about = what.partition(":")
        if verb == "demo":
            self.files.open_demo(about)
        elif verb == "path":
            self.files.open_path(Path(about))
        else:
            self.files.open()

    def _show_job_menu(self) -> None:
        units = ("distance", "temperature", "pressure", "volume", "area")
        self.files.show_menu(
            self.actions_, self._job_menu, (*units, "night", "print", "keys", "quit")
        )

    def _take_draft(self, path: str, text: str) -> None:
        """Put what was being typed back into its field."""
        self.go(f"survey:{path}")
        page = self.page("survey")
        if hasattr(page, "take_draft"):
            page.take_draft(path, text)

    def _why_not_kept(self) -> None:
        """Say why no recovery is being kept, and try again at once."""
        if self._session.desk.try_again():
            self.say("good", "Recovery is being kept again.")
        else:
            self.say(
                "trouble",
                f"{self._session.desk.not_kept} What you enter is only on screen; "
                "it is tried again by itself.",
            )
        self._show_keeping()

    def _show_keeping(self) -> None:
        self._unkept.setVisible(bool(self._session.desk.not_kept))

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """A job file may be dropped on the window."""
        if len(self._dropped(event)) == 1:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Open the job that was dropped."""
        for path in self._dropped(event):
            self.files.open_path(path)

    @staticmethod
    def _dropped(event: QDropEvent) -> list[Path]:
        paths = [Path(u.toLocalFile()) for u in event.mimeData().urls() if u.isLocalFile()]
        return [p for p in paths if p.suffix == ".zjob"]

    def closeEvent(self, event: QCloseEvent) -> None:
        self.take_field()
        if not self._asks or self.files.may_leave():
            self._session.close_journal()
            self._session.keep_size(self.width(), self.height())
            event.accept()
        else:
            event.ignore()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.first_paint is not None:
            call, self.first_paint = self.first_paint, None
            QTimer.singleShot(0, call)
