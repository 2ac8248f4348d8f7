"""Import the core, then the toolkit, so that neither waits for the other.

PySide6 puts an ``import`` of its own in the place of Python's, which reads the source of every
module imported from then on, looking for its feature switches (``from __feature__ import …``).
Nothing here uses those: the interpreter's own ``import`` is put back.
"""

import builtins
import importlib

from zombrel.cli.compiled import beside, once
from zombrel.cli.enums import at_once

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
    """Import what the first frame computes with, and what draws it."""
    own = builtins.__import__
    at_once()
    with once(beside(__file__)):
        for name in CORE:
            importlib.import_module(name)
        importlib.import_module("PySide6.QtWidgets")
    builtins.__import__ = own
