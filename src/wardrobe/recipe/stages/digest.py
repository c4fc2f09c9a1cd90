"""Digests of values: equal values have equal digests, whatever process they are in."""

import marshal
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import is_dataclass
from hashlib import blake2b
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel

_BYTES = 16
_LONG = 8  # entries of a tuple from which its digest is remembered
_REMEMBERED = 4096
_PLAIN = 2  # a form of marshal in which equal numbers and texts are written alike


def _code() -> bytes:
    """Digest of all that works out artefacts: other code may give others."""
    made = blake2b(digest_size=_BYTES)
    package = Path(__file__).parents[2]
    for folder in ("core", "recipe"):
        for source in sorted((package / folder).rglob("*")):
            if source.suffix in (".py", ".npz", ".npy", ".json", ".onnx", ".icc"):
                made.update(source.read_bytes())
    return made.digest()


CODE = _code()


class _Remembered:
    """Digests of the models and long tuples that recipes share from edit to edit, by identity.

    The objects never change, and are held so that no other can take on their identity.
    """

    def __init__(self) -> None:
        self._kept: OrderedDict[int, tuple[object, bytes]] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, value: object, work_out: Callable[[], bytes]) -> bytes:
        with self._lock:
            found = self._kept.get(id(value))
            if found is not None:
                self._kept.move_to_end(id(value))
                return found[1]
        made = work_out()
        with self._lock:
            self._kept[id(value)] = value, made
            if len(self._kept) > _REMEMBERED:
                self._kept.popitem(last=False)
        return made

    def forget(self) -> None:
        with self._lock:
            self._kept.clear()


_REMEMBER = _Remembered()
forget_digests = _REMEMBER.forget


def digest(value: Any, instead: Callable[[Any], bytes | None] = lambda value: None) -> bytes:
    """Digest a value.

    Parameters
    ----------
    value : models, dataclasses, tuples, lists, dicts, sets, arrays, text, bytes, numbers, None
    instead : callable
        Gives what stands for an object that is not digested itself, or None.

    Raises
    ------
    TypeError
        If anything else is in it.
    """
    token = _row if isinstance(value, tuple) else _token
    return blake2b(token(value, instead), digest_size=_BYTES).digest()


def _token(value: Any, instead: Callable[[Any], bytes | None]) -> bytes:
    if isinstance(value, tuple):
        return _row(value, instead) if len(value) < _LONG or _mentions(value, instead) else \
            _REMEMBER.get(value, lambda: _row(value, instead))
    if value is None or isinstance(value, str | int | float | bytes):
        return marshal.dumps(value, _PLAIN)
    if isinstance(value, BaseModel):
        return _REMEMBER.get(value, lambda: _joined(
            type(value).__name__, [value.model_dump_json().encode()]))
    if isinstance(value, list):
        return _row(tuple(value), instead)
    if isinstance(value, np.ndarray):
        return _joined(f"{value.dtype.str}{value.shape}", [np.ascontiguousarray(value).data])
    if isinstance(value, dict):
        return _row(tuple(sorted(value.items())), instead)
    if isinstance(value, frozenset):
        return _joined("set", [_row(tuple(sorted(value)), instead)])
    other = instead(value)
    if other is not None:
        return b"s" + other
    if is_dataclass(value) and not isinstance(value, type):
        return _joined(type(value).__name__, [_token(getattr(value, name), instead)
                                              for name in value.__dataclass_fields__])
    raise TypeError(f"a stage may not depend on a {type(value).__name__}")


def _mentions(value: tuple[Any, ...], instead: Callable[[Any], bytes | None]) -> bool:
    """Whether a row holds what is not digested itself."""
    return any(is_dataclass(v) and instead(v) is not None for v in value)


def _row(value: tuple[Any, ...], instead: Callable[[Any], bytes | None]) -> bytes:
    try:
        return b"m" + marshal.dumps(tuple(value), _PLAIN)
    except ValueError:  # not only numbers and text
        return _joined("row", [_token(v, instead) for v in value])


def _joined(kind: str, parts: Any) -> bytes:
    made = blake2b(kind.encode(), digest_size=_BYTES)
    for part in parts:
        made.update(len(part).to_bytes(8, "little") if isinstance(part, bytes) else
                    part.nbytes.to_bytes(8, "little"))
        made.update(part)
    return b"d" + made.digest()
