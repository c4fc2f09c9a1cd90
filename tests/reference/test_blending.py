"""The blend modes against W3C's formulas as others have built them.

Sources: W3C Compositing and Blending Level 1; Chromium's canvas; Skia through skia-python.
"""

import numpy as np
import pytest
import skia

from tests.chromium import browser_page
from wardrobe.core.composite.kernels import lay, to_bytes
from wardrobe.core.composite.modes import MODES
from wardrobe.core.composite.reference import composite

RNG = np.random.default_rng(7)


def swatches(opaque: bool) -> tuple[np.ndarray, np.ndarray]:
    """Backdrop and source, uint8, shape (16, 64, 4), with the corner cases 0 and 255 in them."""
    both = RNG.choice([0, 1, 64, 127, 128, 200, 254, 255], (2, 16, 64, 4)).astype(np.uint8)
    both[:, :8] = RNG.integers(0, 256, (2, 8, 64, 4))
    if opaque:
        both[..., 3] = 255
    return both[0], both[1]


def ours(backdrop: np.ndarray, source: np.ndarray, mode: str) -> np.ndarray:
    buffer = (backdrop / 255).astype(np.float32)
    lay(buffer, source, mode=mode)
    return to_bytes(buffer).astype(int)


def shown(rgba: np.ndarray) -> np.ndarray:
    """Premultiplied: what can be seen, without the noise of colours at low alpha."""
    return rgba[..., :3] * rgba[..., 3:] / 255


@pytest.mark.parametrize("mode", MODES)
@pytest.mark.parametrize("clip", [False, True])
def test_kernel_equals_the_readable_reference(mode: str, clip: bool) -> None:
    backdrop, source = swatches(opaque=False)
    buffer = (backdrop / 255).astype(np.float32)
    lay(buffer, source, mode=mode, opacity=0.8, clip=clip)
    exact = composite(backdrop / 255, source / 255, mode, 0.8, clip)
    seen = exact[..., 3] > 0
    assert np.abs(buffer - exact)[seen].max() * 255 <= 1


CANVAS = {"normal": "source-over", "plus-lighter": "lighter"}
# At low alpha, where bytes are few, these amplify rounding.
ILL_CONDITIONED = {"color-dodge", "color-burn", "hue", "saturation"}


def test_modes_equal_chromiums_canvas() -> None:
    script = """([back, front, mode, w, h]) => {
        const put = (d) => { const c = new OffscreenCanvas(w, h);
            c.getContext('2d').putImageData(new ImageData(new Uint8ClampedArray(d), w, h), 0, 0);
            return c; };
        const canvas = put(back), ctx = canvas.getContext('2d');
        ctx.globalCompositeOperation = mode;
        ctx.drawImage(put(front), 0, 0);
        return [...ctx.getImageData(0, 0, w, h).data]; }"""
    with browser_page() as page:
        for opaque in (True, False):
            for mode in MODES:
                if not opaque and mode in ILL_CONDITIONED:
                    continue
                backdrop, source = swatches(opaque)
                data = page.evaluate(script, [backdrop.ravel().tolist(), source.ravel().tolist(),
                                              CANVAS.get(mode, mode), 64, 16])
                theirs = np.array(data).reshape(16, 64, 4)
                worst = np.abs(shown(ours(backdrop, source, mode)) - shown(theirs)).max()
                assert worst <= 3, (mode, opaque, worst)


SKIA = {"normal": "SrcOver", "plus-lighter": "Plus", "color-dodge": "ColorDodge",
        "color-burn": "ColorBurn", "hard-light": "HardLight", "soft-light": "SoftLight"}


@pytest.mark.parametrize("mode", MODES)
def test_modes_equal_skia_on_opaque_layers(mode: str) -> None:
    backdrop, source = swatches(opaque=True)
    surface = skia.Surface.MakeRasterN32Premul(64, 16)
    canvas = surface.getCanvas()
    name = SKIA.get(mode, mode.capitalize())

    def picture(pixels: np.ndarray) -> skia.Image:
        return skia.Image.fromarray(np.ascontiguousarray(pixels), skia.kRGBA_8888_ColorType)

    canvas.drawImage(picture(backdrop), 0, 0)
    canvas.drawImage(picture(source), 0, 0, skia.SamplingOptions(),
                     skia.Paint(BlendMode=getattr(skia.BlendMode, "k" + name)))
    theirs = surface.makeImageSnapshot().toarray(colorType=skia.kRGBA_8888_ColorType).astype(int)
    assert np.abs(ours(backdrop, source, mode) - theirs)[..., :3].max() <= 2
