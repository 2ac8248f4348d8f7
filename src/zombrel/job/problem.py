"""The one exception that carries a sentence for the user, and a code for the program."""

from __future__ import annotations

from typing import Literal

Code = Literal["wrong", "missing", "unset", "unclear"]
"""What is the matter: something cannot be used, a fact is missing, a device is not set yet, a text
can mean two things."""


class Problem(ValueError):  # noqa: N818 - it is a problem to be mended, not a crash
    """Something the user gave cannot be used; the text says what, where and how to mend it.

    Nothing looks into the text: ``code`` says what kind of trouble it is, and ``where`` is the
    route to the place where it is mended (``job.stages.route``), empty when there is none.
    """

    def __init__(self, text: str, code: Code = "wrong", where: str = "") -> None:
        super().__init__(text)
        self.code: Code = code
        self.where = where
