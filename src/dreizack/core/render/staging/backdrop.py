"""What is visible behind everything, as a picture."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from ...clips import clip_frame, plate_frame
from ...colour import AS_SEEN, footage_light
from ...light import around_picture, looked_up
from ...scene import Behind, FrameState
from .pictures import picture_light
from .plate_touches import patched

Floats = NDArray[np.float32]


def backdrop_picture(state: FrameState, width: int, height: int) -> Floats:
    """Scene-linear backdrop: (3,) where it is one colour, (height, 1, 3) a gradient, (height, width, 3) a
    picture.

    Gradients are mixed in scene-linear light, from below to above; a picture fills the frame and is cut off
    where it is longer; surroundings are seen from where the camera stands.
    """
    behind, colour = state.behind, state.backdrop.astype(np.float32)
    if behind is None:
        return colour
    if behind.kind == "gradient":
        share = ((height - 0.5 - np.arange(height)) / height).astype(np.float32)[:, None, None]
        mixed: Floats = colour * (1 - share) + np.array(behind.second, np.float32) * share
        return mixed
    if behind.kind == "plate":
        return _plate(behind, state, width, height)
    if behind.kind in ("picture", "video"):
        found = (
            picture_light(behind.picture)
            if behind.kind == "picture"
            else clip_frame(behind.picture, behind.frame)
        )
        if found is None:
            return colour
        return _filling(found, width, height, behind.blur / max(state.pose.angle, 1e-3) * height)
    around = replace(state.around, blur=round(float(np.hypot(state.around.blur, behind.blur)), 2))
    seen: Floats = looked_up(around_picture(around), _directions(state, width, height)) * np.float32(
        state.surroundings_strength
    )
    return seen


def _plate(behind: Behind, state: FrameState, width: int, height: int) -> Floats:
    """Footage as light: what comes out of exposure and view transform as it is, or what a camera encoded."""
    values = plate_frame(behind.picture, behind.frame)
    if values is None:
        return state.backdrop.astype(np.float32)
    encoded = behind.encoding != AS_SEEN
    if encoded:
        values = footage_light(values, behind.encoding, state.view, state.exposure)
    values = patched(values, state)
    if values.shape[:2] != (height, width):
        values = _filling(values, width, height, 0.0)
    if behind.blur:
        sigma = max(behind.blur / max(state.pose.angle, 1e-3) * height, 0.01)
        values = cv2.GaussianBlur(values, (0, 0), sigma).astype(np.float32)
    return values if encoded else footage_light(values, AS_SEEN, state.view, state.exposure)


def _directions(state: FrameState, width: int, height: int) -> Floats:
    """Directions (height, width, 3) of the pixels' middles, in the space of the panorama."""
    right, up, forward = state.pose.axes
    half = np.tan(np.radians(state.pose.angle / 2))
    x = ((np.arange(width) + 0.5) * 2 - width) / height * half
    y = (1 - (np.arange(height) + 0.5) * 2 / height) * half
    right, up, forward = (axis.astype(np.float32) for axis in (right, up, forward))
    world = x.astype(np.float32)[None, :, None] * right + y.astype(np.float32)[:, None, None] * up + forward
    tilt, turn = np.radians([state.surroundings_tilt, state.surroundings_rotation])
    lean = np.array([[1, 0, 0], [0, np.cos(tilt), -np.sin(tilt)], [0, np.sin(tilt), np.cos(tilt)]])
    yaw = np.array([[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]])
    result: Floats = world @ (lean @ yaw).astype(np.float32)
    return result


def _filling(picture: Floats, width: int, height: int, sigma: float) -> Floats:
    rows, columns = picture.shape[:2]
    scale = max(width / columns, height / rows)
    across, down = width / scale, height / scale
    left, top = int((columns - across) / 2), int((rows - down) / 2)
    cut = picture[top : top + max(1, round(down)), left : left + max(1, round(across))]
    fitted = cv2.resize(cut, (width, height), interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR)
    if sigma > 0.3:
        fitted = cv2.GaussianBlur(fitted, (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
    result: Floats = fitted.astype(np.float32)
    return result
