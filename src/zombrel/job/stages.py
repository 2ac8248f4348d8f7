"""The stages of a job, their names, and the way to a place in one: the one table of them all."""

from __future__ import annotations

from typing import Literal

Stage = Literal["survey", "source", "wire", "set", "prove", "road", "handover"]
STAGES: tuple[Stage, ...] = ("survey", "source", "wire", "set", "prove", "road", "handover")
STAGE_NAMES: dict[Stage, str] = {
    "survey": "Survey",
    "source": "Source",
    "wire": "Wire",
    "set": "Set",
    "prove": "Prove",
    "road": "Road",
    "handover": "Hand over",
}


def route(stage: Stage, item: str = "") -> str:
    """A place in the window: the stage, and what to show there."""
    return f"{stage}:{item}" if item else stage


def stage_of(where: str) -> Stage:
    """The stage of a route; Set for none, where every number ends."""
    stage = where.partition(":")[0]
    return next((s for s in STAGES if s == stage), "set")


def enter_in(stage: Stage, many: bool = False) -> str:
    """Where something that is missing is entered, inside a sentence."""
    return f"enter {'them' if many else 'it'} in {STAGE_NAMES[stage]}"


def see(stage: Stage) -> str:
    """Where to look, inside a sentence."""
    return f"see {STAGE_NAMES[stage]}"
