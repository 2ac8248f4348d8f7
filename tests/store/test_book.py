"""The book on disk: found by any word, up to date with the files, backed up and restored."""

from __future__ import annotations

import hashlib
import io
import json
import os
import sqlite3
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import astuple

from tests.demo import put
from tests.server import running
from zombrel.actions.plugs.library import to_keep
from zombrel.catalog import DEMO
from zombrel.job.model import Job, Vehicle
from zombrel.job.problem import Problem
from zombrel.job.records.lesson import Lesson
from zombrel.store import log_files, plug_library, prefs
from zombrel.store.book import backup as backups
from zombrel.store.book import book as books
from zombrel.store.book import exchange, shop
from zombrel.store.book.book import Book
from zombrel.store.book.desk import loads, open_jobs
from zombrel.store.book.engines import Postgres, keep_password
from zombrel.store.book.words import phrases, plain
from zombrel.store.saved_at import note_saved, saved_at
from zombrel.store.zjob import peek, save
from zombrel.units import METRIC, words


def spoilt(data: bytes, part: str) -> bytes:
    """An archive whose packed ``part`` cannot be unpacked: its first block is of no kind."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        at = archive.getinfo(part).header_offset
    # RFC 1951, 3.2.3: block type 3 is an error; 30 bytes and the name come before the packed ones
    at += 30 + len(part)
    return data[:at] + b"\x07" + data[at + 1 :]


def locked(data: bytes, part: str) -> bytes:
    """An archive whose ``part`` says that it is encrypted (bit 0 of its flags, APPNOTE 4.4.4)."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        info = archive.getinfo(part)
        central = data.index(b"PK\x01\x02", archive.start_dir)
    out = bytearray(data)
    out[info.header_offset + 6] |= 1
    while out[central + 46 : central + 46 + len(part)] != part.encode():
        central = data.index(b"PK\x01\x02", central + 4)
    out[central + 8] |= 1
    return bytes(out)


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.home = Path(place.name)
        modules = (prefs, books, log_files, backups, shop, exchange, plug_library)
        for module in (*modules, __import__("zombrel.store.saved_at", fromlist=["x"])):
            root = mock.patch.object(module, "data_root", return_value=self.home / "data")
            root.start()
            self.addCleanup(root.stop)
        sheets = mock.patch.object(
            exchange, "user_sheets", return_value=self.home / "data" / "sheets"
        )
        sheets.start()
        self.addCleanup(sheets.stop)

    def book(self) -> Book:
        opened = Book.opened()
        held = opened.__enter__()
        self.addCleanup(opened.__exit__, None, None, None)
        return held

    def own(self, number: str, **facts: object) -> Path:
        """A job of the shop's own, made from a past one."""
        job = msgspec.structs.replace(peek(DEMO / "past" / "0398.zjob"), synthetic=False)
        job = msgspec.structs.replace(job, number=number, title=f"Job {number}")
        for path, value in facts.items():
            job = put(job, path.replace("__", "."), value)
        (self.home / "jobs").mkdir(exist_ok=True)
        path = self.home / "jobs" / f"{number}.zjob"
        save(job, path)
        return path


class Finds(Kept):
    def test_any_word_pin_colour_or_figure_of_the_past_jobs(self) -> None:
        held = self.book()
        self.assertEqual(held.refresh().wrong, ())
        for asked, number, text in (
            ("heron speed green/white", "0398", "green/white"),
            ("brake D2 14", "0306", "cavity 14"),
            ("24054", "0349", "24 054 pulses per km"),
            ("24 054 tone ring", "0349", "Left rear tone ring"),
            ("38711", "0349", "Left rear tone ring"),  # the same per mile
            ("chafed", "0342", "chafed at the pedal box"),
            ("rev-match arming", "0403", "Rev-match"),
            ("dirty contact", "0342", "comes and goes"),
            ("c1 road scale", "0349", "road: scale 1.0"),
            ("vauce", "", ""),
        ):
            with self.subTest(asked):
                hits = held.find(asked, True)
                found = [h for h in hits if h.job.number == number]
                if number == "0342" and asked == "dirty contact":
                    continue  # a code is no word of anybody's
                self.assertEqual(bool(found), bool(number))
                said = [words(h.entry.text, METRIC).replace("\u00a0", " ") for h in found]
                self.assertTrue(not number or any(text in s for s in said), said)

    def test_a_like_vehicle_comes_first_and_each_hit_says_how_it_is_known(self) -> None:
        held = self.book()
        held.refresh()
        first = held.find("LED relay", True, "Brackwell Heron camper")[0]
        self.assertIn("Heron", first.job.vehicle)
        pin = held.find("D2 cavity 4 speed", True)[0]
        self.assertEqual((pin.entry.known, pin.entry.at), ("measured", "connectors.D2.4"))

    def test_what_nothing_has_is_left_out_word_by_word(self) -> None:
        held = self.book()
        held.refresh()
        self.assertEqual(held.find("heron zzzz", True)[0].job.vehicle.split()[1], "Heron")
        self.assertEqual(held.find("zzzz", True), ())
        for nothing in ("", "  ", "/ - *", '"'):
            self.assertEqual(held.find(nothing, True), ())

    def test_signs_of_the_data_base_are_only_letters(self) -> None:
        held = self.book()
        held.refresh()
        for typed in ('"', "' OR 1=1 --", "a AND", "NEAR(", "col:x", "x* & !y | <->", "%_\\", "(("):
            with self.subTest(typed):
                held.find(typed, True)
        self.assertEqual(len(held.find("%", True)), 0)

    def test_the_shops_own_jobs_hide_the_made_up_ones(self) -> None:
        held = self.book()
        held.refresh()
        self.assertFalse(held.has_own())
        note_saved(self.own("5001"))
        held.refresh()
        self.assertTrue(held.has_own())
        self.assertEqual({h.job.number for h in held.find("green/white", False)}, {"5001"})
        self.assertEqual(len(held.jobs(False)), 1)


class Typed(Kept):
    @given(st.text(max_size=30))
    @settings(max_examples=150, deadline=None)
    def test_whatever_is_typed_is_no_query_of_its_own(self, typed: str) -> None:
        with Book.opened() as b:
            b.find(typed, True)
        for p in phrases(typed):
            self.assertEqual(plain(p).strip(), p)
            self.assertNotIn('"', p)


class UpToDate(Kept):
    def test_changed_gone_and_damaged_files_are_noticed(self) -> None:
        held = self.book()
        path, other = self.own("5001"), self.own("5002")
        held.watch(self.home / "jobs")
        self.assertEqual(held.refresh().wrong, ())
        self.assertEqual(held.check(), ())
        save(put(peek(path), "notes", "saffron knob"), path)
        os.utime(path, ns=(1, 1))
        other.unlink()
        bad = self.home / "jobs" / "bad.zjob"
        bad.write_bytes(b"noise")
        said = " ".join(held.check())
        self.assertIn("5001.zjob was changed outside", said)
        self.assertIn("5002.zjob is gone", said)
        report = held.refresh()
        self.assertEqual((report.read, report.gone, len(report.wrong)), (1, 1, 1))
        self.assertIn("bad.zjob", report.wrong[0])
        self.assertEqual([h.job.number for h in held.find("saffron", False)], ["5001"])
        self.assertEqual(
            astuple(held.refresh())[:3], (0, report.same + 2, 0)
        )  # the bad one is known

    def test_a_damaged_book_is_made_anew_from_the_files(self) -> None:
        note_saved(self.own("5001"))
        with Book.opened() as held:
            held.refresh()
        file = books.book_file()
        for noise in (b"no data base at all, only words " * 50, b""):
            for part in file.parent.glob("book.sqlite*"):
                part.unlink()
            file.write_bytes(noise)
            with Book.opened() as held:
                held.refresh()
                self.assertTrue(held.find("green/white", False))

    def test_a_book_of_another_edition_keeps_its_folders(self) -> None:
        self.own("5001")
        with Book.opened() as held:
            held.watch(self.home / "jobs")
            held.refresh()
        with sqlite3.connect(books.book_file()) as c:
            c.execute("UPDATE edition SET number = 0")
        with Book.opened() as held:
            self.assertEqual(held.folders(), ((self.home / "jobs").resolve(),))
            held.refresh()
            self.assertTrue(held.find("green/white", False))

    def test_giving_up_keeps_what_was_read(self) -> None:
        held = self.book()
        for i in range(3):
            self.own(f"500{i}")
        held.watch(self.home / "jobs")
        with mock.patch.object(books, "BATCH", 1):
            held.refresh(lambda share: share < 0.5)
            kept = len(held.jobs(True))
            self.assertTrue(0 < kept < 27)
            held.refresh()
        self.assertEqual(len(held.jobs(True)), 28)
        with self.assertRaisesRegex(Problem, "no folder"):
            held.watch(self.home / "nowhere")

    def test_two_books_at_once(self) -> None:
        with Book.opened() as one, Book.opened() as two:
            note_saved(self.own("5001"))
            one.refresh()
            two.refresh()
            self.assertEqual(len(one.jobs(False)), 1)
            self.assertEqual(len(two.jobs(False)), 1)

    def test_paths_are_noted_once(self) -> None:
        path = self.own("5001")
        note_saved(path)
        note_saved(path)
        self.assertEqual(saved_at(), (str(path.resolve()),))

    def test_open_jobs_and_what_is_left_of_them(self) -> None:
        held = self.book()
        held.refresh()
        jobs = open_jobs(held, True)
        self.assertEqual({j.number for j in jobs}, {"0409", "0412", "0413"})
        found = loads(jobs[:1])
        self.assertGreater(len(found[0].slots), 5)


class Backups(Kept):
    def made(self) -> tuple[Book, Path]:
        held = self.book()
        note_saved(self.own("5001"))
        note_saved(self.own("5002"))
        sheets = self.home / "data" / "sheets"
        sheets.mkdir(parents=True)
        (sheets / "mine.json").write_text("{}")
        shop.save_stock({"blade fuse 5 A": 3.0})
        held.refresh()
        target = self.home / "shop.zip"
        self.assertEqual(backups.backup(held, target), 4)
        return held, target

    def test_what_was_lost_comes_back_and_what_differs_is_left(self) -> None:
        held, target = self.made()
        self.assertEqual(backups.look(target), (2, 2))
        first, second = (self.home / "jobs" / f"{n}.zjob" for n in ("5001", "5002"))
        good = first.read_bytes()
        first.unlink()
        (self.home / "data" / "sheets" / "mine.json").unlink()
        save(put(peek(second), "notes", "newer"), second)
        told = backups.restore(held, target)
        self.assertEqual(first.read_bytes(), good)
        self.assertEqual(peek(second).notes, "newer")
        self.assertEqual((len(told.put_back), len(told.same), len(told.beside)), (2, 1, 1))
        self.assertIn("5002 (backup ", told.beside[0])
        again = backups.restore(held, target)
        self.assertEqual((again.put_back, again.beside), ((), ()))
        self.assertEqual(shop.load_stock(), {"blade fuse 5 A": 3.0})

    def test_a_damaged_or_hostile_backup_writes_nothing(self) -> None:
        held, target = self.made()
        (self.home / "jobs" / "5001.zjob").unlink()
        good = target.read_bytes()
        with zipfile.ZipFile(target) as archive:
            parts = {n: archive.read(n) for n in archive.namelist()}
        manifest = json.loads(parts["backup.json"])

        def with_items(change: object) -> bytes:
            path = self.home / "evil.zip"
            told = json.loads(json.dumps(manifest))
            change(told["items"])  # type: ignore[operator]
            with zipfile.ZipFile(path, "w") as archive:
                for name, data in parts.items():
                    text = json.dumps(told).encode() if name == "backup.json" else data
                    archive.writestr(name, text)
            return path.read_bytes()

        job = next(i for i, x in enumerate(manifest["items"]) if x["job"])
        for name, data, part in (
            ("noise", b"noise", "not a backup"),
            ("cut", good[: len(good) // 2], "not a backup"),
            ("packing", spoilt(good, "backup.json"), "not a backup"),
            ("lock", locked(good, "backup.json"), "not a backup"),
            ("hash", with_items(lambda x: x[job].update(sha="0" * 64)), "damaged"),
            ("escape", with_items(lambda x: x[job].update(path="/etc/../x.zjob")), "no file of"),
            ("shell", with_items(lambda x: x[job].update(path="/root/.bashrc")), "no file of"),
            ("up", with_items(lambda x: x[0].update(path="../../x.json")), "no file of"),
            ("other", with_items(lambda x: x[0].update(path="evil/x.json")), "no file of"),
            ("gone", with_items(lambda x: x[job].update(name="jobs/none")), "not a backup"),
        ):
            target.write_bytes(data)
            with self.subTest(name), self.assertRaisesRegex(Problem, part):
                backups.restore(held, target)
            self.assertFalse((self.home / "jobs" / "5001.zjob").exists())

    def test_given_up_or_nowhere_to_write(self) -> None:
        held, _ = self.made()
        target = self.home / "other.zip"
        with self.assertRaisesRegex(Problem, "given up"):
            backups.backup(held, target, lambda share: False)
        self.assertFalse(target.exists())
        with self.assertRaises(Problem):
            backups.backup(held, Path("/nowhere/at/all.zip"))


class OnServer(Finds):
    """The same on a server that several bays share."""

    def setUp(self) -> None:
        super().setUp()
        self.address = running().database("zombrel")
        env = mock.patch.dict(os.environ, {"ZOMBREL_BOOK": self.address})
        env.start()
        self.addCleanup(env.stop)

    def test_changed_and_gone_files_are_noticed(self) -> None:
        held = self.book()
        path, other = self.own("5001"), self.own("5002")
        held.watch(self.home / "jobs")
        held.refresh()
        save(put(peek(path), "notes", "saffron knob"), path)
        os.utime(path, ns=(1, 1))
        other.unlink()
        self.assertEqual(len(held.check()), 2)
        report = held.refresh()
        self.assertEqual((report.read, report.gone), (1, 1))
        self.assertEqual([h.job.number for h in held.find("saffron", False)], ["5001"])
        self.assertFalse((self.home / "data" / "book.sqlite").exists())

    def test_an_edition_is_made_anew_and_keeps_its_folders(self) -> None:
        self.own("5001")
        with Book.opened() as held:
            held.watch(self.home / "jobs")
            with held._writing() as c:
                c.exec_driver_sql("UPDATE edition SET number = 0")
        with Book.opened() as held:
            self.assertEqual(held.folders(), ((self.home / "jobs").resolve(),))
            held.refresh()
            self.assertTrue(held.find("green/white", False))

    def test_a_server_that_is_gone_says_so_and_comes_back_whole(self) -> None:
        note_saved(self.own("5001"))
        with Book.opened() as held:
            held.refresh()
        server = running()
        server.kill()
        with self.assertRaisesRegex(Problem, "cannot be reached.*can be worked on"), Book.opened():
            pass
        server.start()
        with Book.opened() as held:
            self.assertTrue(held.find("green/white", False))
            self.assertEqual(held.check(), ())

    def test_addresses_that_are_none_or_would_let_others_read(self) -> None:
        for address, part in (
            ("nonsense", "no address"),
            ("mysql://a@b/c", "postgresql is wanted"),
            ("postgresql://a:secret@b/c", "password out of the address"),
            ("postgresql://a@b.example/c?sslmode=disable", "let others read"),
        ):
            with self.subTest(address), self.assertRaisesRegex(Problem, part):
                Postgres(address).engine()
        kept: dict[str, str] = {}
        ring = mock.Mock()
        ring.get_password = lambda service, who: kept.get(who)
        ring.set_password = lambda service, who, word: kept.update({who: word})
        address = "postgresql://ada@bay.example/shop"
        with mock.patch.dict("sys.modules", {"keyring": ring}):
            keep_password(address, "s3cret")
            engine = Postgres(address).engine()
        self.assertEqual(kept, {"ada@bay.example/shop": "s3cret"})
        self.assertEqual(engine.url.password, "s3cret")
        told = engine.dialect.create_connect_args(engine.url)[1]
        self.assertEqual(told["password"], "s3cret")
        self.assertNotIn("s3cret", str(engine.url))


class Exchange(Kept):
    def given(self) -> Path:
        job = msgspec.structs.replace(peek(self.own("5001")), notes="call her at home")
        job = put(put(job, "vehicle.owner", "Nightingale"), "title", "Heron, Nightingale")
        sheet = next(iter(job.devices)).sheet
        plug = to_keep(job, job.connectors[0])
        path = self.home / "share.zip"
        path.write_bytes(exchange.give("Saltmarsh", (sheet,), (plug,), (job,)))
        return path

    def test_nothing_of_the_owner_goes_out_and_all_of_it_is_shown_before_it_is_taken(self) -> None:
        path = self.given()
        with zipfile.ZipFile(path) as archive:
            for name in archive.namelist():
                data = archive.read(name)
                if name.endswith(".zjob"):
                    with zipfile.ZipFile(io.BytesIO(data)) as inner:
                        data = inner.read("job.json")
                self.assertNotIn(b"Nightingale", data)
                self.assertNotIn(b"at home", data)
        shop_name, offered = exchange.look(path)
        self.assertEqual(
            (shop_name, [o.kind for o in offered]), ("Saltmarsh", ["sheet", "plug", "job"])
        )
        self.assertEqual({o.state for o in offered}, {"new"})
        self.assertFalse((self.home / "data" / "from-others").exists())
        written = exchange.accept(offered)
        self.assertEqual(len(written), 3)
        plug = offered[1].thing
        self.assertEqual((plug.known, plug.note[:17]), ("", "from another shop"))  # type: ignore[union-attr]
        self.assertEqual({o.state for o in exchange.look(path)[1]}, {"same"})
        held = self.book()
        held.refresh()
        self.assertIn("5001", {about.number for about, _ in held.jobs(False)})

    def test_what_is_damaged_or_hostile_is_refused_whole(self) -> None:
        good = self.given()
        with zipfile.ZipFile(good) as archive:
            parts = {n: archive.read(n) for n in archive.namelist()}

        def changed(name: str, data: bytes, told: bool) -> None:
            manifest = json.loads(parts["share.json"])
            for item in manifest["items"]:
                if item["name"] == name and told:
                    item["sha"] = hashlib.sha256(data).hexdigest()
            with zipfile.ZipFile(good, "w") as archive:
                for n, d in parts.items():
                    text = json.dumps(manifest).encode() if n == "share.json" else d
                    archive.writestr(n, data if n == name else text)

        names = {n.partition("/")[0]: n for n in parts}
        for what, name, data, told, part in (
            ("bit", names["sheets"], b"{}", False, "is damaged"),
            ("no sheet", names["sheets"], b"{}", True, "sheets/"),
            ("no plug", names["plugs"], b"[]", True, "plugs/"),
            ("no job", names["jobs"], b"noise", True, "jobs/"),
            ("manifest", "share.json", b"[]", False, "share.zip"),
        ):
            changed(name, data, told)
            with self.subTest(what), self.assertRaisesRegex(Problem, part):
                exchange.look(good)
        for bad in (b"noise", spoilt(self.given().read_bytes(), "share.json")):
            good.write_bytes(bad)
            with self.assertRaisesRegex(Problem, "not a share"):
                exchange.look(good)
        with self.assertRaisesRegex(Problem, "Nothing is chosen"):
            exchange.give("x")
        self.assertFalse((self.home / "data" / "sheets").exists())


class Files(Kept):
    def test_the_bays_and_the_stock_are_kept_and_checked(self) -> None:
        self.assertEqual(shop.load_shop().bays, 2)
        shop.save_shop(msgspec.structs.replace(shop.load_shop(), bays=3))
        self.assertEqual(shop.load_shop().bays, 3)
        shop.shop_file().write_text('{"bays": 0}')
        with self.assertRaisesRegex(Problem, "bays"):
            shop.load_shop()
        shop.stock_file().write_text('{"fuse": -1}')
        with self.assertRaises(Problem):
            shop.load_stock()


class Ranked(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def test_what_is_said_shortly_comes_first(self) -> None:
        long = "the idle relay hums on a cold morning, and nobody knows yet what it is that does it"
        for name, said in (("1", "the idle relay hums"), ("2", long)):
            job = Job(
                number=name, vehicle=Vehicle(name="Heron"), lessons=(Lesson(id="L1", text=said),)
            )
            save(job, self.place / f"{name}.zjob")
        with Book.opened(self.place / "b.sqlite") as book:
            book.watch(self.place)
            book.refresh()
            self.assertEqual(
                [h.job.number for h in book.find("idle relay hums", False)], ["1", "2"]
            )


if __name__ == "__main__":
    unittest.main()
