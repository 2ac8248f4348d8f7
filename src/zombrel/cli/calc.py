"""``calc``: one calculation, JSON on stdout."""

from __future__ import annotations

import argparse
import json
import math

from zombrel.job.problem import Problem


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    parser.add_argument("--list", action="store_true", help="every calculation and its inputs")
    parser.add_argument("name", nargs="?", metavar="NAME", help="which calculation")
    parser.add_argument("given", nargs="*", metavar="key=value", help="its inputs")


def run(asked: argparse.Namespace) -> int:
    """Calculate, or say what can be calculated."""
    from zombrel.calc.all import describe, split
    from zombrel.calc.all import run as calculate

    if asked.list:
        print(json.dumps(describe(), indent=1, ensure_ascii=False))
        return 0
    if asked.name is None:
        raise Problem("calc needs a name: calc NAME key=value …, or calc --list.")
    result = finite(calculate(asked.name, split(asked.given)))
    print(json.dumps(result, ensure_ascii=False, allow_nan=False))
    return 0


def finite(value: object) -> object:
    """``value`` with what JSON cannot say, an endless resistance for one, as null."""
    if isinstance(value, float) and not math.isfinite(value):
        return None
    if isinstance(value, dict):
        return {k: finite(v) for k, v in value.items()}
    if isinstance(value, list):
        return [finite(v) for v in value]
    return value
