"""``./zombrel bench``: which figures to take."""

from __future__ import annotations

import argparse
import importlib
import sys

KINDS = {
    "judgement": "planted troubles found, sound jobs left alone",
    "diagnose": "seeded faults named, healthy lines left alone",
    "logs": "reading, edges, saving; truth within the intervals",
    "book": "ten thousand jobs put in, found, brought up to date",
}
"""Each is a module beside this one with ``run(quick) -> exit code``; else ``speed``."""


def main() -> int:
    """Take the figures that were asked for; 1 when one misses its target."""
    parser = argparse.ArgumentParser(
        prog="./zombrel bench", description="Figures against their targets, as ratios in one run."
    )
    one = parser.add_mutually_exclusive_group()
    for kind, does in KINDS.items():
        one.add_argument(f"--{kind}", dest="kind", action="store_const", const=kind, help=does)
    parser.add_argument("--quick", action="store_true", help="fewer runs")
    asked = parser.parse_args()
    module = importlib.import_module(f"tools.bench.{asked.kind or 'speed'}")
    return int(module.run(asked.quick))


if __name__ == "__main__":
    sys.exit(main())
