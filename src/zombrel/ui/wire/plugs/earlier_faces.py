"""Connectors of the shop's library and of earlier jobs, read when somebody asks for them."""

from __future__ import annotations

from pathlib import Path

from zombrel.actions.begin import likeness
from zombrel.actions.plugs.library import Offer, kept_offers, offers
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.plug_library import kept_plugs
from zombrel.store.zjob import load
from zombrel.ui.session import Session

JOBS, MOST = 12, 10
"""So many earlier jobs are read, the likest first; so many connectors are offered."""


def earlier(session: Session) -> tuple[Offer, ...]:
    """What the library has for this vehicle, then what earlier jobs have.

    A file of the library that cannot be read is said; of jobs it is passed over.
    """
    job = session.history.present
    kept, wrong = kept_plugs()
    for words in wrong[:1]:
        session.said.emit("trouble", words)
    mine = str(session.path.resolve()) if session.path is not None else ""
    notes = [n for n in session.prefs.notes if n.path != mine]
    notes.sort(key=lambda n: -likeness(job.vehicle.name, n.vehicle))
    found: list[Job] = []
    for note in notes[:JOBS]:
        try:
            found.append(load(Path(note.path)))
        except (OSError, Problem):
            continue
    return (*kept_offers(job, kept)[:MOST], *offers(job, found)[:MOST])
