"""How soft a plate is and how dark, against pictures of known blur."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dreizack.core.match import Contradicts, measured_black, measured_blur

RANDOM = np.random.default_rng(3)


def picture(sigma: float, grain: float = 0.0, seed: int = 0) -> np.ndarray:
    """Polygons of random greys, drawn eight times as large, blurred, and averaged into pixels."""
    random = np.random.default_rng(seed)
    large = np.full((270 * 8, 480 * 8), 0.5, np.float32)
    for _ in range(60):
        corners = (random.random((4, 2)) * [480 * 8, 270 * 8]).astype(np.int32)
        cv2.fillConvexPoly(large, cv2.convexHull(corners), float(random.uniform(0.1, 0.9)))
    if sigma:
        large = cv2.GaussianBlur(large, (0, 0), sigma * 8)
    small = cv2.resize(large, (480, 270), interpolation=cv2.INTER_AREA)[..., None].repeat(3, axis=2)
    return (small + random.standard_normal(small.shape) * grain).astype(np.float32).clip(0, 1)


@pytest.mark.parametrize("grain", [0.0, 4 / 255])
@pytest.mark.parametrize("sigma", [0.0, 0.6, 1.0, 1.6, 2.5])
def test_blur_is_found_as_it_was_made(sigma: float, grain: float) -> None:
    found = measured_blur(picture(sigma, grain, seed) for seed in range(3))
    assert found == pytest.approx(sigma, abs=0.2 if sigma == 0 else 0.05 + 0.05 * sigma)


def test_what_is_out_of_focus_does_not_count() -> None:
    sharp, soft = picture(0.7), picture(4.0, seed=5)
    assert measured_blur([np.concatenate([sharp, soft])]) == pytest.approx(0.7, abs=0.15)


def test_where_there_are_no_edges_it_says_so() -> None:
    with pytest.raises(Contradicts, match="too few sharp edges"):
        measured_blur([np.full((90, 160, 3), 0.4, np.float32)])


def test_blacks_are_those_of_the_darkest_part_by_channel() -> None:
    plate = np.full((270, 480, 3), 0.5, np.float32)
    plate[100:140, 100:180] = [0.08, 0.1, 0.14]
    plate += RANDOM.standard_normal(plate.shape).astype(np.float32) * 0.02
    np.testing.assert_allclose(measured_black([plate]), [0.08, 0.1, 0.14], atol=0.015)
