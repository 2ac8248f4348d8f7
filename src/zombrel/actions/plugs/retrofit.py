"""What is done about a retrofit: its functions written down, and the wires that serve it."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.harness.conductor import AREAS
from zombrel.harness.plugs import face
from zombrel.harness.plugs.retrofit import Need
from zombrel.harness.plugs.terminal import fit
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.records.retrofit import Function, Retrofit
from zombrel.job.wiring import End, Wire

SIGNAL_MM2 = 0.5


def add_retrofit(job: Job, name: str = "") -> tuple[str, Edit]:
    """A retrofit of which nothing is known yet: its id, and the edit."""
    key = free_name(f"R{len(job.retrofits) + 1}", index(job.retrofits))
    made = Retrofit(id=key, name=name.strip() or f"Retrofit {key}")
    return key, Add(path="retrofits", value=msgspec.to_builtins(made))


def put_retrofit(job: Job, retrofit: Retrofit) -> Edit:
    """A retrofit as it is now.

    Raises:
        Problem: the job has no such retrofit, or its plug is none of the job's.
    """
    if by_id(job.retrofits, retrofit.id) is None:
        raise Problem(f"This job has no retrofit “{retrofit.id}”.")
    if retrofit.connector and by_id(job.connectors, retrofit.connector) is None:
        raise Problem(f"There is no connector “{retrofit.connector}”: draw it in Connectors.")
    names = [f.name for f in retrofit.functions]
    twice = next((n for n in names if names.count(n) > 1), "")
    if twice:
        raise Problem(f"The function “{twice}” is there twice.")
    return Put(path=f"retrofits.{retrofit.id}", value=msgspec.to_builtins(retrofit))


def remove_retrofit(retrofit: Retrofit) -> Edit:
    """A retrofit taken out; the wires drawn for it stay."""
    return Remove(path=f"retrofits.{retrofit.id}")


def functions_of(text: str) -> tuple[Function, ...]:
    """Functions from lines as ``Cruise: brake, clutch, speed``.

    Raises:
        Problem: a line without a name.
    """
    found = []
    for i, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        name, _, rest = line.partition(":")
        if not name.strip():
            raise Problem(f"Line {i} has no function: write “Cruise: brake, clutch, speed”.")
        needs = tuple(n.strip() for n in rest.replace(";", ",").split(",") if n.strip())
        found.append(Function(name=name.strip()[:80], needs=needs))
    return tuple(found)


def text_of(functions: tuple[Function, ...]) -> str:
    """The same as lines."""
    return "\n".join(f"{f.name}: {', '.join(f.needs)}".rstrip(": ") for f in functions)


def serve(job: Job, need: Need) -> Edit:
    """One wire from where a circuit is to the module's cavity: a tap there, a terminal here.

    Raises:
        Problem: the circuit is not elsewhere in the car, or its cavity is served already.
    """
    if need.state != "elsewhere":
        raise Problem(f"{need.circuit} is not to be had from another plug.")
    (a, an), (b, bn) = _place(need.there[0]), _place(need.here)
    if any((e.place, e.pin) == (b, bn) for w in job.wires for e in (w.a, w.b)):
        raise Problem(f"A wire of ours goes to {need.here} already.")
    from_ = by_id(job.connectors, a)
    found = next((x for x in from_.cavities if str(x.n) == an), None) if from_ is not None else None
    i = 1
    while by_id(job.wires, f"W{i}") is not None:
        i += 1
    wire = Wire(
        id=f"W{i}",
        a=End(place=a, pin=an),
        b=End(place=b, pin=bn),
        colour=(found.seen_colour or found.colour if found is not None else "") or "white",
        carries="signal",
        area_mm2=_section(job, ((a, an), (b, bn))),
        length_m=1.0,
    )
    k = 1
    edits: list[Add] = [Add(path="wires", value=msgspec.to_builtins(wire))]
    for kind, place, n in (("tap", a, an), ("add", b, bn)):
        while by_id(job.changes, f"C{k}") is not None:
            k += 1
        change = {"id": f"C{k}", "kind": kind, "connector": place, "cavity": int(n)}
        edits.append(Add(path="changes", value=change | {"wire": wire.id, "note": need.circuit}))
        k += 1
    return together(*edits)


def _section(job: Job, plugs: tuple[tuple[str, str], ...]) -> float:
    """The thinnest section from the usual on that the terminals of both plugs take [mm²]."""
    at = index(job.connectors)
    families = [f for k, n in plugs if (f := face.family(at[k], int(n)))]
    for area in (x for x in AREAS if x >= SIGNAL_MM2):
        try:
            if all(fit(family, area, own=job.terminals).fits for family in families):
                return area
        except Problem:
            break  # a family that no record is kept of
    return SIGNAL_MM2


def _place(pin: str) -> tuple[str, str]:
    plug, _, n = pin.rpartition(".")
    return plug, n
