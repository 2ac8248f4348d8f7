"""Counted signals: rolled by hand, at idle, at a held speed.

References: laws as in ``signals.law``; flashes counted over a rolled distance as in
``calibrate.roll``.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.calibrate.roll import roll as rolled
from zombrel.diagnose.step import Field, StepSheet, chain_of, mends_at, run_words
from zombrel.job.figures import figure
from zombrel.job.follow.query import query
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import InputSheet
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import ready
from zombrel.units import KMH, number, rate_token, speed_token
from zombrel.units.measure import length_of

TACH_OK = figure("tach error let pass")
ROLL_M = 5.0
"""So far a car is rolled by hand at least [m]."""
WALK = 1.5
"""A car pushed by hand goes no faster than this [m/s]."""
LIFT_KMH = 50.0
"""A speed that is held easily in a low gear."""
SPEED_READ = 0.02
"""How far a held speed and a display are read apart [share]: ASSUMED."""


@query
def flashing(job: Job) -> tuple[str, ...]:
    """Speed signals into a device whose self-test lamp flashes with the pulses."""
    return _of(job, "speed", lambda sheet: bool(sheet.pulses_per_flash))


@query
def shown_speeds(job: Job) -> tuple[str, ...]:
    """Speed signals that a device shows as a figure."""
    return _of(job, "speed", lambda sheet: sheet.shows)


@query
def shown_tachs(job: Job) -> tuple[str, ...]:
    """Engine speed signals that a device shows as a figure."""
    return _of(job, "tach", lambda sheet: sheet.shows)


def _of(job: Job, quantity: str, when: Callable[[InputSheet], bool]) -> tuple[str, ...]:
    devices = index(job.devices)
    found = []
    for chain in job.chains:
        if chain.quantity != quantity:
            continue
        sheet = devices[chain.device].sheet.input(chain.pin)
        if sheet is not None and when(sheet):
            found.append(chain.id)
    return tuple(found)


@query
def roll(job: Job, key: str) -> StepSheet:
    """Flashes of the self-test lamp over a rolled distance."""
    chain, device, sheet = chain_of(job, key)
    fields: tuple[Field, ...] = ()
    blocked, go = "", f"source:{key}"
    try:
        rate_law = ready(job, key).law
        rate = rate_law.rate / rate_law.divider
        start, _ = laws.span(rate_law)
        expect = rolled(rate, ROLL_M, sheet.pulses_per_flash)
        if start > WALK:
            blocked = (
                f"Pushed by hand the signal is too weak: it counts only above "
                f"{speed_token(start)}. A divider with a sensitive input mends that."
            )
        fields = (
            Field(
                name="distance",
                label="Rolled",
                unit="m",
                low=0.2,
                high=1000,
                expect=f"{length_of(ROLL_M)}, or more",
                because=f"{length_of(expect.distance_for_1pct, 0)} for 1 %: roll as far as you can",
                given=True,
            ),
            Field(
                name="flashes",
                label="Flashes",
                unit="",
                low=expect.low,
                high=expect.high,
                expect=f"{expect.low} or {expect.high} in {length_of(ROLL_M)}",
                because=f"{rate_token(rate)}, {sheet.pulses_per_flash} to a flash",
            ),
        )
    except Problem as problem:
        blocked, go = str(problem), mends_at(problem, key)
    return StepSheet(
        id=f"roll-{chain.id}",
        kind="roll",
        formula="flashes = pulse rate × distance ÷ pulses per flash; 1 % needs 100 of them",
        source="counting resolves one in N",
        short="Roll the car",
        ask="Roll the car by hand along a tape. Count the flashes.",
        where=f"Self-test of the {device.name}, key on, engine off, in neutral.",
        caution="Level ground, a helper at the park brake, nobody in front or behind.",
        fields=fields,
        blocked=blocked,
        go=go,
        under=run_words(job, chain),
        chain=chain.id,
        key=chain.id,
        about=(chain.id, chain.device, *chain.wires),
        minutes=10.0,
        needs="one who pushes, one at the lamp",
        otherwise="Half or double: a pulse lost or counted twice. None: the run, or the ground.",
        leaves="the rate: a self-test shows that the signal is alive, not that it is right.",
    )


@query
def idle(job: Job, key: str) -> StepSheet:
    """What a device shows at idle against a strobe lamp."""
    chain, device, _ = chain_of(job, key)
    vehicle = job.vehicle
    fields: tuple[Field, ...] = ()
    blocked, go = "", f"source:{key}"
    try:
        rate_law = ready(job, key).law
        turns = vehicle.idle_rps or 850 / 60
        factor = laws.gain(rate_law) * (rate_law.multi if turns < rate_law.multi_below else 1)
        shown = turns * 60 * factor
        fields = (
            Field(
                name="true",
                label="True idle",
                unit="rpm",
                low=200,
                high=3000,
                expect=f"about {turns * 60:.0f} rpm",
                because="strobe lamp or optical tachometer on the crank pulley",
                given=True,
            ),
            Field(
                name="shown",
                label=f"{device.name} shows",
                unit="rpm",
                low=shown * (1 - TACH_OK),
                high=shown * (1 + TACH_OK),
                expect=f"about {shown:.0f} rpm",
                because=f"{factor:.3g} × the true speed, as set",
                of="true",
                usual=turns * 60,
            ),
        )
        if abs(factor - 1) > TACH_OK:
            blocked = f"As set the {device.name} shows {factor:.3g} times the truth: mend it first."
            go = f"set:{key}"
    except Problem as problem:
        blocked, go = str(problem), mends_at(problem, key)
    return StepSheet(
        id=f"idle-{chain.id}",
        kind="idle",
        formula="shown = rate ÷ divider ÷ setting × truth",
        source="ratio of pulses sent to pulses believed",
        short=f"Idle, {device.name}",
        ask="Start the engine and let it idle. Compare the tach.",
        where=f"{device.name} against a strobe lamp or an optical tachometer.",
        caution="Out of gear, park brake on. Keep clear of belts, fans and ignition leads.",
        fields=fields,
        blocked=blocked,
        go=go,
        under=run_words(job, chain),
        chain=chain.id,
        key=chain.id,
        about=(chain.id, chain.device, *chain.wires),
        minutes=4.0,
        needs="one at the strobe, one at the display",
        otherwise="A whole ratio is a setting; anything else is pulses lost or added.",
        leaves="that it follows to the top.",
        running=True,
    )


@query
def lift(job: Job, key: str) -> StepSheet:
    """A held speed, wheels free: what is shown against what is true."""
    chain, device, _ = chain_of(job, key)
    fields: tuple[Field, ...] = ()
    blocked, go = "", f"source:{key}"
    try:
        rate_law = ready(job, key).law
        start, stop = laws.span(rate_law)
        at = max(LIFT_KMH * KMH, start * 1.2)
        if not start < stop:
            blocked = "It counts at no speed at all: mend the signal first."
        gain = laws.gain(rate_law)
        shown = at / KMH * gain
        fields = (
            Field(
                name="true",
                label="True speed",
                unit="km/h",
                low=5,
                high=300,
                expect=f"about {speed_token(at)}",
                because="an optical tachometer on the wheel times its circumference, or rollers",
                given=True,
            ),
            Field(
                name="shown",
                label=f"{device.name} shows",
                unit="km/h",
                low=shown * (1 - SPEED_READ),
                high=shown * (1 + SPEED_READ),
                expect=f"about {speed_token(at * gain)}",
                because=f"{number(gain, 3)} × the true speed, as set",
                of="true",
                usual=at / KMH,
            ),
        )
        if abs(gain - 1) > figure("setting error, trouble"):
            blocked = f"As set it shows {number(gain, 3)} times the truth: mend it first."
            go = f"set:{key}"
    except Problem as problem:
        blocked, go = str(problem), mends_at(problem, key)
    return StepSheet(
        id=f"lift-{chain.id}",
        kind="lift",
        short=f"Held speed, {device.name}",
        ask="Wheels free, a low gear, one speed held. Compare.",
        where=f"Display of the {device.name} against the wheel’s own turns. Both wheels of a "
        "driven axle turn alike.",
        caution="On a lift or on stands under the body, never a jack; nobody beside a wheel; the "
        "device stays disengaged. Where that cannot be done safely, leave it to the road.",
        fields=fields,
        formula="shown = rate ÷ divider ÷ setting × truth",
        source="ratio of pulses sent to pulses believed",
        otherwise="The ratio of the two is the ratio of the pulses: set by it.",
        leaves="tyres under load: satellite speed on the road does.",
        blocked=blocked,
        go=go,
        under=run_words(job, chain),
        chain=chain.id,
        key=chain.id,
        about=(chain.id, chain.device, *chain.wires),
        minutes=15.0,
        needs="one at the wheel, one at the meter, a lift or rollers",
        running=True,
    )
