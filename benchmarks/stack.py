"""Writing and reading layered files, against Pillow."""

import io
import json
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from benchmarks.layers import runner_piece
from wardrobe.core.formats.images import decode_image
from wardrobe.core.formats.openraster import encode_layer, write_openraster
from wardrobe.core.formats.openraster_read import read_openraster
from wardrobe.core.stack.flatten import flatten
from wardrobe.core.stack.model import Layer, Stack
from wardrobe.demo.pieces import RUNNER

LAYERS, PAINTED = 24, 6
WIDTH, HEIGHT = 2480, 3508


def painted_layer(seed: int) -> np.ndarray:
    """Soft strokes in changing colours, with the grain of a brush on every other layer."""
    rng = np.random.default_rng(seed)
    spots = np.zeros((HEIGHT // 16, WIDTH // 16), np.float32)
    for _ in range(6):
        at = int(rng.integers(0, WIDTH // 16)), int(rng.integers(0, HEIGHT // 16))
        cv2.circle(spots, at, int(rng.integers(10, 40)), 1, -1)
    alpha = cv2.GaussianBlur(cv2.resize(spots, (WIDTH, HEIGHT)), (0, 0), 60) * 1.4 - 0.2
    colour = cv2.resize(rng.random((5, 4, 3)).astype(np.float32), (WIDTH, HEIGHT),
                        interpolation=cv2.INTER_CUBIC)
    if seed % 2:
        colour += rng.normal(0, 0.02, colour.shape).astype(np.float32)
    pixels = (np.clip(np.dstack([colour, alpha]), 0, 1) * 255 + 0.5).astype(np.uint8)
    pixels[pixels[..., 3] == 0] = 0
    return pixels


def stacks() -> dict[str, Stack]:
    """The largest layers of the full figure; and some of them with painted ones."""
    deriver, recipe = runner_piece(decode_image(RUNNER.draw()))
    stack = deriver.stack(recipe)
    layers = sorted(stack.layers(), key=lambda layer: -layer.paint.shape[0] * layer.paint.shape[1])
    mixed = [*layers[:LAYERS - PAINTED],
             *(Layer(f"painted {k}", painted_layer(k)) for k in range(PAINTED))]
    return {"delivered": Stack(stack.width, stack.height, layers[:LAYERS]),
            "painted": Stack(stack.width, stack.height, mixed)}


def cpu(work: Callable[[], int]) -> tuple[float, int]:
    """CPU seconds of all threads, and what the work returns."""
    begin = time.process_time()
    result = work()
    return time.process_time() - begin, result


def with_pillow(stack: Stack) -> int:
    size = 0
    for layer in stack.layers():
        out = io.BytesIO()
        Image.fromarray(layer.pixels).save(out, "PNG", compress_level=6)
        size += out.tell()
    return size


def most_memory() -> int:
    """Most bytes that this process has had; what its parent had does not count."""
    status = Path("/proc/self/status").read_text()
    return 1024 * int(re.search(r"VmHWM:\s+(\d+)", status)[1])


def measure(name: str) -> dict[str, float]:
    """One stack in this process: CPU time, sizes, time to read, most memory used."""
    stack = stacks()[name]
    encode_layer(next(iter(stack.layers())))
    ours, size = cpu(lambda: sum(len(encode_layer(layer)) for layer in stack.layers()))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.ora"
        merged = flatten(stack)
        begin = time.perf_counter()
        write_openraster(path, stack, merged)
        written = time.perf_counter() - begin
        peak = most_memory()
        begin = time.perf_counter()
        read_openraster(path)
        read = time.perf_counter() - begin
    pillow, pillow_size = cpu(lambda: with_pillow(stack))
    return {"ours": ours, "pillow": pillow, "size": size, "pillow size": pillow_size,
            "written": written, "read": read, "peak": peak}


def measure_stacks() -> dict[str, dict[str, float]]:
    """Each stack in a process of its own, so that memory is its own."""
    return {name: json.loads(subprocess.run(
        [sys.executable, "-m", "benchmarks.stack", name], capture_output=True, check=True,
        text=True).stdout) for name in ("delivered", "painted")}


if __name__ == "__main__":
    print(json.dumps(measure(sys.argv[1])))
