"""What is worked out of a job comes as values: frozen, compared and hashed by what they hold."""

from __future__ import annotations

from typing import Any, Self

import msgspec


class Value(msgspec.Struct, frozen=True, order=True):
    """Base of the records that functions give back.

    Unlike the records a job is made of, a value may hold views while a query runs
    (``job.follow.view``), and is noted as a whole by whoever reads it.
    """

    def but(self, **changes: Any) -> Self:
        """The same with some fields changed; TypeError for a field it does not have."""
        return msgspec.structs.replace(self, **changes)
