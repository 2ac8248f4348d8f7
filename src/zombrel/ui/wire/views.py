"""The views of Wire: a new one is its module and a line here."""

from __future__ import annotations

from zombrel.job.value import Value


class WireView(Value, frozen=True):
    """One view of the wiring."""

    tab: str
    words: str
    """As it is called in Find, after “Wire:”."""
    module: str
    page: str
    """Its class."""
    wide: bool = True
    """It wants the whole width: Settle next steps aside."""


VIEWS: dict[str, WireView] = {
    "list": WireView("Wires", "the wires", "conductors", "WireList", wide=False),
    "plan": WireView("Where it runs", "where it runs", "plan", "PlanPage"),
    "power": WireView("Power", "power and ground", "power", "PowerPage"),
    "faces": WireView("Connectors", "connectors", "plugs.faces", "FacesPage"),
    "probe": WireView("Continuity", "continuity", "plugs.probe", "ProbePage"),
    "work": WireView("Order of work", "order of work", "work", "WorkPage"),
    "remap": WireView("Remap", "a remap lead", "plugs.remap", "RemapPage"),
    "fit": WireView("Fitting", "fitting, hoses and the kit", "fitting.page", "FittingPage"),
}
"""By key, in the order of their tabs and of Alt+1, Alt+2 …"""
