"""Footage of a made-up quay with a known camera: textured planes, quickly drawn."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

FINER = 2


@dataclass(frozen=True)
class Filming:
    """A known camera: rotations (frames, 3, 3) from the room to the camera (x right, y down, z forward),
    centres (frames, 3), focal length and one radial term, the picture's size."""

    rotations: Floats
    centres: Floats
    focal: float
    size: tuple[int, int] = (960, 540)
    k1: float = 0.0

    def seen(self, points: Floats, frame: int) -> Floats:
        """Where points (n, 3) are in a frame (n, 2), in pixels."""
        at = (points - self.centres[frame]) @ self.rotations[frame].T
        flat = at[:, :2] / at[:, 2:]
        flat = flat * (1 + self.k1 * (flat**2).sum(axis=1, keepdims=True))
        return flat * self.focal + np.array(self.size) / 2


def looking(centres: Floats, aims: Floats, focal: float, **more: object) -> Filming:
    """A camera at centres (frames, 3) that looks at aims (frames, 3), upright."""
    forward = aims - centres
    forward /= np.linalg.norm(forward, axis=1, keepdims=True)
    right = np.cross(forward, [0.0, 1.0, 0.0])
    right /= np.linalg.norm(right, axis=1, keepdims=True)
    down = np.cross(forward, right)
    return Filming(np.stack([right, down, forward], axis=1), centres, focal, **more)  # type: ignore[arg-type]


def dolly(frames: int = 60, seed: int = 1) -> Filming:
    """Sideways and a little forward, with a hand's unrest."""
    share, random = np.linspace(0, 1, frames)[:, None], np.random.default_rng(seed)
    unrest = np.cumsum(random.normal(0, 0.004, (frames, 3)), axis=0)
    centres = np.array([-1.6, 1.5, 6.0]) + share * np.array([2.6, 0.3, -1.0]) + unrest
    aims = np.array([0.0, 0.8, 0.0]) + share * np.array([0.4, 0.1, 0.0]) + unrest[::-1]
    return looking(centres, aims, 1000.0)


def orbit(frames: int = 60) -> Filming:
    angle = np.radians(np.linspace(-18, 18, frames))
    centres = np.stack([6 * np.sin(angle), np.full(frames, 1.7), 6 * np.cos(angle)], axis=1)
    return looking(centres, np.tile([0.0, 0.7, 0.0], (frames, 1)), 1100.0)


def push_in(frames: int = 60) -> Filming:
    share = np.linspace(0, 1, frames)[:, None]
    return looking(
        np.array([0.4, 1.6, 7.5]) - share * np.array([0.2, 0.2, 3.4]),
        np.tile([0.1, 0.9, -1.0], (frames, 1)),
        1050.0,
    )


def pan(frames: int = 60) -> Filming:
    angle = np.radians(np.linspace(-14, 14, frames))
    centres = np.tile([0.3, 1.6, 6.0], (frames, 1))
    aims = centres + np.stack([np.sin(angle), np.full(frames, -0.12), -np.cos(angle)], axis=1)
    return looking(centres, aims, 1000.0)


def _quads() -> Floats:
    """Rectangles (n, 4, 3) of the quay: ground in tiles, walls far behind, crates."""
    quads = []
    for x in np.arange(-12, 12, 2.0):
        for z in np.arange(-14, 7, 2.0):
            quads.append([[x, 0, z], [x + 2, 0, z], [x + 2, 0, z + 2], [x, 0, z + 2]])
    for x in np.arange(-16, 16, 4.0):
        quads.append([[x, 5, -14], [x + 4, 5, -14], [x + 4, 0, -14], [x, 0, -14]])
    for x, z, side, turn in [
        (-1.6, -0.5, 1.0, 0.3),
        (1.7, -1.5, 1.3, -0.4),
        (0.4, -4.0, 1.6, 0.1),
        (-3.5, -5, 1.5, 0.6),
        (3.8, -6, 1.8, 0),
    ]:
        c, s, h = np.cos(turn), np.sin(turn), side / 2
        base = np.array([[-h, -h], [h, -h], [h, h], [-h, h]]) @ np.array([[c, s], [-s, c]]) + [x, z]
        low, high = (np.insert(base, 1, y, axis=1) for y in (0.0, side))
        quads.append(high)
        for k in range(4):
            j = (k + 1) % 4
            quads.append([high[k], high[j], low[j], low[k]])
    return np.array(quads, float)


@cache
def _textures(seed: int) -> list[list[NDArray[np.uint8]]]:
    """A picture a rectangle, with those of half its size and so on."""
    random, made = np.random.default_rng(seed), []
    for _ in _quads():
        side = 512
        picture = np.zeros((side, side))
        for cells, strength in ((4, 0.5), (16, 0.7), (64, 1.0), (160, 0.8)):
            noise = random.normal(0, strength, (cells, cells)).astype(np.float32)
            picture += cv2.resize(noise, (side, side), interpolation=cv2.INTER_CUBIC)
        level = np.clip(118 + 34 * picture + random.normal(0, 18), 8, 247).astype(np.uint8)
        pyramid = [level]
        while pyramid[-1].shape[0] > 8:
            pyramid.append(cv2.pyrDown(pyramid[-1]))
        made.append(pyramid)
    return made


def footage(camera: Filming, seed: int = 1, noise: float = 0.0, mover: bool = False) -> NDArray[np.uint8]:
    """Grey frames (frames, height, width); ``noise`` in codes; a ``mover`` walks through them."""
    width, height = camera.size
    quads, textures, random = _quads(), _textures(seed), np.random.default_rng(seed + 7)
    frames = []
    for frame in range(len(camera.centres)):
        large = np.full((height * FINER, width * FINER), 170, np.uint8)
        at = (quads - camera.centres[frame]) @ camera.rotations[frame].T
        far = np.argsort(-at[..., 2].mean(axis=1))
        for k in far:
            if (at[k, :, 2] < 0.15).any():
                continue
            flat = at[k, :, :2] / at[k, :, 2:]
            corner = (flat * camera.focal + np.array(camera.size) / 2) * FINER
            _drawn(large, corner.astype(np.float32), textures[k])
        if mover:
            x = int((0.1 + 0.8 * frame / len(camera.centres)) * width * FINER)
            body = np.random.default_rng(3).integers(20, 235, (30, 10)).astype(np.uint8)
            block = cv2.resize(body, (60 * FINER, 180 * FINER), interpolation=cv2.INTER_CUBIC)
            shown = large[200 * FINER : 380 * FINER, x : x + 60 * FINER]
            shown[:] = block[:, : shown.shape[1]]
        small = cv2.resize(large, (width, height), interpolation=cv2.INTER_AREA)
        if camera.k1:
            small = _bent(small, camera)
        if noise:
            small = np.clip(small + random.normal(0, noise, small.shape), 0, 255).round().astype(np.uint8)
        frames.append(small)
    return np.stack(frames)


def _drawn(large: NDArray[np.uint8], corner: NDArray[np.float32], pyramid: list[NDArray[np.uint8]]) -> None:
    low = np.maximum(np.floor(corner.min(axis=0)).astype(int), 0)
    high = np.minimum(np.ceil(corner.max(axis=0)).astype(int) + 1, np.array(large.shape)[::-1])
    if (high - low < 1).any():
        return
    longest = max(np.linalg.norm(corner - np.roll(corner, 1, axis=0), axis=1))
    picture = pyramid[int(np.clip(np.log2(pyramid[0].shape[0] / max(longest, 1)), 0, len(pyramid) - 1))]
    side = picture.shape[0]
    source = np.array([[0, 0], [side, 0], [side, side], [0, side]], np.float32) - 0.5
    matrix = cv2.getPerspectiveTransform(source, corner - low.astype(np.float32) - 0.5)
    size = tuple(int(n) for n in high - low)
    warped = cv2.warpPerspective(
        picture, matrix, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    inside = np.zeros(warped.shape, np.uint8)
    cv2.fillConvexPoly(inside, np.round((corner - low - 0.5) * 256).astype(np.int32), 255, shift=8)
    target = large[low[1] : high[1], low[0] : high[0]]
    target[inside > 0] = warped[inside > 0]


def _bent(picture: NDArray[np.uint8], camera: Filming) -> NDArray[np.uint8]:
    """As a lens with a radial term shows it."""
    height, width = picture.shape
    x, y = np.meshgrid(np.arange(width) + 0.5, np.arange(height) + 0.5)
    bent = np.stack([x - width / 2, y - height / 2], axis=-1) / camera.focal
    flat = bent.copy()
    for _ in range(8):
        flat = bent / (1 + camera.k1 * (flat**2).sum(axis=-1, keepdims=True))
    at = (flat * camera.focal + np.array([width, height]) / 2 - 0.5).astype(np.float32)
    return cv2.remap(picture, at[..., 0], at[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
