"""Small networks that see a drawing in a square: how they are built, fitted and stored.

Needs PyTorch (``pip install torch==2.13.0 onnx``), which nothing but the fits does.
"""

import time
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import onnx
import torch
from numpy.typing import NDArray
from onnx import TensorProto, helper, numpy_helper
from torch import Tensor, nn
from torch.nn import functional as fn

BATCH = 32
PLANES, SIDE = 5, 128
Shard = list[NDArray[np.uint8]]


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
    """A U-Net that begins and ends at half the size.

    Parameters
    ----------
    channels : tuple of four int
        At half the size, and at each half of that.
    kinds : int
        Of what it tells apart, each by log odds of its own.
    """

    def __init__(self, channels: tuple[int, int, int, int], kinds: int) -> None:
        super().__init__()
        a, b, c, d = channels
        self.stem = nn.Conv2d(PLANES, a, 4, stride=2, padding=1)
        self.d0, self.d1, self.d2 = Block(a, a), Block(a, b), Block(b, c)
        self.d3, self.d4 = Block(c, d), Block(d, d)
        self.u3, self.u2 = Block(2 * d, d), Block(d + c, c)
        self.u1, self.u0 = Block(c + b, b), Block(b + a, a)
        self.out = nn.ConvTranspose2d(a, kinds, 4, stride=2, padding=1)

    def forward(self, x: Tensor) -> Tensor:
        a = self.d0(fn.relu(self.stem(x)))
        b = self.d1(fn.max_pool2d(a, 2))
        c = self.d2(fn.max_pool2d(b, 2))
        d = self.d3(fn.max_pool2d(c, 2))
        low = self.d4(fn.max_pool2d(d, 2))
        for up, beside in ((self.u3, d), (self.u2, c), (self.u1, b), (self.u0, a)):
            low = up(torch.cat([fn.interpolate(low, scale_factor=2.0), beside], 1))
        odds: Tensor = self.out(low)
        return odds


def fit(network: Network, shards: list[Shard], loss_of: Callable[..., Tensor], minutes: float,
        rate: float) -> None:
    """Fit a network for so many minutes to what is shown (the first column of each shard) and
    what is true of it (the others, which the loss takes after the network's answer)."""
    torch.set_flush_denormal(True)  # twice as fast
    network.to(memory_format=torch.channels_last)
    steps = torch.optim.AdamW(network.parameters(), rate, weight_decay=1e-3)
    start, total = time.monotonic(), 0.0
    for count, (x, *truth) in enumerate(_batches(shards), 1):
        done = (time.monotonic() - start) / 60 / minutes
        if done >= 1:
            break
        for group in steps.param_groups:
            group["lr"] = rate * min(1, count / 100) * (1 + np.cos(np.pi * done)) / 2 + 1e-5
        loss = loss_of(network(x.contiguous(memory_format=torch.channels_last)), *truth)
        steps.zero_grad()
        loss.backward()
        nn.utils.clip_grad_norm_(network.parameters(), 1.0)
        steps.step()
        total += loss.item()
        if count % 100 == 0:
            print(f"{100 * done:3.0f} %: {total / 100:.4f}", flush=True)
            total = 0.0
    network.eval()


def _batches(shards: list[Shard]) -> Iterator[list[Tensor]]:
    rng = np.random.default_rng(0)
    while True:
        for columns in shards:
            order = rng.permutation(len(columns[0]))
            for k in range(0, len(order) - BATCH + 1, BATCH):
                yield [torch.from_numpy(c[order[k:k + BATCH]]).float() / 255 for c in columns]


def store(network: Network, path: Path) -> None:
    """Write a network for the application: weights in half precision, as OpenCV reads it."""
    torch.onnx.export(network, (torch.zeros(2, PLANES, SIDE, SIDE),), str(path),
                      dynamo=False, input_names=["seen"], output_names=["odds"],
                      opset_version=13)
    _halve(path)


def _halve(path: Path) -> None:
    """Half as many bytes, the same answers."""
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
