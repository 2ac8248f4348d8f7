"""What must be known for the devices of a job, in the order in which it opens most answers."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

from zombrel.job import facts
from zombrel.job.edits import fact
from zombrel.job.facts import FactSheet
from zombrel.job.follow.query import query
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, Vehicle, index
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import ACTS, Means, Quantity
from zombrel.job.source import PropShaft, WheelRing
from zombrel.job.value import Value


class Question(Value, frozen=True):
    """A fact that the devices of the job use."""

    sheet: FactSheet
    why: str
    """What hangs on it, in a few words."""
    opens: int
    """So many inputs, controls and devices rest on it."""
    known: bool
    """Somebody has said it; what only stands at its usual value counts as not said."""


class Wanted(Value, frozen=True):
    """A quantity that devices want and that nothing serves yet."""

    quantity: Quantity
    title: str
    pins: tuple[str, ...]
    """Device and pin of the inputs that want it."""
    required: bool


class _All:
    """What the devices of a job have between them."""

    def __init__(self, job: Job) -> None:
        sheets = [(d.id, d.sheet) for d in job.devices]
        self.quantities = Counter([i.quantity for _, sheet in sheets for i in sheet.inputs])
        self.means = Counter([c.means for _, sheet in sheets for c in sheet.controls])
        self.moves = sum(sheet.moves in ACTS for _, sheet in sheets)
        self.supplied = sum(bool(sheet.supplies) for _, sheet in sheets)
        served, sources = _sources(job), index(job.sources)
        pins = [(d, i.pin) for d, sheet in sheets for i in sheet.inputs if i.quantity == "speed"]
        self.sources = [sources.get(served.get(pin, "")) for pin in pins]
        """Of each speed input."""


Users = Callable[[_All], int]
"""How many inputs, controls or devices use a fact."""


class _Use(Value, frozen=True):
    """Who uses a fact, and what for."""

    field: str
    why: str
    users: Users


def _inputs(*quantities: Quantity) -> Users:
    return lambda has: sum([has.quantities[q] for q in quantities])


def _controls(*means: Means) -> Users:
    return lambda has: sum([has.means[m] for m in means])


def _any(*users: Users) -> Users:
    return lambda has: sum([use(has) for use in users])


def _by_source(*specs: type, also_without: bool = False) -> Users:
    """Speed inputs whose source counts by that, perhaps also those without one."""
    return lambda has: sum(
        [also_without if s is None else isinstance(s.spec, specs) for s in has.sources]
    )


@query
def _sources(job: Job) -> dict[tuple[str, str], str]:
    """The source of each signal, by the pin it ends at."""
    return {(c.device, c.pin): c.source for c in job.chains}


def _moves(has: _All) -> int:
    return has.moves


def _supplied(has: _All) -> int:
    return has.supplied


_AT_WHEEL = _by_source(WheelRing, PropShaft, also_without=True)
_PULL: tuple[Means, ...] = ("shift", "launch", "engage", "gain", "idle", "gap")
_LIMITS: tuple[Means, ...] = ("limit", "shift", "launch")

USES: tuple[_Use, ...] = (
    _Use("tyre", "every speed counted at a wheel hangs on it", _AT_WHEEL),
    _Use("tyre", "which engine speed goes with which road speed", _controls(*_PULL)),
    _Use("lamps", "decides whether the pedal cancels", _inputs("brake")),
    _Use("cylinders", "how often the tach signal comes", _inputs("tach")),
    _Use("ignition", "where the tach signal is, and its shape", _any(_inputs("tach"), _moves)),
    _Use("throttle", "the device moves it", _moves),
    _Use("gearbox", "what the device may do while it drives", _any(_moves, _controls("gearbox"))),
    _Use("final_drive", "turns of the shaft for one of the wheel", _by_source(PropShaft)),
    _Use("final_drive", "which engine speed goes with which road speed", _controls(*_PULL)),
    _Use("idle_rps", "whether it counts at idle", _inputs("tach")),
    _Use("redline_rps", "whether it follows to the top", _inputs("tach")),
    _Use("redline_rps", "where a limit may stand", _controls(*_LIMITS)),
    _Use("top_mps", "whether it follows to the top", _inputs("speed")),
    _Use("ratios", "which engine speed goes with which road speed", _controls(*_PULL)),
    _Use("torque", "where pulling on stops paying", _controls("shift", "launch", "gain")),
    _Use("mass_kg", "how hard it must pull", _controls("engage", "gain", "shift")),
    _Use("tank_l", "what a full tank is", _inputs("fuel")),
    _Use("lamp_w", "what the cancel line sees through the bulbs", _inputs("brake")),
    _Use("lamp_count", "what the cancel line sees through the bulbs", _inputs("brake")),
    _Use("strokes", "how often the tach signal comes", _inputs("tach")),
    _Use("system_v", "what supplies and relays must be made for", _supplied),
    _Use("wheel_airbag", "what may not be metered near the column", _supplied),
    _Use("battery_ah", "how long the car may stand", _supplied),
    _Use("batteries", "what must come off first", _supplied),
    _Use("stall_rps", "how high a launch may stand", _controls("launch")),
    _Use("brake_hold_nm", "how high a launch may stand", _controls("launch")),
    _Use("held_rps", "how high a launch may stand", _controls("launch")),
    _Use("pushed_rps", "how high a launch may stand", _controls("launch")),
)
"""In the order in which equals are asked."""
USUAL = Vehicle()


@query
def questions(job: Job) -> tuple[Question, ...]:
    """What the devices of the job use, what opens most answers first; the name before all."""
    opens: dict[str, int] = {}
    why: dict[str, str] = {}
    has = _All(job)
    for use in USES:
        count = use.users(has)
        if count and _sensible(job, use.field):
            opens[use.field] = opens.get(use.field, 0) + count
            why.setdefault(use.field, use.why)
    for device in job.devices:
        for need in device.sheet.needs:
            opens[need.fact] = opens.get(need.fact, 0) + 1
            why.setdefault(need.fact, f"{device.name} works only with some")
    sheets = {s.path.partition(".")[2]: s for s in (*facts.VEHICLE, *facts.POWER)}
    order = {use.field: i for i, use in reversed(tuple(enumerate(USES)))}
    ranked = sorted(opens, key=lambda f: (-opens[f], order.get(f, len(order))))
    found = [Question(sheets[f], why[f], opens[f], _known(job, f)) for f in ranked if f in sheets]
    name = Question(sheets["name"], "what the job is called by", 1, bool(job.vehicle.name))
    return (name, *found)


def _sensible(job: Job, field: str) -> bool:
    """Some facts are none of a vehicle like this."""
    v = job.vehicle
    if field in ("lamp_w", "lamp_count"):
        return v.lamps != "led"
    if field in ("stall_rps", "brake_hold_nm", "held_rps", "pushed_rps"):
        return v.gearbox == "automatic"
    return True


def _known(job: Job, field: str) -> bool:
    value = getattr(job.vehicle, field)
    if value in (None, "", ()):
        return False
    usual: object = getattr(USUAL, field)
    return bool(value != usual) or provenance(job, f"vehicle.{field}") is not None


@query
def missing(job: Job) -> tuple[FactSheet, ...]:
    """Facts that the devices use, that are wanted for a verdict, and that nobody has said."""
    return tuple(
        [
            q.sheet
            for q in questions(job)
            if q.sheet.needed and fact(job, q.sheet.path) in (None, "", ())
        ]
    )


@query
def unserved(job: Job) -> tuple[Wanted, ...]:
    """Quantities that inputs want and no signal ends at: what the devices must have first."""
    have = {(c.device, c.pin) for c in job.chains}
    pins: dict[Quantity, list[str]] = {}
    required: set[str] = set()
    for device in job.devices:
        for sheet in device.sheet.inputs:
            if (device.id, sheet.pin) in have:
                continue
            pins.setdefault(sheet.quantity, []).append(f"{device.name} {sheet.pin}")
            if sheet.required:
                required.add(sheet.quantity)
    ordered = sorted(pins, key=lambda q: (q not in required, -len(pins[q])))
    return tuple([Wanted(q, QUANTITIES[q].title, tuple(pins[q]), q in required) for q in ordered])
