"""Whose picture is worked out next: quick ones first, never more at once than there are cores, and
none for a client that has gone."""

import asyncio
import itertools
import os
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass, field

from starlette.requests import ClientDisconnect, Request

AT_ONCE = max(2, min(4, os.cpu_count() or 2))
LARGE = 3_000_000  # pixels from which only one is drawn at a time
_QUICK = 500_000
_LOOK = 0.25  # seconds between looks at whether the client is still there


@dataclass(order=True)
class _Turn:
    """Somebody who waits; the least in order is next."""

    rank: int
    number: int
    granted: asyncio.Event = field(default_factory=asyncio.Event, compare=False)


class Turns:
    """A queue in front of work that takes all of a core.

    It belongs to the event loop; the work itself runs wherever the caller has it run.
    """

    def __init__(self, at_once: int = AT_ONCE) -> None:
        self._free, self._large_free = at_once, True
        self._waiting: list[_Turn] = []
        self._numbers = itertools.count()

    @asynccontextmanager
    async def taken(self, request: Request, pixels: int) -> AsyncIterator[None]:
        """Wait for one's turn, and hold it inside the block.

        Parameters
        ----------
        request : Request
        pixels : int
            How large the work is.

        Raises
        ------
        ClientDisconnect
            If the client has gone meanwhile.
        """
        rank = 0 if pixels < _QUICK else 1 if pixels < LARGE else 2
        turn = _Turn(rank, next(self._numbers))
        self._waiting.append(turn)
        self._grant()
        try:
            while not turn.granted.is_set():
                try:
                    await asyncio.wait_for(turn.granted.wait(), _LOOK)
                except TimeoutError:
                    if await request.is_disconnected():
                        raise ClientDisconnect from None
            if await request.is_disconnected():
                raise ClientDisconnect
            yield
        finally:
            if turn.granted.is_set():
                self._free += 1
                self._large_free |= rank == 2
            else:
                self._waiting.remove(turn)
            self._grant()

    def _grant(self) -> None:
        for turn in sorted(self._waiting):
            if self._free == 0:
                return
            if turn.rank == 2 and not self._large_free:
                continue
            self._waiting.remove(turn)
            self._free -= 1
            self._large_free &= turn.rank != 2
            turn.granted.set()
