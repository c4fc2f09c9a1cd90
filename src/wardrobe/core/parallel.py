"""Run independent work on all cores: kernels release the GIL, so threads are enough."""

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from typing import TypeVar

T = TypeVar("T")
R = TypeVar("R")

_WORKERS = min(4, os.cpu_count() or 1)
_POOL = ThreadPoolExecutor(max_workers=_WORKERS, thread_name_prefix="wardrobe")
_OUTER = ThreadPoolExecutor(max_workers=_WORKERS, thread_name_prefix="wardrobe-outer")
_SMALLEST_BAND = 64  # rows: less is not worth a thread


def limit(cores: int) -> None:
    """Work on no more than so many cores from now on: where each core has a process of its own."""
    global _WORKERS  # noqa: PLW0603
    _WORKERS = max(1, cores)


def each(work: Callable[[T], R], items: Sequence[T]) -> list[R]:
    """Results of ``work`` for each item, in order; the caller's thread takes the first.

    ``work`` itself must not call this: it could wait for threads that wait for it.
    """
    if _WORKERS == 1:
        return [work(item) for item in items]
    if not items:
        return []
    others = [_POOL.submit(work, item) for item in items[1:]]
    return [work(items[0]), *(other.result() for other in others)]


def each_outer(work: Callable[[T], R], items: Sequence[T]) -> list[R]:
    """As :func:`each`, for work that may call that itself, but not this."""
    if len(items) < 2 or _WORKERS == 1:
        return [work(item) for item in items]
    return list(_OUTER.map(work, items))


def bands(height: int) -> list[slice]:
    """Rows of a picture, shared out to the cores."""
    count = max(1, min(_WORKERS, height // _SMALLEST_BAND))
    ends = [height * k // count for k in range(count + 1)]
    return [slice(*pair) for pair in pairwise(ends)]
