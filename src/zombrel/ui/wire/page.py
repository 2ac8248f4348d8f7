"""Wire: eight views of one harness, chosen by a word or Alt and a number."""

from __future__ import annotations

import importlib
from functools import partial
from typing import Protocol, cast

from PySide6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from zombrel.catalog.cautions import cautions
from zombrel.job.reason import Given, Reason
from zombrel.ui.session import Session
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel, Pill
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.views import VIEWS
from zombrel.units.measure import length_of


class View(Protocol):
    """What the stage needs of a view."""

    def refresh(self) -> None:
        """Show the session as it is."""
        ...

    def show_item(self, item: str) -> None:
        """Bring one item forward."""
        ...

    def focus_first(self) -> None:
        """Take the keyboard."""
        ...


class WireStage(QWidget):
    """The tabs, the caution that holds for all of them, and the chosen view."""

    title = "Wire"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName("Wire")
        self.view = "list"
        self._views: dict[str, QWidget] = {}
        self._tabs: dict[str, Pill] = {}
        tabs = row(spacing=6)
        for i, (key, view) in enumerate(VIEWS.items()):
            push_button = button(
                view.tab, partial(self.show_view, key), "plain", f"View: {view.tab}"
            )
            tip(push_button, f"Alt+{i + 1}")
            self._tabs[key] = push_button
            tabs.addWidget(push_button)
        tabs.addStretch(1)
        self._caution = Panel("caution")
        self._caution_words = label("", "quiet", wrap=True)
        self._extras = row(spacing=6)
        mind = row(
            Mark("watch", 18),
            self._caution_words,
            self._extras,
            button("All cautions", self._all_cautions, "plain"),
        )
        mind.setStretch(1, 1)
        mind.setContentsMargins(12, 3, 8, 3)
        self._caution.setLayout(mind)
        self._pages = QStackedWidget()
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(8)
        body.addLayout(tabs)
        body.addWidget(self._caution)
        body.addWidget(self._pages, 1)

    @property
    def roomy(self) -> bool:
        """The view wants the whole width."""
        return VIEWS[self.view].wide

    @property
    def bare(self) -> bool:
        """No supposed state says anything here."""
        return self.view in ("probe", "work")

    @property
    def subtitle(self) -> str:
        """Count and length."""
        runs = self._session.assessment.runs
        metres = sum(w.length_m for w in runs)
        return f"{len(runs)} conductors, {length_of(metres, 1)}"

    def page(self, view: str) -> QWidget:
        """The page of a view, made when first asked for."""
        if view not in self._views:
            module = importlib.import_module(f"zombrel.ui.wire.{VIEWS[view].module}")
            shown: QWidget = getattr(module, VIEWS[view].page)(self._session)
            if not shown.accessibleName():
                shown.setAccessibleName(VIEWS[view].tab)
            self._views[view] = shown
            self._pages.addWidget(shown)
            for extra in getattr(shown, "extras", ()):
                self._extras.addWidget(extra)
        return self._views[view]

    def show_view(self, view: str) -> None:
        """Another view; the window gives it the room it wants."""
        self._session.goto.emit(f"wire:{view}")

    def _all_cautions(self) -> None:
        """Everything to mind while wiring this car."""
        given = tuple(
            Given(name=c.id.replace("-", " "), value=c.text)
            for c in cautions(self._session.job, "wire")
        )
        reason = Reason(
            title="Before the first tool is picked up",
            result="Cautions for wiring this car",
            formula="the device's manual, local codes and licensed trades come before this list",
            given=given,
        )
        show_why(reason, self.window(), self._session.units)

    # ---- what the window asks

    def choose(self, item: str) -> None:
        """Turn to the view an item lies in, before it is shown."""
        view = item.partition("/")[0]
        self.view = view if view in VIEWS else "list" if item else self.view

    def show_item(self, item: str) -> None:
        """``view``, ``view/item``, or the name of a wire."""
        view, _, inner = item.partition("/")
        if view not in VIEWS:
            self.choose("list/" + item)
            inner = item
        else:
            self.choose(item)
        self.refresh()
        page = cast("View", self.page(self.view))
        if inner:
            page.show_item(inner)
        else:
            page.focus_first()

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        cast("View", self.page(self.view)).focus_first()

    def refresh(self) -> None:
        """Show the view as the job stands."""
        mind = [c.short or c.text for c in cautions(self._session.job, "wire")]
        self._caution_words.setText(mind[0] if mind else "")
        for key, tab in self._tabs.items():
            tab.set_on(key == self.view)
            words = VIEWS[key].tab
            tab.setAccessibleName(f"View: {words}{', shown' if key == self.view else ''}")
        page = self.page(self.view)
        self._pages.setCurrentWidget(page)
        for key, shown in self._views.items():
            for extra in getattr(shown, "extras", ()):
                extra.setVisible(key == self.view)
        cast("View", page).refresh()
