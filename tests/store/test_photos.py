"""Photos: upright, smaller, nothing of camera or place left; bound, marked, carried by the job."""

from __future__ import annotations

import io
import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from PIL import Image, ImageFile

from tests.demo import apply, at
from zombrel.actions.photos import (
    add_mark,
    add_photo,
    place_words,
    places,
    put_mark,
    put_photo,
    remove_photo,
)
from zombrel.catalog import DEMO
from zombrel.handover.marks import head_of
from zombrel.handover.paper import dossier_html
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.records.photo import Photo, PhotoMark
from zombrel.store import log_files
from zombrel.store.photos import SHOWN_PX, picture_of, pictures, take_photo
from zombrel.store.zjob import from_bytes, load, to_bytes


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.home = Path(place.name)
        data = mock.patch.object(log_files, "data_root", return_value=self.home / "data")
        data.start()
        self.addCleanup(data.stop)

    def shot(self, name: str = "dash.jpg", size: tuple[int, int] = (3000, 1000)) -> Path:
        """A picture as a camera held on its side writes it: red at the top once it is upright."""
        image = Image.new("RGB", size, "blue")
        image.paste("red", (0, 0, size[0] // 4, size[1]))
        exif = image.getexif()
        exif[0x0112], exif[0x010F], exif[0x0110] = 6, "Secretmaker", "Secretmodel"
        exif.get_ifd(0x8825)[2] = (52.0, 1.0, 2.0)
        path = self.home / name
        image.save(path, exif=exif, comment=b"Secretcomment")
        return path

    def test_upright_small_and_without_camera_or_place(self) -> None:
        photo = take_photo(self.shot(), "2026-11-27", keep_original=True)
        self.assertEqual((photo.wide, photo.tall), (round(SHOWN_PX / 3), SHOWN_PX))
        for original, size in ((False, (667, 2000)), (True, (1000, 3000))):
            data = picture_of(photo, original)
            self.assertNotIn(b"Secret", data)
            self.assertNotIn(b"Exif", data)
            with Image.open(io.BytesIO(data)) as seen:
                self.assertEqual((seen.format, seen.size), ("JPEG", size))
                self.assertEqual(dict(seen.getexif()), {})
                red, _, blue = seen.getpixel((size[0] // 2, size[1] // 50))  # type: ignore[misc]
                self.assertGreater(red, 200)
                self.assertLess(blue, 60)
        self.assertEqual(take_photo(self.shot(), "").original, "")

    def test_a_png_that_shines_through_lies_on_white(self) -> None:
        path = self.home / "clear.png"
        Image.new("RGBA", (40, 30), (0, 0, 0, 0)).save(path)
        with Image.open(io.BytesIO(picture_of(take_photo(path, "")))) as seen:
            self.assertEqual(seen.getpixel((20, 15)), (255, 255, 255))

    def test_what_is_no_photo_is_refused(self) -> None:
        whole = self.shot().read_bytes()
        lax = mock.patch.object(ImageFile, "LOAD_TRUNCATED_IMAGES", True)
        lax.start()  # as the layout of papers leaves it
        self.addCleanup(lax.stop)
        for name, data, words in (
            ("a.jpg", b"not a picture", "neither a JPEG nor a PNG"),
            ("b.jpg", whole[:3000], "damaged"),
            ("c.gif", b"GIF89a" + bytes(40), "neither a JPEG nor a PNG"),
            ("d.jpg", b"", "d.jpg"),
        ):
            path = self.home / name
            path.write_bytes(data)
            with self.subTest(name), self.assertRaisesRegex(Problem, words):
                take_photo(path, "")
        with (
            mock.patch("zombrel.store.photos.MAX_POINTS", 1000),
            self.assertRaisesRegex(Problem, "claims 3000 × 1000"),
        ):
            take_photo(self.shot(), "")

    def bound(self) -> tuple[Job, Photo]:
        job = load(DEMO / "0412.zjob")  # its own photo too lies where nothing else does
        _, edit = add_photo(job, take_photo(self.shot(), "2026-11-27"))
        job = apply(job, edit)
        return job, job.photos[-1]

    def test_bound_marked_and_taken_off_again(self) -> None:
        job, photo = self.bound()
        self.assertEqual(photo.id, "F2")  # the demo has one
        with self.assertRaisesRegex(Problem, "in the job already"):
            add_photo(job, take_photo(self.shot(), ""))
        for path, _ in places(job):
            at_path = Photo(**{**_fields(photo), "at": path})
            self.assertEqual(apply(job, put_photo(job, at_path)).photos[-1].at, path)
        with self.assertRaisesRegex(Problem, "There is no “wires.W99”"):
            put_photo(job, Photo(**{**_fields(photo), "at": "wires.W99"}))
        mark = PhotoMark(kind="number", x=0.5, y=0.5, words="chafed")
        job = apply(job, add_mark(job, photo, mark))
        job = apply(job, put_mark(job, job.photos[-1], 0, PhotoMark(kind="number", x=0.1, y=0.2)))
        self.assertEqual(job.photos[-1].marks[0].x, 0.1)
        job = apply(job, put_mark(job, job.photos[-1], 0, None))
        self.assertEqual(job.photos[-1].marks, ())
        full = Photo(**{**_fields(photo), "marks": (mark,) * 60})
        with self.assertRaisesRegex(Problem, "60 marks at most"):
            add_mark(job, full, mark)
        self.assertEqual(len(apply(job, remove_photo(job.photos[-1])).photos), 1)
        self.assertIn("no longer there", place_words(job, "zones.gone"))

    def test_the_job_carries_it_and_another_machine_has_it(self) -> None:
        job, photo = self.bound()
        data = to_bytes(job)
        log_files.packed(photo.file).unlink()
        with self.assertRaisesRegex(Problem, "no longer on this machine"):
            picture_of(photo)
        self.assertNotIn(photo.file, pictures(job))
        self.assertEqual(from_bytes(data).photos, job.photos)
        self.assertIn(photo.file, pictures(job))

    def test_the_dossier_shows_it_with_its_marks_or_says_that_it_is_gone(self) -> None:
        job, photo = self.bound()
        mark = PhotoMark(kind="arrow", x=0.9, y=0.5, from_x=0.1, from_y=0.5, words="<chafed>")
        job = apply(job, add_mark(job, photo, mark))
        text = dossier_html(job, at(job), pictures=pictures(job))
        for part in ("data:image/jpeg;base64,", "&lt;chafed&gt;", "<polygon", ">1</text>"):
            self.assertIn(part, text)
        self.assertIn("no longer on this machine", dossier_html(job, at(job)))

    def test_a_file_that_only_claims_to_be_a_picture_is_not_painted(self) -> None:
        sha = log_files.keep_bytes(os.urandom(3000))
        with self.assertRaisesRegex(Problem, "is no picture"):
            picture_of(Photo(id="F1", name="x.jpg", file=sha, wide=9, tall=9))


class Arrow(unittest.TestCase):
    def test_its_head_points_where_it_goes(self) -> None:
        tip, left, right, end = head_of((0.0, 0.0), (10.0, 0.0), 2.0)
        self.assertEqual((tip, left, right), ((10.0, 0.0), (8.0, 1.0), (8.0, -1.0)))
        self.assertAlmostEqual(end[0], 8.4)


def _fields(photo: Photo) -> dict[str, object]:
    return {f: getattr(photo, f) for f in photo.__struct_fields__}


if __name__ == "__main__":
    unittest.main()
