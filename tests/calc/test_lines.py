"""What many command lines print, held as it is: ``lines.txt``, and ``lines.json`` beside it.

That the figures are right is the matter of the other tests, each with its source; these hold every
figure and refusal where it was. ``python -m tests.calc.test_lines`` writes ``lines.json`` anew, to
be read in the diff before it is committed.
"""

from __future__ import annotations

import json
import shlex
import tempfile
import unittest
import wave
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from tests.calc.test_contract import call
from tests.logs.made_up import coasting, through_gears, two_speeds
from tests.logs.test_bus import TEXT as BUS
from tests.whole.record import plain
from zombrel.calc.all import CALCS
from zombrel.catalog import DEMO
from zombrel.logs.write import to_csv

HERE = Path(__file__).parent
KEPT, CONTRACT = HERE / "lines.json", HERE / "contract.json"
FILES = {
    "stagger": json.dumps(
        {"id": "S1", "name": "Offset plug", "row_lengths": [4, 3, 4], "stagger": 0.5, "key": "x"}
    ),
    "round": json.dumps({"id": "R1", "name": "Ring", "row_lengths": [6, 1], "round": True}),
    "bus.dbc": BUS,
    "paper": "a,b\nV.1,E.1\nV.2,E.2\nV.3,E.3\nV.4,E.4\nV.5,E.5\n",
    "pins": "cavity;colour;circuit\n1;red;feed\n13;;horn\n",
    "seen": "a,b\nV.1,E.1\nV.2,E.3\nV.3,E.2\nV.4,E.4\nV.4,E.5\n",
    "plug": json.dumps(
        {
            "id": "B4",
            "name": "Brown plug",
            "row_lengths": [4, 5, 4],
            "corner": "top left",
            "key": "the hinge",
            "cavities": [{"n": 1, "colour": "red"}, {"n": 7, "colour": "black", "circuit": "b"}],
        }
    ),
}


def results() -> dict[str, Any]:
    """By command line what it prints, or why it does not."""
    found: dict[str, Any] = {}
    with tempfile.TemporaryDirectory() as folder:
        names = {"log": str(DEMO / "0412-road.csv")}
        names |= {side: str(DEMO / f"0413-pulls-{side}.csv") for side in ("before", "after")}
        rng = np.random.default_rng(1)
        logs = {
            "gears": through_gears(rng)[0],
            "coast": coasting(rng)[0],
            "pair": two_speeds(rng, 0.8, 1.04),
        }
        units = {"speed": "km/h", "engine": "rpm"}
        for name, log in logs.items():
            headed = tuple(c.but(unit=units[c.what]) for c in log.channels)
            (Path(folder) / f"{name}.csv").write_bytes(to_csv(log.but(channels=headed)))
            names[name] = str(Path(folder) / f"{name}.csv")
        names["wave"] = str(Path(folder) / "wave.wav")
        square = (np.sign(np.sin(np.arange(4000) * 0.09 + 0.3)) * 20000).astype("<i2")
        with wave.open(names["wave"], "wb") as out:
            out.setparams((1, 2, 8000, len(square), "NONE", ""))
            out.writeframes(square.tobytes())
        for name, text in FILES.items():
            path = Path(folder) / name
            path.write_text(text, encoding="utf-8")
            names[path.stem] = str(path)
        for line in (HERE / "lines.txt").read_text(encoding="utf-8").splitlines():
            code, out, err = call("calc", *shlex.split(line.format(**names)))
            said = plain(json.loads(out)) if code == 0 else err.strip()
            found[line] = json.loads(
                json.dumps(said, ensure_ascii=False).replace(folder, "").replace(str(DEMO), "")
            )
    return found


def contract() -> dict[str, Any]:
    """By calculation what it takes, within which limits, and gives."""
    return {
        name: {
            "gives": entry.gives,
            "takes": {
                p.name: json.loads(
                    json.dumps(
                        [p.kind, plain(p.above), plain(p.least), plain(p.most), p.choices, p.units]
                        + ([] if p.default is msgspec.UNSET else [plain(p.default)])
                    )
                )
                for p in entry.params
            },
        }
        for name, entry in sorted(CALCS.items())
    }


class Lines(unittest.TestCase):
    maxDiff = None

    def test_the_contract_of_every_calculation(self) -> None:
        kept = json.loads(CONTRACT.read_text(encoding="utf-8"))
        self.assertEqual(contract(), kept)

    def test_what_each_line_prints(self) -> None:
        kept = json.loads(KEPT.read_text(encoding="utf-8"))
        found = results()
        self.assertEqual(list(found), list(kept))
        for line, said in found.items():
            with self.subTest(line):
                self.assertEqual(said, kept[line])


if __name__ == "__main__":
    for path, what in ((KEPT, results()), (CONTRACT, contract())):
        path.write_text(json.dumps(what, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
