"""The job file ``.zjob``: a ZIP of ``job.json`` and the road logs as CSV.

``job.json`` holds everything but the columns of the road runs, which lie in
``logs/<run>.csv``, and the logs that belong to it, packed in ``files/<sha256>.z``. A save
writes beside the file, flushes to disk and renames, so that either the old or the new file is
whole at any moment.
"""

from __future__ import annotations

import io
import math
import zipfile
from contextlib import suppress
from pathlib import Path

import msgspec

from zombrel.catalog.check import job_troubles
from zombrel.intake.file import MB, take
from zombrel.intake.record import record
from zombrel.job.model import SCHEMA, Job, RoadRun
from zombrel.job.problem import Problem
from zombrel.job.records.logs import files_of
from zombrel.job.records.photo import photo_files
from zombrel.job.validate import validate
from zombrel.store import log_files
from zombrel.store.archive import opened, unpacked
from zombrel.store.atomic import write_atomically

MAX_FILE = 500_000_000
MAX_JSON = 32_000_000
MAX_LOGS = 256_000_000
"""Of all logs together, unpacked [bytes]."""
MAX_MEMBERS = 2000
_EPOCH = (1980, 1, 1, 0, 0, 0)


def to_bytes(job: Job) -> bytes:
    """The whole file; the same job gives the same bytes.

    Raises:
        Problem: it would be larger than what is read again.
    """
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        bare = tuple(msgspec.structs.replace(r, t=(), true=(), shown=()) for r in job.road)
        text = msgspec.json.encode(msgspec.structs.replace(job, road=bare))
        if len(text) > MAX_JSON:
            raise Problem(
                f"The job takes {len(text) // MB} MB, and {MAX_JSON // MB} MB is what a file of it "
                "may: take out what is no longer needed, or go on in a second job."
            )
        archive.writestr(zipfile.ZipInfo("job.json", _EPOCH), text, zipfile.ZIP_DEFLATED)
        room = MAX_LOGS
        for run in job.road:
            columns = _run_csv(run)
            room -= len(columns)
            if room < 0:
                raise Problem(
                    f"The logs of the job take more than {MAX_LOGS // MB} MB: take some road runs "
                    "out."
                )
            info = zipfile.ZipInfo(f"logs/{run.id}.csv", _EPOCH)
            archive.writestr(info, columns, zipfile.ZIP_DEFLATED)
        for sha, name in belonging(job).items():
            # packed already: a save copies it and packs nothing again
            data = log_files.bytes_of(sha, name)
            archive.writestr(zipfile.ZipInfo(f"files/{sha}.z", _EPOCH), data, zipfile.ZIP_STORED)
    return buffer.getvalue()


def belonging(job: Job) -> dict[str, str]:
    """Every file beside a job that belongs to it: SHA-256 -> what it is."""
    handed = {sha: f"the hand-over of {x.when}" for x in job.seals for sha in (x.content, *x.files)}
    return handed | files_of(job.logs) | photo_files(job.photos)


def _run_csv(run: RoadRun) -> str:
    rows = zip(run.t, run.true, run.shown, strict=True)
    return "time s,satellite m/s,indicated m/s\n" + "".join(
        f"{t!r},{v!r},{s!r}\n" for t, v, s in rows
    )


def from_bytes(data: bytes, name: str = "The file", checked: bool = True) -> Job:
    """Read a job file; its parts are held against one another if ``checked``.

    Raises:
        Problem: damaged, hostile, not a job, or made by a newer Zombrel.
    """
    with opened(data, name, "a Zombrel job") as archive:
        _decent(archive, name)
        text = unpacked(archive, "job.json", MAX_JSON, name)
        job = _with_logs(job_of(text, name), archive, name)
        for sha in belonging(job):
            member = f"files/{sha}.z"
            if not log_files.packed(sha).exists():
                log_files.restore(sha, unpacked(archive, member, MAX_FILE, name), name)
        if checked:
            validate(job)
            for trouble in job_troubles(job):
                raise Problem(f"{name}: {trouble}")
        return job


def _decent(archive: zipfile.ZipFile, name: str) -> None:
    members = archive.infolist()
    if len(members) > MAX_MEMBERS:
        raise Problem(f"{name} holds {len(members)} parts; a job has at most {MAX_MEMBERS}.")
    for member in members:
        parts = member.filename.replace("\\", "/").split("/")
        if member.filename.startswith(("/", "\\")) or ".." in parts or ":" in parts[0]:
            raise Problem(f"{name} holds a part that points outside itself; it was not opened.")
    if "job.json" not in archive.namelist():
        raise Problem(f"{name} is a ZIP file but not a Zombrel job: it has no job.json.")


class _Version(msgspec.Struct, frozen=True):
    schema: int = 0


def job_of(text: bytes, name: str) -> Job:
    """The job in the JSON of one, of this format or an earlier; ``name`` is what it is called.

    Raises:
        Problem: it is none, or made by a newer Zombrel.
    """
    try:
        version = record(text, _Version).schema
    except Problem as problem:
        raise Problem(f"{name} is not a Zombrel job: {problem}") from problem
    if version > SCHEMA:
        raise Problem(
            f"{name} was made by a newer Zombrel (format {version}, this one reads {SCHEMA}). "
            "Update Zombrel; the file was left as it is."
        )
    try:
        return record(_migrated(text, version), Job)
    except Problem as problem:
        raise Problem(f"{name} is not a proper job: {problem}") from problem


def _migrated(text: bytes, version: int) -> bytes:
    """A job written by an older Zombrel in today's format.

    1 to 2: the house's joint was a sentence and became a choice; the sentence is dropped.
    2 to 3: a proof rested on a digest, now on what its step read; those proofs are to be
    repeated. Where a setting stood in a road run was one text with its divider.
    3 to 4: house rules got figures of the shop's own; nothing to change.
    """
    if version >= SCHEMA:
        return text
    tree = msgspec.json.decode(text)
    if not isinstance(tree, dict):
        return text
    tree["schema"] = SCHEMA
    if version < ENGINE_FORMAT:
        if isinstance(tree.get("house"), dict):
            tree["house"].pop("joint", None)
        for proof in tree.get("proofs") or ():
            if isinstance(proof, dict):
                proof["basis"] = []
        for run in tree.get("road") or ():
            if isinstance(run, dict) and isinstance(run.get("set_to"), str):
                set_to, _, behind = run["set_to"].partition("÷")
                run["set_to"] = set_to.strip()
                run["behind"] = int(behind) if behind.strip().isdigit() else 1
    return msgspec.json.encode(tree)


ENGINE_FORMAT = 3
"""The first format whose proofs name what their steps read."""


def _with_logs(job: Job, archive: zipfile.ZipFile, name: str) -> Job:
    runs, room = [], MAX_LOGS
    for run in job.road:
        text = unpacked(archive, f"logs/{run.id}.csv", room, name).decode("utf-8", "replace")
        room -= len(text)
        t, true, shown = _columns(text.splitlines()[1:], f"{name}: the log of “{run.name}”")
        runs.append(msgspec.structs.replace(run, t=t, true=true, shown=shown))
    return msgspec.structs.replace(job, road=tuple(runs))


def _columns(lines: list[str], name: str) -> tuple[tuple[float, ...], ...]:
    """Three columns of figures, each finite."""
    columns: tuple[list[float], ...] = ([], [], [])
    for i, line in enumerate(lines, 2):
        try:
            figures = [float(cell) for cell in line.split(",")]
        except ValueError:
            figures = []
        if len(figures) != len(columns) or not all(map(math.isfinite, figures)):
            raise Problem(f"{name} is damaged on line {i}.")
        for column, figure in zip(columns, figures, strict=True):
            column.append(figure)
    return tuple(map(tuple, columns))


def load(path: Path) -> Job:
    """Read the job at ``path``; see ``from_bytes``."""
    return from_bytes(read(path), path.name)


def peek(path: Path) -> Job:
    """A job to be looked at only: files that belong to it are left in it, nothing is cross-checked.

    Raises:
        Problem: damaged, hostile, not a job, or made by a newer Zombrel.
    """
    data = read(path)
    with opened(data, path.name, "a Zombrel job") as archive:
        _decent(archive, path.name)
        text = unpacked(archive, "job.json", MAX_JSON, path.name)
        return _with_logs(job_of(text, path.name), archive, path.name)


def read(path: Path) -> bytes:
    """What the file at ``path`` holds; raises Problem when that is no job or cannot be read."""
    return take(path, MAX_FILE, "job")


def save(job: Job, path: Path) -> None:
    """Write ``job`` so that a crash at any moment leaves the old file or the new one.

    Raises:
        Problem: the folder cannot be written, or a log or photo is neither on this machine nor in
            the old file any more; that is as it was.
    """
    _bring_back(job, path)
    write_atomically(path, to_bytes(job))


def _bring_back(job: Job, path: Path) -> None:
    """Logs and photos that were wiped from this machine since, from the file as it was saved."""
    gone = {sha: n for sha, n in belonging(job).items() if not log_files.packed(sha).exists()}
    if not gone or not path.exists():
        return
    with suppress(Problem), opened(read(path), path.name, "a Zombrel job") as archive:
        for sha, name in gone.items():
            with suppress(Problem):
                member = unpacked(archive, f"files/{sha}.z", MAX_FILE, path.name)
                log_files.restore(sha, member, name)
