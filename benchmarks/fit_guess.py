"""Fit the network that guesses the figure to the tuning halves of the drawings, and store it.

    pip install torch==2.13.0 onnx
    python -m benchmarks.fit_guess [MINUTES]

Needs PyTorch, which nothing else here does; an hour on two cores.
"""

import sys
import time
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
import onnx
import torch
from numpy.typing import NDArray
from onnx import TensorProto, helper, numpy_helper
from torch import Tensor, nn
from torch.nn import functional as fn

from benchmarks.corpora.bent import EDGE, PAPER, TORN, Small, bend, shrink
from benchmarks.corpora.hands import BUSTS, CLIP_ART, hands, kept_apart, outlined
from benchmarks.corpora.strokes import nothing
from wardrobe.core.ground import guess

SHARES = {"emoji": 0.45, "objects": 0.05, "adventurer": 0.07, "croodles": 0.08,
          "open-peeps": 0.1, CLIP_ART: 0.25}
CHANNELS = 32, 48, 64, 80  # at half the size, and at each half of that
TORN_OFTEN = 0.06  # drawings that are no busts
NOTHING = 0.05  # pictures of strokes that bound nothing
INK = 96
BATCH, SHARD, SHARDS, RATE = 32, 3000, 10, 2e-3


class Block(nn.Module):
    """Two convolutions."""

    def __init__(self, inward: int, outward: int) -> None:
        super().__init__()
        self.a = nn.Conv2d(inward, outward, 3, padding=1, bias=False)
        self.n = nn.BatchNorm2d(outward)
        self.b = nn.Conv2d(outward, outward, 3, padding=1, bias=False)
        self.m = nn.BatchNorm2d(outward)

    def forward(self, x: Tensor) -> Tensor:
        return fn.relu(self.m(self.b(fn.relu(self.n(self.a(x))))))


class Network(nn.Module):
    """A U-Net that begins and ends at half the size."""

    def __init__(self, channels: tuple[int, ...] = CHANNELS) -> None:
        super().__init__()
        a, b, c, d = channels
        self.stem = nn.Conv2d(5, a, 4, stride=2, padding=1)
        self.d0, self.d1, self.d2 = Block(a, a), Block(a, b), Block(b, c)
        self.d3, self.d4 = Block(c, d), Block(d, d)
        self.u3, self.u2 = Block(2 * d, d), Block(d + c, c)
        self.u1, self.u0 = Block(c + b, b), Block(b + a, a)
        self.out = nn.ConvTranspose2d(a, 1, 4, stride=2, padding=1)

    def forward(self, x: Tensor) -> Tensor:
        a = self.d0(fn.relu(self.stem(x)))
        b = self.d1(fn.max_pool2d(a, 2))
        c = self.d2(fn.max_pool2d(b, 2))
        d = self.d3(fn.max_pool2d(c, 2))
        low = self.d4(fn.max_pool2d(d, 2))
        for up, beside in ((self.u3, d), (self.u2, c), (self.u1, b), (self.u0, a)):
            low = up(torch.cat([fn.interpolate(low, scale_factor=2.0), beside], 1))
        return self.out(low)[:, 0]


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
            planes, window = guess.seen(cover, ink)
            size = guess.SIDE, guess.SIDE
            rows.append((planes, *(cv2.resize(window.cut(a, 0), size, interpolation=cv2.INTER_AREA)
                                   for a in (figure, judged))))
    return [np.stack(column) for column in zip(*rows, strict=True)]


def batches(shards: list[list[NDArray[np.uint8]]]) -> Iterator[list[Tensor]]:
    rng = np.random.default_rng(0)
    while True:
        for columns in shards:
            order = rng.permutation(len(columns[0]))
            for k in range(0, len(order) - BATCH + 1, BATCH):
                yield [torch.from_numpy(c[order[k:k + BATCH]]).float() / 255 for c in columns]


def loss_of(odds: Tensor, true: Tensor, judged: Tensor) -> Tensor:
    """Cross entropy, and how much of the union is not shared."""
    entropy = fn.binary_cross_entropy_with_logits(odds, true, reduction="none") * judged
    chance = torch.sigmoid(odds)
    shared = (chance * true * judged).sum((1, 2))
    union = ((chance + true - chance * true) * judged).sum((1, 2))
    each = entropy.sum((1, 2)) / judged.sum((1, 2)).clamp(min=1)
    return (each + 0.3 * (1 - shared / union.clamp(min=1))).mean()


def halve(path: Path) -> None:
    """Store the weights of a network in half precision: half as many bytes, the same answers."""
    model = onnx.load(path)
    graph, wider = model.graph, []
    for weights in list(graph.initializer):
        values = numpy_helper.to_array(weights)
        if values.dtype == np.float32 and values.size > 64:
            name = f"{weights.name}_half"
            graph.initializer.remove(weights)
            graph.initializer.append(numpy_helper.from_array(values.astype(np.float16), name))
            wider.append(helper.make_node("Cast", [name], [weights.name], to=TensorProto.FLOAT))
    nodes = [*wider, *graph.node]
    del graph.node[:]
    graph.node.extend(nodes)
    onnx.checker.check_model(model)
    onnx.save(model, path)


def main(minutes: float) -> None:
    torch.manual_seed(0)
    torch.set_flush_denormal(True)  # twice as fast
    drawings: dict[str, list[Small]] = defaultdict(list)
    for source in SHARES:
        halves = (0, 1) if source == CLIP_ART else (0,)
        drawings[source] = [shrink(d) for half in halves
                            for d in hands(source, half, 100_000, framed=False)
                            if (outlined(d) if source == CLIP_ART else not kept_apart(d.name))]
        print(source, len(drawings[source]), flush=True)
    shards = [shard(drawings, seed) for seed in range(SHARDS)]
    network = Network().to(memory_format=torch.channels_last)
    steps = torch.optim.AdamW(network.parameters(), RATE, weight_decay=1e-3)
    start, total = time.monotonic(), 0.0
    for count, (x, true, judged) in enumerate(batches(shards), 1):
        done = (time.monotonic() - start) / 60 / minutes
        if done >= 1:
            break
        for group in steps.param_groups:
            group["lr"] = RATE * min(1, count / 100) * (1 + np.cos(np.pi * done)) / 2 + 1e-5
        loss = loss_of(network(x.contiguous(memory_format=torch.channels_last)), true, judged)
        steps.zero_grad()
        loss.backward()
        nn.utils.clip_grad_norm_(network.parameters(), 1.0)
        steps.step()
        total += loss.item()
        if count % 100 == 0:
            print(f"{100 * done:3.0f} %: {total / 100:.4f}", flush=True)
            total = 0.0
    network.eval()
    path = Path(guess.__file__).with_name("guess.onnx")
    torch.onnx.export(network, (torch.zeros(2, 5, guess.SIDE, guess.SIDE),), str(path),
                      dynamo=False, input_names=["seen"], output_names=["odds"],
                      opset_version=13)
    halve(path)


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 60.0)
