"""Source kinds: each registered once with its law, what may be done to it, and its formula.

A module of this package holds one family; every module is loaded, so that a new kind is a new
record in ``job.source`` (its schema) and one file here.
"""

from __future__ import annotations

import importlib
import pkgutil

from zombrel.signals.kinds.base import KINDS, Emission, Kind, kind_of, words_of

for _found in pkgutil.iter_modules(__path__):
    importlib.import_module(f"{__name__}.{_found.name}")

__all__ = ["KINDS", "Emission", "Kind", "kind_of", "words_of"]
