"""The owner's page, made from the job."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Literal

from zombrel.calibrate.roadfit import RoadFit
from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import gates, latest, standing, steps
from zombrel.findings.against import against
from zombrel.findings.finding import Assessment
from zombrel.findings.roadwork import chain_of, fit_run
from zombrel.handover.owner.lines import ends_of, lines, slot_of
from zombrel.handover.owner.page import Line, OwnerPage, Proven, Spot
from zombrel.harness.laid import laid
from zombrel.harness.power import read_power
from zombrel.job.follow.view import plain
from zombrel.job.model import Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import OwnerPart
from zombrel.job.state import State
from zombrel.job.wiring import Zone
from zombrel.signals.reduce import input_of

AXLES = (0.19, 0.81)
"""Where axles are drawn along the outline where zones do not tell (ASSUMED: only drawn)."""
OUT_M = 0.15
"""The outline lies so far outside the zones [m]."""
BESIDE = 0.05
"""Spots that share a zone are drawn so far apart [share of the outline]."""
MARKS: dict[str, Literal["good", "open", "trouble"]] = {"passed": "good", "failed": "trouble"}
FUSES = "fuses: "
FEW = 3
"""So many readings are named; more are counted."""


def owner_page(job: Job, assessment: Assessment, date: str = "", seal: str = "") -> OwnerPage:
    """All that the owner is told; ``date`` is printed as given, ``seal`` once there is one."""
    job = plain(laid(job))
    about = [job.vehicle.name, job.vehicle.owner]
    head = ", ".join(x for x in about if x)
    tail = ", ".join(x for x in (job.house.name, date) if x)
    number = f"job {job.number}" if job.number else ""
    spots = tuple(_spots(job))
    return OwnerPage(
        have=_have(job),
        about=" · ".join(x for x in (head, number, tail) if x),
        shop=job.house.name,
        stops=tuple(_stops(job, assessment)),
        because=_because(job) if seal else "",
        daily=_lines(job, "daily"),
        mind=tuple(dict.fromkeys(x.text for x in _lines(job, "mind"))),
        spots=spots,
        odd=(*_lines(job, "odd"), *_dark(spots)),
        proven=tuple(_proven(job)),
        wheels=AXLES,
        seal=seal,
    )


def _because(job: Job) -> str:
    """Why it goes out although something stands against it."""
    last = job.seals[-1] if job.seals else None
    if last is None or not last.reason:
        return ""
    return f"{last.who} hands it over nevertheless, {last.when[:10]}: {last.reason}."


def _dark(spots: tuple[Spot, ...]) -> Iterator[Line]:
    """What to do when a device stays dark: its fuse, by its number above."""
    where = [str(s.number) for s in spots if s.words.startswith(FUSES)]
    if where:
        yield Line(
            "A device stays dark",
            f"its fuse, at {' or '.join(where)} above. A blown one has a cause: come in, never fit "
            "a larger one",
        )


def _have(job: Job) -> str:
    """``a pace unit, a gauge hub and a shift lamp``"""
    names = [f"{_article(d.name)} {d.name[0].lower()}{d.name[1:]}" for d in _fitted(job)]
    if not names:
        return "nothing new yet"
    return " and ".join([*([", ".join(names[:-1])] if names[:-1] else []), names[-1]])


def _fitted(job: Job) -> list[Device]:
    """What was fitted; a device of the car's own has no supply of ours."""
    return [d for d in job.devices if d.sheet.supplies]


def _article(name: str) -> str:
    return "an" if name[:1].lower() in "aeiou" else "a"


def _lines(job: Job, part: OwnerPart) -> tuple[Line, ...]:
    found = [line for device in _fitted(job) for line in lines(job, device, part)]
    return tuple(dict.fromkeys(found))


def _stops(job: Job, assessment: Assessment) -> Iterator[str]:
    """What must be put right before it is handed over."""
    found = against(job, assessment)
    yield from found[: FEW + 1]
    if len(found) > FEW + 1:
        yield f"And {len(found) - FEW - 1} more that are not settled."


# ---- where things are


def _spots(job: Job) -> Iterator[Spot]:
    zones = index(job.zones)
    if not job.zones:
        return
    left = min(z.x_m - z.wide_m / 2 for z in job.zones) - OUT_M
    right = max(z.x_m + z.wide_m / 2 for z in job.zones) + OUT_M
    top = min(z.y_m - z.deep_m / 2 for z in job.zones) - OUT_M
    low = max(z.y_m + z.deep_m / 2 for z in job.zones) + OUT_M
    taken: dict[str, int] = {}
    for number, (zone, words) in enumerate(_things(job, zones), 1):
        beside = taken.get(zone.id, 0)
        taken[zone.id] = beside + 1
        x = (zone.x_m - left) / (right - left) + BESIDE * beside
        yield Spot(number, min(x, 0.97), (zone.y_m - top) / (low - top), words)


def _things(job: Job, zones: Mapping[str, Zone]) -> Iterator[tuple[Zone, str]]:
    """Devices, fuses and the battery, with the zones they are in."""
    for device in _fitted(job):
        zone = zones.get(device.zone)
        if zone is not None:
            how = {"screws": ", on screws", "tie": ", on ties", "pad": ", on its pad"}
            fixed = how.get(device.mount.how, "")
            yield zone, f"{device.name[0].lower()}{device.name[1:]}: {zone.name.lower()}{fixed}"
    fuses: dict[str, list[str]] = {}
    ours = {d.id: d.name for d in job.devices}
    for wire in job.wires:
        ends = (wire.a.place, wire.b.place)
        feed = next((f for f in job.feeds if f.id in ends), None)
        name_of = next((ours[x] for x in ends if x in ours), None)
        if feed is None or name_of is None or wire.carries != "power":
            continue
        amps = wire.fuse_a or feed.fuse_a
        size = f" {amps:g} A" if amps else ""
        line = " in the line" if wire.fuse_a else ""
        at = "at the battery" if feed.kind == "battery" else slot_of(feed)
        fuses.setdefault(feed.zone, []).append(f"{at}{size}{line} ({name_of.lower()})")
    for key, told in fuses.items():
        if key in zones:
            yield zones[key], FUSES + ", ".join(dict.fromkeys(told))
    post = next((f for f in job.feeds if f.kind == "battery" and f.zone in zones), None)
    if post is not None:
        first = job.house.battery.removesuffix(" first")
        yield zones[post.zone], f"battery: {first} first off, last on"


# ---- what was proven


def _proven(job: Job) -> Iterator[Proven]:
    yield from _held(job)
    yield from _speeds(job)
    yield from _parked(job)
    rest = [s for s in steps(job) if not s.gate and s.kind != "drain"]
    done = [s for s in rest if standing(job, s) == "passed"]
    if done:
        days = sorted({(latest(job, s) or _NEVER).when[:10] for s in done} - {""})
        when = f", {days[-1]}" if days else ""
        yield Proven("good", "wiring and readings", f"{len(done)} of {len(rest)} checks{when}")


class _Never:
    when = ""


_NEVER = _Never()


def _held(job: Job) -> Iterator[Proven]:
    """What lets go of a device, by device: all of it, or what is lacking."""
    found = gates(job)
    for device in job.devices:
        keys = {c.id for c in ends_of(job, device)}
        mine = [s for s in found if s.chain in keys]
        if not mine:
            continue
        chains = index(job.chains)
        what = " and ".join(dict.fromkeys(chains[s.chain].title.lower() for s in mine))
        states = [standing(job, s) for s in mine]
        head = f"{what} end{'s' if len(mine) == 1 else ''} it ({device.name.lower()})"
        if all(x == "passed" for x in states):
            yield Proven("good", head, _readings(job, mine))
        else:
            mark = MARKS.get(next(x for x in states if x != "passed"), "open")
            yield Proven(mark, head, "not proven: do not use it")


def _readings(job: Job, done: list[StepSheet]) -> str:
    """What was read, and the day."""
    told, days = [], []
    for step in done:
        proof = latest(job, step)
        if proof is None:
            continue
        units = {f.name: f.unit for f in step.fields if not f.yes}
        told += [f"{s.value:g} {units[s.name]}".strip() for s in proof.seen if s.name in units]
        days.append(proof.when[:10])
    seen = " / ".join(told[: 2 * FEW])
    return ", ".join(x for x in (max(days, default=""), seen) if x)


def _speeds(job: Job) -> Iterator[Proven]:
    """The last drive of each shown speed."""
    last = {(run.device, run.pin): run for run in job.road}
    for run in last.values():
        try:
            found: RoadFit = fit_run(run)
            device, _ = input_of(job, chain_of(job, run))
        except Problem:
            continue
        half = (found.scale_high - found.scale_low) / 2
        text = (
            f"{found.used} road points against satellite, {100 * (found.scale - 1):+.1f} % "
            f"± {100 * half:.1f}"
        )
        yield Proven("good", f"speed ({device.name.lower()})", text)


def _parked(job: Job) -> Iterator[Proven]:
    """What is drawn with the key out."""
    reading = read_power(job, State())
    days = f", starts after {reading.days:.0f} days" if reading.days is not None else ""
    drain = next((s for s in steps(job) if s.kind == "drain"), None)
    proof = latest(job, drain) if drain is not None else None
    if drain is not None and proof is not None and standing(job, drain) == "passed":
        seen = next(
            (f"{s.value:g} {f.unit}" for s in proof.seen for f in drain.fields if f.name == s.name),
            "",
        )
        yield Proven("good", "drawn when parked", f"{seen}{days}")
    else:
        yield Proven(
            "open",
            "drawn when parked",
            f"{1000 * reading.standby_a:.0f} mA by its sheets{days}; not measured",
        )
