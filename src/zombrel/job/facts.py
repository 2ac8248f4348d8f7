"""The facts of a job that a person states: where each lives, how it is asked and called."""

from __future__ import annotations

from typing import Literal

from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Frozen
from zombrel.job.source import SPEC_WORDS
from zombrel.job.stages import enter_in, route, see
from zombrel.units import measure

Kind = Literal[
    "text", "whole", "number", "rpm", "speed", "ratios", "choice", "yesno", "rate", "pairs", "date"
]


class FactSheet(Frozen, frozen=True, kw_only=True):
    """One fact: where it lives and how it is asked and shown."""

    path: str
    label: str
    group: str
    kind: Kind
    unit: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    """(stored value, words)"""
    needed: bool = True
    hint: str = ""
    of: measure.Kind = "engine"
    """Pairs: the kind of their first number."""
    to: measure.Kind | None = None
    """Pairs: the kind of their second number, where the user chooses its unit."""
    said: str = ""
    """Its name inside a sentence; the label in small letters when empty."""
    short: str = ""
    """Its label without what it belongs to."""


def _f(path: str, label: str, group: str, kind: Kind, **more: object) -> FactSheet:
    return FactSheet(path=f"vehicle.{path}", label=label, group=group, kind=kind, **more)  # type: ignore[arg-type]


VEHICLE: tuple[FactSheet, ...] = (
    _f("name", "Vehicle", "Car", "text", hint="body and model"),
    _f("owner", "Owner", "Car", "text", needed=False),
    _f("chassis", "Chassis number", "Car", "whole"),
    _f(
        "split_chassis",
        "Model-year split at",
        "Car",
        "whole",
        needed=False,
        hint="chassis number from which pins differ",
    ),
    _f("system_v", "System", "Car", "choice", choices=(("12", "12 V"), ("24", "24 V"))),
    _f("batteries", "Batteries", "Car", "whole"),
    _f("battery_place", "Battery is in", "Car", "text", needed=False),
    _f("wheel_airbag", "Airbag in the wheel", "Car", "yesno"),
    _f("cylinders", "Cylinders", "Engine", "whole", said="number of cylinders"),
    _f("strokes", "Strokes", "Engine", "choice", choices=(("4", "four"), ("2", "two"))),
    _f(
        "ignition",
        "Ignition",
        "Engine",
        "choice",
        choices=(
            ("distributor", "one coil, distributor"),
            ("wasted-spark", "wasted spark"),
            ("coil-per-plug", "coil per plug"),
            ("none", "diesel, none"),
        ),
        said="ignition type",
    ),
    _f("firing_order", "Firing order", "Engine", "text", needed=False, hint="1-5-3-6-2-4"),
    _f("banks", "Cylinders by bank", "Engine", "text", needed=False, hint="1,3,5;2,4,6"),
    _f("idle_rps", "Idle", "Engine", "rpm", unit="rpm"),
    _f("redline_rps", "Redline", "Engine", "rpm", unit="rpm"),
    _f(
        "throttle",
        "Throttle",
        "Engine",
        "choice",
        choices=(("cable", "cable"), ("lever", "lever"), ("wire", "by wire")),
    ),
    _f(
        "tyre",
        "Tyres",
        "Driveline",
        "text",
        hint="as on the sidewall: 205/60 R15",
        said="tyre size",
    ),
    _f("final_drive", "Final drive", "Driveline", "number", unit=": 1", said="final drive ratio"),
    _f(
        "gearbox",
        "Gearbox",
        "Driveline",
        "choice",
        choices=(("manual", "manual"), ("automatic", "automatic")),
    ),
    _f(
        "ratios",
        "Ratios, first to top",
        "Driveline",
        "ratios",
        hint="3.42 2.05 1.39 1.00 0.79",
        said="gear ratios",
    ),
    _f("top_mps", "Top speed", "Driveline", "speed"),
    _f("mass_kg", "Mass", "Driveline", "number", unit="kg", needed=False),
    _f(
        "torque",
        "Torque at full load",
        "Engine",
        "pairs",
        unit="rpm : N·m",
        to="torque",
        needed=False,
        hint="1500:205, 2500:232, …",
        said="torque curve",
    ),
    _f("tank_l", "Tank", "Car", "number", unit="l", needed=False, said="tank volume"),
    _f(
        "stall_rps",
        "Converter stalls at",
        "Driveline",
        "rpm",
        unit="rpm",
        needed=False,
        said="stall speed of the converter",
    ),
    _f(
        "held_rps",
        "Held standing at",
        "Driveline",
        "rpm",
        unit="rpm",
        needed=False,
        said="engine speed at which it was held in a trial",
    ),
    _f(
        "pushed_rps",
        "Pushed through at",
        "Driveline",
        "rpm",
        unit="rpm",
        needed=False,
        said="engine speed at which it pushed through in a trial",
    ),
    _f(
        "brake_hold_nm",
        "Brakes hold at the wheels",
        "Driveline",
        "number",
        unit="N·m",
        needed=False,
        said="torque the brakes hold at the wheels",
    ),
    _f("initial_deg", "Initial advance", "Engine", "number", unit="°", needed=False),
    _f(
        "mechanical",
        "Mechanical advance",
        "Engine",
        "pairs",
        unit="rpm : °",
        needed=False,
        hint="900:0, 2500:13, …",
    ),
    _f("vacuum_deg", "Vacuum advance", "Engine", "number", unit="°", needed=False),
    _f(
        "lamps",
        "Tail lamps",
        "Lamps",
        "choice",
        choices=(("filament", "bulbs"), ("led", "LED")),
        said="kind of tail lamp",
    ),
    _f("lamp_w", "One brake lamp", "Lamps", "number", unit="W"),
    _f("lamp_count", "Brake lamps", "Lamps", "whole"),
)

POWER: tuple[FactSheet, ...] = (
    _f("battery_ah", "Battery size", "Power", "number", unit="A·h", needed=False),
    _f("sleep_a", "Car draws asleep", "Power", "number", unit="A", needed=False),
    _f("alternator_idle_a", "Alternator at idle", "Power", "number", unit="A", needed=False),
    _f("own_load_a", "Car draws at idle", "Power", "number", unit="A", needed=False),
)
"""Facts about the supply, asked for where the wiring is planned."""


JOB: tuple[FactSheet, ...] = (
    FactSheet(path="number", label="Job number", group="Job", kind="text", needed=False),
    FactSheet(path="title", label="Title", group="Job", kind="text", needed=False),
    FactSheet(
        path="begun", label="Begun on", group="Job", kind="date", needed=False, hint="2026-11-26"
    ),
    FactSheet(
        path="due", label="Promised for", group="Job", kind="date", needed=False, hint="2026-12-04"
    ),
)
"""What the paper of a job begins with; the owner is a fact of the vehicle."""

BEFORE = "Before the work"
BASELINE: tuple[FactSheet, ...] = (
    FactSheet(
        path="baseline.codes",
        label="Codes stored",
        group=BEFORE,
        kind="text",
        needed=False,
        hint="as read, or none",
    ),
    FactSheet(
        path="baseline.works",
        label="What works, what does not",
        group=BEFORE,
        kind="text",
        needed=False,
        hint="lamps, gauges, heater, idle, as found",
    ),
    FactSheet(
        path="baseline.day",
        label="Looked at on",
        group=BEFORE,
        kind="date",
        needed=False,
        hint="2026-11-26",
    ),
    FactSheet(
        path="baseline.weather",
        label="Weather of the log",
        group=BEFORE,
        kind="choice",
        needed=False,
        choices=(("dry", "dry"), ("damp", "damp"), ("rain", "rain"), ("snow", "snow")),
    ),
    FactSheet(
        path="baseline.tank",
        label="Tank then",
        group=BEFORE,
        kind="choice",
        needed=False,
        choices=(
            ("0.25", "a quarter"),
            ("0.5", "half"),
            ("0.75", "three quarters"),
            ("1.0", "full"),
        ),
    ),
)
"""How the vehicle came: what the work is measured against, and what is not its fault."""
TOLD = ("Job", BEFORE)
"""Groups that are told, not known: evidence is not asked for them."""


def source_facts(job: Job) -> tuple[FactSheet, ...]:
    """The facts of the sources that chains of this job use."""
    used = {c.source for c in job.chains}
    out = []
    for source in job.sources:
        if source.id not in used:
            continue
        for name in source.spec.__struct_fields__:
            if name in SPEC_WORDS:
                words, kind, unit = SPEC_WORDS[name]
                out.append(
                    FactSheet(
                        path=f"sources.{source.id}.spec.{name}",
                        label=f"{source.name}: {words}",
                        short=words,
                        group="Sources",
                        kind=kind,
                        unit=unit,
                        of=QUANTITIES[source.quantity].kind,
                    )
                )
    return tuple(out)


def all_facts(job: Job) -> tuple[FactSheet, ...]:
    """Every stated fact of the job."""
    return JOB + BASELINE + VEHICLE + POWER + source_facts(job)


_PARTS = {
    "devices": "",
    "chains": "",
    "sources": "",
    "wires": "wire ",
    "feeds": "",
    "studs": "",
    "house": "house rule",
    "connectors": "connector ",
}
_FIELDS = {
    "a": "one end",
    "b": "other end",
    "area_mm2": "section",
    "length_m": "length",
    "at": "setting",
    "hops": "what is fitted on the way",
    "spec": "figures",
    "need_ohm": "ohms the input needs",
    "wires": "its wires",
    "source": "source",
    "lamps": "lamps",
    "ohm": "ohms",
}


def name_of(job: Job, path: tuple[str, ...]) -> str:
    """A fact in words: its label where it has one, else what it belongs to and its field."""
    for sheet in (*JOB, *BASELINE, *VEHICLE, *POWER):
        if sheet.path == ".".join(path):
            return sheet.label.lower()
    head, *rest = path
    owner = ""
    items = getattr(job, head, None)
    if rest and isinstance(items, tuple):
        owner, *rest = rest
        item = next((i for i in items if getattr(i, "id", None) == owner), None)
        owner = _PARTS.get(head, "") + str(getattr(item, "name", getattr(item, "title", owner)))
    words = [_FIELDS.get(step, step.replace("_", " ")) for step in rest]
    return ", ".join([owner or _PARTS.get(head) or head, *([" ".join(words)] if words else [])])


_BY_PATH = {sheet.path: sheet for sheet in (*VEHICLE, *POWER)}


def label_of(path: str) -> str:
    """The label of a fact of the vehicle; its own name where it has none."""
    sheet = _BY_PATH.get(path)
    return sheet.label if sheet is not None else path.rpartition(".")[2].replace("_", " ")


def lacking(*fields: str, else_: str = "") -> Problem:
    """The problem that facts of the vehicle are missing, with the way to the first of them."""
    sheets = [_BY_PATH[f"vehicle.{field}"] for field in fields]
    names = " and the ".join(s.said or s.label.lower() for s in sheets)
    many = len(sheets) > 1
    verb, where = ("are" if many else "is"), route("survey", sheets[0].path)
    text = f"The {names} {verb} missing: {enter_in('survey', many)}{else_}."
    return Problem(text, "missing", where)


def unset(device: str, pin: str, chain: str = "") -> Problem:
    """The problem that nobody has noted where a device stands."""
    return Problem(f"{device} {pin} is not set yet: {see('set')}.", "unset", route("set", chain))
