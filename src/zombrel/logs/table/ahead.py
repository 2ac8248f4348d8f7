"""Work ahead of whoever uses it: the next piece is made in a thread while this one is used."""

from __future__ import annotations

import queue
import threading
from collections.abc import Iterator
from typing import Generic, TypeVar

T = TypeVar("T")
WAIT_S = 0.1


class _End:
    """After the last piece; holds what was raised, if anything."""

    def __init__(self, error: BaseException | None) -> None:
        self.error = error


class _Maker(threading.Thread, Generic[T]):
    """Makes pieces, one beforehand, until they end or nobody wants more."""

    def __init__(self, pieces: Iterator[T]) -> None:
        super().__init__(daemon=True)
        self.made: queue.Queue[T | _End] = queue.Queue(1)
        self.left = threading.Event()
        self._pieces = pieces

    def run(self) -> None:
        error: BaseException | None = None
        try:
            for piece in self._pieces:
                if not self._put(piece):
                    return
        except BaseException as caught:
            error = caught
        self._put(_End(error))

    def _put(self, piece: T | _End) -> bool:
        while not self.left.is_set():
            try:
                self.made.put(piece, timeout=WAIT_S)
                return True
            except queue.Full:
                continue
        return False


def ahead(pieces: Iterator[T]) -> Iterator[T]:
    """The same pieces, one made beforehand; what raises while making one is raised here.

    Whoever leaves early ends the thread.
    """
    maker = _Maker(pieces)
    maker.start()
    try:
        while not isinstance(piece := maker.made.get(), _End):
            yield piece
        if piece.error is not None:
            raise piece.error
    finally:
        maker.left.set()
        maker.join()
