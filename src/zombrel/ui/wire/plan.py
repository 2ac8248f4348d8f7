"""Where it runs: the vehicle from above, its zones, the runs through them and what each costs."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QGridLayout,
    QLineEdit,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from zombrel.actions.placing import place_usual
from zombrel.actions.plan import (
    add_zone,
    join_zones,
    lay,
    move_zone,
    place_in,
    put_way,
    put_zone,
    remove_zone,
)
from zombrel.catalog.plans import plans, take_plan
from zombrel.harness import route
from zombrel.harness.ends import end_words
from zombrel.harness.laid import bundles, laid
from zombrel.job.follow.query import Watch
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.wiring import Way, Wire, Zone
from zombrel.ui.session import Session
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.paint import Pill
from zombrel.ui.widgets.parts import (
    button,
    card,
    clear,
    clip,
    label,
    row,
    scroller,
    squeezable,
)
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.plan_body import is_under
from zombrel.ui.wire.plan_view import PlanView
from zombrel.units.measure import length_of, short_of, value_in

NUMBERS = (
    ("x_m", "from the nose, m"),
    ("y_m", "from the left, m"),
    ("over_ambient_k", "hotter by, K"),
    ("access_min", "to open, min"),
    ("free_long_m", "room long, m"),
    ("free_wide_m", "room wide, m"),
    ("free_high_m", "room high, m"),
)
TICKS = (
    ("wet", "wet"),
    ("spray", "water thrown"),
    ("inside", "people sit there"),
    ("moving", "moving parts"),
    ("vibrates", "shakes"),
    ("airbag", "airbag"),
    ("lifted", "car raised"),
)


class PlanPage(QWidget):
    """The plan at the left; at the right the chosen run, or the chosen zone."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.chosen = ""
        self._shown = Watch()
        self.view = PlanView(session)
        self.view.wire_stepped.connect(self._step)
        self.view.zone_chosen.connect(self._zone_chosen)
        self.view.zone_moved.connect(self._zone_moved)
        self.view.run_taken.connect(self.take)
        self.view.layer_changed.connect(self._say_layer)
        holder, inner = card(margins=8)
        self._hint = label("", "small", wrap=True)
        inner.addWidget(self.view, 1)
        self._layer = button("", self.view.turn_over, "plain")
        line = row(self._hint, self._layer)
        line.setStretch(0, 1)
        inner.addLayout(line)
        side = QWidget()
        self._side = QVBoxLayout(side)
        self._side.setContentsMargins(0, 0, 6, 0)
        self._side.setSpacing(8)
        area = scroller(side, "The chosen run or zone")
        area.setFixedWidth(312)
        body = row(holder, area, spacing=10)
        body.setStretch(0, 1)
        body.setContentsMargins(0, 0, 0, 0)
        self.setLayout(body)

    def _say_layer(self) -> None:
        zones = self._session.job.zones
        self._layer.setVisible(any(is_under(z, zones) for z in zones))
        words = "Above the floor" if self.view.under else "Underbody"
        self._layer.setText(f"{words}   U")
        self._layer.setAccessibleName(f"Show: {words.lower()}")

    # ---- what is chosen

    def _wire(self) -> Wire | None:
        runs = self._session.assessment.runs
        found = next((w for w in runs if w.id == self.chosen), None)
        return found or (runs[0] if runs else None)

    def _step(self, by: int) -> None:
        ids = [w.id for w in self._session.assessment.runs]
        if ids:
            at = ids.index(self.chosen) if self.chosen in ids else 0
            self.chosen = ids[(at + by) % len(ids)]
            self.view.zone = ""
            self.refresh()

    def _zone_chosen(self, zone: str) -> None:
        self.view.zone = zone
        self.refresh()

    def _zone_moved(self, zone: str, x: float, y: float) -> None:
        found = by_id(self._session.job.zones, zone)
        if found is not None:
            self._session.do(f"{found.name} moved", move_zone(found, x, y))

    def show_item(self, item: str) -> None:
        """Choose a wire, or a zone by its id."""
        if by_id(self._session.job.zones, item) is not None:
            self.view.zone = item
        else:
            self.chosen, self.view.zone = item, ""
        self.refresh()
        self.focus_first()

    def focus_first(self) -> None:
        self.view.setFocus(Qt.FocusReason.OtherFocusReason)

    # ---- changing

    def runs(self) -> tuple[route.Run, ...]:
        """The cheapest ways for the chosen wire."""
        wire, job = self._wire(), self._session.job
        if wire is None:
            return ()
        at = route.zone_of(job)
        start, end = at.get(wire.a.place), at.get(wire.b.place)
        if not start or not end:
            return ()
        try:
            nature = route.nature_of(wire, route.pickups(job))
            return route.runs(job.zones, job.ways, nature, start, end)
        except Problem:
            return ()

    def take(self, i: int) -> None:
        """Lay the chosen wire the ``i``-th way."""
        wire, found = self._wire(), self.runs()
        if wire is not None and i < len(found) and found[i].zones != wire.via:
            self._session.do(
                f"{wire.id}: another way",
                lay(wire, found[i].zones),
            )

    def _take_plan(self, key: str) -> None:
        found = next(p for p in plans() if p.id == key)
        self._session.do(f"Plan: {found.name}", take_plan(self._session.history.present, found))

    def _put_zone(self, zone: Zone, field: str, value: object) -> None:
        if getattr(zone, field) != value:
            self._session.do(
                f"{zone.name}: {field.replace('_', ' ')}",
                put_zone(zone, field, value),
            )

    def _typed(self, edit: FigureField) -> float | None:
        return edit.take()

    def _zone_typed(self, zone: str, field: str, edit: FigureField) -> None:
        found, value = by_id(self._session.job.zones, zone), self._typed(edit)
        if found is not None and value is not None:
            self._put_zone(found, field, value)

    def _way_typed(self, way: str, edit: FigureField) -> None:
        found = by_id(self._session.job.ways, way)
        if found is None:
            return
        if not edit.text().strip():
            value: float | None = None
        else:
            value = self._typed(edit)
            if value is None:
                return
        if value != found.length_m and edit.text() != self._way_words(found):
            self._session.do(f"Way {found.id}: length", put_way(found, value))

    def _way_words(self, way: Way) -> str:
        shown = value_in("length", self._length(way), self._session.units)
        return f"{shown:.2f}".rstrip("0").rstrip(".")

    def _add_zone(self, beside: Zone) -> None:
        """A zone joined to ``beside`` by a way."""
        key, name, edit = add_zone(self._session.job, beside)
        if self._session.do(f"{name} beside {beside.name}", edit):
            self._zone_chosen(key)

    def _drop_zone(self, zone: Zone) -> None:
        """A zone and its ways; wires that ran there are found and said."""
        edit = remove_zone(self._session.job, zone)
        self.view.zone = ""
        self._session.do(f"{zone.name} taken out", edit)

    def _join_zone(self, zone: Zone) -> None:
        """A way from ``zone`` to another, chosen from a menu."""
        from PySide6.QtGui import QCursor
        from PySide6.QtWidgets import QMenu

        from zombrel.ui.theme import dress

        job = self._session.job
        joined = {w.b if w.a == zone.id else w.a for w in job.ways if zone.id in (w.a, w.b)}
        menu = QMenu(self)
        dress(menu)
        for other in job.zones:
            if other.id == zone.id or other.id in joined:
                continue
            menu.addAction(other.name).triggered.connect(
                lambda _=False, o=other: self._session.do(
                    f"Way from {zone.name} to {o.name}", join_zones(zone, o)
                )
            )
        menu.popup(QCursor.pos())

    def _length(self, way: Way) -> float:
        return route.way_length(way, {z.id: z for z in self._session.job.zones})

    def why(self) -> None:
        """Why the chosen run costs what it does."""
        wire, job = self._wire(), self._session.job
        if wire is None or not wire.via:
            return
        nature = route.nature_of(wire, route.pickups(job))
        zones = {z.id: z for z in job.zones}
        if not route.connected(job.zones, job.ways, wire.via):
            return
        run = route.measure(job.zones, job.ways, nature, wire.via)
        devices = frozenset(d.id for d in job.devices)
        more = route.allowance(wire, devices, job.house)
        given = [
            Given(name=zones[z].name, value=f"+{length_of(route.zone_price(zones[z], nature), 2)}")
            for z in wire.via
        ]
        given += [
            Given(name="way itself", value=length_of(run.length_m, 2), known="the plan"),
            Given(name="tails and slack", value=length_of(more, 2), known="house rule"),
        ]
        show_why(
            Reason(
                title=f"{wire.id}: {nature} run",
                result=f"{length_of(wire.length_m)}, price {length_of(run.price, 2)}",
                formula="price = Σ (way + half of what each of its two zones adds); length = way "
                "+ tails + slack, up to full 5 cm",
                given=tuple(given),
                source="Dijkstra 1959; Yen 1971 for the rivals",
                assumption=f"a bare way on the plan is {route.BENDS:g} × the straight line",
            ),
            self.window(),
            self._session.units,
        )

    # ---- showing

    def refresh(self) -> None:
        s = self._session
        wire = self._wire()
        if wire is not None:
            self.chosen = wire.id
        has = bool(s.job.zones)
        self._say_layer()
        self.view.show_wire(wire)
        self._hint.setText(
            "Up and down: next wire.  1 to 4: take that way.  Z: next zone, then arrows move it; "
            "or drag it.  W: why.  Dashed: beneath the body."
            if has
            else ""
        )
        own = (self.chosen, self.view.zone, s.theme, s.units)
        if self._shown.due(s.present, *own):
            with self._shown.making(*own):
                self._show_side()

    def _show_side(self) -> None:
        clear(self._side)
        if not self._session.job.zones:
            self._no_plan()
        elif self.view.zone:
            self._zone_card(self.view.zone)
        else:
            self._run_card(self._wire())
            self._bundle_card()
        self._side.addStretch(1)
        squeezable(self)

    def _no_plan(self) -> None:
        holder, inner = card()
        inner.addWidget(label("No plan yet", "head"))
        inner.addWidget(
            label(
                "A plan gives lengths, heat and neighbours to every run. Take one and shape it: "
                "drag zones, type what they add.",
                "quiet",
                wrap=True,
            )
        )
        for p in plans():
            inner.addWidget(button(p.name, partial(self._take_plan, p.id), "primary"))
        self._side.addWidget(holder)

    def _run_card(self, wire: Wire | None) -> None:
        holder, inner = card()
        s = self._session
        count, edit = place_usual(s.history.present)
        if edit is not None:
            things = "1 thing lies" if count == 1 else f"{count} things lie"
            inner.addWidget(label(f"{things} in no zone yet.", "watch", wrap=True))
            place = partial(s.do, "Everything where it usually is", edit)
            inner.addLayout(row(button("Put each where it usually is", place, "primary"), 1))
        if wire is None:
            inner.addWidget(label("No wires yet. Signals bring them: see Source.", "quiet", True))
            self._side.addWidget(holder)
            return
        inner.addLayout(
            row(
                label(f"{wire.id}, {wire.colour}", "head"),
                1,
                button("Why?", self.why, name="Why this way"),
            )
        )
        inner.addWidget(
            label(f"{end_words(s.job, wire.a)} to {end_words(s.job, wire.b)}", "quiet", wrap=True)
        )
        found = self.runs()
        if not found:
            inner.addWidget(
                label(
                    "One of its ends is in no zone yet. Say below where each thing is.",
                    "watch",
                    True,
                )
            )
        zones = {z.id: z for z in s.job.zones}
        known = [r.zones for r in found]
        if (
            wire.via
            and wire.via not in known
            and route.connected(s.job.zones, s.job.ways, wire.via)
        ):
            nature = route.nature_of(wire, route.pickups(s.job))
            now = route.measure(s.job.zones, s.job.ways, nature, wire.via)
            inner.addWidget(label(f"Now: {_through(now, zones)}", "strong13", wrap=True))
            inner.addWidget(label(now.words(zones) + _price(now), "small", wrap=True))
        for i, run in enumerate(found):
            here = run.zones == wire.via
            words = f"{i + 1}  {_through(run, zones)}"
            push_button = button(words, partial(self.take, i), "plain", f"Way {i + 1}: {words}")
            push_button.setMaximumWidth(276)
            push_button.set_on(here)
            tip(push_button, words)
            inner.addWidget(push_button)
            more = "" if i == 0 else f", {length_of(run.price - found[0].price, 1)} dearer"
            inner.addWidget(label(run.words(zones) + more, "small", wrap=True))
        self._place_rows(inner, wire)
        self._side.addWidget(holder)

    def _place_rows(self, inner: QBoxLayout, wire: Wire) -> None:
        """Where each end is, as a button that goes through the zones."""
        job = self._session.job
        for end in (wire.a, wire.b):
            for name in ("devices", "sources", "feeds", "studs", "connectors"):
                item = by_id(getattr(job, name), end.place)
                if item is None:
                    continue
                zone = by_id(job.zones, item.zone)
                said = zone.name if zone is not None else "not said"
                push_button: Pill = button(
                    said,
                    partial(self._ask_zone, name, end.place),
                    "known",
                    f"{item.name} lies in: {said}. Press to change.",
                )
                push_button.setMaximumWidth(150)
                inner.addLayout(row(label(f"{item.name} is in", "quiet", wrap=True), push_button))

    def _ask_zone(self, kind: str, place: str) -> None:
        from PySide6.QtGui import QCursor
        from PySide6.QtWidgets import QMenu

        from zombrel.ui.theme import dress

        menu = QMenu(self)
        dress(menu)
        for zone in self._session.job.zones:
            push_button = menu.addAction(zone.name)
            push_button.triggered.connect(
                lambda _=False, z=zone: self._session.do(
                    f"{place} lies in: {z.name}", place_in(kind, place, z.id)
                )
            )
        menu.popup(QCursor.pos())

    def _bundle_card(self) -> None:
        holder, inner = card()
        inner.addWidget(label("Bundles", "head"))
        names = {z.id: z.name for z in self._session.job.zones}
        found = bundles(laid(self._session.job))
        if not found:
            inner.addWidget(label("No two zones are joined by a run yet.", "quiet", True))
        for b in found:
            loom = (
                f"tube {short_of(b.loom_mm / 1000)}"
                if b.loom_mm
                else "split it: no tube is that wide"
            )
            hole = "" if b.hole_mm == 0 else f", hole {short_of(b.hole_mm / 1000)}"
            count = "1 wire" if len(b.wires) == 1 else f"{len(b.wires)} wires"
            thick = short_of(b.diameter_mm / 1000)
            words = f"{names[b.a]} – {names[b.b]}: {count}, {thick}, {loom}{hole}"
            inner.addWidget(label(words, "small" if b.fits else "trouble", wrap=True))
        self._side.addWidget(holder)

    def _zone_card(self, key: str) -> None:
        job = self._session.job
        zone = by_id(job.zones, key)
        if zone is None:
            self.view.zone = ""
            return
        holder, inner = card()
        back = button("Back to the run", partial(self._zone_chosen, ""), "plain")
        inner.addLayout(row(label(clip(zone.name, 16), "head"), 1, back))
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        called = QLineEdit(zone.name)
        called.setAccessibleName("Name of the zone")
        called.editingFinished.connect(
            lambda: self._put_zone(zone, "name", called.text().strip() or zone.name)
        )
        inner.addWidget(called)
        for i, (field, name) in enumerate(NUMBERS):
            edit = FigureField(self._session, "number", f"{zone.name}: {name}")
            edit.setText(f"{getattr(zone, field):g}")
            edit.setFixedWidth(84)
            edit.editingFinished.connect(partial(self._zone_typed, zone.id, field, edit))
            grid.addWidget(label(name, "quiet"), i, 0)
            grid.addWidget(edit, i, 1)
        inner.addLayout(grid)
        for field, name in TICKS:
            tick = QCheckBox(name)
            tick.setChecked(getattr(zone, field))
            tick.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
            tick.clicked.connect(lambda on, f=field, z=zone: self._put_zone(z, f, on))
            inner.addWidget(tick)
        near = ", ".join(n.name for n in zone.near) or "nothing noted"
        inner.addWidget(label(f"A run here passes: {near}.", "small", wrap=True))
        if zone.panel:
            inner.addWidget(label(f"Opened: {zone.panel}.", "small", wrap=True))
        inner.addLayout(
            row(
                button("New zone beside", partial(self._add_zone, zone), "plain"),
                button(
                    "Take out", partial(self._drop_zone, zone), "plain", f"Take {zone.name} out"
                ),
                1,
            )
        )
        self._side.addWidget(holder)
        self._ways_card(zone)

    def _ways_card(self, zone: Zone) -> None:
        holder, inner = card()
        inner.addWidget(label("Ways from here", "head"))
        names = {z.id: z.name for z in self._session.job.zones}
        for way in self._session.job.ways:
            if zone.id not in (way.a, way.b):
                continue
            other = names[way.b if way.a == zone.id else way.a]
            edit = FigureField(
                self._session,
                "length",
                f"Length of the way to {other}",
                lambda: self._session.units.length,
            )
            edit.setText(self._way_words(way))
            edit.setFixedWidth(76)
            edit.editingFinished.connect(partial(self._way_typed, way.id, edit))
            hole = f", hole {short_of(way.hole_mm / 1000)}" if way.hole_mm else ""
            drawn = "" if way.length_m is not None else ", from the plan"
            inner.addLayout(row(label(f"{other}{hole}{drawn}", "quiet", wrap=True), 1, edit))
        inner.addLayout(row(button("New way to…", partial(self._join_zone, zone), "plain"), 1))
        self._side.addWidget(holder)


def _through(run: route.Run, zones: dict[str, Zone]) -> str:
    """The zones between, or that there are none."""
    between = [zones[z].name.lower() for z in run.zones[1:-1]]
    if not between:
        return "straight" if len(run.zones) > 1 else f"within {zones[run.zones[0]].name.lower()}"
    return ", ".join(between)


def _price(run: route.Run) -> str:
    return f", price {length_of(run.price, 1)}"
