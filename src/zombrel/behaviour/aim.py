"""What a control is aimed at, and how that is told.

References: units of facts are those of the fields of ``job.model.Vehicle``.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.calibrate.settings.setting import Side
from zombrel.job.facts import lacking
from zombrel.job.model import Device, Job, Vehicle, by_id
from zombrel.job.reason import Given, Reason
from zombrel.job.sheet import Control, Frozen


class Aim(Frozen, frozen=True, kw_only=True):
    """A target in SI and the side the setting must keep to."""

    value: float
    why: Callable[[], Reason]
    """Asked for where it is told: most controls stand where they should."""
    side: Side = "near"
    difference: bool = False


def told(name: str, value: str, known: str | None = "") -> Given:
    """One input of a reason; ``known`` None where nobody has said how it is known."""
    return Given(name=name, value=value, known="nobody has said" if known is None else known)


def need(v: Vehicle, field: str) -> float:
    """A fact of the vehicle [SI, as its field is kept]; raises Problem where it is not known."""
    value: float | None = getattr(v, field)
    if value is None:
        raise lacking(field)
    return value


def wish_id(device: Device, control: Control) -> str:
    """Id of the wish for a control."""
    return f"{device.id}/{control.pin}"


def wished(job: Job, device: Device, control: Control) -> float | None:
    """What the owner wants of it [SI]; None when nobody has said."""
    found = by_id(job.wishes, wish_id(device, control))
    return None if found is None else found.value


def wish_reason(job: Job, device: Device, control: Control, text: str) -> Reason:
    """Why it should stand there: the owner wants it, in ``text``."""
    found = by_id(job.wishes, wish_id(device, control))
    return Reason(
        title=f"{device.name}, {control.label}",
        result=text,
        formula="as wished",
        given=(told("wish", found.note if found else "", "hearsay"),),
    )
