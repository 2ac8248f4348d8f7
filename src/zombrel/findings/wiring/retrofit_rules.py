"""Rules about retrofits: circuits that a function lacks, coding, and counts that must be kept."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.job.edits import Edit, Many, apply
from zombrel.job.follow.view import plain
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.records.retrofit import Retrofit

if TYPE_CHECKING:
    from zombrel.harness.plugs.retrofit import Need, Works

NAMED = 6


@rule("job", "wire", minutes=15)
def retrofit_lacks(scene: Scene) -> Iterator[Finding]:
    """A function that cannot work in this car, or that one wire would bring."""
    for r in scene.job.retrofits:
        from zombrel.harness.plugs.retrofit import table  # few jobs have one: not at start-up

        go = Mend(label="Show the retrofit", go=f"wire:fit/{r.id}")
        works = table(scene.job, r)
        for f in works:
            if f.lacks:
                yield _lacks(r, f, go)
        open_ = [n for f in works for n in f.needs if n.state == "elsewhere"]
        open_ = list({n.here: n for n in open_}.values())
        if open_:
            draw = _drawn(plain(scene.raw), open_)
            names = ", ".join(f"{n.circuit} from {n.there[0]}" for n in open_[:NAMED])
            yield Finding(
                id=f"retrofit-{r.id}-wires",
                level="watch",
                title=f"{r.name}: {_circuits(len(open_))} elsewhere in the car",
                text=f"{names}: one wire each does it.",
                harm=28,
                reason=_reason(r, f"{len(open_)} elsewhere", open_),
                mends=(*([Mend(label="Draw them", edit=draw)] if draw is not None else ()), go),
                about=(r.id, r.connector),
            )


def _lacks(r: Retrofit, f: Works, go: Mend) -> Finding:
    from zombrel.harness.plugs.retrofit import WORDS

    why = "; ".join(f"{n.circuit}: {WORDS[n.state]}" for n in f.lacks[:NAMED])
    return Finding(
        id=f"retrofit-{r.id}-{f.name}",
        level="watch",
        title=f"{r.name}: {f.name} cannot work yet",
        text=f"{why}.",
        harm=46,
        reason=_reason(r, f"{len(f.lacks)} lacking", f.lacks),
        mends=(go,),
        about=(r.id, r.connector),
    )


def _reason(r: Retrofit, result: str, needs: tuple[Need, ...] | list[Need]) -> Reason:
    return Reason(
        title=f"Circuits of {r.name}",
        result=result,
        formula="a circuit is had where a plug has it by function, number and sign",
        given=tuple(
            given(n.circuit, ", ".join((n.here or "no pin", *n.there)), n.state) for n in needs[:12]
        ),
        source="the papers of the plugs, and what was seen in them",
        assumption="the papers are right: count and meter each",
    )


def _circuits(count: int) -> str:
    return "1 circuit is" if count == 1 else f"{count} circuits are"


def _drawn(job: Job, needs: list[Need]) -> Edit | None:
    """One wire for each."""
    from zombrel.actions.plugs.retrofit import serve

    edits: list[object] = []
    for n in needs:
        try:
            edit = serve(job, n)
        except Problem:
            return None
        job = apply(job, edit)
        edits += edit.edits if isinstance(edit, Many) else [edit]
    return Many(edits=tuple(edits))  # type: ignore[arg-type]


@rule("job", "wire", minutes=5)
def retrofit_not_said(scene: Scene) -> Iterator[Finding]:
    """Nobody has said whether it must be taught, or noted what the car had run."""
    for r in scene.job.retrofits:
        go = Mend(label="Say it", go=f"wire:fit/{r.id}")
        if not r.coding:
            yield _unsaid(
                r,
                "coding",
                "must it be programmed?",
                "Many modules answer to no other car until they are; some never do. Ask before it "
                "is bought.",
                ("watch", 44),
                go,
            )
        if not r.keeps:
            yield _unsaid(
                r,
                "keeps",
                "does it count distance or hours?",
                "A module that shows them must show this car’s: a legal duty in many places.",
                ("watch", 43),
                go,
            )
        lost = [
            words
            for words, wanted, noted in (
                ("distance", "distance" in r.keeps, r.car_m),
                ("hours", "hours" in r.keeps, r.car_h),
            )
            if wanted and noted is None
        ]
        if lost:
            yield _unsaid(
                r,
                "noted",
                f"note the {' and '.join(lost)} before it is parted",
                "Once the old module is out nobody can tell what the car had run; handing it over "
                "with less is an offence in many places.",
                ("trouble", 70),
                go,
            )


def _unsaid(
    r: Retrofit, key: str, title: str, text: str, weight: tuple[str, int], go: Mend
) -> Finding:
    level, harm = weight
    return Finding(
        id=f"retrofit-{r.id}-{key}",
        level=level,  # type: ignore[arg-type]
        title=f"{r.name}: {title}",
        text=text,
        harm=harm,
        reason=Reason(
            title=f"What is not known of {r.name}",
            result=title,
            formula="coding and counts of a module are facts, with a proof each",
            source="law of the place where it is driven; the maker’s manual",
        ),
        mends=(go,),
        about=(r.id,),
    )
