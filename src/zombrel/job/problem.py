"""The one exception that carries a sentence for the user."""

from __future__ import annotations


class Problem(ValueError):  # noqa: N818 - it is a problem to be mended, not a crash
    """Something the user gave cannot be used; the text says what, where and how to mend it."""
