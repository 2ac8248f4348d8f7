"""What many command lines print, held as it is: ``lines.txt``, and ``lines.json`` beside it.

That the figures are right is the matter of the other tests, each with its source; these hold every
figure and refusal where it was. ``python -m tests.calc.test_lines`` writes ``lines.json`` anew, to
be read in the diff before it is committed.
"""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

import msgspec

from tests.calc.test_contract import call
from tests.logs.test_bus import TEXT as BUS
from tests.whole.record import plain
from zombrel.calc.all import CALCS
from zombrel.catalog import DEMO

HERE = Path(__file__).parent
KEPT, CONTRACT = HERE / "lines.json", HERE / "contract.json"
FILES = {
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
        for name, text in FILES.items():
            path = Path(folder) / name
            path.write_text(text, encoding="utf-8")
            names[path.stem] = str(path)
        for line in (HERE / "lines.txt").read_text(encoding="utf-8").splitlines():
            code, out, err = call("calc", *line.format(**names).split())
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
