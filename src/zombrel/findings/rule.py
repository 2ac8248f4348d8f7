"""Rules as data: each says once what it looks at, where its findings belong and what they weigh.

A rule is a function that yields findings. ``@rule`` files it under what it is asked about; a
finding that does not say its stage, harm or minutes has those of its rule, and always its name.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterable
from typing import Any, Literal

import msgspec

from zombrel.findings.finding import UNSAID, Finding
from zombrel.job.reason import Reason
from zombrel.job.stages import Stage
from zombrel.job.unjudged import note
from zombrel.job.value import Value

Scope = Literal[
    "job",
    "chain",
    "rate",
    "brake",
    "contact",
    "sensor",
    "device",
    "wire",
    "fed",
    "grounding",
    "plugged",
    "near airbags",
]
"""What a rule is asked about: the whole job, or each chain, kind of chain, device or wire; ``fed``
for each power wire from a feed, ``near airbags`` for each that meets or passes such wiring."""
Find = Callable[..., Iterable[Finding]]


class Rule(Value, frozen=True):
    """One rule."""

    name: str
    scope: Scope
    stage: Stage | None
    """Where its findings belong; None: each says so itself."""
    harm: int
    """0 to 100: what its findings can do if left, unless they say otherwise."""
    minutes: float
    """What one takes to mend, unless it says otherwise."""
    find: Find
    """As it is written."""
    filed: Callable[[Finding], Finding]
    """One of its findings with what the rule says of all of them."""
    found: Find
    """All its findings, filed."""


RULES: dict[str, Rule] = {}


def rule(
    scope: Scope, stage: Stage | None, harm: int = 0, minutes: float = 0.0
) -> Callable[[Find], Find]:
    """Register a rule."""

    def register(find: Find) -> Find:
        name = find.__name__.replace("_", " ")

        def filed(f: Finding) -> Finding:
            return msgspec.structs.replace(
                f,
                rule=name,
                stage=f.stage if stage is None else stage,
                harm=harm if f.harm == UNSAID else f.harm,
                minutes=minutes if f.minutes == UNSAID else f.minutes,
            )

        @functools.wraps(find)
        def found(*asked: Any) -> list[Finding]:
            return _found((RULES[name],), asked)

        assert name not in RULES  # a kind of finding has one rule
        RULES[name] = Rule(name, scope, stage, harm, minutes, find, filed, found)
        return found

    return register


def _unjudged(name: str, asked: tuple[Any, ...], error: Exception) -> Finding:
    """What a rule found that failed: nobody may take its silence for an all-clear."""
    said = note(error)
    things = [x for x in asked if isinstance(getattr(x, "id", None), str)]
    about = str(getattr(things[0], "name", things[0].id)) if things else "the job"
    key = things[0].id if things else "job"
    return Finding(
        id=f"unjudged-{name.replace(' ', '-')}-{key}",
        stage="survey",
        level="trouble",
        title=f"Not judged: {name}, {about}",
        text=f"Zombrel failed at it ({said}). What it looks for may be there: look yourself.",
        harm=60,
        minutes=30,
        reason=Reason(
            title="A rule that failed",
            result=said,
            formula=f"the rule “{name}” about {about}",
            source="a fault of the program; please send the report",
        ),
    )


def _found(some: tuple[Rule, ...], about: tuple[Any, ...]) -> list[Finding]:
    """What some rules find about what is given."""
    found: list[Finding] = []
    for rule in some:
        try:
            for finding in rule.find(*about):
                found.append(rule.filed(finding))
        except Exception as error:
            found.append(rule.filed(_unjudged(rule.name, about, error)))
    return found


def ask(scope: Scope, *about: object) -> list[Finding]:
    """What the rules of a scope find about what is given."""
    return _found(rules(scope), about)


@functools.cache
def rules(scope: Scope) -> tuple[Rule, ...]:
    """The rules of a scope, in the order they were registered; asked for once all are."""
    return tuple([r for r in RULES.values() if r.scope == scope])
