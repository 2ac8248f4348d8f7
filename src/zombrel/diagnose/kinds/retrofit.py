"""A retrofitted module: taught to its vehicle, and showing what the car had counted.

Reference: what a module must show is the counts that were noted before it was parted (definition).
"""

from __future__ import annotations

from zombrel.diagnose.step import Field, StepSheet, said
from zombrel.job.follow.query import query
from zombrel.job.model import Job, index
from zombrel.job.records.retrofit import Retrofit

ROUNDED_KM, MOVED_KM = 1.0, 30.0
"""What an odometer rounds off, and how far a car is moved between both readings [km]: ASSUMED."""
RAN_H = 5.0
"""How long an engine runs in the workshop between them [h]: ASSUMED."""
DUTY = (
    "In many places it is an offence to hand a vehicle over that shows less than it has run: note "
    "both readings on paper, and leave the change of a count to who may make it."
)


@query
def coded(job: Job) -> tuple[str, ...]:
    """Retrofits that must be programmed to the vehicle."""
    return tuple([r.id for r in job.retrofits if r.coding == "needed"])


@query
def coding(job: Job, key: str) -> StepSheet:
    """It is programmed, and stores no fault."""
    r: Retrofit = index(job.retrofits)[key]
    fields = tuple(
        Field(name=n, label=label, unit="", low=1, high=1, expect="yes", because=why, yes=True)
        for n, label, why in (
            ("taken", "It answers as this vehicle’s", "it was programmed to it"),
            ("clean", "No fault stored after a key cycle", "a stranger stores one at once"),
        )
    )
    return StepSheet(
        id=f"coded-{key}",
        kind="coded",
        short=f"Programmed: {r.name}",
        ask=f"Have {r.name} programmed to this vehicle, key off and on, read its faults.",
        where=r.coded_by or "The maker’s tool and access; who may use it is not said yet.",
        caution="A charger that holds the battery all the while; never with the engine running.",
        fields=fields,
        formula="a module that is taught answers, and stores no fault",
        source="the maker’s procedure",
        otherwise="Read which fault it is: another vehicle’s number, or a circuit that it misses.",
        leaves="that each of its functions works: each is tried by itself.",
        key=key,
        about=(key, r.connector),
        minutes=20.0,
        needs="the maker’s tool, or a dealer",
    )


@query
def counting(job: Job) -> tuple[str, ...]:
    """Retrofits that show a count which the car had before."""
    return tuple([r.id for r in job.retrofits if r.keeps not in ("", "nothing")])


@query
def kept(job: Job, key: str) -> StepSheet:
    """The module shows what the car had run."""
    r: Retrofit = index(job.retrofits)[key]
    fields, unsaid = [], []
    if "distance" in r.keeps:
        if r.car_m is None:
            unsaid.append("the distance")
        else:
            km = r.car_m / 1000
            low, high = km - ROUNDED_KM, km + MOVED_KM
            expect = f"{said(km, 'km')}, not less; up to {said(high, 'km')} if it was moved"
            fields.append(
                Field(
                    name="km",
                    label="It shows",
                    unit="km",
                    low=low,
                    high=high,
                    expect=expect,
                    because="noted before it was parted",
                )
            )
    if "hours" in r.keeps:
        if r.car_h is None:
            unsaid.append("the hours")
        else:
            fields.append(
                Field(
                    name="h",
                    label="It shows",
                    unit="h",
                    low=r.car_h - 0.1,
                    high=r.car_h + RAN_H,
                    expect=f"{r.car_h:.1f} h, not less",
                    because="noted before it was parted",
                )
            )
    lost = " and ".join(unsaid)
    return StepSheet(
        id=f"kept-{key}",
        kind="kept",
        short=f"Counts kept: {r.name}",
        ask=f"Key on. Read what {r.name} shows.",
        where="On its display, or by the maker’s tool.",
        caution=DUTY,
        fields=tuple(fields) if not unsaid else (),
        blocked=f"Nobody noted {lost} that the car showed before." if unsaid else "",
        go=f"wire:fit/{key}" if unsaid else "",
        formula="what it shows = what the car showed before, and what it has run since",
        source="the note in this job",
        otherwise="Do not hand it over so: have it set by who may, or write both readings down "
        "for the owner and the papers.",
        leaves="that what the car showed before was true.",
        key=key,
        about=(key,),
        minutes=3.0,
    )
