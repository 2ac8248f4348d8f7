"""Undo and redo as a stack of trees."""

from __future__ import annotations

from zombrel.job.edits import Step, apply
from zombrel.job.model import Job
from zombrel.job.sheet import Frozen


class History(Frozen, frozen=True, kw_only=True):
    """A present job, what came before it and what was undone."""

    present: Job
    past: tuple[tuple[str, Job], ...] = ()
    """(label of the edit that replaced this tree, the tree)"""
    future: tuple[tuple[str, Job], ...] = ()

    def do(self, step: Step) -> History:
        """Make an edit; anything undone before is forgotten."""
        new = apply(self.present, step.edit)
        return History(present=new, past=(*self.past[-499:], (step.label, self.present)))

    def undo(self) -> History:
        """Go back one tree; at the start nothing changes."""
        if not self.past:
            return self
        label, old = self.past[-1]
        return History(
            present=old, past=self.past[:-1], future=((label, self.present), *self.future)
        )

    def redo(self) -> History:
        """Go forward one tree; at the end nothing changes."""
        if not self.future:
            return self
        label, new = self.future[0]
        return History(
            present=new, past=(*self.past, (label, self.present)), future=self.future[1:]
        )
