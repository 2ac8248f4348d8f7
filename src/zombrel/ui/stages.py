"""The pages of the window: where each is made, and what the window needs of it."""

from __future__ import annotations

from typing import Protocol

CLASSES = {
    "start": "StartStage",
    "survey": "SurveyStage",
    "source": "SourceStage",
    "wire": "WireStage",
    "set": "SetStage",
    "prove": "ProveStage",
    "road": "RoadStage",
    "handover": "HandoverStage",
    "shelf": "ShelfStage",
    "book": "BookStage",
}


BARE = ("start", "handover", "shelf", "book")
"""Pages to which no supposed state says anything."""


class Stage(Protocol):
    """What the window needs of a stage."""

    title: str

    @property
    def subtitle(self) -> str:
        """One line under the title."""
        ...

    def refresh(self) -> None:
        """Show the session as it is."""
        ...

    def show_item(self, item: str) -> None:
        """Bring one item forward."""
        ...

    def focus_first(self) -> None:
        """Take the keyboard."""
        ...
