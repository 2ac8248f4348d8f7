"""What is typed to find something, as each data base wants to be asked."""

from __future__ import annotations

import re

TOKEN = re.compile(r"[^\W_]+")
MOST = 12
"""So many words are looked for; more are left out."""


def phrases(text: str) -> list[str]:
    """Words as they are typed, each as the letters and digits it is made of.

    ``green/white`` becomes ``green white``, which must stand side by side; figures written with
    groups of digits are one word.
    """
    joined = re.sub(r"(?<=\d)[\u00a0\u2009 ](?=\d{3}(?!\d))", "", text.casefold())
    found = (" ".join(TOKEN.findall(word)) for word in joined.split())
    return [p for p in found if p][:MOST]


def fts5(text: str, every: bool = True) -> str:
    """For SQLite's FTS5: all words, or any of them; the last may be the beginning of one."""
    asked = [f'"{p}"' for p in phrases(text)]
    if not asked:
        return ""
    asked[-1] += "*"
    return (" AND " if every else " OR ").join(asked)
