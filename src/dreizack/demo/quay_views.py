"""A pan over the quay and a still of it, made with known cameras from the room of :mod:`.quay`.

``python -m dreizack.demo.quay_views FOLDER`` draws both (some minutes of two cores). As a pan turns about the
camera's own place, all its frames are seen in one wide picture, which is drawn once.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from .quay import FOCAL, RATE, SIZE, Floats, developed, frame, loaded_scene, write_movie

# The pan: where it turns, its frames, how far (degrees), and what is drawn of it.
PLACE, AIM = np.array([0.2, 1.7, 7.2]), np.array([0.2, 1.45, 0.0])
FRAMES, TURN, NOD = 72, 15.0, 1.4
WIDE, SHARP = (3072, 1216), 1.5 * FOCAL
# The still: from where and where to.
STILL_PLACE, STILL_AIM = np.array([-11.4, 1.55, -0.2]), np.array([-7.3, 1.75, -9.2])


def turns(frames: int = FRAMES) -> Floats:
    """How the camera of the pan is turned (frames, 2): degrees to the right and down."""
    share = np.linspace(0, 1, frames)
    ease = share * share * (3 - 2 * share)
    unrest = 0.05 * np.sin(share[:, None] * np.array([17.0, 12.0]) + np.array([0.4, 2.0]))
    made: Floats = np.stack([TURN * (2 * ease - 1), NOD * np.sin(np.pi * ease)], axis=1) + unrest
    return made


def rotations(frames: int = FRAMES) -> Floats:
    """Rotations (frames, 3, 3) from what the camera of a frame sees (x right, y down, z forward) to what that
    of the wide picture does."""
    right, down = np.radians(turns(frames)).T
    zero, one = np.zeros_like(right), np.ones_like(right)
    yaw = np.array(
        [[np.cos(right), zero, np.sin(right)], [zero, one, zero], [-np.sin(right), zero, np.cos(right)]]
    )
    pitch = np.array(
        [[one, zero, zero], [zero, np.cos(down), np.sin(down)], [zero, -np.sin(down), np.cos(down)]]
    )
    found: Floats = np.einsum("ijn,jkn->nik", yaw, pitch)
    return found


def lens(size: tuple[int, int], focal: float) -> Floats:
    """Camera matrix (3, 3) of a picture."""
    made: Floats = np.array([[focal, 0, size[0] / 2 - 0.5], [0, focal, size[1] / 2 - 0.5], [0, 0, 1.0]])
    return made


def pan(wide: NDArray[np.float32]) -> Iterator[NDArray[np.float32]]:
    """Frames of the pan, out of its wide picture."""
    back = np.linalg.inv(lens(SIZE, FOCAL))
    for turned in rotations():
        to_wide = lens(WIDE, SHARP) @ turned @ back
        seen = cv2.warpPerspective(wide, to_wide, SIZE, flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP)
        yield np.maximum(seen, 0).astype(np.float32)


def draw(folder: Path) -> None:
    """Draw the pan and the still into a folder, each with its truth."""
    loaded, features = loaded_scene()
    still = frame(loaded, features, STILL_PLACE, STILL_AIM, 7, 64)
    seen = cv2.cvtColor(developed(still, np.random.default_rng(3)), cv2.COLOR_RGB2BGR)
    cv2.imwrite(str(folder / "quay-still.jpg"), seen, [cv2.IMWRITE_JPEG_QUALITY, 94])
    random = np.random.default_rng(9)
    wide = frame(loaded, features, PLACE, AIM, 3, 32, WIDE, SHARP)
    write_movie(folder / "quay-pan.mp4", (developed(one, random) for one in pan(wide)))
    known = {
        "size": SIZE,
        "focal": FOCAL,
        "rate": float(RATE),
        "pan": {"place": PLACE.tolist(), "aim": AIM.tolist(), "turns": turns().round(6).tolist()},
        "still": {"place": STILL_PLACE.tolist(), "aim": STILL_AIM.tolist()},
    }
    (folder / "quay-views.json").write_text(json.dumps(known, indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    draw(Path(sys.argv[1]))
