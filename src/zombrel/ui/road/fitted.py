"""The fit of a drive against the satellite, and the setting it asks for."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout

from zombrel.actions.records import remove_run
from zombrel.calibrate.roadfit import RoadFit
from zombrel.findings.roadwork import Proposal, chain_of, fit_run, proposal, stood_words
from zombrel.job.model import RoadRun, by_id
from zombrel.job.problem import Problem
from zombrel.signals.reduce import input_of
from zombrel.ui.road.chart import road_picture
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.plot import Plot
from zombrel.ui.widgets.why import show_why
from zombrel.units import number, per_distance, percent, speed_unit, speed_value


class Fitted(Panel):
    """What a drive says: its line, what was set aside, the setting it asks for."""

    def __init__(self, session: Session, chart: Plot) -> None:
        super().__init__("card")
        self._session, self._chart = session, chart
        self._drive = ""
        """The drive that is looked at; empty: the last one."""
        result = QVBoxLayout(self)
        result.setContentsMargins(14, 12, 14, 12)
        result.setSpacing(6)
        self._fit_head, self._fit_words = label("", "title"), label("", "", wrap=True)
        self._aside = label("", "quiet", wrap=True)
        self._offer_words = label("", "strong", wrap=True)
        self._save_words = label("", "quiet", wrap=True)
        self.apply_button = button("", self._apply, "primary")
        self._why_button = button("Why?", self._why, name="Why: the road fit")
        for w in (self._fit_head, self._fit_words, self._aside, self._offer_words):
            result.addWidget(w)
        result.addLayout(row(self.apply_button, self._why_button, 1))
        self._drives = Choice()
        self._drives.setAccessibleName("Drive on show")
        self._drives.activated.connect(self._drive_chosen)
        self._out = button("Take it out", self._take_out, "plain", "Take this drive out")
        drives = row(self._drives, self._out)
        drives.setStretch(0, 1)
        result.addWidget(self._save_words)
        result.addLayout(drives)
        result.addStretch(1)

    def _run(self) -> RoadRun | None:
        road = self._session.job.road
        return by_id(road, self._drive) or (road[-1] if road else None)

    def _drive_chosen(self, i: int) -> None:
        self._drive = self._session.job.road[i].id
        self.refresh()

    def _take_out(self) -> None:
        run = self._run()
        if run is not None:
            self._drive = ""
            self._session.do(f"Drive {run.name} taken out", remove_run(run))

    def _show_drives(self, run: RoadRun) -> None:
        road = self._session.job.road
        self._drives.clear()
        self._drives.addItems([" ".join(x for x in (r.name, r.when) if x) for r in road])
        self._drives.setCurrentIndex(road.index(run))

    def refresh(self) -> None:
        s = self._session
        u = s.units
        run = self._run()
        self.setVisible(run is not None)
        if run is None:
            self._chart.show_picture(road_picture([], [], [], None, speed_unit(u)))
            return
        self._show_drives(run)
        x = [speed_value(v, u) for v in run.true]
        y = [speed_value(v, u) for v in run.shown]
        try:
            road_fit = fit_run(run)
        except Problem as problem:
            self._chart.show_picture(road_picture(x, y, [], None, speed_unit(u)))
            self._fit_head.setText("No fit")
            self._fit_words.setText(s.words(str(problem)))
            for w in (self._aside, self._offer_words, self.apply_button, self._save_words):
                w.hide()
            return
        line = (road_fit.scale, speed_value(road_fit.offset, u))
        self._chart.show_picture(road_picture(x, y, road_fit.kept, line, speed_unit(u)))
        self._show_fit(run, road_fit)
        self._show_offer(run)

    def _show_fit(self, run: RoadRun, road_fit: RoadFit) -> None:
        u = self._session.units
        half = (road_fit.scale_high - road_fit.scale_low) / 2
        self._fit_head.setText(f"{percent(road_fit.scale - 1)} ± {number(half * 100, 1)} %")
        reads = "high" if road_fit.scale > 1 else "low"
        offset = (
            "the line is held to zero: one speed cannot tell scale from offset"
            if road_fit.through_origin
            else f"offset {number(speed_value(road_fit.offset, u), 1)} ± "
            f"{number(speed_value(road_fit.offset_error, u), 1)} {speed_unit(u)}"
        )
        self._fit_words.setText(
            f"{run.name}, set to {stood_words(run.set_to, run.behind)}: it read {reads}. "
            f"Scale {road_fit.scale:.4f} "
            f"({road_fit.scale_low:.4f} to {road_fit.scale_high:.4f}, 95 %); {offset}."
        )
        self._aside.setText(
            f"{road_fit.used} points used. Set aside, hollow on the chart: "
            f"{road_fit.accelerating} while accelerating, {road_fit.outliers} far off the line, "
            f"{road_fit.slow} too slow."
        )
        self._aside.show()

    def _show_offer(self, run: RoadRun) -> None:
        s = self._session
        try:
            offer = proposal(s.job, run)
        except Problem as problem:
            self._offer_words.setText(str(problem))
            self._offer_words.show()
            self.apply_button.hide()
            self._save_words.hide()
            return
        rate = per_distance(offer.pulses_per_m, s.units)
        self._offer_words.setText(f"The source gives {rate}. {offer.text}")
        self._offer_words.show()
        self.apply_button.setText(f"Set {offer.words}")
        self.apply_button.setVisible(offer.worth_it or self._trim_open(offer))
        device, _ = input_of(s.job, chain_of(s.job, run))
        self._save_words.setText(f"Then set the {device.name} itself and read it back in Set.")
        self._save_words.setVisible(self.apply_button.isVisibleTo(self))
        if not self.apply_button.isVisibleTo(self):
            self._offer_words.setText(
                f"The source gives {rate}. The setting stands as the road asks; nothing to change."
            )

    def _trim_open(self, offer: Proposal) -> bool:
        """The model does not know yet what the road found."""
        source = next(s for s in self._session.job.sources if s.id == offer.source)
        return abs(offer.trim - source.trim) > 1e-6

    def _apply(self) -> None:
        run = self._run()
        if run is not None:
            offer = proposal(self._session.job, run)
            if self._session.do(f"Road: {offer.words}", offer.edit):
                self._session.said.emit("good", f"Set {offer.words}. Ctrl+Z takes it back.")

    def _why(self) -> None:
        run = self._run()
        if run is not None:
            try:
                show_why(
                    proposal(self._session.job, run).reason, self.window(), self._session.units
                )
            except Problem as problem:
                self._session.said.emit("trouble", str(problem))
