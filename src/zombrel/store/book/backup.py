"""Backup and restore: everything of the shop in one file, tried before it is called done."""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path

import msgspec

from zombrel.intake.file import take
from zombrel.intake.record import record
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.store.archive import opened, unpacked
from zombrel.store.atomic import write_atomically
from zombrel.store.book.book import Book
from zombrel.store.prefs import data_root
from zombrel.store.zjob import from_bytes

KEPT = ("sheets/*.json", "sources/*.json", "plugs/*.json", "times.json", "week.json", "stock.json")
"""What the shop made itself, beside its jobs."""
MAX_BACKUP = 4_000_000_000
MAX_FILE = 500_000_000
MAX_FILES = 200_000
_EPOCH = (1980, 1, 1, 0, 0, 0)
Tell = Callable[[float], bool]


class Item(msgspec.Struct, frozen=True):
    """One file of a backup."""

    name: str
    """Within the backup."""
    path: str
    """Where it lay: below the shop's data for what it made, in full for a job."""
    sha: str
    job: bool


class Manifest(msgspec.Struct, frozen=True):
    """What a backup holds."""

    edition: int
    items: tuple[Item, ...]
    folders: tuple[str, ...]


class Restored(Value, frozen=True):
    """What restoring came to, by path."""

    put_back: tuple[str, ...]
    same: tuple[str, ...]
    beside: tuple[str, ...]
    """There was another file there: this one lies beside it."""


def backup(book: Book, target: Path, tell: Tell = lambda share: True) -> int:
    """All jobs of the book and all that the shop made into ``target``; how many files.

    What was written is read again and every job in it opened before it is called done.

    Raises:
        Problem: a file cannot be read, ``target`` cannot be written, or it was given up.
    """
    data = io.BytesIO()
    items: list[Item] = []
    sources = list(_shop_files()) + [
        (Path(path), True) for about, path in book.jobs(synthetic=False) if not about.synthetic
    ]
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as archive:
        for i, (path, job) in enumerate(sources):
            if not tell(0.5 * i / max(len(sources), 1)):
                raise Problem("The backup was given up; nothing was written.")
            content = take(path, MAX_FILE, "job" if job else "file")
            relative = str(path) if job else str(path.relative_to(data_root()))
            name = f"jobs/{i:05d}-{path.name}" if job else f"shop/{relative}"
            items.append(Item(name, relative, hashlib.sha256(content).hexdigest(), job))
            way = zipfile.ZIP_STORED if job else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(name, _EPOCH), content, way)
        manifest = Manifest(1, tuple(items), tuple(str(f) for f in book.folders()))
        text = msgspec.json.encode(manifest)
        archive.writestr(zipfile.ZipInfo("backup.json", _EPOCH), text, zipfile.ZIP_DEFLATED)
    write_atomically(target, data.getvalue())
    for i, _ in enumerate(_contents(target)):
        tell(0.5 + 0.5 * i / max(len(items), 1))
    return len(items)


def _shop_files() -> Iterator[tuple[Path, bool]]:
    for pattern in KEPT:
        for path in sorted(data_root().glob(pattern)):
            yield path, False


def _contents(path: Path) -> Iterator[tuple[Item, bytes]]:
    """Every file of a backup, checked; a job must open.

    Raises:
        Problem: damaged, hostile, or no backup.
    """
    data = take(path, MAX_BACKUP, "backup")
    with opened(data, path.name, "a backup") as archive:
        manifest = record(
            unpacked(archive, "backup.json", MAX_FILE, path.name), Manifest, path.name
        )
        if len(manifest.items) > MAX_FILES:
            raise Problem(f"{path.name} names {len(manifest.items)} files: it is no backup.")
        for item in manifest.items:
            content = unpacked(archive, item.name, MAX_FILE, path.name)
            if hashlib.sha256(content).hexdigest() != item.sha:
                raise Problem(f"{path.name}: {item.path} in it is damaged.")
            _decent(item, path.name)
            if item.job:
                from_bytes(content, Path(item.path).name, checked=False)
            yield item, content


def _decent(item: Item, whole: str) -> None:
    """A backup puts jobs where jobs are, and the shop's files where those are; nothing else."""
    path = Path(item.path)
    if item.job:
        good = path.is_absolute() and path.suffix == ".zjob" and ".." not in path.parts
    else:
        like = any(path.match(p) and len(path.parts) == len(Path(p).parts) for p in KEPT)
        good = not path.is_absolute() and like and ".." not in path.parts
    if not good:
        raise Problem(f"{whole} wants to write {item.path}: that is no file of the shop's.")


def look(path: Path) -> tuple[int, int]:
    """How many jobs and how many other files a backup holds, all of them checked."""
    found = [item.job for item, _ in _contents(path)]
    return sum(found), len(found) - sum(found)


def restore(book: Book, source: Path, tell: Tell = lambda share: True) -> Restored:
    """Put back what is missing; what differs is put beside what is there, never over it.

    All of the backup is checked before anything is written.

    Raises:
        Problem: it is damaged, or a folder cannot be written.
    """
    held = list(_contents(source))
    put_back, same, beside = [], [], []
    for i, (item, content) in enumerate(held):
        if not tell(i / max(len(held), 1)):
            break
        path = Path(item.path) if item.job else data_root() / item.path
        if path.exists():
            if hashlib.sha256(path.read_bytes()).hexdigest() == item.sha:
                same.append(str(path))
                continue
            path = _free(path, item.sha)
            if path.exists():
                same.append(str(path))
                continue
            beside.append(str(path))
        else:
            put_back.append(str(path))
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise Problem(f"{path.parent} cannot be made: {error.strerror}.") from error
        write_atomically(path, content)
        if item.job:
            book.put(path, from_bytes(content, path.name, checked=False))
    return Restored(tuple(put_back), tuple(same), tuple(beside))


def _free(path: Path, sha: str) -> Path:
    """Beside ``path``, told from others by what is in it."""
    return path.with_name(f"{path.stem} (backup {sha[:6]}){path.suffix}")
