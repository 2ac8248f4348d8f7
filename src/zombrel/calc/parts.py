"""Parts before they are fitted: a pin of a device tried on a job, a pin-out read from paper."""

from __future__ import annotations

import math
from pathlib import Path

from zombrel.behaviour.suppose import USUAL
from zombrel.calc.harness import read_face, read_text
from zombrel.calc.job import open_job, shown_in_units, state_of
from zombrel.calc.registry import Param, Result, calc
from zombrel.catalog.form.pins import pin_rows
from zombrel.catalog.sheets import read_sheet, shelf
from zombrel.catalog.sources import source_shelf
from zombrel.findings.tried import tried
from zombrel.harness.plugs import face
from zombrel.harness.plugs.pinout import read_pinout, with_paper
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet
from zombrel.signals.alone import alone
from zombrel.units import Units, words


def _sheet(text: str) -> DeviceSheet:
    """A device sheet by its file, or by the id of one that is on the shelf."""
    found = next((s for s in shelf()[0] if s.id == text), None)
    if found is not None:
        return found
    path = Path(text)
    if not path.exists():
        known = ", ".join(s.id for s in shelf()[0])
        raise Problem(f"There is no sheet “{text}”; give a file, or one of {known}.")
    return read_sheet(path)


@calc(
    "pins",
    "the pins and controls of a device sheet in plain words, and what of them is not said",
    [Param("sheet", "device sheet as JSON, or the id of one on the shelf", "text")],
    "pins",
)
def pins(sheet: str) -> Result:
    """Every pin: what it is, what it takes or gives, how it is set."""
    return {
        "pins": [
            {
                "pin": r.pin,
                "does": r.does,
                "takes": r.takes,
                "set_by": r.set_by,
                "not_said": list(r.unsaid),
            }
            for r in pin_rows(_sheet(sheet))
        ]
    }


@calc(
    "try-pin",
    "what a pin of a device would see and show on a job, were the device fitted",
    [
        Param("job", "job file, or demo", "text"),
        Param("sheet", "device sheet as JSON, or the id of one on the shelf", "text"),
        Param("pin", "input to try", "text"),
        Param("at", "where its setting stands; the best place when left out", "text", ""),
        Param("state", "named state of the vehicle", "text", USUAL),
    ],
    "source usual setting status error_pct findings",
)
def try_pin(job: str, sheet: str, pin: str, at: str, state: str) -> Result:
    """The pin from the best source the job has, or from one that is usual.

    Frequencies [Hz]; true and shown values with their unit in the key.
    """
    tree = open_job(job)
    found = tried(
        tree, state_of(tree, state, "try-pin"), _sheet(sheet), pin, source_shelf(None)[0], at
    )
    r = found.assessment.chain(found.chain.id)
    about = [f for f in found.assessment.findings if f.chain == found.chain.id]
    return {
        "source": found.source.name,
        "usual": found.usual,
        "setting": found.setting,
        "status": words(r.problem, Units()) or r.status,
        **({} if r.problem else shown_in_units(r)),
        "error_pct": r.error * 100 if math.isfinite(r.error) else None,
        "findings": [
            {"id": f.id, "level": f.level, "title": words(f.title, Units())} for f in about
        ],
    }


@calc(
    "source-gives",
    "what a source of a job gives with nothing joined to it",
    [
        Param("job", "job file, or demo", "text"),
        Param("source", "id of the source", "text"),
        Param("state", "named state of the vehicle", "text", USUAL),
    ],
    "takes value peak_v silent",
)
def source_gives(job: str, source: str, state: str) -> Result:
    """Pulses [Hz] with their peak [V], or what a sender gives: Ω, V, Hz, share or mV by ``takes``.

    Raises:
        Problem: no such source, a contact, or a fact is missing.
    """
    tree = open_job(job)
    one = by_id(tree.sources, source)
    if one is None:
        known = ", ".join(s.id for s in tree.sources)
        raise Problem(f"source-gives: the job has no source “{source}”; it has {known}.")
    found = alone(tree, state_of(tree, state, "source-gives"), one)
    if found is None:
        raise Problem(f"source-gives: {one.name} is on or off: it gives no figure.")
    return {
        "takes": found.takes,
        "value": found.value,
        "peak_v": found.peak_v,
        "silent": found.silent,
    }


@calc(
    "pinout",
    "a pin-out from paper, read for a connector, and what of it nobody has looked into",
    [
        Param("connector", "connector as JSON", "text"),
        Param("file", "table of cavity, colour, circuit in any usual writing", "text"),
    ],
    "lines",
)
def pinout(connector: str, file: str) -> Result:
    """Each line of the paper with the state of its cavity."""
    c = read_face(read_text(Path(connector), "connector"), connector)
    lines = read_pinout(read_text(Path(file), "pin-out"), c)
    after = with_paper(c, lines)
    return {
        "lines": [
            {
                "cavity": line.n,
                "colour": line.colour,
                "circuit": line.circuit,
                "state": face.state(after, line.n),
                "words": face.words(after, line.n),
            }
            for line in lines
        ],
        "not_looked_into": [
            p.n for p in face.places(after) if face.state(after, p.n) == "not looked into"
        ],
    }
