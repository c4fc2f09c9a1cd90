"""How loops over pixels are compiled."""

import contextlib
import hashlib
import os
import shutil
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import numba
from numba import njit

F = TypeVar("F", bound=Callable[..., object])

_CORE = Path(__file__).parent


def _cache_folder() -> Path:
    """Where machine code is kept, by what all kernels say.

    numba looks only at the file of a kernel itself, and would go on using what it compiled
    before another file's kernel that it calls was changed.
    """
    digest = hashlib.sha256(numba.__version__.encode())
    for source in sorted(_CORE.rglob("*.py")):
        text = source.read_bytes()
        if b"@kernel" in text or b"@leaf" in text:
            digest.update(text)
    beside = _CORE / "__pycache__"
    with contextlib.suppress(OSError):
        beside.mkdir(exist_ok=True)
    if not os.access(beside, os.W_OK):
        beside = Path(os.environ.get("XDG_CACHE_HOME", Path.home() / ".cache")) / "wardrobe"
    folder = beside / f"kernels-{digest.hexdigest()[:16]}"
    if not folder.is_dir():
        for older in beside.glob("kernels-*"):
            shutil.rmtree(older, ignore_errors=True)
    return folder


numba.config.CACHE_DIR = str(_cache_folder())


def kernel(function: F) -> F:
    """Compile to serial machine code that is cached on disk and releases the GIL.

    Serial, because numba's default threading layer aborts the process on two concurrent calls:
    parallelism comes from the caller's threads.
    """
    compiled: F = njit(cache=True, nogil=True)(function)
    return compiled


def leaf(function: F) -> F:
    """Compile a kernel that allocates no array and is called from other kernels.

    Its references to arrays are not counted, which would take up to four fifths of the time of
    one that does little and is called for every row or pixel.
    """
    compiled: F = njit(cache=True, nogil=True, _nrt=False)(function)
    return compiled
