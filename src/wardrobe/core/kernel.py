"""How loops over pixels are compiled."""

from collections.abc import Callable
from typing import TypeVar

from numba import njit

F = TypeVar("F", bound=Callable[..., object])


def kernel(function: F) -> F:
    """Compile to serial machine code that is cached on disk and releases the GIL.

    Serial, because numba's default threading layer aborts the process on two concurrent calls:
    parallelism comes from the caller's threads.
    """
    compiled: F = njit(cache=True, nogil=True)(function)
    return compiled
