"""Calculations about the harness: bundles, fuses, crimps, drain, faces, continuity, leads."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from pathlib import Path

from zombrel.calc.registry import Param, Result, calc, figures
from zombrel.calibrate.firing import judge_leads, parse_banks, parse_order
from zombrel.harness import bundle, joint, power
from zombrel.harness.plugs import face
from zombrel.harness.plugs.conducts import Pair, plug_of, split_pin
from zombrel.harness.plugs.continuity import compare
from zombrel.harness.plugs.lead import beside_on
from zombrel.harness.plugs.pinout import read_ways
from zombrel.harness.plugs.probing import probe_order
from zombrel.harness.plugs.remap import Way, remap
from zombrel.harness.plugs.terminal import fit
from zombrel.intake.file import reading, text
from zombrel.intake.record import record
from zombrel.job.model import House
from zombrel.job.problem import Problem
from zombrel.job.wiring import Connector
from zombrel.units import ZERO_C

COLUMNS = 2
"""A pin-out gives two ends a row."""

MOST_BYTES = 4_000_000


def read_text(path: Path, what: str) -> str:
    """A small text file; raises Problem when it cannot be read."""
    return text(path, MOST_BYTES, what)


def read_pairs(lines: str, name: str) -> list[Pair]:
    """Pairs from a CSV of two columns; a heading ``a,b`` and lines beginning with # are skipped.

    Raises:
        Problem: a line without two names, or no line at all; the text names it.
    """
    pairs: list[Pair] = []
    first = lines.partition("\n")[0]
    mark = ";" if ";" in first and "," not in first else ","
    with reading(name):
        rows = list(csv.reader(io.StringIO(lines), delimiter=mark))
    for i, line in enumerate(rows, 1):
        cells = [c.strip() for c in line]
        if not any(cells) or cells[0].startswith("#"):
            continue
        if not pairs and [c.casefold() for c in cells[:2]] == ["a", "b"]:
            continue
        if len(cells) < COLUMNS or not cells[0] or not cells[1]:
            raise Problem(f"{name}, line {i}: two names are wanted, as in P1.3,E2.14.")
        pairs.append((cells[0], cells[1]))
    return pairs


def _pairs_of(path: str) -> list[Pair]:
    return read_pairs(read_text(Path(path), "list of conductors"), path)


def _expected(path: str) -> list[Pair]:
    pairs = _pairs_of(path)
    if not pairs:
        raise Problem(f"{path} names no conductor; one pair a line is wanted, as P1.3,E2.14.")
    return pairs


def _faces(paper: Sequence[Pair], face_a: str | None, face_b: str | None) -> dict[str, Connector]:
    """The faces that were given, by the plugs whose cavities they have."""
    found: dict[str, Connector] = {}
    for side, path in ((1, face_b), (0, face_a)):
        if path is None:
            continue
        c = read_face(read_text(Path(path), "connector"), path)
        known = {p.n for p in face.places(c)}
        for plug, n in (split_pin(pair[side]) for pair in paper):
            name = plug_of(plug)
            if n is not None and n not in known:
                raise Problem(f"{path}: {c.name} has no cavity {n}, and {name} wants one.")
            found[name] = c
    return found


@calc(
    "continuity",
    "what a continuity check found against the paper, and the likeliest slip",
    [
        Param("expected", "CSV of the paper: a,b, one conductor a row", "text"),
        Param("seen", "CSV of what conducts: a,b", "text"),
        Param("face_a", "connector as JSON, of the plugs in the first column", "text", None),
        Param("face_b", "connector as JSON, of the plugs in the second", "text", None),
    ],
    "opens bridges swaps moved slip kind verdict",
)
def continuity(expected: str, seen: str, face_a: str | None, face_b: str | None) -> Result:
    """Compare two lists of conducting pairs."""
    paper = _expected(expected)
    continuity = compare(paper, _pairs_of(seen), _faces(paper, face_a, face_b))
    return {
        "opens": [list(p) for p in continuity.opens],
        "bridges": [list(p) for p in continuity.bridges],
        "swaps": [list(p) for p in continuity.swaps],
        "moved": [{"a": m.a, "expected": m.expected, "found": m.found} for m in continuity.moved],
        "slip": continuity.slip,
        "kind": continuity.kind,
        "verdict": continuity.verdict,
    }


@calc(
    "probe-order",
    "the shortest order of probes that finds every open, swap and neighbour bridge",
    [
        Param("expected", "CSV of the paper: a,b, one conductor a row", "text"),
        Param("face_a", "connector as JSON, of the plugs in the first column", "text", None),
        Param("face_b", "connector as JSON, of the plugs in the second", "text", None),
    ],
    "probes expect count",
)
def probing(expected: str, face_a: str | None, face_b: str | None) -> Result:
    """Probes in the order to make them; with faces, bridges between true neighbours only."""
    paper = _expected(expected)
    faces = _faces(paper, face_a, face_b)
    order = probe_order(paper, beside_on(paper, faces) if faces else None)
    return {
        "probes": [[p.a, p.b] for p in order],
        "expect": ["conducts" if p.conducts else "open" for p in order],
        "count": len(order),
    }


@calc(
    "remap",
    "what of one plug goes where on another, what is left, what is missing, what does not fit",
    [
        Param("from", "CSV of the old plug: cavity, circuit, kind", "text"),
        Param("to", "CSV of the new one; several with + between", "text"),
    ],
    "pairs unused missing conflicts",
)
def remap_of(**files: str) -> Result:
    """Match by function; by name only where a kind is not said."""
    old = read_ways(read_text(Path(files["from"]), "pin-out"), files["from"])
    new: list[Way] = []
    for path in files["to"].split("+"):
        new += read_ways(read_text(Path(path.strip()), "pin-out"), path.strip())
    twice = [w.cavity for i, w in enumerate(new) if w.cavity in {x.cavity for x in new[:i]}]
    if twice:
        raise Problem(f"remap: cavity {twice[0]} is in two of the new plugs: write E40.{twice[0]}.")
    found = remap(old, new)
    return {
        "pairs": [
            {"from": p.a.cavity, "to": p.b.cavity, "circuit": p.a.circuit, "by": p.by}
            for p in found.pairs
        ],
        "unused": [w.cavity for w in found.unused],
        "missing": [w.cavity for w in found.missing],
        "conflicts": [
            {"from": c.a, "to": c.b, "code": c.code, "why": c.why, "mend": c.mend}
            for c in found.conflicts
        ],
    }


@calc(
    "bundle",
    "diameter of a bundle and the tube that covers it",
    [Param("diameters_mm", "outer diameters of its wires [mm]", "text")],
    "bundle_mm loom_mm",
)
def bundle_of(diameters_mm: str) -> Result:
    """Bundle and loom."""
    across = bundle.bundle_diameter(figures(diameters_mm, "bundle: diameters_mm", 100, "mm"))
    return {"bundle_mm": across, "loom_mm": bundle.loom_size(across)}


@calc(
    "fuse-check",
    "whether a fuse suits a wire and its load",
    [
        Param("fuse_a", "fuse", above=0, most=500, units=("A",)),
        Param("wire_mm2", "thinnest section behind it", above=0, most=120, units=("mm²", "mm2")),
        Param(
            "ambient_c", "air around the wire", default=20.0, least=-60, most=300, units=("°C", "C")
        ),
        Param("bundle", "loaded wires in the bundle", "whole", 1, least=1, most=100),
        Param("load_a", "steady load", default=0.0, least=0, most=500, units=("A",)),
    ],
    "ok largest_fuse_a reason ampacity_a",
)
def fuse(fuse_a: float, wire_mm2: float, ambient_c: float, bundle: int, load_a: float) -> Result:
    """Check a fuse."""
    checked = power.fuse_check(fuse_a, wire_mm2, ambient_c + ZERO_C, bundle, load_a, House())
    return {
        "ok": checked.ok,
        "largest_fuse_a": checked.largest_a,
        "reason": checked.reason,
        "ampacity_a": checked.carries_a,
    }


@calc(
    "standby",
    "days until a parked car's battery is down to its reserve",
    [
        Param("ma", "drain of the sleeping car", least=0, most=100000, units=("mA",)),
        Param("battery_ah", "battery", above=0, most=2000, units=("Ah", "A·h")),
        Param(
            "start_reserve_pct",
            "share kept for starting",
            default=50.0,
            least=0,
            most=99,
            units=("%",),
        ),
    ],
    "days",
)
def standby(ma: float, battery_ah: float, start_reserve_pct: float) -> Result:
    """Days to flat."""
    return {"days": power.days_to_flat(ma / 1000, battery_ah, start_reserve_pct / 100)}


@calc(
    "crimp",
    "least pull force of a crimp and how far to strip",
    [Param("mm2", "section", above=0, most=120, units=("mm²", "mm2"))],
    "pull_n strip_note die",
)
def crimp(mm2: float) -> Result:
    """IEC 60352-2."""
    return {
        "pull_n": joint.pull_force(mm2),
        "strip_note": joint.strip_note(mm2),
        "die": joint.die_words(mm2),
    }


@calc(
    "terminal",
    "whether a terminal family takes a wire: die, strip, seal and pull",
    [
        Param("family", "terminal family, as BK 1.5", "text"),
        Param("mm2", "section of the wire", above=0.04, most=120, units=("mm²", "mm2")),
        Param(
            "insulation_mm",
            "diameter over its sheath; else a thin-wall one",
            default=0.0,
            least=0,
            most=30,
            units=("mm",),
        ),
        Param(
            "mates_with",
            "plating of the other half",
            "text",
            "",
            choices=("", "tin", "gold", "silver"),
        ),
    ],
    "fits why die strip_mm seal pull_n terminal tongue extract amps plating nearest",
)
def terminal(family: str, mm2: float, insulation_mm: float, mates_with: str) -> Result:
    """The terminal for a wire, or the nearest that takes it."""
    found = fit(family, mm2, insulation_mm, mates_with)
    t = found.terminal
    return {
        "fits": found.fits,
        "why": found.why,
        "terminal": t.id,
        "die": t.die,
        "strip_mm": t.strip_mm,
        "seal": t.seal,
        "pull_n": found.pull_n,
        "tongue": t.tongue,
        "extract": t.extract,
        "amps": t.amps,
        "plating": t.plating,
        "nearest": None if found.nearest is None else found.nearest.id,
    }


@calc(
    "relay-coil",
    "what each way of taming a relay coil does",
    [
        Param("volts", "supply", default=13.8, above=0, most=60, units=("V",)),
        Param("coil_ohm", "coil", default=90.0, above=0, units=("ohm", "Ω")),
        Param("resistor_ohm", "resistor across it", default=680.0, above=0, units=("ohm", "Ω")),
        Param("henry", "inductance of the coil", default=0.5, above=0, most=100, units=("H",)),
    ],
    "ways",
)
def relay_coil(volts: float, coil_ohm: float, resistor_ohm: float, henry: float) -> Result:
    """Kick and release time."""
    ways = power.suppressions(volts, coil_ohm, henry, resistor_ohm)
    return {"ways": [{"way": s.way, "kick_v": s.kick_v, "release_ms": s.release_ms} for s in ways]}


@calc(
    "inrush",
    "whether a fuse stands a starting current",
    [
        Param("fuse_a", "fuse", above=0, most=500, units=("A",)),
        Param("inrush_a", "starting current", above=0, most=5000, units=("A",)),
        Param("inrush_s", "for how long", above=0, most=600, units=("s",)),
    ],
    "holds",
)
def inrush(fuse_a: float, inrush_a: float, inrush_s: float) -> Result:
    """ISO 8820-3 least opening times."""
    return {"holds": power.holds_inrush(fuse_a, inrush_a, inrush_s)}


def read_face(given: str, name: str) -> Connector:
    """A connector from its JSON; raises Problem naming the field that cannot be."""
    return record(given.encode("utf-8", "replace"), Connector, name)


@calc(
    "face",
    "where each cavity of a connector lies on one side of its face",
    [
        Param("file", "connector as JSON", "text"),
        Param("view", "side looked at", "text", "wire", choices=("wire", "mating")),
    ],
    "cells keyed_side",
)
def face_of(file: str, view: str) -> Result:
    """Cells left to right, top to bottom, in pitches."""
    c = read_face(read_text(Path(file), "connector"), file)
    side = face.VIEWS[view]
    return {
        "view": side,
        "keyed_side": face.keyed_side(c, side),
        "cells": [
            {"cavity": p.n, "x": p.x, "y": p.y, "state": face.state(c, p.n)}
            for p in face.seen(c, side)
        ],
    }


@calc(
    "cavity",
    "how to count to one cavity, and what is in it",
    [Param("file", "connector as JSON", "text"), Param("n", "cavity", "whole", least=1, most=400)],
    "words",
)
def cavity(file: str, n: int) -> Result:
    """Counting help."""
    c = read_face(read_text(Path(file), "connector"), file)
    if n not in {p.n for p in face.places(c)}:
        raise Problem(f"cavity: {c.name} has {face.cavity_count(c)} cavities, and no {n}.")
    return {"words": face.words(c, n), "state": face.state(c, n)}


@calc(
    "rotation",
    "by how many places the wires move round between two keyings of a sensor",
    [
        Param("early", "wires in cavity 1, 2, … of one kind", "text"),
        Param("late", "wires in cavity 1, 2, … of the other", "text"),
    ],
    "places moves",
)
def rotation(early: str, late: str) -> Result:
    """Rotation of a variant, or each wire's move when it is none."""
    a, b = (tuple(t.replace(",", " ").split()) for t in (early, late))
    k = face.rotation(a, b)
    return {
        "places": k,
        "moves": [{"wire": w, "from": i + 1, "to": b.index(w) + 1} for i, w in enumerate(a)],
    }


@calc(
    "firing",
    "whether a harness with a lead for each cylinder lies the right way round",
    [
        Param("leads_mm", "lengths of the leads marked 1, 2, …", "text"),
        Param("order", "firing order, as 1-5-3-6-2-4", "text"),
        Param(
            "entry",
            "end of the engine the harness comes from",
            "text",
            "front",
            choices=("front", "rear"),
        ),
        Param(
            "pitch_mm", "spacing of the cylinders", default=95.0, above=0, most=1000, units=("mm",)
        ),
        Param("wired", "order the outputs are wired in, when it was seen", "text", None),
        Param(
            "layout", "how the cylinders stand", "text", "inline", choices=("inline", "v", "flat")
        ),
        Param("banks", "cylinders of each bank from the front, as 1,3,5;2,4,6", "text", ""),
    ],
    "fits orientation verdict fit_as_marked_mm fit_turned_mm fires odd",
)
def firing(
    leads_mm: str,
    order: str,
    entry: str,
    pitch_mm: float,
    wired: str | None,
    layout: str,
    banks: str,
) -> Result:
    """Orientation from lead lengths, and the firing order it leads to."""
    fires = parse_order(order)
    judged = judge_leads(
        figures(leads_mm, "firing: leads_mm", 1e5, "mm"),
        fires,
        entry == "front",
        pitch_mm,
        parse_order(wired) if wired else None,
        parse_banks(banks, len(fires), layout),
    )
    return {
        "fits": judged.fits,
        "odd": list(judged.odd),
        "orientation": judged.orientation,
        "verdict": judged.verdict,
        "fit_as_marked_mm": judged.as_marked_mm,
        "fit_turned_mm": judged.turned_mm,
        "fires": "-".join(map(str, judged.fires)),
    }
