"""Nothing works since yesterday: what dead and living devices have in common, and what to meter.

A feed, a ground or the battery takes down what hangs on it; a device takes down itself. What is
dead and what lives weighs them, and the meter goes where it tells most per minute.

References: as in ``misread.weigh`` and ``misread.probes``.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from zombrel.diagnose.misread.probes import SLIP, SURE
from zombrel.harness.laid import laid
from zombrel.job.follow.view import plain
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.signals.ground import grounds
from zombrel.signals.supply import feeds_of

CARRIES = 0.97
"""A device on a dead feed or an open ground is dead so often; another is not: ASSUMED."""
PRIORS = {"battery": 0.1, "feed": 0.45, "ground": 0.2, "device": 0.15, "none": 0.1}
"""How often each kind of thing is behind it, shared among its own: ASSUMED."""
LEAST_BITS = 1e-3


class Suspect(Value, frozen=True):
    """One thing that may have failed, and what it takes down."""

    key: str
    words: str
    kind: str
    takes: frozenset[str]
    """Ids of devices."""
    mend: str


class Test(Value, frozen=True):
    """Where to put the meter next."""

    key: str
    words: str
    minutes: float
    good: str
    bad: str
    """Its two answers."""
    blames: frozenset[str]
    """Suspects under which the answer is ``bad``."""


class Weighed(Value, frozen=True):
    """A suspect and its share."""

    suspect: Suspect
    share: float


class Outage(Value, frozen=True):
    """What may have failed, and the test to do next."""

    ranked: tuple[Weighed, ...]
    next: Test | None


def suspects(job: Job) -> tuple[Suspect, ...]:
    """The battery, every feed and ground that devices share, every device, and none of these."""
    lies = plain(laid(job))
    names = index(lies.devices)
    fed: dict[str, set[str]] = {}
    for device, supplies in plain(feeds_of(lies)).items():
        for supply in supplies:
            fed.setdefault(supply.feed, set()).add(device)
    ground: dict[str, set[str]] = {}
    wires, studs = index(lies.wires), index(lies.studs)
    for device, keys in plain(grounds(lies)).items():
        for key in keys:
            for end in (wires[key].a, wires[key].b):
                if end.place in studs:
                    ground.setdefault(end.place, set()).add(device)
    every = frozenset(d for held in (*fed.values(), *ground.values()) for d in held)
    feeds = index(lies.feeds)
    posts = "Charge it; clean its posts."
    found = [Suspect("battery", "Battery or its leads", "battery", every, posts)]
    found += [
        Suspect(
            f"feed:{k}",
            f"{feeds[k].name} or its fuse",
            "feed",
            frozenset(v),
            "Its fuse, then why it blew.",
        )
        for k, v in fed.items()
    ]
    found += [
        Suspect(
            f"ground:{k}",
            f"{studs[k].name}",
            "ground",
            frozenset(v),
            "Bare metal, a star washer, tight.",
        )
        for k, v in ground.items()
    ]
    found += [
        Suspect(
            f"device:{k}",
            f"{names[k].name} itself, or its plug",
            "device",
            frozenset([k]),
            "Its plug, then another of its kind.",
        )
        for k in sorted(every)
    ]
    found.append(Suspect("none", "None of these", "none", frozenset(), "Kept open."))
    return tuple(found)


def _tests(found: Sequence[Suspect]) -> list[Test]:
    tests = [
        Test(
            "battery",
            "Meter at the battery posts, lights on",
            1.0,
            "over 11.8 V",
            "less",
            frozenset(["battery"]),
        )
    ]
    for s in found:
        if s.kind == "feed":
            where = f"Meter at {s.words.removesuffix(' or its fuse')}, behind its fuse"
            blames = frozenset([s.key, "battery"])
            tests.append(Test(s.key, where, 2.0, "the battery’s volts", "nothing", blames))
        elif s.kind == "ground":
            where = f"Volts from {s.words} to battery negative, everything on"
            tests.append(Test(s.key, where, 2.0, "under 0.1 V", "more", frozenset([s.key])))
        elif s.kind == "device":
            name = s.words.removesuffix(" itself, or its plug")
            where = f"Meter supply against ground at the plug of the {name}"
            others = frozenset(
                o.key for o in found if o.key != s.key and s.takes & o.takes and o.kind != "none"
            )
            tests.append(Test(s.key, where, 4.0, "the battery’s volts", "nothing", others))
    return tests


def outage(
    job: Job,
    dead: Sequence[str],
    alive: Sequence[str] = (),
    answers: Mapping[str, bool] | None = None,
) -> Outage:
    """What explains which devices are dead; ``answers`` by test: whether it came out good.

    Raises:
        Problem: no such device, or one that is fed by nothing here.
    """
    found = suspects(job)
    every = next(s for s in found if s.kind == "battery").takes
    for key in (*dead, *alive):
        if key not in every:
            known = ", ".join(sorted(every)) or "none"
            raise Problem(f"“{key}” is no fed device of this job; there are: {known}.")
    counts: dict[str, int] = {}
    for s in found:
        counts[s.kind] = counts.get(s.kind, 0) + 1
    shares = {}
    for s in found:
        share = PRIORS[s.kind] / counts[s.kind]
        for key in dead:
            share *= 0.5 if s.kind == "none" else _odds(key in s.takes)
        for key in alive:
            share *= 0.5 if s.kind == "none" else 1 - _odds(key in s.takes)
        shares[s.key] = share
    tests = _tests(found)
    given = dict(answers or {})
    for test in tests:
        if test.key in given:
            shares = {k: p * _answer(test, k, given[test.key]) for k, p in shares.items()}
    total = sum(shares.values()) or 1.0
    shares = {k: p / total for k, p in shares.items()}
    left = [t for t in tests if t.key not in given]
    ranked = sorted((Weighed(s, shares[s.key]) for s in found), key=lambda w: -w.share)
    return Outage(tuple(ranked), _best(shares, left))


def _odds(hangs: bool) -> float:
    return CARRIES if hangs else 1 - CARRIES


def _answer(test: Test, suspect: str, good: bool) -> float:
    if suspect == "none":
        return 0.5
    bad = suspect in test.blames
    return SLIP if bad == good else 1 - SLIP


def _entropy(shares: Mapping[str, float]) -> float:
    return -sum(p * math.log2(p) for p in shares.values() if p > 0)


def _gain(shares: Mapping[str, float], test: Test) -> float:
    left = 0.0
    for good in (True, False):
        after = {k: p * _answer(test, k, good) for k, p in shares.items()}
        likely = sum(after.values())
        if likely > 0:
            left += likely * _entropy({k: p / likely for k, p in after.items()})
    return _entropy(shares) - left


def _best(shares: Mapping[str, float], tests: Sequence[Test]) -> Test | None:
    if not tests or max(shares.values()) >= SURE:
        return None
    found = max(tests, key=lambda t: _gain(shares, t) / t.minutes)
    return found if _gain(shares, found) > LEAST_BITS else None
