"""Pictures of photos: read, turned upright, made smaller, freed of where they were taken.

A photo's file says where it was taken and with which camera (Exif 2.32, tags GPS and Make); a
customer's home is nobody's business. So no byte of the file is kept but its points, written anew.
"""

from __future__ import annotations

import contextlib
import io
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from zombrel.intake.file import MB, take
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.records.photo import Photo
from zombrel.store import log_files

MAX_BYTES = 60_000_000
MAX_POINTS = 120_000_000
"""No camera has more; a file that claims so is no photo [px]."""
SHOWN_PX = 2000
"""The longer side of a picture as it is shown and printed: 250 dots an inch across the paper."""
QUALITY, BEST = 85, 95
FORMATS = ("JPEG", "PNG")


def take_photo(path: Path, when: str, keep_original: bool = False) -> Photo:
    """Keep the picture at ``path``: what the job will say of it, without an id yet.

    Raises:
        Problem: it is neither JPEG nor PNG, damaged, or too large.
    """
    data = take(path, MAX_BYTES, "photo")
    picture = _upright(data, path.name)
    small = picture.copy()
    small.thumbnail((SHOWN_PX, SHOWN_PX))
    original = ""
    if keep_original and small.size != picture.size:
        original = log_files.keep_bytes(_jpeg(picture, BEST))
    return Photo(
        id="new",
        name=path.name[:200],
        file=log_files.keep_bytes(_jpeg(small, QUALITY)),
        wide=small.width,
        tall=small.height,
        original=original,
        when=when,
    )


def _upright(data: bytes, name: str) -> Any:
    """The points of a picture, the way up that the camera noted."""
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            wide, tall = opened.size
            if wide * tall > MAX_POINTS:
                raise Problem(
                    f"{name} claims {wide} × {tall} points; {MAX_POINTS // MB} million are taken."
                )
            with _whole_only():
                opened.load()
            return _on_white(ImageOps.exif_transpose(opened))
    except UnidentifiedImageError:
        raise Problem(
            f"{name} is neither a JPEG nor a PNG picture: save it as one of these."
        ) from None
    except (OSError, SyntaxError, ValueError, zlib.error, Image.DecompressionBombError) as error:
        raise Problem(f"{name} is damaged: {error}. Take it from the camera once more.") from error


@contextlib.contextmanager
def _whole_only() -> Iterator[None]:
    """A picture that ends early is damaged, whatever another library has had let pass."""
    from PIL import ImageFile

    was, ImageFile.LOAD_TRUNCATED_IMAGES = ImageFile.LOAD_TRUNCATED_IMAGES, False
    try:
        yield
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = was


def _on_white(picture: Any) -> Any:
    """Without what shines through."""
    from PIL import Image

    if picture.mode not in ("RGBA", "LA", "PA") and "transparency" not in picture.info:
        return picture.convert("RGB")
    ground = Image.new("RGBA", picture.size, "white")
    ground.alpha_composite(picture.convert("RGBA"))
    return ground.convert("RGB")


def _jpeg(picture: Any, quality: int) -> bytes:
    """The points alone: no note of the camera, of the place, of the colours' profile."""
    from PIL import Image

    bare = Image.frombytes("RGB", picture.size, picture.tobytes())
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=quality, optimize=True)
    return out.getvalue()


def picture_of(photo: Photo, original: bool = False) -> bytes:
    """The picture as it is shown, or in its full size where that was kept: a JPEG.

    Raises:
        Problem: it is no longer here.
    """
    sha = photo.original if original and photo.original else photo.file
    unpack = zlib.decompressobj()
    try:
        data = unpack.decompress(log_files.bytes_of(sha, photo.name), MAX_BYTES)
        _checked(data, photo.name)
    except zlib.error as error:
        raise Problem(f"The photo {photo.name} is damaged: take it in once more.") from error
    return data


def _checked(data: bytes, name: str) -> None:
    """A job file may name anything a photo; only what is a picture of decent size is painted."""
    from PIL import Image

    try:
        with Image.open(io.BytesIO(data), formats=("JPEG",)) as opened:
            if opened.size[0] * opened.size[1] > MAX_POINTS:
                raise Problem(f"The photo {name} is larger than any camera makes.")
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise Problem(f"The photo {name} is no picture: take it in once more.") from error


def pictures(job: Job) -> dict[str, bytes]:
    """All pictures of a job by the hash of their files; one that is gone is left out."""
    found = {}
    for photo in job.photos:
        try:
            found[photo.file] = picture_of(photo)
        except Problem:
            continue  # the paper says in its place that it is not here
    return found
