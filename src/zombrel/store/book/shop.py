"""Bays, what was moved by hand, and the stock: two files beside the user's other data."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
from msgspec import Meta

from zombrel.book.week import Shop
from zombrel.intake.file import take
from zombrel.intake.record import record
from zombrel.job.problem import Problem
from zombrel.job.sheet import Name, NonNegative
from zombrel.store.atomic import write_atomically
from zombrel.store.prefs import data_root

MAX_BYTES = 4_000_000
Stock = Annotated[dict[Name, NonNegative], Meta(max_length=20_000)]
"""How much is there, by what the part is called."""


def shop_file() -> Path:
    """Where the bays are kept."""
    return data_root() / "week.json"


def stock_file() -> Path:
    """Where the stock is kept."""
    return data_root() / "stock.json"


def load_shop() -> Shop:
    """The bays; the usual two where nothing was said.

    Raises:
        Problem: the file is damaged.
    """
    file = shop_file()
    if not file.exists():
        return Shop()
    return record(take(file, MAX_BYTES, "file of the bays"), Shop, str(file))


def load_stock() -> dict[str, float]:
    """The stock; nothing where none was counted.

    Raises:
        Problem: the file is damaged.
    """
    file = stock_file()
    if not file.exists():
        return {}
    return record(take(file, MAX_BYTES, "file of the stock"), dict[str, NonNegative], str(file))


def save_shop(shop: Shop) -> None:
    """Keep the bays; raises Problem when that fails."""
    _save(shop_file(), shop)


def save_stock(stock: dict[str, float]) -> None:
    """Keep the stock; raises Problem when that fails."""
    _save(stock_file(), dict(sorted(stock.items())))


def _save(file: Path, value: object) -> None:
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Problem(f"{file.parent} cannot be made: {error.strerror}.") from error
    write_atomically(file, msgspec.json.format(msgspec.json.encode(value), indent=1) + b"\n")
