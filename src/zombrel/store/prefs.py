"""What the user likes, and which jobs were open last."""

from __future__ import annotations

from pathlib import Path

import msgspec
from platformdirs import PlatformDirs

from zombrel.intake.file import take
from zombrel.intake.record import record
from zombrel.job.problem import Problem
from zombrel.store.atomic import set_aside, write_atomically
from zombrel.units import Units

MAX_BYTES = 1_000_000


class JobNote(msgspec.Struct, frozen=True):
    """What is remembered of a job file, so that it need not be read to be offered."""

    path: str
    name: str = ""
    vehicle: str = ""
    devices: str = ""
    open: str = ""
    """What is still to be done there."""
    mark: str = "open"
    when: str = ""
    """When it was last open here."""


class Prefs(msgspec.Struct, frozen=True):
    """Preferences of one user."""

    night: bool = False
    units: Units = Units()
    recent: tuple[str, ...] = ()
    size: tuple[int, int] | None = None
    """Of the window when it was closed last [px of the screen]."""
    scale: float | None = None
    """How large everything is drawn; None: as the desktop's text."""
    notes: tuple[JobNote, ...] = ()
    """Of the recent jobs, the last one first."""
    whole_photos: bool = False
    """Whether photos are kept in full size too."""
    book_server: str = ""
    """Address of the server that the job book lies on; empty: this machine."""
    who: str = ""
    """Who works here, as shared jobs tell the others."""
    place: str = ""
    """Which bay this is."""
    log_units: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()
    """Units that were said of columns, by what files of a kind have in common."""


_DIRS = PlatformDirs("zombrel", appauthor=False)


def config_file() -> Path:
    """Where preferences are kept."""
    return _DIRS.user_config_path / "prefs.json"


def recovery_root() -> Path:
    """Where recovery journals are kept."""
    return _DIRS.user_state_path / "recovery"


def reports_root() -> Path:
    """Where reports of what went wrong unforeseen are kept."""
    return _DIRS.user_state_path / "reports"


def claims_root() -> Path:
    """Where it is noted which job files are open."""
    return _DIRS.user_state_path / "claims"


def versions_root() -> Path:
    """Where the last saved versions of every job are kept."""
    return _DIRS.user_data_path / "versions"


def data_root() -> Path:
    """Where the user's own data lie."""
    return _DIRS.user_data_path


def user_sheets() -> Path:
    """Where the user's own device sheets are looked for."""
    return _DIRS.user_data_path / "sheets"


def user_sources() -> Path:
    """Where the user's own kinds of source are kept."""
    return _DIRS.user_data_path / "sources"


def load_prefs() -> Prefs:
    """Preferences; the defaults when there are none or they are damaged."""
    return read_prefs()[0]


def read_prefs() -> tuple[Prefs, str]:
    """Preferences, and what is the matter with their file; a damaged one is set aside."""
    file = config_file()
    if not file.exists():
        return Prefs(), ""
    try:
        return record(take(file, MAX_BYTES, "file of preferences"), Prefs, file.name), ""
    except Problem as problem:
        return Prefs(), f"Your preferences start anew: {problem} {set_aside(file)}"


def save_prefs(prefs: Prefs) -> None:
    """Write preferences; a disk that cannot be written costs nothing but them."""
    try:
        config_file().parent.mkdir(parents=True, exist_ok=True)
        write_atomically(config_file(), msgspec.json.encode(prefs))
    except (OSError, Problem):
        return


def with_note(prefs: Prefs, note: JobNote) -> Prefs:
    """``prefs`` with what is now known of a job first."""
    rest = tuple(n for n in prefs.notes if n.path != note.path)
    return msgspec.structs.replace(prefs, notes=(note, *rest)[:8])


def with_recent(prefs: Prefs, path: Path) -> Prefs:
    """``prefs`` with ``path`` first among the recent jobs, eight at most."""
    text = str(path.resolve())
    rest = tuple(p for p in prefs.recent if p != text)
    return msgspec.structs.replace(prefs, recent=(text, *rest)[:8])
