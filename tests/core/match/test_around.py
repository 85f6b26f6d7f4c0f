"""A panorama out of pictures that a turning camera took of a known one."""

from __future__ import annotations

import numpy as np

from dreizack.core.light import looked_up
from dreizack.core.match import panorama
from dreizack.core.scene.viewing import camera_axes


def known() -> np.ndarray:
    """A soft panorama (128, 256, 3), bright above."""
    down, across = np.mgrid[0:128, 0:256] / np.array([128.0, 256.0])[:, None, None]
    waves = 0.5 + 0.3 * np.sin(across * 6 * np.pi) * np.sin(down * np.pi)
    return np.stack([waves, waves * (1.2 - down), 1.4 - down], axis=2).astype(np.float32)


def taken(around: np.ndarray, angle: float, half: float) -> tuple[np.ndarray, np.ndarray]:
    aim = np.array([[np.sin(angle), -0.1, -np.cos(angle)]])
    axes = camera_axes(np.zeros((1, 3)), aim, np.zeros(1))[0]
    y, x = np.mgrid[0:90, 0:160] + 0.5
    ways = (
        axes[2]
        + ((x - 80) / 90 * 2 * half)[..., None] * axes[0]
        + ((45 - y) / 90 * 2 * half)[..., None] * axes[1]
    )
    return looked_up(around, ways.astype(np.float32)), axes


def test_what_was_seen_is_where_it_was_and_the_rest_goes_on_from_it() -> None:
    around = known()
    pictures = [taken(around, angle, 0.4) for angle in np.radians(np.arange(-40, 41, 10))]
    made = panorama(pictures, 0.4, 128)
    assert made.shape == (128, 256, 3) and np.isfinite(made).all() and (made >= 0).all()
    # Column 0 looks where the camera did; it saw some 50° to both sides and 18° up and down.
    rows, columns = np.mgrid[58:76, -30:31]
    assert np.abs(made[rows, columns] - around[rows, columns]).mean() < 0.02
    # Above, it goes on from the sky that was seen, not from the ground.
    assert made[2:20, :, 2].mean() > made[110:126, :, 2].mean() + 0.1
    # There is no edge where the first column meets the last.
    assert np.abs(made[:, 0] - made[:, -1]).mean() < 0.03
