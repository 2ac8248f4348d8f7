"""Rules about facts of the vehicle that cannot be, or that contradict one another.

References: an even-firing engine with wasted spark pairs its cylinders (Heywood, ch. 1); usual
final drives of cars and light trucks lie between 2 and 8.
"""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.calibrate.firing import parse_order
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.job.edits import Edit, Put, together
from zombrel.job.ledger import provenance
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.units import KMH, RPM, number, rpm, significant

DRIVES = (1.5, 12.0)
"""No car's final drive lies outside."""


@rule("job", "survey", harm=98, minutes=3)
def impossible(scene: Scene) -> Iterator[Finding]:
    """Facts that cannot be so."""
    for fact, title, text, label, edit in _impossible(scene.job):
        path = f"vehicle.{fact}"
        now = getattr(scene.job.vehicle, fact)
        mends = [] if edit is None else [Mend(label=label, edit=edit)]
        yield Finding(
            id=f"fact-{fact}",
            level="trouble",
            title=title,
            text=text,
            reason=Reason(
                title=title,
                result="cannot be",
                formula=text,
                given=(given(fact.replace("_", " "), _shown(now), provenance(scene.job, path)),),
                source="Heywood, ch. 1; usual gearing",
            ),
            mends=(*mends, Mend(label="Look at it", go=f"survey:{path}")),
            fact=path,
        )


def _shown(now: object) -> str:
    return str(now) if not isinstance(now, tuple) else f"{len(now)} values"


Wrong = tuple[str, str, str, str, Edit | None]
"""(fact, title, text, label of the mend, its edit)."""


def _put(fact: str, value: object) -> Put:
    return Put(path=f"vehicle.{fact}", value=value)


def _impossible(job: Job) -> Iterator[Wrong]:
    beyond = tuple(_out_of_bounds(job))
    yield from beyond
    yield from (w for w in _engine(job) if w[0] not in {fact for fact, *_ in beyond})
    yield from _driveline(job)


def _engine(job: Job) -> Iterator[Wrong]:
    v = job.vehicle
    if v.idle_rps is not None and v.redline_rps is not None and v.idle_rps >= v.redline_rps:
        yield (
            "idle_rps",
            "The engine idles above its redline",
            f"Idle {rpm(v.idle_rps)}, redline {rpm(v.redline_rps)}.",
            "Change them over",
            together(_put("idle_rps", v.redline_rps), _put("redline_rps", v.idle_rps)),
        )
    yield from _order(job)
    if v.ignition == "wasted-spark" and v.cylinders is not None and v.cylinders % 2:
        yield (
            "cylinders",
            f"{v.cylinders} cylinders with wasted spark",
            "A wasted-spark coil serves two cylinders: an odd number cannot have them.",
            "It has a coil per plug",
            _put("ignition", "coil-per-plug"),
        )
    speeds = [n for n, _ in v.torque]
    if speeds != sorted(set(speeds)):
        pairs = sorted(dict(v.torque).items())
        yield (
            "torque",
            "The torque pairs are out of order",
            "Engine speeds rise from pair to pair, each once.",
            "Sort them",
            _put("torque", [list(p) for p in pairs]),
        )


def _order(job: Job) -> Iterator[Wrong]:
    v = job.vehicle
    if not v.firing_order:
        return
    try:
        found = parse_order(v.firing_order)
        wrong = (
            f"It has {len(found)} cylinders, the engine {v.cylinders}."
            if v.cylinders is not None and len(found) != v.cylinders
            else ""
        )
    except Problem as problem:
        wrong = str(problem)
    if wrong:
        yield (
            "firing_order",
            f"{v.firing_order} is no firing order of this engine",
            wrong,
            "Take it out until it is known",
            _put("firing_order", ""),
        )


def _driveline(job: Job) -> Iterator[Wrong]:
    v = job.vehicle
    if list(v.ratios) != sorted(set(v.ratios), reverse=True):
        yield (
            "ratios",
            "The gear ratios are out of order",
            "From first to top each is smaller than the last.",
            "Sort them",
            _put("ratios", sorted(set(v.ratios), reverse=True)),
        )
    drive = v.final_drive
    if drive is not None and not DRIVES[0] <= drive <= DRIVES[1]:
        slipped = next(
            (x for x in (drive / 10, drive * 10, drive / 100, drive * 100) if _usual(x)), None
        )
        yield (
            "final_drive",
            f"A final drive of {drive:g} : 1 cannot be",
            f"They lie between {DRIVES[0]:g} and {DRIVES[1]:g}; every speed reckoned by it is "
            "wrong.",
            f"The point slipped: {slipped:g}" if slipped is not None else "",
            None if slipped is None else _put("final_drive", round(slipped, 6)),
        )


LIMITS: tuple[tuple[str, float, float, float, str, tuple[float, ...]], ...] = (
    ("idle_rps", 200 * RPM, 3000 * RPM, RPM, "rpm", (60.0, 1 / 60, 10.0, 0.1)),
    ("redline_rps", 1000 * RPM, 20000 * RPM, RPM, "rpm", (60.0, 1 / 60, 10.0, 0.1)),
    ("top_mps", 30 * KMH, 500 * KMH, KMH, "km/h", (3.6, 1 / 3.6, 10.0, 0.1)),
    ("mass_kg", 100.0, 40000.0, 1.0, "kg", (1000.0, 10.0, 0.1)),
    ("lamp_w", 0.5, 60.0, 1.0, "W", (1000.0, 10.0, 0.1)),
)
"""(fact, least and most that a road vehicle has, unit and its size in SI, slips of a unit or of the
decimal point): ASSUMED, wide enough for motorcycle and lorry."""


def _out_of_bounds(job: Job) -> Iterator[Wrong]:
    """A figure that no road vehicle has: a slip of the unit or of the decimal point."""
    for fact, low, high, size, unit, slips in LIMITS:
        now = getattr(job.vehicle, fact)
        if now is None or low <= now <= high:
            continue
        meant = next((now * by for by in slips if low <= now * by <= high), None)
        yield (
            fact,
            f"{fact.partition('_')[0].capitalize()}: {significant(now / size, 3)} {unit} cannot be",
            f"It lies between {number(low / size)} and {number(high / size)} {unit}; all that is "
            "reckoned by it is wrong.",
            f"It is {number(meant / size)} {unit}" if meant is not None else "",
            None if meant is None else _put(fact, meant),
        )


def _usual(drive: float) -> bool:
    return DRIVES[0] <= drive <= DRIVES[1]
