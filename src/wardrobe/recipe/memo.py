"""Remember what was computed from objects that never change, by which objects they are.

Edits leave alone what they do not touch: a recipe whose light was moved holds the very same parts.
So a look at the identity of a few objects tells what would take long to compare by content.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, Generic, TypeVar
from weakref import WeakSet

R = TypeVar("R")
_ALL: "WeakSet[Memo[Any]]" = WeakSet()


class Memo(Generic[R]):
    """The results for the last few combinations of objects.

    Parameters
    ----------
    size : int
        Results kept, with the objects that they are for.
    """

    def __init__(self, size: int = 24) -> None:
        self._size = size
        self._kept: OrderedDict[Hashable, tuple[tuple[object, ...], R]] = OrderedDict()
        self._lock = threading.Lock()
        _ALL.add(self)

    def forget(self) -> None:
        """Forget everything."""
        with self._lock:
            self._kept.clear()

    def get(self, objects: tuple[object, ...], values: Hashable, compute: Callable[[], R]) -> R:
        """The result for these very objects, which must not change, and for equal values."""
        # The objects are held, so no other can have their identity while they are remembered.
        key = (tuple(map(id, objects)), values)
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key][1]
        value = compute()
        with self._lock:
            self._kept[key] = (objects, value)
            while len(self._kept) > self._size:
                self._kept.popitem(last=False)
        return value


def forget_all() -> None:
    """Have every memo forget everything: nobody works, and memory is to be given back."""
    for memo in list(_ALL):
        memo.forget()
