"""Between shops: device sheets, connectors and jobs in one file, looked at before it is taken.

What comes from another shop is nobody's on this car: jobs keep what they say of their own, without
the owner's name; connectors come as the paper's, to be counted.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Literal

import msgspec

from zombrel.catalog.parse import parse_sheet
from zombrel.intake.file import take
from zombrel.intake.name import file_name
from zombrel.intake.record import record
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.records.kept_plug import KeptPlug
from zombrel.job.sheet import DeviceSheet
from zombrel.job.validate import validate
from zombrel.job.value import Value
from zombrel.store.archive import opened, unpacked
from zombrel.store.plug_library import folder as plugs_folder
from zombrel.store.plug_library import keep_plug
from zombrel.store.prefs import data_root, user_sheets
from zombrel.store.saved_at import note_saved
from zombrel.store.shelf_files import file_of, keep, text_of
from zombrel.store.zjob import from_bytes, save, to_bytes

MAX_SHARE = 800_000_000
MAX_PART = 500_000_000
MAX_PARTS = 5000
_EPOCH = (1980, 1, 1, 0, 0, 0)
Kind = Literal["sheet", "plug", "job"]
SUFFIX = {"sheet": ".json", "plug": ".json", "job": ".zjob"}


class Item(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One part of a share."""

    kind: Kind
    name: str
    """Within the file."""
    sha: str


class Manifest(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a share holds, and whose it is."""

    edition: int
    shop: str
    items: tuple[Item, ...]


class Offered(Value, frozen=True):
    """One thing that another shop gives, as it was read and checked."""

    kind: Kind
    words: str
    thing: DeviceSheet | KeptPlug | Job
    state: Literal["new", "same", "differs"]
    """To what this shop has under that name."""


def give(
    shop: str,
    sheets: Iterable[DeviceSheet] = (),
    plugs: Iterable[KeptPlug] = (),
    jobs: Iterable[Job] = (),
) -> bytes:
    """A share; jobs go without their owner's name, without seals and without who was there."""
    parts: list[tuple[Kind, str, bytes]] = []
    parts += [("sheet", s.id, text_of(s, whole=True).encode()) for s in sheets]
    parts += [("plug", p.id, text_of(p, whole=True).encode()) for p in plugs]
    parts += [("job", j.number or "job", to_bytes(_bare(j))) for j in jobs]
    if not parts:
        raise Problem("Nothing is chosen to be given.")
    out, items = io.BytesIO(), []
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for i, (kind, name, data) in enumerate(parts):
            path = f"{kind}s/{i:04d}-{file_name(name, SUFFIX[kind])}"
            items.append(Item(kind, path, hashlib.sha256(data).hexdigest()))
            archive.writestr(zipfile.ZipInfo(path, _EPOCH), data, zipfile.ZIP_DEFLATED)
        text = msgspec.json.encode(Manifest(1, shop, tuple(items)))
        archive.writestr(zipfile.ZipInfo("share.json", _EPOCH), text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _bare(job: Job) -> Job:
    """Without what is nobody's business: the owner, who signed, photos of somebody's car."""
    owner = job.vehicle.owner
    title = job.title
    if owner:
        title = title.replace(owner, "").strip(" ,")
    return msgspec.structs.replace(
        job,
        title=title,
        vehicle=msgspec.structs.replace(job.vehicle, owner=""),
        seals=(),
        photos=(),
        logs=(),
        compared=(),
        notes="",
        ledger=tuple(msgspec.structs.replace(line, by="") for line in job.ledger),
        proofs=tuple(msgspec.structs.replace(p, by="") for p in job.proofs),
    )


def look(path: Path) -> tuple[str, tuple[Offered, ...]]:
    """Whose it is, and all that it holds; nothing is written.

    Raises:
        Problem: damaged, hostile, or something in it is no sheet, connector or job.
    """
    data = take(path, MAX_SHARE, "share")
    with opened(data, path.name, "a share") as archive:
        manifest = record(unpacked(archive, "share.json", MAX_PART, path.name), Manifest, path.name)
        if len(manifest.items) > MAX_PARTS:
            raise Problem(f"{path.name} names {len(manifest.items)} parts: too many to look at.")
        return manifest.shop[:80], tuple(_offered(archive, manifest.items, path.name))


def _offered(archive: zipfile.ZipFile, items: Iterable[Item], whole: str) -> Iterator[Offered]:
    for item in items:
        data = unpacked(archive, item.name, MAX_PART, whole)
        if hashlib.sha256(data).hexdigest() != item.sha:
            raise Problem(f"{whole}: {item.name} in it is damaged.")
        try:
            yield _READ[item.kind](data)
        except Problem as problem:
            raise Problem(f"{whole}: {item.name}: {problem}") from problem


def _sheet(data: bytes) -> Offered:
    sheet = parse_sheet(data)
    words = f"device sheet {sheet.name}, {sheet.maker} {sheet.model}: {len(sheet.inputs)} inputs"
    return Offered("sheet", words, sheet, _against(file_of(user_sheets(), sheet.id), sheet))


def _plug(data: bytes) -> Offered:
    plug = record(data, KeptPlug)
    given = msgspec.structs.replace(plug, known="", note=f"from another shop. {plug.note}"[:600])
    return Offered(
        "plug", f"pin-out {plug.words}", given, _against(file_of(plugs_folder(), plug.id), given)
    )


def _job(data: bytes) -> Offered:
    job = validate(from_bytes(data, "the job"))
    words = f"job {job.number} {job.title}, {job.vehicle.name}, {len(job.devices)} devices"
    path = job_path(job)
    state: Literal["new", "same"] = "same" if path.exists() else "new"
    return Offered("job", words, job, state)


_READ = {"sheet": _sheet, "plug": _plug, "job": _job}


def _against(path: Path, thing: msgspec.Struct) -> Literal["new", "same", "differs"]:
    """How it stands to what this shop keeps under that name."""
    if not path.exists():
        return "new"
    try:
        same = path.read_text(encoding="utf-8").strip() == text_of(thing).strip()
    except (OSError, UnicodeDecodeError):
        return "differs"
    return "same" if same else "differs"


def job_path(job: Job) -> Path:
    """Where a job of another shop is put: named by what is in it, so that none is written over."""
    sha = hashlib.sha256(to_bytes(job)).hexdigest()[:8]
    name = file_name(f"{job.number} {job.title} {sha}".strip(), ".zjob")
    return data_root() / "from-others" / name


def accept(offered: Iterable[Offered]) -> tuple[str, ...]:
    """Put what was chosen where this shop keeps such things; the paths.

    Raises:
        Problem: a folder cannot be written.
    """
    written = []
    for o in offered:
        if isinstance(o.thing, DeviceSheet):
            written.append(str(keep(user_sheets(), o.thing)))
        elif isinstance(o.thing, KeptPlug):
            written.append(str(keep_plug(o.thing)))
        else:
            path = job_path(o.thing)
            try:
                path.parent.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise Problem(f"{path.parent} cannot be made: {error.strerror}.") from error
            save(o.thing, path)
            note_saved(path)
            written.append(str(path))
    return tuple(written)
