"""``book`` on the command line: JSON hits in order, taken over, planned, kept whole."""

from __future__ import annotations

import contextlib
import io
import json
import os
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from tests.server import running
from zombrel.cli.main import main
from zombrel.store.zjob import peek


class Book(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.home = Path(place.name)
        names = ("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME")
        env = mock.patch.dict(os.environ, dict.fromkeys(names, str(self.home)))
        env.start()
        self.addCleanup(env.stop)

    def call(self, *argv: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["book", *argv])
        return code, out.getvalue(), err.getvalue()

    def said(self, *argv: str) -> Any:
        code, out, err = self.call(*argv)
        self.assertEqual((code, err), (0, ""))
        return json.loads(out)

    def test_find_gives_hits_in_order_with_their_provenance(self) -> None:
        hits = self.said("find", "heron speed green/white")
        self.assertEqual({"job", "kind", "text", "provenance"} - set(hits[0]), set())
        self.assertEqual({h["job"] for h in hits}, {"0398"})
        pin = next(h for h in hits if h["kind"] == "pin-out")
        self.assertEqual((pin["provenance"], pin["at"]), ("measured", "connectors.D2.4"))
        self.assertEqual(len(self.said("find", "pace", "--most", "3")), 3)
        liked = self.said("find", "LED relay", "--like", "0413")[0]
        self.assertIn("Heron", liked["vehicle"])
        self.assertEqual(self.said("find", "zzzz"), [])

    def test_use_takes_over_into_another_file(self) -> None:
        out = self.home / "after.zjob"
        line = ("use", "0412", "--from", "0398", "--at", "connectors.D2.11", "--out", str(out))
        self.said(*line)
        cavities = [x for c in peek(out).connectors for x in c.cavities if x.n == 11]
        (taken,) = [x for x in cavities if x.circuit == "park brake"]
        self.assertEqual(taken.known, "other car")
        self.assertEqual(self.call(*line)[0], 2)  # it lies there already

    def test_what_comes_back_the_week_and_what_to_order(self) -> None:
        for number, words in (("0412", "LED lamps"), ("0413", "LED lamps"), ("0409", "Clutch")):
            told = self.said("back", number)
            mine = [x["words"] for x in told["comes back"] if x["here"]]
            self.assertTrue(any(words in x for x in mine), mine)
            low, middle, high = (told["estimate_min"][k] for k in ("low", "middle", "high"))
            self.assertTrue(0 < low < middle < high)
            self.assertTrue(told["by device"])
        week = self.said("week")
        self.assertEqual({x["job"] for x in week}, {"0412", "0413", "0409"})
        code, out, _ = self.call("order")
        self.assertEqual(code, 0)
        self.assertTrue(out.startswith("kind,part,unit,takes,have,order,by,jobs\n"))
        line = next(x for x in out.splitlines() if x.startswith("fuse,blade fuse 1 A,"))
        takes, have, order = (float(x) for x in line.split(",")[3:6])
        self.assertEqual((have, order), (0, takes))
        self.said("stock", "blade fuse 1 A=2")
        line = next(x for x in self.call("order")[1].splitlines() if "blade fuse 1 A," in x)
        self.assertEqual([float(x) for x in line.split(",")[4:6]], [2, takes - 2])

    def test_index_check_backup_and_restore(self) -> None:
        jobs = self.home / "jobs"
        jobs.mkdir()
        self.said(
            "use", "0412", "--from", "0398", "--at", "lessons.L1", "--out", str(jobs / "a.zjob")
        )
        told = self.said("index", str(jobs))
        self.assertEqual((told["wrong"], told["folders"]), ([], [str(jobs.resolve())]))
        self.assertEqual(self.said("check")["wrong"], [])
        made = self.said("backup", str(self.home / "shop.zip"))
        self.assertEqual(made["read again"], "every file is whole")
        self.assertEqual(self.said("restore", str(self.home / "shop.zip"))["beside"], [])
        (jobs / "a.zjob").write_bytes(b"noise")
        code, out, _ = self.call("check")
        self.assertEqual(code, 1)
        self.assertIn("changed outside", out)

    def test_given_to_another_shop_and_looked_at_before_it_is_taken(self) -> None:
        share = str(self.home / "share.zip")
        self.assertEqual(self.said("give", share, "--job", "0413")["job"], "0413")
        self.assertEqual(self.call("give", str(self.home / "none.zip"), "--plugs")[0], 2)
        told = self.said("take", share)
        self.assertEqual([x["kind"] for x in told["holds"]], ["job"])
        self.assertNotIn("Fenwick", told["holds"][0]["what"])
        self.assertEqual(told["written"], [])
        self.assertEqual(len(self.said("take", share, "--yes")["written"]), 1)
        self.assertEqual(self.call("give", share, "--job", "0413")[0], 2)

    def run_it(self, *argv: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(argv))
        return code, out.getvalue(), err.getvalue()

    def test_a_job_of_two_bays(self) -> None:
        def shared(*argv: str) -> Any:
            code, out, err = self.run_it("shared", *argv)
            self.assertEqual((code, err), (0, ""), argv)
            return json.loads(out)

        mine, theirs, both = (str(self.home / f"{n}.zjob") for n in ("mine", "theirs", "both"))
        self.assertEqual(shared("put", "0413", "--by", "Ada"), {"id": 1, "version": 1})
        self.run_it("edit", "0413", "--out", mine, "--set", "vehicle.tyre", '"205/70 R15"')
        self.run_it("edit", "0413", "--out", theirs, "--set", "notes", '"by Ada"')
        shared(
            "send", "1", theirs, "--since", "1", "--by", "Ada", "--out", str(self.home / "t.zjob")
        )
        shared("hold", "1", "devices.pace", "--by", "Ada", "--place", "bay 1")
        sent = shared("send", "1", mine, "--since", "1", "--by", "Ben", "--out", both)
        self.assertEqual((sent["version"], sent["apart"]), (3, []))
        job = peek(Path(both))
        self.assertEqual((job.vehicle.tyre, job.notes), ("205/70 R15", "by Ada"))
        self.assertEqual(shared("holds", "1")[0]["who"], "Ada")
        code, _, err = self.run_it("shared", "hold", "1", "devices.pace", "--by", "Ben")
        self.assertEqual(code, 2)
        self.assertIn("Ada has devices.pace in hand at bay 1", err)
        self.assertEqual(shared("drop", "1", "devices.pace", "--by", "Ada"), [])
        self.assertEqual(shared("beside", "1"), [])
        self.assertEqual(shared("list")[0]["version"], 3)
        old = str(self.home / "old.zjob")
        self.assertEqual(shared("fetch", "1", "--version", "1", "--out", old)["version"], 1)
        again = str(self.home / "again.zjob")
        code, out, _ = self.run_it("merge", "0413", theirs, mine, "--out", again)
        self.assertEqual((code, json.loads(out)["apart"]), (0, []))
        self.assertEqual(peek(Path(again)).vehicle, job.vehicle)
        self.assertEqual(shared("allow", "Ada")["may change the house rules"], ["Ada"])
        for line in (
            ("shared",),
            ("shared", "fetch", "x", "--out", "/tmp/n.zjob"),
            ("merge", "0413"),
        ):
            self.assertEqual(self.run_it(*line)[0], 2)

    def test_the_book_lies_where_it_is_told_to(self) -> None:
        self.assertEqual(self.said("server"), {"server": "this-machine"})
        code, _, err = self.call("server", "postgresql://nobody@127.0.0.1:1/none")
        self.assertEqual(code, 2)
        self.assertIn("cannot be reached", err)
        address = running().database("zombrel_cli")
        self.assertEqual(self.said("server", address), {"server": address})
        self.assertEqual({h["job"] for h in self.said("find", "heron speed green/white")}, {"0398"})
        self.assertEqual(self.said("server", "this-machine"), {"server": "this-machine"})

    def test_a_sentence_and_exit_two(self) -> None:
        for line, part in (
            ((), "required: COMMAND"),
            (("dance",), "dance"),
            (("find",), "required: WORD"),
            (("find", "x", "--most", "many"), "--most: invalid int"),
            (("find", "x", "--like"), "--like: expected"),
            (("index", "/nowhere"), "no folder"),
            (("use", "0412"), "required: --from"),
            (("use", "0412", "--from", "9", "--at", "notes", "--out", "/tmp/n.zjob"), "no job 9"),
            (("backup",), "required: F.zip"),
            (("restore", "/nowhere.zip"), "nowhere.zip"),
            (("give", "/tmp/n.zip"), "Nothing is chosen"),
            (("stock", "fuse"), "no count of a part"),
            (("stock", "fuse=-1"), "no count of a part"),
            (("take", "/nowhere.zip"), "nowhere.zip"),
            (("check", "x"), "unrecognized arguments: x"),
        ):
            with self.subTest(line):
                code, out, err = self.call(*line)
                self.assertEqual((code, out), (2, ""))
                self.assertIn(part, err)


if __name__ == "__main__":
    unittest.main()
