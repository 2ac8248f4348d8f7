"""A book on a server that stands elsewhere: nobody reads along, and accounts are held to theirs."""

from __future__ import annotations

import os
import unittest
from typing import ClassVar
from unittest import mock

from msgspec.structs import astuple
from sqlalchemy import text
from sqlalchemy.exc import DatabaseError

from tests.demo import demo, put
from tests.server import FAR, Server
from tests.store.test_book import Kept
from zombrel.job.problem import Problem
from zombrel.store.book.book import Book
from zombrel.store.book.engines import PASSWORD
from zombrel.store.book.shared import Shared, _bytes
from zombrel.store.zjob import save

NOW = "2026-11-27 10:00"


class Far(Kept):
    server: ClassVar[Server]

    @classmethod
    def setUpClass(cls) -> None:
        cls.server = Server(far=True)
        cls.addClassCleanup(cls.server.end)
        cls.server.start(ssl="on")
        cls.server.account("zombrel", "of the shop")
        cls.server.account("ben", "of ben")

    def setUp(self) -> None:
        super().setUp()
        self.server.database("book", owner="zombrel")

    def opened(self, who: str = "zombrel", password: str = "", more: str = "") -> Book:
        word = password or {"zombrel": "of the shop", "ben": "of ben"}[who]
        where = f"postgresql://{who}@{FAR}:{self.server.port}/book{more}"
        with mock.patch.dict(os.environ, {PASSWORD: word}):
            return self.enterContext(Book.opened(where=where))

    def test_nobody_reads_along(self) -> None:
        with self.opened()._engine.connect() as c:
            asked = "SELECT ssl, version FROM pg_stat_ssl WHERE pid = pg_backend_pid()"
            encrypted, version = c.execute(text(asked)).one()
        self.assertTrue(encrypted)
        self.assertRegex(version, r"TLSv1\.[23]")
        with self.assertRaisesRegex(Problem, "would let others read along"):
            self.opened(more="?sslmode=prefer")
        with self.assertRaisesRegex(Problem, "cannot be reached: .*root certificate"):
            self.opened(more="?sslmode=verify-full")  # nothing here to know it by
        with self.assertRaisesRegex(Problem, "cannot be reached: .*password authentication failed"):
            self.opened(password="guessed")

    def test_a_server_that_does_not_encrypt_is_not_used(self) -> None:
        self.server.kill()
        self.addCleanup(self.server.start, ssl="on")
        self.addCleanup(self.server.kill)
        self.server.start(ssl="off")
        with self.assertRaisesRegex(Problem, "cannot be reached: .*does not support SSL"):
            self.opened()

    def test_an_account_that_is_let_in_does_all_work_and_no_more(self) -> None:
        shop = Shared(self.opened())
        key = shop.put_up(demo(), "Ada", NOW)
        with self.assertRaisesRegex(Problem, "permission denied .* must let this account in"):
            self.opened("ben")
        with self.assertRaisesRegex(Problem, "no account “eve”. .*createuser --pwprompt eve"):
            shop.admit("eve")
        shop.admit("ben")
        book = self.opened("ben")
        ben = Shared(book)
        sent = ben.send(key, 1, put(demo(), "notes", "by Ben"), "Ben", NOW)
        self.assertEqual((sent.version, shop.fetch(key)[1].notes), (2, "by Ben"))
        save(put(demo(), "notes", "a mark\0that is none, quokka"), self.home / "odd.zjob")
        book.watch(self.home)
        self.assertEqual(book.refresh(anew=True).wrong, ())  # all that work needs, it may
        self.assertEqual(len(book.find("quokka", True)), 1)
        self.assertEqual(book.check(), ())
        with shop._book._writing() as c:
            c.execute(text("UPDATE edition SET number = 1"))
        with self.assertRaisesRegex(Problem, "another edition, and ben may not make it anew"):
            self.opened("ben")
        shop = Shared(self.opened())  # tables made anew, for whoever was let in
        self.assertEqual(astuple(shop.people()), ("", ("ben",), ()))
        self.assertEqual(Shared(self.opened("ben")).fetch(key)[0], 2)
        with self.assertRaisesRegex(Problem, "ben cannot let anybody in"):
            ben.admit("ben")
        with self.assertRaisesRegex(Problem, "ben may not say who changes"):
            ben.allow("ben", "Ada")
        with self.assertRaisesRegex(Problem, "ben cannot shut anybody out"):
            ben.expel("ben")
        shop.expel("ben")
        with self.assertRaisesRegex(Problem, "“ben” is not let in: there is nobody"):
            shop.expel("ben")
        with self.assertRaisesRegex(Problem, "permission denied"):
            self.opened("ben")
        self.assertEqual(shop.fetch(key)[1].notes, "by Ben")

    def test_the_server_itself_keeps_the_house_rules_from_an_account_that_may_not(self) -> None:
        shop = Shared(self.opened())
        key = shop.put_up(demo(), "Ada", NOW)
        shop.admit("ben")
        book = self.opened("ben")
        ben, looser = Shared(book), put(demo(), "house.drop_power", 0.08)
        shop.allow("Ada", "")
        with self.assertRaisesRegex(Problem, "ben may not change the house rules"):
            ben.send(key, 1, looser, "Ada", NOW)  # under another's name
        row = "INSERT INTO versions (id, shared, version, content, who, at) VALUES (:i, 1, :i, :c, "
        row += "'Ada', 'now')"
        at = {"i": 9, "c": _bytes(looser)}
        for sql, told, words in (  # by a program that does not ask first
            (row, at, "ben may not change the house rules"),
            ("INSERT INTO rights VALUES ('ben')", {}, "ben may not say who changes them"),
            ("DELETE FROM rights", {}, "ben may not say who changes them"),
            ("UPDATE rights SET who = 'ben'", {}, "permission denied for table rights"),
            ("UPDATE versions SET who = 'Ada'", {}, "permission denied for table versions"),
            ("DROP TRIGGER keep_house_rules ON versions", {}, "must be owner"),
        ):
            with (
                self.subTest(sql),
                book._engine.connect() as c,
                self.assertRaisesRegex(DatabaseError, words),
            ):
                c.execute(text(sql), told)

        with self.opened("ben")._engine.connect() as c:  # by tables of its own in their place
            c.execute(text("CREATE TEMP TABLE rights AS SELECT 'ben' AS who"))
            c.execute(text("CREATE TEMP TABLE versions (LIKE public.versions)"))
            with self.assertRaisesRegex(DatabaseError, "ben may not change the house rules"):
                c.execute(text(row.replace(" versions", " public.versions")), at)

        shop.allow("ben", "Ada")
        self.assertEqual(ben.send(key, 1, looser, "Ben", NOW).job.house.drop_power, 0.08)
        self.assertEqual(astuple(ben.people()), ("ben", ("ben",), ("Ada", "ben")))
        with (  # the last name stays, lest everybody may
            book._engine.connect() as c,
            self.assertRaisesRegex(DatabaseError, "without a name everybody may"),
        ):
            c.execute(text("DELETE FROM rights"))
        self.assertEqual(shop.allowed(), ("Ada", "ben"))
        ben.forbid("Ada", "")
        with self.assertRaisesRegex(Problem, "Nobody may not say"):
            shop.forbid("ben", "")
        self.assertEqual(astuple(shop.people()), ("", ("ben",), ("ben",)))


if __name__ == "__main__":
    unittest.main()
