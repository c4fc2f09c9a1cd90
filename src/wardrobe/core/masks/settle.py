"""Let masks agree with each other: a deep shade lies in the shade, light where there is none.

So every pixel inside a pass has the same masks full, and shows the same colour.
"""

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from wardrobe.core.kernel import kernel
from wardrobe.core.layers.layer import words
from wardrobe.core.parallel import bands, each
from wardrobe.core.passes.table import PASSES, Pass

Byte = NDArray[np.uint8]

_OPERATIONS = {"within": 0, "without": 1, "around": 2, "alone": 3}
_NOTHING = -1
_NOT = "not "


def settle(levels: Byte, keys: Sequence[str], passes: Mapping[str, Pass] = PASSES) -> None:
    """Apply the rules of passes to their masks, in place.

    Parameters
    ----------
    levels : ndarray of uint8, shape (height, width, planes)
    keys : sequence of str
        Passes, in the order of the masks.
    passes : mapping of str to Pass
        The table.
    """
    steps = rules_of(keys, passes)
    packed = words(levels)
    each(lambda rows: _settle(levels[rows], packed[rows], steps), bands(len(levels)))


def rules_of(keys: Sequence[str], passes: Mapping[str, Pass] = PASSES) -> NDArray[np.int64]:
    """The rules of those passes that are there, in their turns: operation, mask, the other mask
    (-1 for nothing), and whether it is where the other is not; shape (rules, 4)."""
    found = []
    for key in keys:
        for rule in passes[key].rules if key in passes else ():
            there = next((o for o in rule.others
                          if o == "nothing" or o.removeprefix(_NOT) in keys), None)
            if there is None and rule.does != "alone":
                continue
            other = _NOTHING if there in (None, "nothing") else \
                keys.index(str(there).removeprefix(_NOT))
            found.append((rule.turn, _OPERATIONS[rule.does], keys.index(key), other,
                          str(there).startswith(_NOT)))
    ordered = sorted(found, key=lambda row: row[0])
    return np.array([row[1:] for row in ordered], np.int64).reshape(-1, 4)


@kernel
def _settle(levels: Byte, packed: NDArray[np.unsignedinteger], steps: NDArray[np.int64]) -> None:
    height, width, count = packed.shape
    before = np.zeros(count, np.uint64)  # what the pixel on the left was, and what it became
    for y in range(height):
        known, last = False, 0
        for x in range(width):
            same, bare = known, True
            for w in range(count):
                same = same and packed[y, x, w] == before[w]
                bare = bare and packed[y, x, w] == 0
            if bare:
                continue
            here = levels[y, x]
            if same:
                for w in range(count):
                    packed[y, x, w] = packed[y, last, w]
                last = x
                continue
            for w in range(count):
                before[w] = packed[y, x, w]
            known, last = True, x
            for k in range(len(steps)):
                does, mine, other = steps[k, 0], steps[k, 1], steps[k, 2]
                if does == 3:
                    if here[mine]:
                        for j in range(here.size):
                            if j != mine:
                                here[j] = (here[j] * (255 - here[mine]) + 127) // 255
                    continue
                level = np.uint8(0) if other < 0 else here[other]
                if steps[k, 3]:
                    level = np.uint8(255 - level)
                if does == 0:
                    here[mine] = min(here[mine], level)
                elif does == 1:
                    here[mine] = (here[mine] * (255 - level) + 127) // 255
                else:
                    here[mine] = max(here[mine], level)
