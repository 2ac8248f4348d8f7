"""Sessions killed anywhere: what is brought back is what was on screen.

A child, forked from a process that has everything loaded, works on a job in a home of its own:
edits, undoes, redoes, saves, saves under other names, opens anew, brings back what an earlier one
left. Before each act it says what will be, after it what is. It is killed by its parent after a
random time, or kills itself before, in the middle of or after a random write, flush or rename. Then
the parent reads what was left behind: it must be the last state told, or the one that was coming.
"""

from __future__ import annotations

import json
import os
import random
import shutil
import signal
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, NamedTuple

from tests.demo import Put, demo
from tests.torture import Failed
from zombrel.job.edits import Add, Edit, Many, Remove, Step
from zombrel.job.history import History
from zombrel.job.problem import Problem
from zombrel.store import prefs, zjob
from zombrel.store.atomic import digest
from zombrel.store.open_job import OpenJob
from zombrel.store.recovery import Found, left_behind

ROUNDS = 10
"""Sessions in one home, each beginning with what the one before left."""
ACTS = 30
XDG = ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")
NAMES = ("a.zjob", "b.zjob", "c 2024.zjob")
POINTS = (
    "write",
    "fsync",
    "fdatasync",
    "replace",
    "rename",
    "unlink",
    "truncate",
    "mkdir",
    "close",
)


class Told(NamedTuple):
    """A state of a session: what is on screen, and whether nothing of it is in this program alone:
    it lies in a file, or nothing was entered yet."""

    state: str
    clean: bool


def told(history: History, clean: bool) -> Told:
    """A state as it is compared: the tree, what can be undone and what redone."""
    steps = [[s.label for s, _ in part] for part in (history.past, history.future)]
    tree = digest(zjob.to_bytes(history.present))
    untouched = not history.past and not history.future
    return Told(digest(json.dumps([tree, *steps]).encode()), clean or untouched)


def an_edit(dice: random.Random, desk: OpenJob) -> Edit:
    """An edit that can be made."""
    wires = desk.job.wires
    some: tuple[Callable[[], Edit], ...] = (
        lambda: Put(path="notes", value=dice.choice("αβγ") * dice.randrange(200)),
        lambda: Put(path="vehicle.tyre", value=dice.choice(("195/65 R15", "205/60 R15"))),
        lambda: Put(path=f"wires.{dice.choice(wires).id}.length_m", value=dice.randrange(1, 90)),
        lambda: Put(path="devices.pace.settings.SPEED.at", value=dice.choice(("C1", "E7", "A0"))),
        lambda: Many(
            edits=(
                Put(path="number", value=str(dice.randrange(9999))),
                Put(path="title", value=dice.choice(("One / two", "“Three”"))),
            )
        ),
        lambda: Add(path="wishes", value={"id": f"spark/W{dice.randrange(10**9)}", "value": 1.0}),
        lambda: Remove(path=f"wishes.{desk.job.wishes[0].id}")
        if desk.job.wishes
        else Put(path="notes", value=""),
    )
    return dice.choice(some)()


def session(home: Path, dice: random.Random, say: Callable[[str, Told, bool], None]) -> None:
    """A session; ``say`` is told (act, state, whether it is done)."""
    desk = OpenJob()
    left = left_behind(prefs.recovery_root())
    good = [x for x in left if isinstance(x, Found)]
    if good:
        say("recover", told(good[0].history, False), False)
        desk.recover(good[0])
        for other in good[1:]:
            other.lock.end()
    elif (home / NAMES[0]).exists():
        desk.open(home / NAMES[0])
    else:
        desk.start(demo())
    say("begun", told(desk.history, desk.in_file(desk.job)), True)
    for i in range(ACTS):
        _act(home, dice, desk, say, i)


def _act(
    home: Path, dice: random.Random, desk: OpenJob, say: Callable[[str, Told, bool], None], i: int
) -> None:
    act = dice.choices(("do", "undo", "redo", "save", "save as", "open"), (9, 5, 3, 3, 1, 1))[0]
    step = Step(label=f"{i} {act}", edit=an_edit(dice, desk))
    history = desk.history
    will = told(history, desk.in_file(desk.job))
    if act == "do":
        try:
            will = told(history.do(step), False)
        except Problem:
            return
    elif act == "undo":
        will = told(history.undo(), desk.in_file(history.undo().present))
    elif act == "redo":
        will = told(history.redo(), desk.in_file(history.redo().present))
    elif act.startswith("save"):
        will = told(history, True)
    elif desk.dirty or desk.path is None:
        return
    say(act, will, False)
    if act == "do":
        desk.do(step)
    elif act == "undo":
        desk.undo()
    elif act == "redo":
        desk.redo()
    elif act == "open":
        path = desk.path
        assert path is not None
        desk.open(path)
    else:
        named = act == "save as" or desk.path is None
        desk.save(home / dice.choice(NAMES) if named else None)
    say(act, told(desk.history, desk.in_file(desk.job)), True)


def _mined(dice: random.Random) -> None:
    """Have this process kill itself at a random one of its calls to the system."""
    left = [dice.randrange(1, 250)]

    def mine(real: Callable[..., Any]) -> Callable[..., Any]:
        def call(*args: Any, **more: Any) -> Any:
            left[0] -= 1
            if left[0] == 0:
                how = dice.randrange(3)
                if how == 1 and real.__name__ == "write":
                    real(args[0], args[1][: len(args[1]) // 2])
                elif how == 2:
                    real(*args, **more)
                os.kill(os.getpid(), signal.SIGKILL)
            return real(*args, **more)

        return call

    for name in POINTS:
        setattr(os, name, mine(getattr(os, name)))


def _child(home: Path, dice: random.Random, pipe: int, mined: bool) -> None:
    write = os.write

    def say(act: str, state: Told, done: bool) -> None:
        write(pipe, json.dumps([act, *state, done]).encode() + b"\n")

    try:
        if mined:
            _mined(dice)
        session(home, dice, say)
    except BaseException as error:
        write(
            pipe, json.dumps(["failed", f"{type(error).__name__}: {error}", False, False]).encode()
        )
    finally:
        os.kill(os.getpid(), signal.SIGKILL)


def one(home: Path, seed: int) -> tuple[list[list[Any]], str]:
    """One session, killed; what it said, and why what it left is not what it should be."""
    dice = random.Random(seed)
    out, into = os.pipe()
    mined = dice.random() < 0.6
    pid = os.fork()
    if pid == 0:
        os.close(out)
        sys.stdout = sys.stderr = open(os.devnull, "w")  # noqa: SIM115 - ends with the process
        _child(home, dice, into, mined)
    os.close(into)
    wait = dice.random() ** 2 * 0.25
    end = time.monotonic() + (20.0 if mined else wait)
    said = b""
    while time.monotonic() < end:
        os.set_blocking(out, False)
        part = _read(out)
        if part == b"":
            break
        said += part or b""
        time.sleep(0.0005)
    os.kill(pid, signal.SIGKILL)
    os.waitpid(pid, 0)
    while part := _read(out):
        said += part
    os.close(out)
    lines = [json.loads(text) for text in said.split(b"\n") if text.endswith(b"]")]
    return lines, judged(home, lines)


def _read(pipe: int) -> bytes | None:
    try:
        return os.read(pipe, 65536)
    except BlockingIOError:
        return None


def judged(home: Path, lines: list[list[Any]]) -> str:
    """Why what was left behind is wrong; empty when it is right."""
    if lines and lines[-1][0] == "failed":
        return str(lines[-1][1])
    for name in NAMES:
        if (home / name).exists():
            try:
                zjob.load(home / name)
            except Problem as problem:
                return f"a file that was saved cannot be opened: {problem}"
    left = left_behind(prefs.recovery_root())
    for found in left:
        if isinstance(found, Found):
            found.lock.end()
    if not lines:
        return ""
    unread = [x.why for x in left if not isinstance(x, Found)]
    if unread:
        return f"not read back: {unread[0]}"
    may = [Told(*lines[-1][1:3])]
    if not lines[-1][3] and len(lines) > 1:
        may.append(Told(*next(x for x in reversed(lines[:-1]) if x[3])[1:3]))
    for found in left:
        assert isinstance(found, Found)
        if found.lost:
            return f"lost: {found.lost}"
        if told(found.history, False).state not in {m.state for m in may}:
            return f"brought back is another state than the last one of {lines[-1][0]}"
    if left and all(m.clean for m in may):
        return f"asked about after {lines[-1][0]}, though all of it lies in the file"
    if not left and not any(m.clean for m in may) and lines[-1][0] not in ("begun", "recover"):
        return f"nothing is brought back after {lines[-1][0]}"
    return ""


def tries(count: int, seed: int, timed: bool = False) -> Iterator[Failed | None]:
    """So many kills; None for one that went well."""
    before = {name: os.environ.get(name) for name in XDG}
    home = Path(tempfile.mkdtemp())
    try:
        for i in range(count):
            if i % ROUNDS == 0:
                shutil.rmtree(home, ignore_errors=True)
                home.mkdir()
                os.environ.update({name: str(home / name) for name in XDG})
            lines, why = one(home, seed * 1_000_003 + i)
            if why:
                acts = " ".join(x[0] for x in lines if x[3])
                yield Failed(f"kill {seed}:{i} after {acts[-300:]}", why)
                shutil.rmtree(home, ignore_errors=True)  # the next is not to suffer from it
                home.mkdir()
            else:
                yield None
    finally:
        shutil.rmtree(home, ignore_errors=True)
        for name, value in before.items():
            if value is None:
                os.environ.pop(name, None)
            else:
                os.environ[name] = value
