"""Wrong readings explained, and the next test, as data."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from zombrel.calc.job import open_job
from zombrel.calc.registry import Param, Result, calc
from zombrel.diagnose.misread import cases, lines, of_job, senses
from zombrel.diagnose.misread.outage import outage
from zombrel.diagnose.misread.probes import FAMILIES, Next
from zombrel.diagnose.misread.together import Seen, common
from zombrel.diagnose.misread.weigh import AND, Pair
from zombrel.job.pairs import parse
from zombrel.job.problem import Problem
from zombrel.units import METRIC, ZERO_C
from zombrel.units import words as in_units

MOST = 1e7
"""No reading is larger, in any unit."""
TANK, TANK_PULL_OHM = "0:84,100:7", 220.0
"""A tank sender in per cent, and what pulls it up, where nothing is said [%:Ω, Ω]: ASSUMED."""
CHAINS = ("speed", "tach", "temperature", "pressure", "blend", "level", "brake", "supply")
FACTS = (
    Param("set_pulses_per_km", "speed: what the device is set to", "number", None, above=0),
    Param("source_pulses_per_km", "speed: what the source gives", "number", None, above=0),
    Param("divider", "speed: pulses counted for one passed on", "number", 1.0, least=1),
    Param("max_hz", "speed: rate limit of the device", "number", None, above=0),
    Param("set_cylinders", "tach: what the device is set to", "number", None, above=0),
    Param("cylinders", "tach: what the engine has", "number", None, above=0),
    Param("ignition", "tach: kind of ignition", "text", ""),
    Param("redline_rpm", "tach: redline", "number", None, above=0),
    Param("points_ohm", "temperature, level: value:Ω pairs of the sender", "text", None),
    Param("pull_up_ohm", "temperature, level, brake: pull-up", "number", None, above=0),
    Param("vref", "what the pull-up goes to", "number", 5.0, above=0),
    Param("low_v", "pressure: volts at the low end", "number", 0.5),
    Param("high_v", "pressure: volts at the high end", "number", 4.5),
    Param("low", "pressure: kPa at the low end", "number", 0.0, least=-200),
    Param("high", "pressure: kPa at the high end", "number", 1000.0, least=-200),
    Param("lamps", "brake: filament or led", "text", "filament", choices=("filament", "led")),
    Param("relay", "brake: yes or no", "text", "no", choices=("yes", "no")),
    Param("volts", "brake: supply", "number", 12.6, above=0),
)


def _pairs(text: str, what: str) -> list[Pair]:
    """``true:shown,…`` in their order; one true value may come again."""
    found = []
    for part in text.split(","):
        true, colon, shown = part.strip().partition(":")
        try:
            pair = Pair(float(true), float(shown))
        except ValueError:
            colon = ""
            pair = Pair(0.0, 0.0)
        if not colon or not all(
            math.isfinite(x) and abs(x) < MOST for x in (pair.true, pair.shown)
        ):
            raise Problem(f"{what}: “{part.strip()[:40]}” is not true:shown, such as 27:67.")
        found.append(pair)
    return found


def _wants(facts: dict[str, Any], chain: str, *names: str) -> list[float]:
    missing = [n for n in names if facts[n] is None]
    if missing:
        raise Problem(f"misread: {chain} wants {', '.join(missing)}.")
    return [float(facts[n]) for n in names]


def _case(chain: str, facts: dict[str, Any], pairs: list[Pair]) -> cases.Case:
    if chain == "speed":
        setting, source = _wants(facts, chain, "set_pulses_per_km", "source_pulses_per_km")
        return cases.speed_case(setting, source, facts["divider"], facts["max_hz"] or math.inf)
    if chain == "tach":
        set_to, cylinders = _wants(facts, chain, "set_cylinders", "cylinders")
        return cases.tach_case(set_to, cylinders)
    if chain in ("temperature", "level"):
        return _by_ohm(chain, facts)
    if chain in ("pressure", "blend"):
        return _by_volts(chain, facts)
    if chain == "brake":
        line = lines.Brake(facts["volts"], facts["lamps"] == "led", facts["relay"] == "yes", 0.05)
        return cases.brake_case(line)
    return cases.supply_case(len(pairs), pairs[0].true)


def _by_ohm(chain: str, facts: dict[str, Any]) -> cases.Case:
    if facts["points_ohm"] is None and chain == "temperature":
        raise Problem(f"misread: {chain} wants points_ohm, such as 0:5896,20:2500,100:187.")
    pairs = parse(facts["points_ohm"] or TANK, "points_ohm")
    if any(ohm < 0 for _, ohm in pairs):
        raise Problem("points_ohm: a resistance cannot be below zero.")
    warm = chain == "temperature"
    if warm and (pairs[0][0] <= -ZERO_C or min(ohm for _, ohm in pairs) <= 0):
        raise Problem("points_ohm: temperatures above −273.15 °C and ohms above zero are needed.")
    if chain == "level" and facts["pull_up_ohm"] is None:
        facts = {**facts, "pull_up_ohm": TANK_PULL_OHM}
    (pull,) = _wants(facts, chain, "pull_up_ohm")
    line = senses.by_pairs(pairs, pull, facts["vref"], warm)
    return cases.ohm_case(line, pairs[0][0], pairs[-1][0], warm)


def _by_volts(chain: str, facts: dict[str, Any]) -> cases.Case:
    low_v, high_v, low, high = (facts[k] for k in ("low_v", "high_v", "low", "high"))
    if chain == "blend":
        low, high = 0.0, 100.0
    if low_v == high_v or low == high:
        raise Problem("misread: low_v and high_v, and low and high, must differ.")
    slope = (high - low) / (high_v - low_v)
    line = senses.Levels(
        lambda true: low_v + (true - low) / slope,
        lambda volts: low + (volts - low_v) * slope,
        facts["vref"],
        chain == "pressure",
        min(low, high),
        max(low, high),
    )
    return cases.level_case(line, "pressure" if chain == "pressure" else "fraction")


def _answers(text: str | None, family: str) -> dict[str, int]:
    """``test:answer,…`` by the names that an earlier answer gave."""
    found = {}
    for part in (text or "").split(","):
        if not part.strip():
            continue
        key, _, said = part.strip().partition(":")
        probe = next((p for p in FAMILIES[family] if p.key == key.strip()), None)
        if probe is None or said.strip() not in probe.answers:
            known = "; ".join(f"{p.key}: {' | '.join(p.answers)}" for p in FAMILIES[family])
            raise Problem(f"answers: “{part.strip()[:60]}” is none of these: {known}.")
        found[probe.key] = probe.answers.index(said.strip())
    return found


def _parameter(ranked: cases.Ranked) -> Any:
    """What is not known of a cause; of two at once both."""
    if AND not in ranked.cause:
        return ranked.unknown
    two = ranked.form.two
    assert two is not None  # it is a pair
    return list(two(ranked.unknown))


def _told(answer: cases.Answer, chain: str = "") -> Result:
    return {
        **({"chain": chain} if chain else {}),
        "ranked": [
            {
                "cause": r.cause,
                "probability": r.share,
                "words": in_units(r.words, METRIC),
                "mend": in_units(r.mend, METRIC),
                "parameter": _parameter(r),
            }
            for r in answer.ranked
        ],
        "sound": answer.sound,
        "next_test": None if answer.next is None else _next(answer.next),
    }


def _next(found: Next) -> Result:
    return {
        "test": found.probe.key,
        "words": found.probe.words,
        "minutes": found.probe.minutes,
        "hazard": found.probe.hazard,
        "access": found.probe.access,
        "gain_bits": found.gain_bits,
        "split": [
            {"answer": said, "then": cause, "probability": likely}
            for said, cause, likely in found.split
        ],
    }


@calc(
    "misread",
    "what explains a wrong reading, ranked, and the test that parts the leaders",
    [
        Param("job", "job file, or demo; then readings instead of points", "text", None),
        Param("readings", "with a job: chain:true:shown,…", "text", None),
        Param("chain", "without a job: what kind of line", "text", None, choices=CHAINS),
        Param("points", "true:shown,… in km/h, rpm, °C, kPa, %, litres, or V", "text", None),
        Param("answers", "what tests answered so far: test:answer,…", "text", None),
        *FACTS,
    ],
    "ranked sound next_test",
)
def misread(
    job: str | None,
    readings: str | None,
    chain: str | None,
    points: str | None,
    answers: str | None,
    **facts: Any,
) -> Result:
    """Rank single causes of what was seen, "none-of-these" among them."""
    if job is not None:
        if readings is None:
            raise Problem("misread: with a job, give readings=chain:true:shown,…")
        return _of_job(job, readings, answers)
    if chain is None or points is None:
        raise Problem("misread: give job and readings, or chain and points.")
    pairs = _pairs(points, "points")
    case = _case(chain, facts, pairs)
    return _told(cases.answer(case, pairs, _answers(answers, case.family)))


def _of_job(job: str, readings: str, answers: str | None) -> Result:
    tree = open_job(job)
    reads = read_readings(readings)
    keys = list(dict.fromkeys(r.chain for r in reads))
    lines = {
        key: Seen(of_job.case_of(tree, key), tuple(r.pair for r in reads if r.chain == key))
        for key in keys
    }
    told, at = [], {c.id: c.device for c in tree.chains}
    shared: Result = {}
    for key, line in lines.items():
        own = _answers(answers, line.case.family) if len(keys) == 1 else {}
        together = common([other for k, other in lines.items() if at[k] == at[key]])
        answer = cases.answer(line.case, line.pairs, own, common=together)
        told.append(_told(answer, key))
        if together:
            shared[at[key]] = together
    worst = min(told, key=lambda t: float(t["sound"]))
    out = {**worst, "chains": told}
    if shared:
        out["shared"] = shared
    crossed = of_job.exchanged(tree, reads)
    if crossed is not None:
        out["exchanged"] = list(crossed)
    return out


def read_readings(text: str) -> Sequence[of_job.Read]:
    """``chain:true:shown,…``.

    Raises:
        Problem: not such a list.
    """
    found = []
    for part in text.split(","):
        key, _, rest = part.strip().partition(":")
        found += [of_job.Read(key.strip(), pair) for pair in _pairs(rest, f"readings, {key}")]
    return found


@calc(
    "next-test",
    "the test that tells most per minute about a wrong reading of a job",
    [
        Param("job", "job file, or demo", "text"),
        Param("readings", "chain:true:shown,…", "text"),
        Param("answers", "what tests answered so far: test:answer,…", "text", None),
    ],
    "next_test ranked chain",
)
def next_test(job: str, readings: str, answers: str | None) -> Result:
    """The next test of the chain that reads worst."""
    found = _of_job(job, readings, answers)
    return {k: found[k] for k in ("next_test", "ranked", "chain")}


def _keys(text: str | None) -> list[str]:
    return [part.strip() for part in (text or "").split(",") if part.strip()]


@calc(
    "outage",
    "what explains which devices of a job are dead, and where to put the meter next",
    [
        Param("job", "job file, or demo", "text"),
        Param("dead", "ids of devices that are dead", "text"),
        Param("alive", "ids of devices that live", "text", None),
        Param("answers", "what tests answered so far: test:good or test:bad, …", "text", None),
    ],
    "ranked next_test",
)
def outage_of(job: str, dead: str, alive: str | None, answers: str | None) -> Result:
    """Rank battery, feeds, grounds and devices by what is dead and what lives."""
    tree = open_job(job)
    given = {}
    for part in _keys(answers):
        key, _, said = part.rpartition(":")
        if said not in ("good", "bad"):
            raise Problem(f"answers: “{part}” ends in neither :good nor :bad.")
        given[key] = said == "good"
    found = outage(tree, _keys(dead), _keys(alive), given)
    test = found.next
    return {
        "ranked": [
            {"cause": w.suspect.key, "words": w.suspect.words, "probability": w.share,
             "mend": w.suspect.mend}
            for w in found.ranked
        ],
        "next_test": None
        if test is None
        else {"test": test.key, "words": test.words, "minutes": test.minutes, "good": test.good,
              "bad": test.bad},
    }  # fmt: skip
