"""Undo and redo as a stack of trees."""

from __future__ import annotations

from collections.abc import Sequence

from zombrel.job.edits import Step, apply
from zombrel.job.model import Job
from zombrel.job.sheet import Frozen

DEEPEST = 500
"""Steps that can be taken back."""


class History(Frozen, frozen=True, kw_only=True):
    """A present job, what came before it and what was undone."""

    present: Job
    past: tuple[tuple[Step, Job], ...] = ()
    """(the step that replaced this tree, the tree)"""
    future: tuple[tuple[Step, Job], ...] = ()
    """(the step that was undone, the tree it had made); the next to be made again first."""

    def do(self, step: Step) -> History:
        """Make an edit; anything undone before is forgotten."""
        new = apply(self.present, step.edit)
        return History(present=new, past=(*self.past[1 - DEEPEST :], (step, self.present)))

    def undo(self) -> History:
        """Go back one tree; at the start nothing changes."""
        if not self.past:
            return self
        step, old = self.past[-1]
        return History(
            present=old, past=self.past[:-1], future=((step, self.present), *self.future)
        )

    def redo(self) -> History:
        """Go forward one tree; at the end nothing changes."""
        if not self.future:
            return self
        step, new = self.future[0]
        return History(present=new, past=(*self.past, (step, self.present)), future=self.future[1:])

    @property
    def oldest(self) -> Job:
        """The tree that undoing everything leads to."""
        return self.past[0][1] if self.past else self.present

    def steps(self) -> Sequence[tuple[Step, Job]]:
        """Every step from ``oldest`` on, also the undone ones, with the tree it makes."""
        after = [*(tree for _, tree in self.past[1:]), self.present]
        done = [(step, tree) for (step, _), tree in zip(self.past, after, strict=False)]
        return [*done, *self.future]
