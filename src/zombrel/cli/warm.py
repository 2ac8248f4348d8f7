"""Import the core before Qt.

PySide6 reads the source of every module imported after it, looking for its own feature
switches. Modules imported earlier are spared, which takes a tenth off the start.
"""

import importlib

CORE = (
    "zipfile",
    "platformdirs",
    "platformdirs.unix",
    "zombrel.findings.assess",
    "zombrel.findings.explain",
    "zombrel.signals.finder",
    "zombrel.signals.waveform",
    "zombrel.actions.begin",
    "zombrel.behaviour.suppose",
    "zombrel.catalog.cautions",
    "zombrel.job.history",
    "zombrel.store.open_job",
    "zombrel.store.zjob",
    "zombrel.store.prefs",
)


def warm() -> None:
    """Import what the first frame computes with."""
    for name in CORE:
        importlib.import_module(name)
