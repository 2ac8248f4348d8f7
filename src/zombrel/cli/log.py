"""``log``: what a log holds, and writing it as a table or a track."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

from zombrel.job.problem import Problem
from zombrel.logs.recording import SI, Recording
from zombrel.store.atomic import write_atomically

USAGE = (
    "log FILE [--info] [--spots] [--says] [--to G.csv|G.gpx] [--unit column=km/h] "
    "[--dbc BUS.dbc] [--force]"
)


def log(argv: Sequence[str]) -> int:
    """Read a log of any kind; say what is in it, or write it."""
    asked = _asked(list(argv))
    path = Path(asked["file"][0])
    stated = dict(_pair(u) for u in asked["--unit"])
    bus = Path(asked["--dbc"][0]) if asked["--dbc"] else None
    if asked["--info"]:
        print(json.dumps(info(path, stated, bus), ensure_ascii=False, allow_nan=False))
    if not (asked["--to"] or asked["--spots"] or asked["--says"]):
        return 0
    from zombrel.logs.read_any import read_any

    found = read_any(path, stated, bus)
    if asked["--says"]:
        from zombrel.logs.says import says
        from zombrel.units import METRIC
        from zombrel.units import words as in_units

        said = [{"title": s.title, "words": in_units(s.words, METRIC)} for s in says(found)]
        print(json.dumps(said, ensure_ascii=False, allow_nan=False))
    if asked["--spots"]:
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
    for name in asked["--to"]:
        _write(Path(name), found, bool(asked["--force"]))
    return 0


def _write(target: Path, found: Recording, over: bool) -> None:
    from zombrel.logs.write import to_csv, to_gpx

    ending = target.suffix.casefold()
    if ending not in (".csv", ".gpx"):
        raise Problem(f"A log is written as .csv or .gpx, not “{target.name}”.")
    if target.exists() and not over:
        raise Problem(f"{target} exists already; give --force to write over it.")
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


def _asked(words: list[str]) -> dict[str, list[str]]:
    """The command's words by flag; its file under ``file``."""
    found: dict[str, list[str]] = {
        k: [] for k in ("file", "--info", "--spots", "--says", "--to", "--unit", "--dbc", "--force")
    }
    i = 0
    while i < len(words):
        word = words[i]
        if word in ("--info", "--spots", "--says", "--force"):
            found[word].append(word)
        elif word in found and word != "file":
            if i + 1 >= len(words):
                raise Problem(f"{word} needs a word after it: {USAGE}.")
            found[word].append(words[i + 1])
            i += 1
        elif word.startswith("--") or found["file"]:
            raise Problem(f"“{word}” is not understood: {USAGE}.")
        else:
            found["file"].append(word)
        i += 1
    if not found["file"]:
        raise Problem(USAGE + ".")
    if not any(found[k] for k in ("--info", "--to", "--spots", "--says")):
        found["--info"].append("--info")
    return found


def _pair(word: str) -> tuple[str, str]:
    column, mark, unit = word.rpartition("=")
    if not mark or not column or not unit:
        raise Problem(f"--unit is column=unit, as speed=km/h; “{word}” is not.")
    return column, unit
