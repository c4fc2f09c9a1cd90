"""Fit the network that guesses the figure to the tuning halves of the drawings, and store it.

    pip install torch==2.13.0 onnx
    python -m benchmarks.fit_guess [MINUTES]

Needs PyTorch, which nothing else here does; an hour on two cores.
"""

import sys
from collections import defaultdict

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from torch import Tensor
from torch.nn import functional as fn

from benchmarks.corpora.bent import EDGE, PAPER, TORN, Small, bend, shrink
from benchmarks.corpora.hands import BUSTS, CLIP_ART, hands, kept_apart, outlined
from benchmarks.corpora.strokes import nothing
from benchmarks.networks import Network, fit, store
from wardrobe.core.ground.guess import MODEL
from wardrobe.core.ground.seen import SIDE, seen

SHARES = {"emoji": 0.45, "objects": 0.05, "adventurer": 0.07, "croodles": 0.08,
          "open-peeps": 0.1, CLIP_ART: 0.25}
CHANNELS = 32, 48, 64, 80  # at half the size, and at each half of that
TORN_OFTEN = 0.06  # drawings that are no busts
NOTHING = 0.05  # pictures of strokes that bound nothing
INK = 96
SHARD, SHARDS, RATE = 3000, 10, 2e-3


def shard(drawings: dict[str, list[Small]], seed: int) -> list[NDArray[np.uint8]]:
    """What is shown, what is true and what is judged, of so many drawings that might be."""
    rng = np.random.default_rng(seed)
    sources = list(SHARES)
    rows: list[tuple[NDArray[np.uint8], ...]] = []
    while len(rows) < SHARD:
        source = sources[rng.choice(len(sources), p=[SHARES[s] for s in sources])]
        small = drawings[source][rng.integers(len(drawings[source]))]
        framing = TORN if rng.random() < TORN_OFTEN else PAPER
        if source in BUSTS:
            framing = (PAPER, EDGE, TORN)[rng.integers(3)]
        cover, figure, judged = bend(small, framing, rng)
        if rng.random() < NOTHING:
            cover, held = nothing(rng)
            figure, judged = held.astype(np.uint8) * np.uint8(255), 255 - cover
        ink = (cover >= INK).astype(np.uint8)
        if ink.any():
            planes, window = seen(cover, ink)
            size = SIDE, SIDE
            rows.append((planes, *(cv2.resize(window.cut(a, 0), size, interpolation=cv2.INTER_AREA)
                                   for a in (figure, judged))))
    return [np.stack(column) for column in zip(*rows, strict=True)]


def loss_of(odds: Tensor, true: Tensor, judged: Tensor) -> Tensor:
    """Cross entropy, and how much of the union is not shared."""
    odds = odds[:, 0]
    entropy = fn.binary_cross_entropy_with_logits(odds, true, reduction="none") * judged
    chance = torch.sigmoid(odds)
    shared = (chance * true * judged).sum((1, 2))
    union = ((chance + true - chance * true) * judged).sum((1, 2))
    each = entropy.sum((1, 2)) / judged.sum((1, 2)).clamp(min=1)
    return (each + 0.3 * (1 - shared / union.clamp(min=1))).mean()


def main(minutes: float) -> None:
    torch.manual_seed(0)
    drawings: dict[str, list[Small]] = defaultdict(list)
    for source in SHARES:
        halves = (0, 1) if source == CLIP_ART else (0,)
        drawings[source] = [shrink(d) for half in halves
                            for d in hands(source, half, 100_000, framed=False)
                            if (outlined(d) if source == CLIP_ART else not kept_apart(d.name))]
        print(source, len(drawings[source]), flush=True)
    shards = [shard(drawings, seed) for seed in range(SHARDS)]
    network = Network(CHANNELS, 1)
    fit(network, shards, loss_of, minutes, RATE)
    store(network, MODEL)


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 60.0)
