"""A cache of derived results, keyed by content, bounded by bytes, computing each key once."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import fields, is_dataclass
from typing import Any, TypeVar

import numpy as np

T = TypeVar("T")


class ContentCache:
    """Least recently used results are dropped first.

    Parameters
    ----------
    capacity : int
        Bytes of arrays kept.
    """

    def __init__(self, capacity: int) -> None:
        self._capacity = capacity
        self._used = 0
        self._entries: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._pending: dict[Hashable, threading.Lock] = {}
        self._lock = threading.Lock()

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The result for a key; threads that want the same key wait for one computation."""
        with self._lock:
            if key in self._entries:
                self._entries.move_to_end(key)
                found: T = self._entries[key][0]
                return found
            pending = self._pending.setdefault(key, threading.Lock())
        with pending:
            with self._lock:
                if key in self._entries:
                    again: T = self._entries[key][0]
                    return again
            try:
                value = compute()
                self._store(key, value)
            finally:
                with self._lock:
                    self._pending.pop(key, None)
        return value

    def peek(self, key: Hashable) -> Any | None:
        """The result for a key if it is there."""
        with self._lock:
            return self._entries[key][0] if key in self._entries else None

    def resize(self, capacity: int) -> None:
        """Keep no more than so many bytes from now on."""
        with self._lock:
            self._capacity = capacity
            self._drop(0)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._entries.clear()
            self._used = 0

    @property
    def used(self) -> int:
        """Bytes of arrays kept now."""
        return self._used

    def _store(self, key: Hashable, value: Any) -> None:
        size = size_of(value)
        with self._lock:
            self._entries[key] = (value, size)
            self._used += size
            self._drop(1)

    def _drop(self, but: int) -> None:
        while self._used > self._capacity and len(self._entries) > but:
            _, (_, dropped) = self._entries.popitem(last=False)
            self._used -= dropped


def size_of(value: Any) -> int:
    """Bytes held by the arrays in a result."""
    if isinstance(value, np.ndarray):
        return value.nbytes
    if isinstance(value, bytes):
        return len(value)
    if isinstance(value, tuple | list):
        return sum(size_of(v) for v in value)
    if is_dataclass(value):
        return sum(size_of(getattr(value, f.name)) for f in fields(value))
    return 64
