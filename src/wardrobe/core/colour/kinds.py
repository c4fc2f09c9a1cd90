"""Colours that occur, so that each is worked out once however often it does."""

import numpy as np
from numpy.typing import NDArray


def kinds(rows: NDArray[np.uint8]) -> tuple[NDArray[np.uint8], NDArray[np.int64]]:
    """Rows that occur, and which of them each row is.

    Parameters
    ----------
    rows : ndarray of uint8, shape (n, columns)
        At most eight columns: a colour, or a pair of them.

    Returns
    -------
    ndarray of uint8, shape (m, columns)
    ndarray of int64, shape (n,)
    """
    places = np.arange(8 * (rows.shape[1] - 1), -1, -8, dtype=np.uint64)
    packed = rows.astype(np.uint64) @ (np.uint64(1) << places)
    _, first, back = np.unique(packed, return_index=True, return_inverse=True)
    return rows[first], back
