"""Records of the wiring: conductors, supply points, connectors, the plan they lie on, the work."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Count, FeedClass, Frozen, Name, NonNegative, Positive, Text

Volts = Annotated[float, Meta(ge=-1, le=60)]
Coordinate = Annotated[float, Meta(ge=-20, le=20)]
Cell = Annotated[int, Meta(ge=1, le=400)]


class End(Frozen, frozen=True, kw_only=True):
    """One end of a conductor: a device, source, connector, feed or stud, and its pin."""

    place: Name
    pin: Text = ""


class Neighbour(Frozen, frozen=True, kw_only=True):
    """Something noisy or hot that a conductor passes."""

    what: Literal["coil", "ignition lead", "alternator", "exhaust", "moving part"]
    name: Name
    spacing_m: Positive
    along_m: Positive
    zone: Text = ""
    """Zone of the plan it is met in; empty: wherever the wire runs."""


class Wire(Frozen, frozen=True, kw_only=True):
    """One conductor."""

    id: Name
    a: End
    b: End
    colour: Name
    carries: Literal["signal", "power", "ground"]
    area_mm2: Positive
    length_m: Positive
    twisted: bool = False
    shielded: bool = False
    fuse_a: Positive | None = None
    fuse_at_m: NonNegative = 0.0
    """How far along the conductor its fuse sits from the feed [m]."""
    good_to_k: Positive | None = None
    """What its insulation stands [K], where that is not the shop's usual."""
    bundle: Annotated[int, Meta(ge=1, le=60)] = 1
    over_ambient_k: NonNegative = 0.0
    """How much hotter than outside air the place gets [K]."""
    neighbours: Annotated[tuple[Neighbour, ...], Meta(max_length=64)] = ()
    via: Annotated[tuple[Name, ...], Meta(max_length=40)] = ()
    """Zones it runs through, in order; length, heat, bundle and neighbours then follow the plan."""
    fixed: bool = False
    """The length was measured or cut: it holds against the plan."""


class KeyVolts(Frozen, frozen=True, kw_only=True):
    """Volts at one point in each key position."""

    off: Volts
    acc: Volts
    run: Volts
    crank: Volts
    lights: Volts | None = None
    """Key in run, lights on."""
    after: Volts | None = None
    """Ten minutes after key off."""


class Feed(Frozen, frozen=True, kw_only=True):
    """A supply point in the vehicle: fuse slot, battery post."""

    id: Name
    name: Name
    feed: FeedClass
    fuse_a: Positive | None = None
    """Fuse fitted now [A]."""
    marked_a: Positive | None = None
    """Fuse the slot is marked for [A]."""
    wire_mm2: Positive | None = None
    """Cross-section of the vehicle's own wire behind the slot."""
    load_a: NonNegative = 0.0
    """What already hangs on it [A]."""
    hangs: Text = ""
    """What that is."""
    dimmed: bool = False
    """Pulse-width dimmed: a meter reads a fraction of what it switches."""
    kind: Literal["slot", "box", "battery"] = "slot"
    """A slot of the car's own fuse box, a box of one's own, or the battery post."""
    volts: KeyVolts | None = None
    """What a meter read there in each key position."""
    zone: Text = ""


class Stud(Frozen, frozen=True, kw_only=True):
    """A ground point."""

    id: Name
    name: Name
    ohm: NonNegative = 0.0
    """From the stud to battery negative, measured under load [Ω]."""
    load_a: NonNegative = 0.0
    """Current of other consumers that return through it [A]."""
    rings: Annotated[int, Meta(ge=0, le=12)] = 0
    """Ring terminals already on it."""
    zone: Text = ""


Seen = Literal["", "wire", "terminal", "empty", "blanked"]
"""What was seen in a cavity: empty while nobody has looked into it."""


Known = Literal["", "hearsay", "other car", "document", "colour", "counted", "measured", "proven"]
"""A rung of the evidence ledger; empty: as the whole pin-out."""


class Cavity(Frozen, frozen=True, kw_only=True):
    """One cavity of a connector: what the paper says of it, and what was seen in it."""

    n: Cell
    colour: Text = ""
    """Wire that the paper has there, and its circuit."""
    circuit: Text = ""
    kind: Text = ""
    """What lies behind it, as the paper says: feed, ground, driver 1 A, Hall, reluctor …"""
    seen: Seen = ""
    """``terminal``: one without a wire; ``blanked``: closed by a plug."""
    seen_colour: Text = ""
    """Colour of the wire that was seen, where the paper has another or none."""
    area_mm2: NonNegative = 0.0
    """Section of the wire that is there [mm²]; 0: not said."""
    known: Known = ""
    """How this line is known, where one line is known otherwise than the rest."""
    mark: Annotated[str, Meta(max_length=3)] = ""
    """Letter moulded beside it, where cavities have letters."""
    blank: bool = False
    """Closed by a plug that must be drawn or drilled first."""
    family: Text = ""
    """Terminal family of this cavity, where one housing mixes sizes; empty: the housing's."""
    unusable: bool = False
    """No cavity goes through here, or its neighbour needs the room."""


class Connector(Frozen, frozen=True, kw_only=True):
    """A connector of the vehicle and the shape of its face.

    Seen on ``counted_on``, cavity 1 lies in ``corner`` and numbers run along the rows, down the
    columns, or forth and back. ``row_lengths`` gives rows of different length, centred;
    ``stagger`` shifts every second row by so many pitches. ``round`` puts all but the last cavity
    in a ring. ``places`` overrides all of it: (cavity, x, y) in pitches, y downward.
    """

    id: Name = "face"
    name: Name = "connector"
    rows: Annotated[int, Meta(ge=1, le=12)] = 1
    columns: Annotated[int, Meta(ge=1, le=100)] = 1
    key: Text = ""
    """What marks the end with cavity 1, as the installer would say it."""
    keyed: Literal["left", "right", "top", "bottom"] = "left"
    """Side of the shell with the lever or key, seen on ``counted_on``."""
    counted_on: Literal["wire side", "mating face"] = "wire side"
    """The side on which cavity 1 is at ``corner``."""
    corner: Literal["top left", "top right", "bottom left", "bottom right"] = "top left"
    numbering: Literal["rows", "columns", "forth and back"] = "rows"
    row_lengths: Annotated[tuple[Count, ...], Meta(max_length=12)] = ()
    stagger: Annotated[float, Meta(ge=-2, le=2)] = 0.0
    round: bool = False
    """Cavities lie in a ring, the last one in the middle."""
    places: Annotated[tuple[tuple[Cell, Coordinate, Coordinate], ...], Meta(max_length=400)] = ()
    cavities: Annotated[tuple[Cavity, ...], Meta(max_length=400)] = ()
    family: Text = ""
    """Terminal family the cavities take."""
    terminals: Literal["", "male", "female"] = ""
    """Terminals on the harness side of this half."""
    least_mm2: NonNegative = 0.0
    most_mm2: NonNegative = 0.0
    """Range of sections the terminal takes [mm²]; 0 when not known."""
    sealed: bool = False
    plating: Literal["", "tin", "gold", "silver"] = ""
    """Of its terminals; empty: nobody looked."""
    mates: Text = ""
    """The other half that it is pushed into; empty: not in this job."""
    zone: Text = ""


class Zone(Frozen, frozen=True, kw_only=True):
    """A part of the vehicle a run can lie in.

    On the plan x runs from the nose, y from the left.
    """

    id: Name
    name: Name
    x_m: Coordinate
    y_m: Coordinate
    wide_m: Positive = 0.6
    """Size on the plan along x [m]."""
    deep_m: Positive = 0.4
    over_ambient_k: NonNegative = 0.0
    """How much hotter than outside air it gets [K]."""
    wet: bool = False
    spray: bool = False
    """Wheels or a cleaner throw water there."""
    moving: bool = False
    """Belts, pedals, column, latches or doors move here."""
    airbag: bool = False
    vibrates: bool = False
    access_min: NonNegative = 0.0
    """Minutes to open what covers it, and as many to close."""
    panel: Text = ""
    """What is opened to reach it; zones may share one."""
    lifted: bool = False
    """Only reached with the vehicle raised."""
    inside: bool = False
    """People sit there, or its air is theirs."""
    seen: bool | None = None
    """The driver sees what is there; None: nobody has said."""
    free_long_m: NonNegative = 0.0
    free_wide_m: NonNegative = 0.0
    free_high_m: NonNegative = 0.0
    """Room for a device there [m]; 0: not measured."""
    near: Annotated[tuple[Neighbour, ...], Meta(max_length=64)] = ()
    """What any run through it passes, at the usual spacing."""


class Way(Frozen, frozen=True, kw_only=True):
    """A way for wires from one zone to the next."""

    id: Name
    a: Name
    b: Name
    length_m: Positive | None = None
    """Along the run [m]; None: taken from the plan, with a fifth for bends."""
    hole_mm: NonNegative = 0.0
    """Bore of the pass-through [mm]; 0 when nothing is passed through."""
    grommet: bool = True
    """The hole has its grommet."""


class Change(Frozen, frozen=True, kw_only=True):
    """What is done to a connector of the vehicle."""

    id: Name
    kind: Literal[
        "tap",
        "intercept",
        "add",
        "move",
        "remap",
        "blank",
        "jumper",
        "pull",
        "swap",
        "cycle",
        "rotate",
    ]
    connector: Name
    cavity: Cell
    to: Text = ""
    """Move, remap and jumper: ``connector.cavity`` it goes to; swap: the other cavity; cycle: where
    each goes in turn; rotate: by how many places."""
    wire: Text = ""
    """The wire of ours that comes in."""
    note: Text = ""
    state: Literal["planned", "made", "proven"] = "planned"
    when: Text = ""
    """Day it was made or proven."""
    metered: Text = ""
    """What the meter showed once it was made; empty: it is not proven."""
    before: Annotated[tuple[Connector, ...], Meta(max_length=4)] = ()
    """The connectors it touched, as they were found."""


class LeadRow(Frozen, frozen=True, kw_only=True):
    """One conductor a lead is said to have: cavities written ``plug.cavity``."""

    a: Name
    b: Name
    colour: Text = ""
    signal: Text = ""


class Answer(Frozen, frozen=True, kw_only=True):
    """What the meter said between two cavities."""

    a: Name
    b: Name
    conducts: bool


class Repair(Frozen, frozen=True, kw_only=True):
    """A lead that was wrong and was put right: these cavities are to be probed again."""

    words: Annotated[str, Meta(max_length=2000)]
    when: Text = ""
    pins: Annotated[tuple[Name, ...], Meta(max_length=800)] = ()


class Lead(Frozen, frozen=True, kw_only=True):
    """A harness lead with its pin-out as the paper has it, and what was probed."""

    id: Name
    name: Name
    rows: Annotated[tuple[LeadRow, ...], Meta(max_length=400)] = ()
    answers: Annotated[tuple[Answer, ...], Meta(max_length=20000)] = ()
    source: Text = ""
    """Where the pin-out came from."""
    beside: Annotated[tuple[tuple[Name, Name], ...], Meta(max_length=4000)] = ()
    """Cavities side by side, by the faces of its plugs; empty: those that follow in number."""
    repairs: Annotated[tuple[Repair, ...], Meta(max_length=400)] = ()
    old: Annotated[tuple[Name, ...], Meta(max_length=4)] = ()
    new: Annotated[tuple[Name, ...], Meta(max_length=4)] = ()
    """Connectors that a remap leads from and to; empty for any other lead."""
    by_hand: Annotated[tuple[tuple[Name, Name], ...], Meta(max_length=400)] = ()
    """Cavities that were joined by hand."""
    left: Annotated[tuple[Name, ...], Meta(max_length=400)] = ()
    """Cavities that are left unused on purpose."""
    trunk_m: NonNegative = 0.0
    """Where all wires run together [m]; 0: not said."""
    branch_m: Annotated[tuple[tuple[Name, NonNegative], ...], Meta(max_length=16)] = ()
    """From the trunk to each plug [m]."""


class Work(Frozen, frozen=True, kw_only=True):
    """What became of one task of the work order."""

    id: Name
    kind: Name = "task"
    state: Literal["begun", "paused", "done", "waiting"] = "done"
    minutes: NonNegative | None = None
    """Minutes worked on it so far; None when nobody took the time."""
    planned: NonNegative | None = None
    """What had been estimated when it was done [min]."""
    zone: Text = ""
    """Name of the place on the plan that it was done at."""
    since: Text = ""
    """When it was last begun."""
    note: Text = ""
