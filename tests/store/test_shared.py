"""Several people in one job: parts in hand, work brought together, nothing lost."""

from __future__ import annotations

import contextlib
import os
import random
import unittest
from collections.abc import Iterator

import msgspec
from msgspec.structs import astuple

from tests.demo import apply, demo, put
from tests.server import running
from tests.store.test_book import Kept
from zombrel.actions.lessons import add_lesson
from zombrel.catalog import DEMO
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.store import log_files
from zombrel.store.book.book import Book
from zombrel.store.book.shared import Shared
from zombrel.store.photos import picture_of
from zombrel.store.zjob import load

ROUNDS = int(os.environ.get("ZOMBREL_ROUNDS", "12"))
"""So often two windows work and the server is killed; 200 where it is asked for."""
NOW = "2026-11-27 10:00"


class Several(Kept):
    """On the file of this machine; the next class has the same on a server."""

    where: str | None = None

    @contextlib.contextmanager
    def shared(self) -> Iterator[Shared]:
        with Book.opened(where=self.where) as book:
            yield Shared(book)

    def put_up(self) -> int:
        with self.shared() as s:
            return s.put_up(demo(), "Ada", NOW)

    def test_work_of_two_is_brought_together_and_every_version_kept(self) -> None:
        key = self.put_up()
        with self.shared() as s:
            (about,) = s.jobs()
            self.assertEqual((about.id, about.version, about.who), (key, 1, "Ada"))
            first = s.send(key, 1, put(demo(), "vehicle.tyre", "195/65 R15"), "Ada", NOW)
            second = s.send(key, 1, put(demo(), "notes", "by Ben, offline"), "Ben", NOW)
            self.assertEqual((first.version, second.version, second.apart), (2, 3, ()))
            self.assertEqual(second.job.vehicle.tyre, "195/65 R15")
            self.assertEqual(second.job.notes, "by Ben, offline")
            self.assertEqual(s.fetch(key), (3, second.job))
            self.assertEqual(s.fetch(key, 1)[1], put(demo(), "shared", f"{key}.1"))
            again = s.send(key, 3, second.job, "Ben", NOW)
            self.assertEqual(again.version, 3)  # nothing new is no version
            self.assertEqual(s.jobs()[0].who, "Ben")

    def test_where_they_differ_both_are_kept(self) -> None:
        key = self.put_up()
        with self.shared() as s:
            s.send(key, 1, put(demo(), "vehicle.tyre", "195/65 R15"), "Ada", NOW)
            sent = s.send(key, 1, put(demo(), "vehicle.tyre", "205/55 R16"), "Ben", NOW)
            self.assertEqual(sent.job.vehicle.tyre, "195/65 R15")
            self.assertEqual([a.path for a in sent.apart], ["vehicle.tyre"])
            (beside,) = s.aparts(key)
            self.assertEqual((beside["mine"], beside["who"]), ('"205/55 R16"', "Ben"))

    def test_a_part_in_hand_is_told_and_kept_from_others(self) -> None:
        key = self.put_up()
        with self.shared() as s:
            s.hold(key, "devices.pace", "Ada", "bay 1", "10:12")
            s.hold(key, "devices.pace", "Ada", "bay 1", "10:20")  # her own is no trouble
            with self.assertRaisesRegex(
                Problem, "Ada has devices.pace in hand at bay 1 since 10:12"
            ):
                s.hold(key, "devices.pace", "Ben", "bay 2", "10:30")
            mine = put(put(demo(), "devices.pace.settings.SPEED.at", "C1"), "notes", "x")
            sent = s.send(key, 1, mine, "Ben", NOW)
            self.assertEqual(index(sent.job.devices)["pace"].setting("SPEED"), "E7")
            self.assertEqual(sent.job.notes, "x")
            self.assertEqual([a.path for a in sent.apart], ["devices.pace"])
            self.assertIn("C1", s.aparts(key)[0]["mine"])
            s.let_go(key, "devices.pace", "Ben")  # not his to put down
            self.assertEqual(
                [h.words for h in s.holds(key)], ["devices.pace: Ada, bay 1, since 10:12"]
            )
            s.let_go(key, "devices.pace", "Ada")
            s.hold(key, "devices.pace", "Ben", "bay 2", "10:40")
            s.hold(key, "devices.pace", "Ada", "bay 1", "11:00", over=True)  # Ben went home
            self.assertEqual([h.who for h in s.holds(key)], ["Ada"])
            for part in ("house", "vehicle.tyre", "devices"):
                with self.subTest(part), self.assertRaisesRegex(Problem, "is no part"):
                    s.hold(key, part, "Ben", "bay 2", "10:41")

    def test_house_rules_are_changed_by_who_may(self) -> None:
        key = self.put_up()
        looser = put(demo(), "house.drop_power", 0.08)
        with self.shared() as s:
            self.assertEqual(s.allowed(), ())
            s.allow("Ada", "")
            with self.assertRaisesRegex(Problem, "Ben may not say"):
                s.allow("Ben", "Ben")
            with self.assertRaisesRegex(Problem, "Ben may not change the house rules .*Ada may"):
                s.send(key, 1, looser, "Ben", NOW)
            more = looser
            for name, value in (("drop_signal", 0.02), ("tail_m", 0.2), ("slack_m", 0.2)):
                more = put(more, f"house.{name}", value)
            with self.assertRaisesRegex(Problem, "; and 1 more"):
                s.send(key, 1, more, "Ben", NOW)
            self.assertEqual(s.fetch(key)[0], 1)
            self.assertEqual(s.send(key, 1, looser, "Ada", NOW).job.house.drop_power, 0.08)
            s.allow("Ben", "Ada")
            self.assertEqual(s.allowed(), ("Ada", "Ben"))
            s.forbid("Ada", "Ben")
            with self.assertRaisesRegex(Problem, "Ada is not among those who may: Ben"):
                s.forbid("Ada", "Ben")
            with self.assertRaisesRegex(Problem, "Ada may not say"):
                s.forbid("Ben", "Ada")
            with self.assertRaisesRegex(Problem, "Ben is the only one .* Name another first"):
                s.forbid("Ben", "Ben")
            self.assertEqual(astuple(s.people()), ("", (), ("Ben",)))

    def test_what_is_not_there_and_nobody(self) -> None:
        key = self.put_up()
        with self.shared() as s:
            for act, words in (
                (lambda: s.fetch(9), "no shared job 9"),
                (lambda: s.fetch(key, 7), "no shared job .* in version 7"),
                (lambda: s.send(key, 7, demo(), "Ada", NOW), "in version 7"),
                (lambda: s.send(key, 1, demo(), " ", NOW), "Say who you are"),
                (lambda: s.put_up(demo(), "", NOW), "Say who you are"),
            ):
                with self.assertRaisesRegex(Problem, words):
                    act()

    def test_photos_and_logs_come_along_to_another_machine(self) -> None:
        job = load(DEMO / "0412.zjob")
        (photo,) = job.photos
        with self.shared() as s:
            key = s.put_up(job, "Ada", NOW)
        log_files.packed(photo.file).unlink()
        with self.assertRaises(Problem):
            picture_of(photo)
        with self.shared() as s:
            s.fetch(key)
        self.assertTrue(picture_of(photo).startswith(b"\xff\xd8"))

    def test_a_new_edition_of_the_index_leaves_shared_jobs_alone(self) -> None:
        key = self.put_up()
        with Book.opened(where=self.where) as book, book._writing() as c:
            c.exec_driver_sql("UPDATE edition SET number = 0")
        with self.shared() as s:
            self.assertEqual(s.fetch(key), (1, put(demo(), "shared", f"{key}.1")))


class OnServer(Several):
    """The same where several bays meet, and when the server is killed under them."""

    def setUp(self) -> None:
        super().setUp()
        self.where = running().database("zombrel")

    def test_two_windows_and_a_killed_server_lose_nothing(self) -> None:
        """Each of two works on from what it saw last; what was said to be sent is there."""
        dice, server = random.Random(5), running()
        key = self.put_up()
        seen: dict[str, tuple[int, Job]] = {who: (1, demo()) for who in ("Ada", "Ben")}
        told: list[str] = []
        for i in range(ROUNDS):
            who = dice.choice(("Ada", "Ben"))
            version, job = seen[who]
            words = f"{who} {i}"
            mine = apply(job, add_lesson(job, words))
            lessons = list(mine.lessons)
            lessons[-1] = msgspec.structs.replace(lessons[-1], id=f"{who}{i}")
            mine = msgspec.structs.replace(mine, lessons=tuple(lessons))
            if dice.random() < 0.4:
                server.kill()
                with self.assertRaises(Problem), self.shared() as s:
                    s.send(key, version, mine, who, NOW)
                server.start()
            with self.shared() as s:
                sent = s.send(key, version, mine, who, NOW)
            told.append(words)
            if dice.random() < 0.6:  # else it goes on from what it had: offline
                seen[who] = (sent.version, sent.job)
            else:
                seen[who] = (version, mine)
        with self.shared() as s:
            _, job = s.fetch(key)
        self.assertEqual(sorted(x.text for x in job.lessons), sorted(told))


del Kept  # its tests are not these


if __name__ == "__main__":
    unittest.main()
