"""Results from one process to another: what is small as a message, arrays as shared memory."""

import mmap
import os
import pickle
from collections.abc import Callable
from itertools import pairwise
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle, send_handle
from typing import Any

_ALIGNED = 64


def send_result(to: Connection, value: Any, parent: int) -> None:
    """Send a value to the process ``parent``."""
    buffers: list[memoryview] = []

    def aside(buffer: pickle.PickleBuffer) -> bool:
        buffers.append(buffer.raw())
        return False  # not in the message

    message = pickle.dumps(value, protocol=5, buffer_callback=aside)
    ends = [0]
    for buffer in buffers:
        ends.append(-(-(ends[-1] + buffer.nbytes) // _ALIGNED) * _ALIGNED)
    to.send(("done", message, [b.nbytes for b in buffers], ends))
    if buffers:
        memory = os.memfd_create("wardrobe")
        try:
            os.ftruncate(memory, ends[-1])
            for buffer, begin in zip(buffers, ends, strict=False):
                _write(memory, buffer, begin)
            send_handle(to, memory, parent)
        finally:
            os.close(memory)


def receive_result(of: Connection, message: bytes, sizes: list[int], ends: list[int],
                   wait: Callable[[], None]) -> Any:
    """The value whose message has come; arrays lie in the memory that the sender filled.

    Parameters
    ----------
    wait : callable
        Returns when there is more to be received; may raise.
    """
    buffers: list[memoryview] = []
    if sizes:
        wait()
        memory = recv_handle(of)
        try:
            whole = memoryview(mmap.mmap(memory, ends[-1]) if ends[-1] else bytearray())
        finally:
            os.close(memory)
        buffers = [whole[begin:begin + size]
                   for (begin, _), size in zip(pairwise(ends), sizes, strict=True)]
    return pickle.loads(message, buffers=buffers)  # noqa: S301 from our own process


def _write(file: int, buffer: memoryview, begin: int) -> None:
    done = 0
    while done < buffer.nbytes:  # one call writes at most 2 GB
        done += os.pwrite(file, buffer[done:], begin + done)
