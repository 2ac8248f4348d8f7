"""``log``: what a log holds, and writing it as a table or a track."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from zombrel.cli.parser import add_force, free
from zombrel.job.problem import Problem
from zombrel.logs.recording import SI, Recording
from zombrel.store.atomic import write_atomically


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    parser.add_argument("file", metavar="FILE", type=Path, help="a log of any kind")
    parser.add_argument("--info", action="store_true", help="columns, units, rates, gaps, and why")
    parser.add_argument("--spots", action="store_true", help="places worth a look, by rule")
    parser.add_argument("--says", action="store_true", help="what the log says in words")
    parser.add_argument("--to", metavar="G.csv|G.gpx", action="append", default=[], help="write it")
    column = "a unit that the file does not say, as speed=km/h"
    parser.add_argument("--unit", metavar="COLUMN=UNIT", action="append", default=[], help=column)
    parser.add_argument("--dbc", metavar="BUS.dbc", type=Path, help="what the bus means")
    add_force(parser)


def run(asked: argparse.Namespace) -> int:
    """Read a log of any kind; say what is in it, or write it."""
    path, bus = asked.file, asked.dbc
    stated = dict(_pair(u) for u in asked.unit)
    targets = [_target(word, asked.force) for word in asked.to]
    if asked.info or not (targets or asked.spots or asked.says):
        print(json.dumps(info(path, stated, bus), ensure_ascii=False, allow_nan=False))
    if not (targets or asked.spots or asked.says):
        return 0
    from zombrel.logs.read_any import read_any

    found = read_any(path, stated, bus)
    if asked.says:
        from zombrel.logs.says import says
        from zombrel.units import METRIC
        from zombrel.units import words as in_units

        said = [{"title": s.title, "words": in_units(s.words, METRIC)} for s in says(found)]
        print(json.dumps(said, ensure_ascii=False, allow_nan=False))
    if asked.spots:
        from zombrel.logs.spots import spots
        from zombrel.units import METRIC
        from zombrel.units import words as in_units

        told = [
            {
                "kind": s.kind,
                "begin_s": s.begin,
                "end_s": s.end,
                "channel": s.channel,
                "words": in_units(s.words, METRIC),
            }
            for s in spots(found)
        ]
        print(json.dumps(told, ensure_ascii=False, allow_nan=False))
    for target in targets:
        _write(target, found)
    return 0


def _target(word: str, force: bool) -> Path:
    """Where a log is to be written, and as what."""
    if Path(word).suffix.casefold() not in (".csv", ".gpx"):
        raise Problem(f"A log is written as .csv or .gpx, not “{Path(word).name}”.")
    return free(word, force)


def _write(target: Path, found: Recording) -> None:
    from zombrel.logs.write import to_csv, to_gpx

    ending = target.suffix.casefold()
    write_atomically(target, to_csv(found) if ending == ".csv" else to_gpx(found))
    print(target)


def info(path: Path, stated: dict[str, str], bus: Path | None) -> dict[str, object]:
    """What a log holds; of a table also what each column is taken for, and why."""
    from zombrel.logs.read_any import is_table, read_any

    told: dict[str, object] = {"file": path.name}
    if is_table(path):
        from zombrel.logs.table.read import preview

        seen = preview(path, stated)
        told |= {
            "encoding": seen.encoding,
            "layout": list(seen.layout.why),
            "guesses": [
                {
                    "column": g.name,
                    "form": g.form,
                    "what": g.what,
                    "unit": g.unit or None,
                    "time_step_s": g.time or None,
                    "why": g.why,
                    "asked": g.asked,
                }
                for g in seen.columns
            ],
        }
        if seen.asked:
            return told | {"asked": [g.name for g in seen.asked], "columns": []}
    found = read_any(path, stated, bus)
    return told | {
        "length_s": found.length_s,
        "notes": list(found.notes),
        "asked": [],
        "columns": [
            {
                "name": c.name,
                "what": c.what,
                "unit": c.unit or None,
                "si": SI[c.what] or None,
                "samples": len(c.t),
                "rate_hz": c.rate_hz,
                "gaps": [list(g) for g in c.gaps],
                "low": float(c.v.min()),
                "high": float(c.v.max()),
            }
            for c in found.channels
        ],
    }


def _pair(word: str) -> tuple[str, str]:
    column, mark, unit = word.rpartition("=")
    if not mark or not column or not unit:
        raise Problem(f"--unit is column=unit, as speed=km/h; “{word}” is not.")
    return column, unit
