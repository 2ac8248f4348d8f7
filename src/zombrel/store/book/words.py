"""Words as the book holds them, and what is typed to find them."""

from __future__ import annotations

import re
import unicodedata

from zombrel.units import CUSTOMARY, METRIC, words

TOKEN = re.compile(r"[^\W_]+")
GROUPED = re.compile(r"(?<=\d)[\u00a0\u2009\u202f ](?=\d{3}(?!\d))")
"""What stands between groups of digits."""
MOST = 12
"""So many words are looked for; more are left out."""


def plain(text: str) -> str:
    """Letters and digits alone, small, without marks on letters, one space around each word."""
    joined = GROUPED.sub("", text)
    if not joined.isascii():
        apart = unicodedata.normalize("NFKD", joined)
        joined = "".join(c for c in apart if not unicodedata.combining(c))
    return f" {' '.join(TOKEN.findall(joined.casefold()))} "


def body_of(said: str) -> str:
    """A text with quantities, in the units of both halves of the trade, to be searched."""
    metric, other = words(said, METRIC), words(said, CUSTOMARY)
    return plain(metric if other == metric else f"{metric} {other}")


def phrases(text: str) -> list[str]:
    """Words as they are typed, each as the letters and digits it is made of.

    ``green/white`` becomes ``green white``, which must stand side by side; figures written with
    groups of digits are one word.
    """
    joined = GROUPED.sub("", text)
    found = (plain(word).strip() for word in joined.split())
    return [p for p in found if p][:MOST]


def wanted(asked: list[str]) -> list[str]:
    """Each as it stands in a plain text: the last may be the beginning of a word."""
    return [f" {p} " for p in asked[:-1]] + [f" {p}" for p in asked[-1:]]
