"""The light that a drawn shade implies, against shades of known light."""

import cv2
import numpy as np
import pytest

from wardrobe.core.light.audit import SURE, audit_light
from wardrobe.core.light.ball import ball_quantile
from wardrobe.core.light.rig import KeyLight

SIZE, RADIUS = 420, 46


def balls() -> tuple[np.ndarray, np.ndarray]:
    """Nine analytic balls: labels and normals."""
    y, x = np.mgrid[:SIZE, :SIZE].astype(np.float64)
    labels = np.zeros((SIZE, SIZE), np.int32)
    normals = np.zeros((SIZE, SIZE, 3), np.float32)
    for k in range(9):
        nx, ny = (x - 70 - 140 * (k % 3)) / RADIUS, (y - 70 - 140 * (k // 3)) / RADIUS
        inside = nx**2 + ny**2 < 1
        labels[inside] = k + 1
        normals[inside] = np.stack([nx, ny, np.sqrt(np.maximum(0, 1 - nx**2 - ny**2))],
                                   axis=-1)[inside]
    return labels, normals


LABELS, NORMALS = balls()


def shaded(key: KeyLight) -> np.ndarray:
    """Lambert's terminator at the usual amount of shade."""
    return ball_quantile(round(float(key.vector()[2]), 4), 0.38) > NORMALS @ key.vector()


@pytest.mark.parametrize("height", [15, 40, 65])
@pytest.mark.parametrize("azimuth", [10, 130, 275])
def test_clean_shades_tell_their_light_and_half_erased_ones_nearly(azimuth: float,
                                                                  height: float) -> None:
    rng = np.random.default_rng(1)
    dark = shaded(KeyLight(azimuth, height))
    blobs = cv2.GaussianBlur(rng.standard_normal(LABELS.shape), (0, 0), 7)
    for mask, most in ((dark, 4), (dark & (blobs > np.median(blobs)), 20)):
        told = audit_light(NORMALS, LABELS, mask)
        assert len(told) == 9
        off = [abs((t.azimuth - azimuth + 180) % 360 - 180) for t in told]
        assert np.median(off) < most
    assert all(t.confidence > SURE for t in audit_light(NORMALS, LABELS, dark))


def test_the_part_that_disagrees_is_found_and_noise_is_not_believed() -> None:
    dark = shaded(KeyLight(130, 40))
    other = shaded(KeyLight(310, 40))
    mixed = np.where(LABELS == 5, other, dark)
    told = {t.label: t for t in audit_light(NORMALS, LABELS, mixed)}
    assert abs((told[5].azimuth - 310 + 180) % 360 - 180) < 6
    assert told[5].confidence < 0.2 < SURE < min(t.confidence for k, t in told.items() if k != 5)
    rng, sure, asked = np.random.default_rng(2), 0, 0
    for sigma in (2, 5, 9, 14, 20, 30):
        noise = cv2.GaussianBlur(rng.standard_normal(LABELS.shape), (0, 0), sigma)
        told_noise = audit_light(NORMALS, LABELS, noise > np.median(noise))
        sure += sum(t.confidence >= SURE for t in told_noise)
        asked += len(told_noise)
    assert asked > 40 and sure < 0.03 * asked


def test_what_is_all_lit_tells_nothing() -> None:
    assert audit_light(NORMALS, LABELS, np.zeros(LABELS.shape, bool)) == []
