"""The networks that see a drawing, evaluated by another library: ONNX Runtime."""

from pathlib import Path

import numpy as np
import onnxruntime
import pytest

from tests.drawings import figure_ink
from wardrobe.core.ground import guess
from wardrobe.core.ground.seen import Network, seen
from wardrobe.core.people import look


@pytest.mark.parametrize("model", [guess.MODEL, look.MODEL], ids=lambda path: path.stem)
def test_a_network_says_what_onnx_runtime_says(model: Path) -> None:
    """Of a figure and of its mirror image; to 0.01 in log odds."""
    cover = figure_ink()
    planes, _ = seen(cover, (cover >= 96).astype(np.uint8))
    session = onnxruntime.InferenceSession(model.read_bytes(),
                                           providers=["CPUExecutionProvider"])
    name = session.get_inputs()[0].name
    both = np.stack([planes, planes[..., ::-1]]).astype(np.float32) / 255
    one, two = session.run(None, {name: both})[0].reshape(2, -1, *planes.shape[1:])
    network = Network(model)
    ours = network.ask(planes)
    assert np.abs(ours - (one + two[..., ::-1]) / 2).max() < 0.01 and ours.std() > 1
    mirrored = network.ask(np.ascontiguousarray(planes[..., ::-1]))
    assert np.abs(mirrored - ours[..., ::-1]).max() < 0.01
