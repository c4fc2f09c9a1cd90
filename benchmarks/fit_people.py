"""Fit the network that tells skin, hair and eyes to the tuning halves of the drawings, and store
it.

    pip install torch==2.13.0 onnx
    python -m benchmarks.fit_people [MINUTES]
"""

import sys
from collections import defaultdict
from dataclasses import replace

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from torch import Tensor
from torch.nn import functional as fn

from benchmarks.corpora.bent import EDGE, PAPER, TORN, Small, bend, shrink
from benchmarks.corpora.hands import BUSTS, CLIP_ART, Drawing, files, hands, kept_apart, outlined
from benchmarks.corpora.people import person
from benchmarks.networks import Network, fit, store
from wardrobe.core.ground.seen import SIDE, seen
from wardrobe.core.people.look import KINDS, MODEL

SHARES = {"adventurer": 0.27, "open-peeps": 0.25, "people": 0.3, "emoji": 0.08, "objects": 0.03,
          CLIP_ART: 0.07}
THINGS = ("food", "tools", "plants", "transportation", "electronics", "office", "buildings",
          "containers", "science")  # of the clip art: nobody is in these
CHANNELS = 24, 40, 56, 72
INK = 96
SHARD, SHARDS, RATE = 3000, 5, 2e-3
Planes = tuple[Small, list[NDArray[np.uint8]], tuple[bool, ...]]


def shard(drawings: dict[str, list[Planes]], seed: int) -> list[NDArray[np.uint8]]:
    """What is shown, where each kind is, and where that is judged."""
    rng = np.random.default_rng(seed)
    sources = list(SHARES)
    rows: list[tuple[NDArray[np.uint8], ...]] = []
    while len(rows) < SHARD:
        source = sources[rng.choice(len(sources), p=[SHARES[s] for s in sources])]
        small, kinds, known = drawings[source][rng.integers(len(drawings[source]))]
        framing = (PAPER, EDGE, TORN)[rng.integers(3)] if source in BUSTS else PAPER
        same = int(rng.integers(2**32))
        # Bent alike, a plane at a time; what is judged comes back with the ink taken out.
        cover, _, free = bend(replace(small, judged=np.full_like(small.judged, 255)), framing,
                              np.random.default_rng(same))
        ink = (cover >= INK).astype(np.uint8)
        if not ink.any():
            continue
        there = [255 - bend(replace(small, judged=255 - k), framing,
                            np.random.default_rng(same))[2] for k in kinds]
        planes, window = seen(cover, ink)
        size = SIDE, SIDE
        true, judged = (np.stack([cv2.resize(window.cut(a, 0), size,
                                             interpolation=cv2.INTER_AREA) for a in some])
                        for some in (there, [free * k for k in known]))
        rows.append((planes, true, judged))
    return [np.stack(column) for column in zip(*rows, strict=True)]


def loss_of(odds: Tensor, true: Tensor, judged: Tensor) -> Tensor:
    """Cross entropy, and for what there is how much of the union is not shared."""
    sure = (true > 0.5).float()
    entropy = fn.binary_cross_entropy_with_logits(odds, sure, reduction="none") * judged
    chance = torch.sigmoid(odds)
    shared = (chance * sure * judged).sum((2, 3))
    union = ((chance + sure - chance * sure) * judged).sum((2, 3))
    there = ((sure * judged).sum((2, 3)) > 0).float()
    each = entropy.sum((2, 3)) / judged.sum((2, 3)).clamp(min=1)
    return (each + 0.2 * there * (1 - shared / union.clamp(min=1))).sum(1).mean()


def gathered() -> dict[str, list[Planes]]:
    """All drawings that are fitted to, by source; pictograms with people apart from others."""
    out: dict[str, list[Planes]] = defaultdict(list)
    nobody = {path.stem for path in files(CLIP_ART) if path.parent.name in THINGS}

    def serves(drawing: Drawing) -> bool:
        if source == CLIP_ART:
            return drawing.name in nobody and outlined(drawing)
        return not kept_apart(drawing.name)

    for source in ("adventurer", "open-peeps", "emoji", "objects", CLIP_ART):
        for half in (0, 1) if source == CLIP_ART else (0,):
            for drawing in hands(source, half, 100_000, framed=False):
                found = person(drawing) if serves(drawing) else None
                if found is None:
                    continue
                small = shrink(drawing)
                size = small.cover.shape[1], small.cover.shape[0]
                kinds = [cv2.resize(k.astype(np.uint8) * np.uint8(255), size,
                                    interpolation=cv2.INTER_AREA) for k in found.kinds]
                people = source == "emoji" and found.kinds.any()
                out["people" if people else source].append((small, kinds, found.known))
    return out


def main(minutes: float) -> None:
    torch.manual_seed(0)
    drawings = gathered()
    print({source: len(some) for source, some in drawings.items()}, flush=True)
    shards = [shard(drawings, seed) for seed in range(SHARDS)]
    network = Network(CHANNELS, len(KINDS))
    fit(network, shards, loss_of, minutes, RATE)
    store(network, MODEL)


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 40.0)
