"""The road sheet: the legs to drive, each with what should come of it, worked out from the job.

By hazard: walking pace first, then what holds a device back, then what it reads, then how it
drives. A leg that a drive against the satellite answers is answered by it and by nobody's word.

References: the readings and moments of ``signals.chain_reading``, ``behaviour.cruise`` and
``behaviour.moments``; a fit as in ``calibrate.roadfit``.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.actions.trials import untold
from zombrel.behaviour.cruise import cruise
from zombrel.behaviour.moments import has_moment, of_control
from zombrel.behaviour.reports import HILL, PACE, SET_MPS, body_of, paced, unit_of
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.record import Outcome, prove
from zombrel.diagnose.rests import changed_since, rests_of
from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import latest, standing
from zombrel.findings.roadwork import fit_run, proposal, stood
from zombrel.job.edits import Edit, Put, together
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Job, RoadRun, index
from zombrel.job.problem import Problem
from zombrel.job.records.outing import Outing
from zombrel.job.sheet import Means, Quantity
from zombrel.job.value import Value
from zombrel.signals.chain_reading import works_from
from zombrel.signals.reduce import input_of
from zombrel.units import KMH, percent
from zombrel.units.measure import token

ROAD_MPS = tuple(kmh * KMH for kmh in (40, 70, 100))
"""Steady speeds that part a scale from an offset [m/s]."""
ABOVE = 1.2
"""First engaged so much above the lowest speed at which the unit works."""
WHILE_DRIVING: dict[Quantity, tuple[str, str]] = {
    "brake": ("Brake lets go", "touch the brake lightly"),
    "clutch": ("Clutch lets go", "press the clutch lightly"),
    "arm": ("Switch lets go", "switch its arming off"),
}
"""What may be worked while the car rolls. Park and park brake are proven standing, never here.

Pedals let go what holds a speed; other devices act with them, and only their switch stops them.
"""
TWO = "one drives and looks at the road, one reads"
HOW: dict[Means, tuple[str, str]] = {
    "launch": ("Launch", "From a stop, brake on, launch held; let go on an empty straight."),
    "shift": ("Lights in time", "Pull through second gear until the lamp lights, and shift."),
    "gap": ("Rev-match", "Brake and shift down as below, three times."),
    "idle": ("Idle handed back", "Raise the idle at a stop, engage a gear with the brake on."),
    "least duty": ("Pumped loop", "Three pulls with three minutes between; note the hottest."),
}


def _sheet(kind: str, key: str, short: str, ask: str, expect: str, **more: object) -> StepSheet:
    return StepSheet(
        id=f"leg-{kind}-{key}",
        kind=kind,
        short=short,
        ask=ask,
        where=expect,
        caution=str(more.pop("caution", "")),
        fields=(),
        key=key,
        needs=TWO,
        **more,  # type: ignore[arg-type]
    )


def _cars(job: Job) -> tuple[str, ...]:
    return ("car",) if job.devices else ()


@query
def off(job: Job, key: str) -> StepSheet:
    """Once round the yard, after any change of what is in the car and how it is wired."""
    devices = [d.name for d in job.devices]
    runs = [(w.a.place, w.b.place) for w in job.wires]
    places = len({place for run in runs for place in run})
    return _sheet(
        "off",
        key,
        "Off, gently",
        "Walking pace in an empty yard: turn both ways, brake hard once, stop, look underneath.",
        "Nothing rubs, rattles, smells or is warm; no warning lamp; pedals and wheel free.",
        caution="Nobody near the car; tools out of it, bonnet latched, belts on.",
        formula=f"{', '.join(devices)}; {len(runs)} wires between {places} places",
        source="practice of the trade",
        otherwise="Do not leave the yard: find it first.",
    )


def _cancelled(job: Job) -> tuple[str, ...]:
    """Signals that hold back a device that moves the throttle, as they lie."""
    devices = index(job.devices)
    found = []
    for chain in job.chains:
        sheet = devices[chain.device].sheet
        given = sheet.input(chain.pin)
        if sheet.moves != "throttle" or given is None or not sheet.gates(given):
            continue
        paces = any(c.means in PACE for c in sheet.controls)
        stops = paces or given.quantity == "arm" or given.need_ohm  # a cancel line always does
        if stops and given.quantity in WHILE_DRIVING:
            found.append(chain.id)
    return tuple(found)


@query
def cancel(job: Job, key: str) -> StepSheet:
    """The unit engaged low, and let go by what holds it back."""
    chain = index(job.chains)[key]
    device = index(job.devices)[chain.device]
    speeds = [works_from(i) for i in device.sheet.inputs if i.quantity == "speed"]
    at = max((ABOVE * v for v in speeds), default=ROAD_MPS[0])
    short, how = WHILE_DRIVING[chain.quantity]
    return _sheet(
        "cancel",
        key,
        f"{short}, {device.name}",
        f"Empty straight, {token('speed', at, 0)}, {device.name} at work: {how}. Three times.",
        "It lets go at once, every time, and does nothing by itself until it is told again.",
        caution="Foot ready on the brake, the switch that cuts its power within reach.",
        formula=f"{ABOVE:g} × the lowest speed at which it works",
        source="the device’s sheet",
        otherwise="Cut its power and stop. Nothing else is driven before it does.",
        chain=key,
        about=(chain.id, device.id),
    )


def shown_speeds(job: Job) -> tuple[str, ...]:
    """The signals whose speed a device shows."""
    return tuple(c.id for c in job.chains if c.quantity == "speed" and input_of(job, c)[1].numbers)


@query
def read(job: Job, key: str) -> StepSheet:
    """Shown speed against the satellite at steady speeds: answered by the drive."""
    chain = index(job.chains)[key]
    device, sheet = input_of(job, chain)
    at, behind = stood(job, chain)
    lowest = works_from(sheet) * ABOVE
    speeds = [v for v in ROAD_MPS if v >= lowest] or [lowest]
    words = ", ".join(token("speed", v, 0) for v in speeds)
    set_to = f"set to {at or 'nothing yet'}" + (f" behind ÷{behind}" if behind > 1 else "")
    return _sheet(
        "read",
        key,
        f"By satellite, {device.name}",
        f"Level and straight: hold {words}, half a minute each, the satellite recorded.",
        f"No other setting would read nearer; now {set_to}.",
        caution="The driver looks at the road; limits of the road and the law hold.",
        formula="the fit of shown over satellite speed, and the setting it asks for",
        source="calibrate.roadfit",
        otherwise="Make the setting that Drive offers, and drive it again.",
        chain=key,
        about=(chain.id, device.id),
    )


def _paces(job: Job) -> tuple[str, ...]:
    device = paced(job)
    return (device.id,) if device is not None else ()


@query
def pace(job: Job, key: str) -> StepSheet:
    """A speed held on the level and over a hill, as the loop says it should be."""
    device = index(job.devices)[key]
    try:
        body, unit = body_of(job.vehicle), unit_of(device)
        level, hill = (cruise(body, unit, SET_MPS, grade) for grade in (0.0, HILL))
        sags = token("speed", level.droop_kmh * KMH), token("speed", hill.droop_kmh * KMH)
        expect = f"It sags about {sags[0]} as it takes hold, {sags[1]} on the hill; no hunting."
    except Problem as problem:
        expect = f"It holds and does not hunt. By how much it sags cannot be told: {problem}"
    return _sheet(
        "pace",
        key,
        f"Holds speed, {device.name}",
        f"Set {token('speed', SET_MPS, 0)} on the level for a minute, then over a hill of "
        f"{100 * HILL:g} %.",
        expect,
        caution="Empty road, dry; hands on the wheel, foot ready on the brake.",
        formula="the car’s mass, power and drag under the unit’s loop, cable slack 1 mm",
        source="behaviour.cruise",
        otherwise="Say how it drives in Drive; it names the next single change.",
        about=(key,),
    )


def _felt(job: Job) -> tuple[str, ...]:
    return tuple(
        f"{d.id}/{c.pin}"
        for d in job.devices
        for c in d.sheet.controls
        if c.means in HOW and has_moment(job, c)
    )


@query
def feel(job: Job, key: str) -> StepSheet:
    """One moment of one dial, as the car should behave in it."""
    device_id, _, pin = key.partition("/")
    device = index(job.devices)[device_id]
    control = next(c for c in device.sheet.controls if c.pin == pin)
    short, ask = HOW[control.means]
    try:
        seen = of_control(job, device, control)
        expect, formula = seen.words, seen.reason.formula
    except Problem as problem:
        expect, formula = f"As the driver wants it. What it should do cannot be told: {problem}", ""
    return _sheet(
        "feel",
        key,
        f"{short}, {device.name}",
        ask,
        expect,
        caution="A closed or empty road, dry; limits of the road and the law hold.",
        formula=formula,
        source="behaviour.moments",
        otherwise="Say how it drives in Drive; it names the next single change.",
        about=(device_id,),
    )


KINDS: dict[str, tuple[Callable[[Job], tuple[str, ...]], Callable[[Job, str], StepSheet]]] = {
    "off": (_cars, off),
    "cancel": (_cancelled, cancel),
    "read": (shown_speeds, read),
    "pace": (_paces, pace),
    "feel": (_felt, feel),
}
"""In the order of the drive."""


class Leg(Value, frozen=True):
    """One leg, how it stands, and why it is not to be driven yet."""

    sheet: StepSheet
    state: str
    """``passed``, ``failed``, ``stale``, ``not reached`` or ``open``."""
    said: str
    """What came of it; by a drive, what that drive said."""
    wait: str
    """Why it waits; empty: it may be driven."""


def legs(job: Job) -> tuple[Leg, ...]:
    """Every leg in the order of the drive; one that failed holds up those after it."""
    wait = road_gate(job) or crew_lacks(job.outing)
    found: list[Leg] = []
    for keys, make in KINDS.values():
        for key in keys(job):
            sheet = plain(make(job, key))
            state, said = _state(job, sheet)
            found.append(Leg(sheet, state, said, wait))
            if state == "failed" and not wait:
                wait = f"“{sheet.short}” did not go well: mend it and drive it again first."
    return tuple(found)


def crew_lacks(outing: Outing) -> str:
    """Why nobody drives yet: it takes two; empty when there are."""
    driver, reader = (" ".join(x.casefold().split()) for x in (outing.driver, outing.reader))
    if not driver or not reader:
        return "Say who drives and who reads. It takes two: the driver looks at the road."
    if driver == reader:
        return "One person does not drive and read: name a second one."
    return ""


def _state(job: Job, sheet: StepSheet) -> tuple[str, str]:
    proof = latest(job, sheet)
    if sheet.kind == "read":
        answered = _answered(job, index(job.chains)[sheet.key])
        if answered is not None or proof is None or proof.verdict != "not reached":
            return answered or ("open", "answered by a drive against the satellite")
    if proof is None:
        return "open", ""
    state = standing(job, sheet)
    words = " ".join(x for x in (proof.note, proof.by, proof.when) if x)
    if state == "stale":
        words = "driven before this changed: " + "; ".join(changed_since(job, proof)[:2])
    return state, words


def _answered(job: Job, chain: Chain) -> tuple[str, str] | None:
    """What the newest drive with the setting as it stands says; None without one."""
    run = next((r for r in reversed(job.road) if _as_set(job, chain, r)), None)
    if run is None:
        return None
    try:
        fit, offer = fit_run(run), proposal(job, run)
    except Problem as problem:
        return "open", f"{run.name}: {problem}"
    half = 50 * (fit.scale_high - fit.scale_low)
    words = f"{run.name}: {percent(fit.scale - 1)} ± {half:.1f} %"
    if offer.worth_it:
        return "failed", f"{words}; {offer.words} would read nearer"
    return "passed", words


def _as_set(job: Job, chain: Chain, run: RoadRun) -> bool:
    return (run.device, run.pin) == (chain.device, chain.pin) and (
        run.set_to,
        run.behind,
    ) == stood(job, chain)


def drove(job: Job, leg: Leg, verdict: Outcome, note: str, when: str) -> Edit:
    """Note how a leg went.

    Raises:
        Problem: it waits for something, or only a drive against the satellite can answer it.
    """
    if leg.wait:
        raise Problem(leg.wait)
    if leg.sheet.kind == "read" and verdict != "not reached":
        raise Problem(
            f"“{leg.sheet.short}” is answered by its record, not by word: record or read a drive "
            "in Drive."
        )
    rests = rests_of(KINDS[leg.sheet.kind][1], job, leg.sheet.key)
    who = f"{job.outing.driver} drove, {job.outing.reader} read"
    words = "; ".join(x for x in (note, who) if x)
    return prove(job, leg.sheet, verdict, {}, words, when, rests)


def sign_lacks(job: Job, all_legs: tuple[Leg, ...]) -> str:
    """Why the road test cannot be signed off yet; empty when it can."""
    undone = [x for x in all_legs if x.state not in ("passed", "not reached")]
    if not all_legs:
        return "There is nothing to drive: no device is in the job yet. Add one in Survey."
    if undone:
        first = undone[0]
        more = f" and {len(undone) - 1} more" if len(undone) > 1 else ""
        return f"“{first.sheet.short}”{more}: {WORDS[first.state]}."
    if untold(job):
        return "What came of the last change is not said yet."
    return ""


WORDS = {
    "passed": "went well",
    "failed": "did not go well",
    "stale": "to be driven again",
    "not reached": "left out",
    "open": "not driven yet",
}


def sign(job: Job, name: str, when: str) -> Edit:
    """Sign the road test off in ``name``.

    Raises:
        Problem: no name, a lock, or a leg that is not done.
    """
    lacks = road_gate(job) or sign_lacks(job, legs(job))
    if lacks:
        raise Problem(lacks)
    if not name.strip():
        raise Problem("Who signs it off? Type a name.")
    return together(
        Put(path="outing.signed", value=name.strip()), Put(path="outing.signed_when", value=when)
    )
