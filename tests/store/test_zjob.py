"""Job files: round trips, bytes that never change, and everything hostile."""

from __future__ import annotations

import contextlib
import io
import json
import os
import signal
import subprocess
import sys
import tempfile
import unittest
import zipfile
from pathlib import Path
from typing import Any
from unittest import mock

import msgspec
from msgspec import inspect

from tests.demo import demo, put
from tests.findings.test_roadwork import with_run
from tools.bench.synthetic import big_job
from zombrel.catalog import DATA, DEMO
from zombrel.job.model import SCHEMA, Job
from zombrel.job.problem import Problem
from zombrel.job.validate import LIMITS, validate
from zombrel.store import zjob


def zipped(parts: dict[str, bytes | str]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts.items():
            archive.writestr(name, data)
    return buffer.getvalue()


class Files(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.path = Path(self.folder.name) / "a job.zjob"

    def test_round_trip_with_logs(self) -> None:
        job = with_run(demo())
        zjob.save(job, self.path)
        self.assertEqual(zjob.load(self.path), job)
        with zipfile.ZipFile(self.path) as archive:
            self.assertEqual(archive.namelist(), ["job.json", "logs/run1.csv"])
            self.assertIn(b'"t":[],"true":[],"shown":[]', archive.read("job.json"))

    def test_the_same_job_gives_the_same_bytes(self) -> None:
        self.assertEqual(zjob.to_bytes(demo()), zjob.to_bytes(demo()))
        whole = zjob.load(DEMO / "0412.zjob")
        self.assertEqual((DEMO / "0412.zjob").read_bytes(), zjob.to_bytes(whole))

    def test_a_job_as_large_as_may_be_opens_again(self) -> None:
        job = big_job(800, 1300)
        line = job.ledger[0]
        more = (msgspec.structs.replace(line, id=i + 1000) for i in range(LIMITS["ledger"] - 100))
        job = msgspec.structs.replace(job, ledger=(*job.ledger, *more))
        zjob.save(job, self.path)
        self.assertEqual(zjob.load(self.path), job)

    def test_more_than_would_be_read_again_is_not_written(self) -> None:
        zjob.save(demo(), self.path)
        before = self.path.read_bytes()
        for limit, said in (("MAX_JSON", "The job takes"), ("MAX_LOGS", "take some road runs out")):
            with mock.patch.object(zjob, limit, 900), self.assertRaisesRegex(Problem, said):
                zjob.save(with_run(demo()) if limit == "MAX_LOGS" else demo(), self.path)
        self.assertEqual(self.path.read_bytes(), before)

    def test_an_empty_job(self) -> None:
        zjob.save(Job(), self.path)
        self.assertEqual(zjob.load(self.path), Job())

    def test_a_failed_save_leaves_the_old_file(self) -> None:
        zjob.save(demo(), self.path)
        before = self.path.read_bytes()
        with self.assertRaises(Problem) as caught:
            zjob.save(Job(), self.path / "inside")
        self.assertIn("choose another place", str(caught.exception))
        self.assertEqual(self.path.read_bytes(), before)
        self.assertEqual(os.listdir(self.folder.name), ["a job.zjob"])

    def test_killed_in_the_middle_of_a_save(self) -> None:
        """kill -9 while it saves over and over: the file is always a whole job."""
        writer = (
            "import sys\nfrom pathlib import Path\nfrom tests.demo import demo, put\n"
            "from zombrel.store import zjob\n"
            "for i in range(100000):\n"
            "    zjob.save(put(demo(), 'notes', 'x' * 5000 + str(i)), Path(sys.argv[1]))\n"
            "    print(i, flush=True)\n"
        )
        for rounds in (1, 4, 9):
            child = subprocess.Popen(
                [sys.executable, "-c", writer, str(self.path)], stdout=subprocess.PIPE, text=True
            )
            assert child.stdout is not None
            for _ in range(rounds):
                child.stdout.readline()
            os.kill(child.pid, signal.SIGKILL)
            child.wait()
            child.stdout.close()
            self.assertEqual(zjob.load(self.path).title, demo().title)
        left = self.path.with_name(".a job.zjob.999999999.part")
        left.write_bytes(b"half")
        zjob.save(demo(), self.path)
        self.assertEqual(os.listdir(self.folder.name), ["a job.zjob"])

    def test_no_such_file(self) -> None:
        with self.assertRaises(Problem) as caught:
            zjob.load(Path(self.folder.name) / "none.zjob")
        self.assertIn("cannot be read", str(caught.exception))


class Older(unittest.TestCase):
    def test_a_job_of_the_first_format_opens(self) -> None:
        """Format 1 had a sentence for the house's joint and knew nothing of plans."""
        good = zjob.to_bytes(with_run(demo()))
        tree = json.loads(zipfile.ZipFile(io.BytesIO(good)).read("job.json"))
        tree["schema"] = 1
        tree["road"] *= 3
        for i, (run, stood) in enumerate(zip(tree["road"], ("C1 ÷7", "C2", "C3 ÷x"), strict=False)):
            tree["road"][i] = {k: v for k, v in run.items() if k != "behind"}
            tree["road"][i] |= {"set_to": stood, "id": f"r{i}"}
        tree["house"] = {"joint": "solder and shrink everywhere", "drop_power": 0.02}
        for name in ("zones", "ways", "changes", "leads", "work"):
            tree.pop(name)
        for device in tree["devices"]:
            device.pop("zone")
        for wire in tree["wires"]:
            wire.pop("via")
        logs = {f"logs/r{i}.csv": "t,true,shown\n0,1,1\n1,2,2\n" for i in range(3)}
        job = zjob.from_bytes(zipped({"job.json": json.dumps(tree), **logs}))
        self.assertEqual((job.schema, job.house.drop_power), (SCHEMA, 0.02))
        self.assertEqual(job.house.joint_by, "crimp")
        stood = [(run.set_to, run.behind) for run in job.road]
        self.assertEqual(stood, [("C1", 7), ("C2", 1), ("C3", 1)])
        self.assertEqual(job.zones, ())
        again = zjob.from_bytes(zjob.to_bytes(job))
        self.assertEqual(again, job)

    def test_only_what_changed_is_dropped(self) -> None:
        stray = {"schema": 1, "house": {"joint": "x", "surprise": 1}}
        with self.assertRaisesRegex(Problem, "not a proper job"):
            zjob.from_bytes(zipped({"job.json": json.dumps(stray)}), "it.zjob")


class Hostile(unittest.TestCase):
    def test_one_clear_message_each(self) -> None:
        good = zjob.to_bytes(demo())
        text = json.loads(zipfile.ZipFile(io.BytesIO(good)).read("job.json"))
        newer = json.dumps({**text, "schema": 99})
        huge = json.dumps({**text, "vehicle": {"mass_kg": 1e300}})
        stray = json.dumps({**text, "surprise": 1})
        bomb = zipped({"job.json": b" " * (zjob.MAX_JSON + 10)})
        lost = {**text, "road": [{"id": "r", "name": "", "device": "pace", "pin": "SPEED"}]}
        for name, data, part in (
            ("empty", b"", "damaged"),
            ("noise", os.urandom(400), "damaged"),
            ("cut short", good[: len(good) // 2], "damaged"),
            ("a flipped byte", good[:200] + bytes([good[200] ^ 255]) + good[201:], ""),
            ("no job", zipped({"hello.txt": "x"}), "no job.json"),
            ("not json", zipped({"job.json": "hello"}), "not a Zombrel job"),
            ("a list", zipped({"job.json": "[]"}), "not a Zombrel job"),
            ("newer", zipped({"job.json": newer}), "newer Zombrel"),
            ("huge numbers", zipped({"job.json": huge}), "not a proper job"),
            ("unknown field", zipped({"job.json": stray}), "not a proper job"),
            ("bomb", bomb, "unpacks to more"),
            ("escape", zipped({"job.json": "{}", "../evil": "x"}), "points outside"),
            ("absolute", zipped({"job.json": "{}", "/etc/evil": "x"}), "points outside"),
            ("drive", zipped({"job.json": "{}", "C:\\evil": "x"}), "points outside"),
            ("many", zipped({"job.json": "{}", **{f"x{i}": "" for i in range(2100)}}), "parts"),
            ("no log", zipped({"job.json": json.dumps(lost)}), "damaged"),
            ("bad log", zipped({"job.json": json.dumps(lost), "logs/r.csv": "h\n1,2,x"}), "log"),
            ("deep", zipped({"job.json": '{"notes":' + "[" * 100000 + "]" * 100000 + "}"}), ""),
        ):
            with self.subTest(name), self.assertRaises(Problem) as caught:
                zjob.from_bytes(data, "it.zjob")
            self.assertIn("it.zjob", str(caught.exception))
            self.assertIn(part, str(caught.exception))

    def test_a_broken_reference_is_refused(self) -> None:
        bad = put(demo(), "chains.speed-pace.source", "gone")
        with self.assertRaises(Problem):
            zjob.from_bytes(zjob.to_bytes(bad))


class Bounds(unittest.TestCase):
    def test_more_than_a_job_can_hold_is_refused_in_a_sentence(self) -> None:
        for name, limit in LIMITS.items():
            few = msgspec.structs.replace(Job(), **{name: (None,) * limit})
            many = msgspec.structs.replace(Job(), **{name: (None,) * (limit + 1)})
            with self.subTest(name):
                with self.assertRaisesRegex(Problem, f"more than {limit} {name}"):
                    validate(many)
                with contextlib.suppress(AttributeError):  # nothing but their number is looked at
                    validate(few)
        self.assertEqual((LIMITS["devices"], LIMITS["wires"]), (500, 5000))

    def test_nothing_in_a_job_is_without_bounds(self) -> None:
        """Every list, number and text that a file can hold ends somewhere."""
        free, seen = [], set()

        def walk(kind: Any, place: str) -> None:
            at_most = getattr(kind, "max_length", None)
            if isinstance(kind, inspect.StructType) and kind.cls not in seen:
                seen.add(kind.cls)
                for field in kind.fields:
                    walk(field.type, f"{kind.cls.__name__}.{field.name}")
            elif isinstance(kind, inspect.UnionType):
                for part in kind.types:
                    walk(part, place)
            elif isinstance(kind, inspect.VarTupleType):
                if at_most is None and not (place[:4] == "Job." and place[4:] in LIMITS):
                    free.append(place)
                walk(kind.item_type, place)
            elif isinstance(kind, inspect.TupleType):
                for part in kind.item_types:
                    walk(part, place)
            elif isinstance(kind, inspect.FloatType | inspect.IntType):
                ends = ((kind.ge, kind.gt), (kind.le, kind.lt))
                if any(a is None and b is None for a, b in ends):
                    free.append(place)
            elif isinstance(kind, inspect.StrType) and at_most is None and not kind.pattern:
                free.append(place)

        walk(inspect.type_info(Job), "Job")
        self.assertEqual(free, ["Job.schema"])
        self.assertGreater(len(seen), 40)


class Schemas(unittest.TestCase):
    def test_shipped_schemas_are_current_and_hold(self) -> None:
        import jsonschema

        from zombrel.catalog.sheets import schema_of, sheet_schema

        shipped = json.loads((DATA / "sheet.schema.json").read_text())
        self.assertEqual(shipped, json.loads(msgspec.json.encode(sheet_schema())))
        for path in (DATA / "sheets").glob("*.json"):
            jsonschema.validate(json.loads(path.read_text()), shipped)
        job_schema = json.loads((DATA / "job.schema.json").read_text())
        self.assertEqual(job_schema, json.loads(msgspec.json.encode(schema_of(Job))))
        jsonschema.validate(json.loads(msgspec.json.encode(demo())), job_schema)
        for name in ("sources", "cautions"):
            schema = json.loads((DATA / f"{name}.schema.json").read_text())
            jsonschema.validate(json.loads((DATA / f"{name}.json").read_text()), schema)


if __name__ == "__main__":
    unittest.main()
