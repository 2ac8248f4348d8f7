"""Calculations with whatever people may type: a number that can be, or one sentence."""

from __future__ import annotations

import json
import math
import random
import shlex
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tests.torture import Failed
from zombrel.calc.all import CALCS, run
from zombrel.calc.registry import Calc, Param
from zombrel.calc.sums import work_out
from zombrel.job.problem import Problem

SLOW_S = 2.0
LONGEST = 400
ODD = (
    "nan",
    "inf",
    "-inf",
    "1e308",
    "-1e308",
    "1e-308",
    "0",
    "-0",
    "-1",
    "1e999",
    "x",
    "١٢",
    "1,5",
    "1.5e",
    "0x10",
    "1_000",
    "½",
    "−5",
    "NaN",
    "1e9",
    "",
    " ",
    "-273.15",
    "\ud800",
    "💧",
    "9" * 400,
)
LISTS = (
    "25:10000,50:3600,90:920",
    "0:100,100:10",
    "1500:205,2500:232,3500:255",
    "1:1",
    "1:2,1:3",
    "3.42,2.05,1.39",
    "A=1200,B=1300",
    "A=nan",
    "base=0",
    "A=1e308,B=1",
    "1-3-4-2",
    "1-5-3-6-2-4",
    "1e308:1,2:1e308",
    "25:nan,30:2,40:3",
    "0:0,0:0,0:0",
    "1:-1,2:-2,3:-3",
    "5:1e-300,6:1e300,7:1",
    "0.1 0.2 0.3",
    "1 2 3 4 5 6",
    "205/60 R15",
    "red,green,blue",
)


EXAMPLES: dict[str, list[list[str]]] = {}
"""Lines of ``lines.txt``, right and wrong ones, by name."""
for _line in Path(__file__).with_name("lines.txt").read_text(encoding="utf-8").splitlines():
    _name, *_words = shlex.split(_line)
    EXAMPLES.setdefault(_name, []).append(_words)


def a_word(dice: random.Random, param: Param) -> str:
    """Something for one input: mostly what it wants, often not."""
    if dice.random() < 0.12:
        return dice.choice(ODD)
    if param.kind == "text":
        if param.choices and dice.random() < 0.9:
            return dice.choice(param.choices)
        return dice.choice((*LISTS, *ODD, "demo", "/dev/zero", "/", "/nowhere.csv"))
    low = max(param.least, param.above, -1e4)
    high = min(param.most, 10.0 ** dice.randrange(-3, 9))
    value = dice.choice(
        (low, high, (low + high) / 2, dice.uniform(low, max(low, high)), dice.lognormvariate(0, 4))
    )
    text = str(round(value)) if param.kind == "whole" or dice.random() < 0.3 else repr(value)
    return text + (dice.choice(param.units) if param.units and dice.random() < 0.2 else "")


def wrong(value: Any) -> str:
    """Why a result cannot be; empty when it can."""
    if isinstance(value, dict):
        return next((w for v in value.values() if (w := wrong(v))), "")
    if isinstance(value, list | tuple):
        return next((w for v in value if (w := wrong(v))), "")
    if isinstance(value, float) and not math.isfinite(value):
        return f"a result is {value}"
    return ""


def one(dice: random.Random, calc: Calc, timed: bool) -> Failed | None:
    """One call; ``timed``: what takes long fails, too."""
    words = {
        p.name: a_word(dice, p) for p in calc.params if dice.random() < 0.93 or p.default is None
    }
    if dice.random() < 0.8 and (lines := EXAMPLES.get(calc.name)):
        words = dict(word.split("=", 1) for word in dice.choice(lines))
        for param in dice.sample(calc.params, min(len(calc.params), dice.randrange(3))):
            words[param.name] = a_word(dice, param)
    case = f"calc {calc.name} " + " ".join(f"{k}={v!r}" for k, v in words.items())
    why, took = _called(calc.name, words)
    if timed and took > SLOW_S:  # the first imports, or the machine is busy: once more
        again, took = _called(calc.name, words)
        why = why or again or (f"took {took:.1f} s" if took > SLOW_S else "")
    return Failed(case, why) if why else None


def _called(name: str, words: dict[str, str]) -> tuple[str, float]:
    """What is wrong with what comes of it, and how long it took [s]."""
    start, why = time.monotonic(), ""
    try:
        found = run(name, words)
        why = wrong(found)
        json.dumps(found, allow_nan=False)
    except Problem as problem:
        said = str(problem)
        why = "more than a line" if "\n" in said or len(said) > LONGEST else ""
        why = why or ("no words" if not said.strip() else "")
    except Exception as error:
        why = f"{type(error).__name__}: {error}"
    return why, time.monotonic() - start


def one_sum(dice: random.Random) -> Failed | None:
    """One typed sum of the search field."""
    n = [dice.choice((*ODD, f"{dice.lognormvariate(2, 3):.4g}", "12", "2.5")) for _ in range(3)]
    text = dice.choice(
        (f"{n[0]} A over {n[1]} m at {n[2]} V", f"AWG {n[0]}", f"{n[0]} km/h at {n[1]} per km",
         f"{n[0]} Hz at {n[1]} km/h", f"{n[0]} rpm at {n[1]} per rev",
         f"{n[0]}/{n[1]} R{n[2]} {n[0]} teeth", f"205/60 R15 {n[0]}", n[0])
    )  # fmt: skip
    try:
        said = " ".join(f"{a} {b}" for a, b in work_out(text))
        why = f"says {said}" if "nan" in said or "inf" in said.replace("information", "") else ""
    except Exception as error:
        why = f"{type(error).__name__}: {error}"
    return Failed(f"sum {text!r}", why) if why else None


def tries(count: int, seed: int, timed: bool = False) -> Iterator[Failed | None]:
    """So many calls; None for one that went well."""
    dice = random.Random(seed)
    calcs = list(CALCS.values())
    for _ in range(count):
        yield one_sum(dice) if dice.random() < 0.05 else one(dice, dice.choice(calcs), timed)
