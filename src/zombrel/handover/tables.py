"""Tables to take away: wire list, cut list, connector tables, parts; as CSV and JSON.

What users typed may begin with a sign that a spreadsheet takes for a formula; such text gets an
apostrophe before it (OWASP, *CSV Injection*).
"""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Sequence

from zombrel.findings.finding import Assessment
from zombrel.harness.ends import end_words
from zombrel.harness.parts_list import WASTE, end_joint, parts_list
from zombrel.harness.plugs import face
from zombrel.job.ledger import provenance
from zombrel.job.model import Job
from zombrel.units import METRIC, Units, words

Row = dict[str, str | float | int | None]
FORMULA = ("=", "+", "-", "@", "\t", "\r", "\n")


def defused(text: str) -> str:
    """Text that no spreadsheet runs as a formula."""
    return f"'{text}" if text.startswith(FORMULA) or text.lstrip().startswith(FORMULA) else text


HEADS: dict[str, tuple[str, ...]] = {
    "wires": (
        "wire",
        "from",
        "to",
        "colour",
        "carries",
        "section_mm2",
        "length_m",
        "twisted",
        "fuse_a",
        "load_a",
        "may_carry_a",
        "drop_pct",
        "way",
        "joint_from",
        "joint_to",
        "known_from",
        "known_to",
    ),
    "cuts": ("section_mm2", "colour", "piece", "length_m"),
    "pins": (
        "connector",
        "cavity",
        "state",
        "colour",
        "circuit",
        "our_wire",
        "change",
        "counted",
        "kind",
        "seen",
        "seen_colour",
        "family",
        "section_mm2",
        "known",
    ),
    "parts": ("kind", "part", "count", "unit"),
}
"""Columns of each table, there also when it has no rows."""


def to_csv(rows: Sequence[Row], head: Sequence[str]) -> str:
    """Rows as CSV below their heading; numbers with a point, text defused."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    for row in rows:
        writer.writerow(
            [defused(v) if isinstance(v, str) else "" if v is None else v for v in row.values()]
        )
    return out.getvalue()


def to_json(rows: Sequence[Row]) -> str:
    """Rows as JSON."""
    return json.dumps(list(rows), indent=1, ensure_ascii=False) + "\n"


def wire_rows(job: Job, assessment: Assessment) -> list[Row]:
    """Every conductor of the laid job."""
    rows: list[Row] = []
    for wire, r in zip(job.wires, assessment.wires, strict=True):
        a, b = end_joint(job, wire, wire.a), end_joint(job, wire, wire.b)
        names = {z.id: z.name for z in job.zones}
        rows.append(
            {
                "wire": wire.id,
                "from": end_words(job, wire.a),
                "to": end_words(job, wire.b),
                "colour": wire.colour,
                "carries": wire.carries,
                "section_mm2": wire.area_mm2,
                "length_m": wire.length_m,
                "twisted": "yes" if wire.twisted else "",
                "fuse_a": wire.fuse_a,
                "load_a": round(r.amps, 4),
                "may_carry_a": round(r.ampacity, 2),
                "drop_pct": round(r.drop * 100, 3) if wire.carries != "signal" else None,
                "way": " > ".join(names.get(z, z) for z in wire.via),
                "joint_from": a.words,
                "joint_to": b.words,
                "known_from": provenance(job, f"wires.{wire.id}.a") or "",
                "known_to": provenance(job, f"wires.{wire.id}.b") or "",
            }
        )
    return rows


def cut_rows(job: Job) -> list[Row]:
    """Pieces to cut, by section and colour, each group closed by what to take off the reel."""
    groups: dict[tuple[float, str], list[tuple[str, float]]] = {}
    for wire in job.wires:
        groups.setdefault((wire.area_mm2, wire.colour), []).append((wire.id, wire.length_m))
    rows: list[Row] = []
    for (area, colour), pieces in sorted(groups.items()):
        for name, length in sorted(pieces, key=lambda p: -p[1]):
            rows.append({"section_mm2": area, "colour": colour, "piece": name, "length_m": length})
        total = math.fsum(length for _, length in pieces)
        reel = math.ceil(total * WASTE * 10) / 10
        rows.append(
            {"section_mm2": area, "colour": colour, "piece": "reel total", "length_m": reel}
        )
    return rows


def pin_rows(job: Job) -> list[Row]:
    """Connector tables as they will be: every cavity, what lies in it and what we put there."""
    rows: list[Row] = []
    for c in job.connectors:
        ours = {(e.place, e.pin): w.id for w in job.wires for e in (w.a, w.b) if e.place == c.id}
        changed = {x.cavity: x for x in job.changes if x.connector == c.id}
        for place in sorted(face.places(c), key=lambda p: p.n):
            held, change = face.cavity(c, place.n), changed.get(place.n)
            rows.append(
                {
                    "connector": c.id,
                    "cavity": held.mark if held and held.mark else str(place.n),
                    "state": face.state(c, place.n),
                    "colour": held.colour if held else "",
                    "circuit": held.circuit if held else "",
                    "our_wire": ours.get((c.id, str(place.n)), change.wire if change else ""),
                    "change": change.kind if change else "",
                    "counted": face.counted(c, place.n),
                    "kind": held.kind if held else "",
                    "seen": held.seen if held else "",
                    "seen_colour": held.seen_colour if held else "",
                    "family": held.family if held else "",
                    "section_mm2": held.area_mm2 if held and held.area_mm2 else None,
                    "known": held.known if held else "",
                }
            )
    for lead in job.leads:
        known = provenance(job, f"leads.{lead.id}.rows") or lead.source
        for r in lead.rows:
            rows.append(
                {
                    "connector": lead.name,
                    "cavity": r.a,
                    "state": f"to {r.b}",
                    "colour": r.colour,
                    "circuit": r.signal,
                    "our_wire": "",
                    "change": "",
                    "counted": known,
                    "kind": "",
                    "seen": "",
                    "seen_colour": "",
                    "family": "",
                    "section_mm2": None,
                    "known": "",
                }
            )
    return rows


def parts_rows(job: Job, units: Units = METRIC) -> list[Row]:
    """Parts of the laid job, sections in ``units``."""
    return [
        {
            "kind": p.kind,
            "part": words(p.name, units),
            "count": round(p.count, 2),
            "unit": p.unit or "piece",
        }
        for p in parts_list(job)
    ]
