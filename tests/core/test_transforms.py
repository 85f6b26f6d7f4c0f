"""View transforms against OpenColorIO's own exact ones and against the standards."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.optics import TRANSFORMS, Finishing, Passes, finished, to_display
from dreizack.core.optics.transforms import exactly


@pytest.mark.parametrize("name", TRANSFORMS)
def test_cubes_are_as_good_as_the_exact_transform(name: str) -> None:
    rng = np.random.default_rng(5)
    light = (rng.random((200, 200, 3)) ** 3 * 3).astype(np.float32)
    truth = light.copy()
    exactly(name).applyRGB(truth)
    away = np.abs(to_display(light, name).astype(float) - np.clip(truth, 0, 1) * 255)
    assert away.mean() < 0.7
    assert np.percentile(away, 99.5) < 4


def test_plain_srgb_is_the_standard() -> None:
    light = np.repeat(np.linspace(0, 1, 200, dtype=np.float32)[:, None], 3, axis=1)
    codes = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055) * 255
    assert np.abs(to_display(light, "plain sRGB") - codes).max() <= 2


def test_film_has_a_shoulder_and_plain_has_none() -> None:
    rgba = np.full((4, 4, 4), 3.0, np.float32)
    rgba[..., 3] = 1
    assert finished(Passes(rgba), Finishing(0.0, "plain sRGB", np.zeros(3))).min() == 255
    assert 225 < finished(Passes(rgba), Finishing(0.0, "film", np.zeros(3))).max() < 255
    assert finished(Passes(rgba), Finishing(-8.0, "film", np.zeros(3))).max() < 60
