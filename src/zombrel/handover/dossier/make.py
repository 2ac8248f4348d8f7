"""The installer's dossier, made from the job."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain as joined

from zombrel.actions.begin import name_of
from zombrel.actions.photos import place_words
from zombrel.catalog.cautions import cautions
from zombrel.findings.against import against
from zombrel.findings.finding import Assessment
from zombrel.handover.dossier import proof, signals, wiring
from zombrel.handover.dossier.hearsay import hearsay
from zombrel.handover.dossier.page import Block, Dossier, Pictured, Row, Section, Table, Words
from zombrel.harness.joint import METHODS
from zombrel.harness.laid import laid
from zombrel.job.facts import BASELINE, VEHICLE
from zombrel.job.follow.view import plain
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import Job
from zombrel.job.stages import STAGE_NAMES
from zombrel.job.typed.facts import show, unit_of
from zombrel.units import Units
from zombrel.units.measure import short_of


def dossier(raw: Job, assessment: Assessment, units: Units, date: str, seal: str = "") -> Dossier:
    """All of it; ``date`` is printed as given, ``seal`` once there is one."""
    job = plain(laid(raw))
    made = [Section(*part[:2], tuple(part[2])) for part in parts(job, assessment, units)]
    last = job.seals[-1] if job.seals and seal else None
    because = f"{last.who}, {last.when[:10]}: {last.reason}." if last and last.reason else ""
    return Dossier(
        title=job.title or name_of(job),
        about=tuple(_about(job, date)),
        shop=job.house.name,
        stops=against(raw, assessment),
        because=because,
        seal=seal,
        sections=tuple(s for s in made if s.blocks),
    )


def parts(
    job: Job, assessment: Assessment, units: Units
) -> tuple[tuple[str, str, Iterator[Block]], ...]:
    """Key, title and blocks of every part of the laid job, each made as it is asked for."""
    return (
        ("fitted", "What is fitted", _fitted(job)),
        ("open", "Open findings", _findings(assessment)),
        ("signals", "Signals", signals.signals(job, assessment, units)),
        ("drawing", "Wiring drawing", wiring.drawn(job, units)),
        ("connectors", "Connectors, as found and as built", wiring.faces(job)),
        ("wires", "Wires", wiring.wires(job, assessment)),
        ("settings", "Settings", signals.settings(job, assessment, units)),
        ("curves", "Curves, and what is left of error", signals.curves(job, assessment, units)),
        ("proofs", "Proofs", proof.proofs(job)),
        ("road", "Road", proof.road(job, units)),
        ("compared", "Before and after", proof.before_and_after(job, units)),
        ("parts", "Parts", wiring.parts(job, units)),
        ("changes", "Changes at connectors, with their way back", wiring.changed(job)),
        ("photos", "Photos", _photos(job)),
        ("hearsay", "Known by hearsay, document or colour only", hearsay(job, units)),
        ("vehicle", "The vehicle", _vehicle(job, units)),
        ("cautions", "Cautions and house rules", _cautions(job)),
    )


def _about(job: Job, date: str) -> Iterator[str]:
    named = (job.vehicle.name, job.vehicle.owner, job.house.name)
    yield ", ".join(x for x in named if x)
    number = f"Job {job.number}" if job.number else "Job without number"
    yield f"{number}, printed {date}" if date else number
    if job.synthetic:
        yield "Made-up sample data: no real vehicle, device or reading."
    if job.notes:
        yield job.notes


def _fitted(job: Job) -> Iterator[Block]:
    where = {z.id: z.name for z in job.zones}
    rows = tuple(
        Row((d.name, f"{d.sheet.maker} {d.sheet.model}", where.get(d.zone, "")))
        for d in job.devices
    )
    if rows:
        yield Table(("device", "kind", "where"), rows)


def _findings(assessment: Assessment) -> Iterator[Block]:
    rows = tuple(
        Row((f.level, STAGE_NAMES[f.stage], f.title, f.text), bad=f.level == "trouble")
        for f in assessment.findings
    )
    if rows:
        yield Table(("", "stage", "what", "why"), rows, loud=2)
    else:
        yield Words("Nothing is left to settle.")


def _photos(job: Job) -> Iterator[Block]:
    for photo in job.photos:
        said = ", ".join(x for x in (place_words(job, photo.at), photo.note, photo.when) if x)
        points = tuple((i, m.words) for i, m in enumerate(photo.marks, 1) if m.words)
        yield Pictured(photo, said, points)


def _vehicle(job: Job, units: Units) -> Iterator[Block]:
    """What is known of it, and how; what is not known is not listed."""
    rows = []
    for f in VEHICLE:
        value = show(job, f, units)
        if value:
            rung = provenance(job, f.path)
            known = MEANING[rung] if rung else "not said"
            rows.append(Row((f.label, f"{value} {unit_of(f, units)}".strip(), known)))
    if rows:
        yield Table(("fact", "value", "how it is known"), tuple(rows), loud=1)
    before = tuple(Row((f.label, show(job, f, units))) for f in BASELINE if show(job, f, units))
    if before:
        yield Table(("before the work", ""), before, title="Before the work")


def _cautions(job: Job) -> Iterator[Block]:
    own = (f"{d.name}: {text}" for d in job.devices for text in d.sheet.cautions)
    for text in joined((c.text for c in cautions(job)), own):
        yield Words(text, "mind")
    house = job.house
    yield Words(
        f"House rules: battery {house.battery}. Drop at most {house.drop_power * 100:.0f} % on "
        f"power, {house.drop_signal * 100:.0f} % on signals. Steady load at most "
        f"{house.fuse_load * 100:.0f} % of a fuse. Signal leads {short_of(house.coil_clear_m)} "
        f"from coils. Joints: {METHODS[house.joint_by]}.",
        "quiet",
    )
