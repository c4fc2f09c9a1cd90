"""The network that guesses the figure, evaluated by another library: ONNX Runtime."""

from pathlib import Path

import numpy as np
import onnxruntime

from tests.drawings import figure_ink
from wardrobe.core.ground import guess

_MODEL = Path(guess.__file__).with_name("guess.onnx")


def test_the_network_says_what_onnx_runtime_says() -> None:
    """Of a figure and of its mirror image; to 0.01 in log odds."""
    cover = figure_ink()
    planes, _ = guess.seen(cover, (cover >= 96).astype(np.uint8))
    session = onnxruntime.InferenceSession(_MODEL.read_bytes(),
                                           providers=["CPUExecutionProvider"])
    name = session.get_inputs()[0].name
    both = np.stack([planes, planes[..., ::-1]]).astype(np.float32) / 255
    one, two = session.run(None, {name: both})[0]
    ours = guess.ask(planes)
    assert np.abs(ours - (one + two[:, ::-1]) / 2).max() < 0.01 and ours.std() > 1
    assert np.abs(guess.ask(np.ascontiguousarray(planes[..., ::-1])) - ours[:, ::-1]).max() < 0.01
