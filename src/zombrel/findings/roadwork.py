"""What a road run says about a setting, as one edit."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from typing import TYPE_CHECKING

import msgspec

from zombrel.actions.signals import put_divider, put_setting
from zombrel.calibrate.settings.setting import believed, choose, pulses, value_of
from zombrel.findings.scene import given
from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.follow.query import query
from zombrel.job.model import Chain, Job, RoadRun, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.sheet import Frozen
from zombrel.signals.chain_reading import DIVIDER_MAX, top_of
from zombrel.signals.following import given_by
from zombrel.signals.reduce import divider_of, input_of
from zombrel.units import percent, rate_token

if TYPE_CHECKING:
    from zombrel.calibrate.roadfit import RoadFit


@query
def fit_run(run: RoadRun) -> RoadFit:
    """The robust fit of a run; raises Problem when it has too few steady points."""
    import numpy as np

    from zombrel.calibrate.roadfit import fit

    return fit(np.array(run.t), np.array(run.true), np.array(run.shown))


class Proposal(Frozen, frozen=True, kw_only=True):
    """The setting a road run asks for."""

    chain: str
    source: str
    trim: float
    """Pulses found on the road over pulses computed."""
    now: str
    setting: str
    divider: int
    pulses_per_m: float
    """Rate at the source as the road found it."""
    error_now: float
    error_new: float
    worth_it: bool
    words: str
    text: str
    edit: Edit
    reason: Reason


def chain_of(job: Job, run: RoadRun) -> Chain:
    """The chain a run was about; raises Problem if it is gone."""
    chain = next((c for c in job.chains if (c.device, c.pin) == (run.device, run.pin)), None)
    if chain is None:
        raise Problem(f"The job has no chain to {run.device} {run.pin} any more.")
    return chain


@query
def proposal(job: Job, run: RoadRun) -> Proposal:
    """Turn the fit of ``run`` into a setting and the edit that makes it.

    The device showed ``scale`` times the truth while set to ``run.set_to``, so the source
    really gives setting · scale · divider pulses per metre. The edit writes that into the
    source as its trim, so that the model and the road agree afterwards.

    Raises:
        Problem: the run, its chain or its setting cannot be used.
    """
    road_fit = fit_run(run)
    chain = chain_of(job, run)
    device, sheet = input_of(job, chain)
    source = by_id(job.sources, chain.source)
    if sheet.numbers is None or source is None:
        raise Problem(f"{device.name} {chain.pin} has no setting to correct.")
    divider = run.behind
    believed_then = pulses(sheet.numbers.unit, value_of(sheet.numbers, run.set_to))
    rate = believed_then * road_fit.scale * divider
    model = given_by(job, source).rate
    trim = source.trim * rate / model
    table = believed(sheet.numbers)
    best = choose(
        rate, table.names, table.values, sheet.max_hz, top_of(chain, job.vehicle), DIVIDER_MAX
    )[0]
    here = divider_of(chain)
    at = device.setting(chain.pin) or ""
    now_divider = here.by if here else 1
    now = pulses(sheet.numbers.unit, value_of(sheet.numbers, at)) if at else float("nan")
    error_now = rate / now_divider / now - 1
    doubt = (road_fit.scale_high - road_fit.scale_low) / 2
    worth = abs(error_now) - abs(best.error) > max(doubt, 0.002)
    words = best.setting + (f" behind ÷{best.divider}" if best.divider != now_divider else "")
    edit = Many(
        edits=(
            Put(path=f"sources.{source.id}.trim", value=trim),
            *((put_divider(chain, best.divider),) if best.divider != now_divider else ()),
            put_setting(device, chain.pin, best.setting),
        )
    )
    return Proposal(
        chain=chain.id,
        source=source.id,
        trim=trim,
        now=at,
        setting=best.setting,
        divider=best.divider,
        pulses_per_m=rate,
        error_now=error_now,
        error_new=best.error,
        worth_it=worth,
        words=words,
        text=f"As it stands it reads {percent(error_now)} ± {doubt * 100:.1f}; "
        f"{words} would read {percent(best.error)}.",
        edit=edit,
        reason=_reason(run, road_fit, rate, divider),
    )


def stood(job: Job, chain: Chain) -> tuple[str, int]:
    """Position of the chain's setting, and the divider it stands behind (1: none)."""
    device, _ = input_of(job, chain)
    divider = divider_of(chain)
    return device.setting(chain.pin) or "", divider.by if divider else 1


def stood_words(set_to: str, behind: int) -> str:
    """A position and its divider as they are said: ``C1 ÷7``."""
    return f"{set_to} ÷{behind}" if behind > 1 else set_to


Column = tuple[float, ...]
Log = tuple[Iterable[float], Iterable[float], Iterable[float]]
"""Time [s], true and shown speed [m/s]."""

MOST_ROWS = 50_000
"""Rows of a log that a job keeps: an hour and more of any satellite receiver."""


def thinned(log: Log, note: str) -> tuple[tuple[Column, Column, Column], str]:
    """As many rows of a log as a job keeps, and the note with what was left out."""
    t, true, shown = (tuple(map(float, column)) for column in log)
    every = math.ceil(len(t) / MOST_ROWS)
    if every > 1:
        note = f"{note} Of {len(t)} rows one in {every} is kept.".strip()
    return (t[::every], true[::every], shown[::every]) if t else (t, true, shown), note


def add_run(
    job: Job,
    chain: Chain,
    name: str,
    log: Log,
    when: str,
    note: str = "",
    was: tuple[str, int] | None = None,
) -> Add:
    """The edit that keeps a road run: ``log`` is time [s], true and shown speed [m/s].

    ``was`` says where the setting stood then; as it stands now when it is not given.
    """
    names = index(job.road)
    key = next(f"run{n}" for n in itertools.count(1) if f"run{n}" not in names)
    set_to, behind = was or stood(job, chain)
    (t, true, shown), note = thinned(log, note)
    run = RoadRun(
        id=key,
        name=name,
        device=chain.device,
        pin=chain.pin,
        set_to=set_to,
        behind=behind,
        when=when,
        note=note,
        t=t,
        true=true,
        shown=shown,
    )
    return Add(path="road", value=msgspec.to_builtins(run))


def _reason(run: RoadRun, road_fit: RoadFit, rate: float, divider: int) -> Reason:
    return Reason(
        title="Pulse rate found on the road",
        result=f"{rate_token(rate)} at the source",
        formula="setting × scale × divider",
        given=(
            given("set to", stood_words(run.set_to, run.behind), "noted with the run"),
            given(
                "scale",
                f"{road_fit.scale:.4f} ({road_fit.scale_low:.4f} to {road_fit.scale_high:.4f})",
                "measured",
            ),
            given("divider", str(divider)),
            given("points", f"{road_fit.used} used, {road_fit.set_aside} set aside"),
        ),
        source="robust regression: Holland & Welsch 1977; Student's t, thinned for serial "
        "correlation",
        assumption="the satellite's own speed is right within 0.1 km/h when steady",
    )
