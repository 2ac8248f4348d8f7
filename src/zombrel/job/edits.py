"""Edits as data: each turns one job into another, can be undone, journalled and replayed."""

from __future__ import annotations

import functools
import re
import types
import typing
from collections.abc import Callable
from typing import Any

import msgspec

from zombrel.job.follow.view import VIEWS
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen

KEYS = ("id", "pin", "n")


class Put(Frozen, frozen=True, kw_only=True, tag="put"):
    """Give the fact at ``path`` a new value (plain JSON types)."""

    path: str
    value: Any


class Add(Frozen, frozen=True, kw_only=True, tag="add"):
    """Add an item to the list at ``path``; ``at`` = -1 adds at the end."""

    path: str
    value: Any
    at: int = -1


class Remove(Frozen, frozen=True, kw_only=True, tag="remove"):
    """Take the item at ``path`` out of its list."""

    path: str


class Many(Frozen, frozen=True, kw_only=True, tag="many"):
    """Several edits that belong together and are undone together."""

    edits: tuple[Put | Add | Remove, ...]


Edit = Put | Add | Remove | Many


class Step(Frozen, frozen=True, kw_only=True):
    """An edit with the words shown for it in the undo list."""

    label: str
    edit: Edit


def apply(job: Job, edit: Edit) -> Job:
    """Return ``job`` with ``edit`` made.

    Raises:
        Problem: the path leads nowhere or the value is not allowed there.
    """
    match edit:
        case Many(edits=edits):
            for part in edits:
                job = apply(job, part)
            return job
        case Put(path=path, value=value):
            return _at(job, path, lambda kind, _: _convert(value, kind, path))
        case Add(path=path, value=value, at=at):

            def insert(kind: Any, old: Any) -> Any:
                item = _convert(value, _element(kind), path)
                key = _key(item)
                if key is not None and any(_key(o) == key for o in old):
                    raise Problem(f"{path} already has {key}; choose another name.")
                place = len(old) if at < 0 else min(at, len(old))
                return (*old[:place], item, *old[place:])

            return _at(job, path, insert)
        case Remove(path=path):
            parent, _, key = path.rpartition(".")

            def drop(_: Any, old: Any) -> Any:
                place = _place(old, key, path)
                return (*old[:place], *old[place + 1 :])

            return _at(job, parent, drop)


def together(*edits: Put | Add | Remove | Many) -> Edit:
    """Several edits as one."""
    flat = [e for one in edits for e in (one.edits if isinstance(one, Many) else (one,))]
    return flat[0] if len(flat) == 1 else Many(edits=tuple(flat))


def fact(job: Job, path: str) -> Any:
    """The value at ``path``; raises Problem if there is none."""
    node: Any = job
    for token in path.split("."):
        if isinstance(node, tuple):
            node = item(node, token, path)
        elif isinstance(node, msgspec.Struct) and token in node.__struct_fields__:
            node = getattr(node, token)
        else:
            raise Problem(f"This job has no “{path}”.")
    return node


def item(items: Any, token: str, path: str) -> Any:
    """The item of a list by its key, else by its place."""
    found = items.get(token) if type(items) in VIEWS else None
    if found is None:
        found = items[_place(items, token, path)]
    return found


def _at(job: Job, path: str, change: Callable[[Any, Any], Any]) -> Job:
    return typing.cast(Job, _descend(job, Job, path.split("."), path, change))


def _descend(
    node: Any, kind: Any, tokens: list[str], path: str, change: Callable[[Any, Any], Any]
) -> Any:
    if not tokens:
        return change(kind, node)
    token, rest = tokens[0], tokens[1:]
    if isinstance(node, tuple):
        place = _place(node, token, path)
        new = _descend(node[place], _element(kind), rest, path, change)
        return (*node[:place], new, *node[place + 1 :])
    if isinstance(node, msgspec.Struct) and token in node.__struct_fields__:
        kind_of: Any = type(node)
        hint = _hints(kind_of)[token]
        new = _descend(getattr(node, token), hint, rest, path, change)
        return msgspec.structs.replace(node, **{token: new})
    raise Problem(f"This job has no “{path}”.")


@functools.cache
def _hints(cls: Any) -> dict[str, Any]:
    return typing.get_type_hints(cls, include_extras=True)


def _element(kind: Any) -> Any:
    if typing.get_origin(kind) is typing.Annotated:
        kind = typing.get_args(kind)[0]
    if isinstance(kind, types.UnionType):
        kind = next(k for k in typing.get_args(kind) if k is not type(None))
    return typing.get_args(kind)[0]


def _key(item: Any) -> str | None:
    for name in KEYS:
        if isinstance(item, msgspec.Struct) and name in item.__struct_fields__:
            return str(getattr(item, name))
    return None


def _place(items: tuple[Any, ...], token: str, path: str) -> int:
    for i, item in enumerate(items):
        if _key(item) == token:
            return i
    if token.isdigit() and int(token) < len(items) and _key(items[int(token)]) is None:
        return int(token)
    raise Problem(f"There is no “{token}” at {path} in this job.")


def _convert(value: Any, kind: Any, path: str) -> Any:
    if isinstance(value, msgspec.Struct):
        value = msgspec.to_builtins(value)
    try:
        return msgspec.convert(value, kind, strict=True)
    except msgspec.ValidationError as error:
        name = path.rpartition(".")[2].replace("_", " ")
        raise Problem(f"{name}: {plain(str(error))}") from error


_KINDS = {
    "float": "a number",
    "int": "a whole number",
    "str": "text",
    "bool": "yes or no",
    "array": "a list",
    "object": "a record",
}


def plain(text: str) -> str:
    """Turn the validator's message into a sentence without type jargon."""
    text, _, where = text.partition(" - at ")
    text = re.sub(
        r"Expected `(\w+)( \| null)?`(?:, got `\w+`)?",
        lambda m: f"must be {_KINDS.get(m[1], m[1])}{' or empty' if m[2] else ''}",
        text,
    )
    words = {"<": "below", ">": "above", "<=": "at most", ">=": "at least"}
    text = re.sub(
        r"([<>]=?) (-?[\d.e+]+)", lambda m: f"{words[m[1]]} {float(m[2].rstrip('.')):g}", text
    )
    inside = where.strip("`$.")
    return f"{text} (in {inside})." if inside else f"{text}."
