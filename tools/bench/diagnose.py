"""``bench --diagnose``: seeded faults, planted and looked for, over jobs that nobody tuned it to.

A fault is drawn from what may be the matter with a line, read at two points with the meter's own
error, ranked, and put to three tests that answer as that fault would, with slips. Healthy lines and
faults of no known kind are drawn beside.
"""

from __future__ import annotations

import functools
import random
from collections.abc import Callable, Sequence

from zombrel.catalog import DEMO
from zombrel.diagnose.misread import cases, of_job, probes
from zombrel.diagnose.misread.probes import Probe
from zombrel.diagnose.misread.weigh import AND, Cause, Pair, Rival
from zombrel.findings.settle import settle
from zombrel.job.edits import Put, apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.store.zjob import load

FAULTS, SOUND, OUTSIDE = 500, 300, 200
"""Trials: faults of known kinds, healthy lines, faults of none."""
TESTS = 3
SLIGHT, ENOUGH, TENTHS = 0.05, 80, 10
"""Shares below are not counted, and tenths with fewer trials."""
BASES = ("0412", "0413", "0409")
OWN: tuple[tuple[str, tuple[tuple[str, object], ...]], ...] = (
    ("0412", (("vehicle.tyre", "195/65 R15"), ("vehicle.final_drive", 4.1))),
    ("0412", (("vehicle.lamps", "filament"),)),
    ("0412", (("sources.ring.spec.teeth", 48), ("vehicle.tyre", "225/45 R17"))),
    ("0412", (("vehicle.idle_rps", 12.0), ("vehicle.redline_rps", 100.0))),
    ("0412", (("sources.clt.spec.shared_ohm", 0.0),)),
    ("0413", (("vehicle.tyre", "205/75 R16"),)),
    ("0413", (("vehicle.final_drive", 3.7),)),
    ("0413", (("vehicle.lamps", "led"),)),
    ("0409", (("vehicle.redline_rps", 120.0),)),
    ("0409", (("vehicle.tyre", "185/60 R14"),)),
)
"""Ten jobs beside the demos: (demo, what is otherwise), settled."""
POINTS = {"speed": (50.0, 110.0), "tach": (850.0, 3200.0), "brake": (0.0, 1.0)}


class Line(Value, frozen=True):
    """One line that may read wrong, at two points."""

    case: cases.Case
    at: tuple[float, ...]


class Score(Value, frozen=True):
    """What came of some trials."""

    first: float
    in_three: float


@functools.cache
def jobs() -> tuple[Job, ...]:
    """The demos and ten more, settled."""
    found = [settle(load(DEMO / f"{n}.zjob"))[0] for n in BASES]
    for base, changes in OWN:
        job = load(DEMO / f"{base}.zjob")
        for path, value in changes:
            job = apply(job, Put(path=path, value=value))
        found.append(settle(job)[0])
    return tuple(found)


@functools.cache
def case_lines() -> tuple[Line, ...]:
    """Every line of every job that can be a case, and supplies of three pins for each job."""
    found: list[Line] = []
    for job in jobs():
        for chain in job.chains:
            try:
                case = of_job.case_of(job, chain.id)
            except Problem:
                continue
            found.append(Line(case, POINTS.get(case.family) or _points(case)))
        volts = 12.6 * job.vehicle.system_v / 12
        found.append(Line(cases.supply_case(3, volts), (volts, volts, volts)))
    return tuple(found)


def _points(case: cases.Case) -> tuple[float, float]:
    """A quarter and three quarters of the scale, as the sound line shows them."""
    span = case.high - case.low
    return case.low + 0.25 * span, case.low + 0.7 * span


def _drawn(line: Line, rng: random.Random) -> tuple[Rival, float]:
    """A fault as often as it is met."""
    rivals = [r for r in line.case.rivals if r.cause != "sound" and AND not in r.cause]
    rival = rng.choices(rivals, [r.prior for r in rivals])[0]
    unknown = rng.choices([u for u, _ in rival.grid], [w for _, w in rival.grid])[0]
    return rival, unknown


def _read(line: Line, rival: Rival, unknown: float, rng: random.Random) -> list[Pair]:
    pairs = []
    for i, true in enumerate(line.at):
        shown = rival.predicts(unknown, i, true)
        if rival.scatter is not None:
            shown *= rng.uniform(*rival.scatter)
        else:
            shown += rng.gauss(0, line.case.meter.sigma(shown, rival.wide))
        pairs.append(Pair(true, shown))
    return pairs


def _tested(
    line: Line, pairs: Sequence[Pair], cause: Cause, rng: random.Random
) -> tuple[cases.Answer, list[dict[Cause, float]]]:
    """Three chosen tests, answered as ``cause`` would."""
    answers: dict[str, int] = {}
    found = cases.answer(line.case, pairs)
    told = [_shares(found)]
    for _ in range(TESTS):
        if found.next is None:
            break
        probe = found.next.probe
        odds = probe.odds(cause)
        answers[probe.key] = rng.choices(range(len(odds)), odds)[0]
        found = cases.answer(line.case, pairs, answers)
        told.append(_shares(found))
    return found, told


def _shares(found: cases.Answer) -> dict[Cause, float]:
    return {r.cause: r.share for r in found.ranked} | {"sound": found.sound}


def score(seed: int = 1, count: int = FAULTS) -> Score:
    """Faults of known kinds: how often the true cause is first, and among three."""
    rng = random.Random(seed)
    first = three = 0
    for _ in range(count):
        line = rng.choice(case_lines())
        rival, unknown = _drawn(line, rng)
        found, _ = _tested(line, _read(line, rival, unknown, rng), rival.cause, rng)
        order = [r.cause for r in found.ranked]
        first += order[0] == rival.cause
        three += rival.cause in order[:3]
    return Score(first / count, three / count)


def calibration(seed: int = 5, count: int = 6 * FAULTS) -> float:
    """Greatest gap between shares that were said and how often they came true.

    Over faults, sound lines and faults of no known kind, each as often as the priors have it.
    """
    rng = random.Random(seed)
    said: list[tuple[float, bool]] = []
    for _ in range(count):
        line = rng.choice(case_lines())
        every = sum(r.prior for r in line.case.rivals)
        if rng.random() < line.case.none / (every + line.case.none):
            cause: Cause = "none-of-these"
            pairs = _odd(line, rng)
        else:
            rival = rng.choices(line.case.rivals, [r.prior for r in line.case.rivals])[0]
            unknown = rng.choices([u for u, _ in rival.grid], [w for _, w in rival.grid])[0]
            cause, pairs = rival.cause, _read(line, rival, unknown, rng)
        for shares in _tested(line, pairs, cause, rng)[1]:
            said += [(p, c == cause) for c, p in shares.items() if p > SLIGHT]
    return _gap(said)


def _odd(line: Line, rng: random.Random) -> list[Pair]:
    """Readings that nothing explains."""
    tops = [max(line.case.meter.span / 2, true) for true in line.at]
    return [
        Pair(true, rng.uniform(0.03, 0.97) * top) for true, top in zip(line.at, tops, strict=True)
    ]


def _gap(said: list[tuple[float, bool]]) -> float:
    """Of all shares of about so much, how far from that they came true; tenths with 30 trials."""
    worst = 0.0
    for tenth in range(TENTHS):
        held = [(p, right) for p, right in said if min(int(p * 10), TENTHS - 1) == tenth]
        if len(held) >= ENOUGH:
            told = sum(p for p, _ in held) / len(held)
            worst = max(worst, abs(told - sum(right for _, right in held) / len(held)))
    return worst


def false_alarms(seed: int = 2, count: int = SOUND) -> float:
    """Share of healthy lines that are said to have something the matter."""
    rng = random.Random(seed)
    wrong = tried = 0
    for _ in range(count):
        line = rng.choice(case_lines())
        sound = next((r for r in line.case.rivals if r.cause == "sound"), None)
        if sound is None:
            continue
        found = cases.answer(line.case, _read(line, sound, sound.grid[0][0], rng))
        tried += 1
        wrong += found.sound < max((r.share for r in found.ranked), default=0.0)
    return wrong / max(tried, 1)


def outside(seed: int = 3, count: int = OUTSIDE) -> float:
    """Share of faults of no known kind that end as "none of these"."""
    rng = random.Random(seed)
    right = 0
    for _ in range(count):
        line = rng.choice(case_lines())
        found, _ = _tested(line, _odd(line, rng), "none-of-these", rng)
        order = found.ranked[0].cause if found.ranked[0].share > found.sound else "sound"
        right += order == "none-of-these"
    return right / count


def order_ratio(seed: int = 4, count: int = 40) -> float:
    """Expected minutes of the chosen order over the best there is, on small cases."""
    rng = random.Random(seed)
    worst: list[float] = []
    for _ in range(count):
        line = rng.choice(case_lines())
        rival, unknown = _drawn(line, rng)
        found = cases.answer(line.case, _read(line, rival, unknown, rng))
        shares = _shares(found)
        if max(shares.values()) >= probes.SURE:
            continue
        small = sorted(
            probes.FAMILIES[line.case.family], key=lambda p: -probes.gain(shares, p) / p.cost
        )[:4]
        chosen = _minutes(shares, tuple(small), _greedy)
        best = _minutes(shares, tuple(small), None)
        worst.append(chosen / best if best else 1.0)
    return sum(worst) / len(worst) if worst else 1.0


WRONG_MINUTES = 60.0
"""What mending the wrong thing costs."""
Choose = Callable[[dict[Cause, float], tuple[Probe, ...]], Probe | None]


def _greedy(shares: dict[Cause, float], left: tuple[Probe, ...]) -> Probe | None:
    found = probes.best(shares, left)
    return None if found is None else found.probe


def _minutes(shares: dict[Cause, float], left: tuple[Probe, ...], choose: Choose | None) -> float:
    """Expected minutes: tests until one is sure, and what a wrong mend costs."""
    stop = WRONG_MINUTES * (1 - max(shares.values()))
    if not left:
        return stop
    if choose is not None:
        probe = choose(shares, left)
        return stop if probe is None else _after(shares, left, probe, choose)
    return min([stop, *(_after(shares, left, p, None) for p in left)])


def _after(
    shares: dict[Cause, float], left: tuple[Probe, ...], probe: Probe, choose: Choose | None
) -> float:
    rest = tuple(p for p in left if p is not probe)
    total = probe.cost
    for i in range(len(probe.answers)):
        likely = sum(p * probe.odds(c)[i] for c, p in shares.items())
        if likely > 0:
            total += likely * _minutes(probes.answered(shares, probe, i), rest, choose)
    return total


def run(quick: bool) -> int:
    """Print every figure with its target."""
    got = score()
    rows = (
        ("true cause first after three tests", got.first, 0.85, True),
        ("true cause in the first three", got.in_three, 0.97, True),
        ("shares off from what came true", calibration(), 0.10, False),
        ("false alarms on healthy lines", false_alarms(), 0.02, False),
        ("none of these, for faults of no known kind", outside(), 0.80, True),
        ("chosen order over the best, minutes", order_ratio(), 1.3, False),
    )
    bad = 0
    print(f"{FAULTS} seeded faults over {len(jobs())} jobs, {len(case_lines())} lines")
    for name, value, target, at_least in rows:
        ok = value >= target if at_least else value <= target
        bad += not ok
        sign = "at least" if at_least else "at most"
        print(f"{'ok  ' if ok else 'MISS'} {name:<46} {value:6.3f} ({sign} {target:g})")
    return 1 if bad else 0
