"""Transitions: two pictures in scene light (height, width, 3), and how far from one to the other (0 to 1)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from .document import Transition

Floats = NDArray[np.float32]

# So much of the frame that is taken up is ground, not letters.
GROUND = 0.9
# From where on the next picture also fills what letters have left.
LETTERS_FILL = 0.75
# Light of a flash in its middle, where it is strongest, times two to the power of its stops.
FLASH_WHITE = 0.18


@dataclass(frozen=True)
class Crossing:
    """``out`` and ``into`` (height, width, n) scene-linear, of one size; how far ``along`` (0..1); and the
    ``coverage`` (height, width) of the words of what goes."""

    out: Floats
    into: Floats
    along: float
    coverage: Floats | None = None


Apply = Callable[[Crossing, Transition], Floats]


def dissolved(of: Crossing, how: Transition) -> Floats:
    """A mixture of light, as two exposures of one film would be."""
    return _mixed(of, np.float32(of.along))


def dipped(of: Crossing, how: Transition) -> Floats:
    """To a colour, and from it."""
    c = how.colour
    middle = np.array([c.r, c.g, c.b, *[0.0] * (of.out.shape[2] - 3)], np.float32)
    if of.along < 0.5:
        share = np.float32(of.along * 2)
        return (1 - share) * of.out + share * middle
    share = np.float32(of.along * 2 - 1)
    return (1 - share) * middle + share * of.into


def flashed(of: Crossing, how: Transition) -> Floats:
    """Light rises until it fills the picture, and falls again on what comes."""
    height = np.float32(np.sin(np.pi * of.along) ** 2)
    gain = np.float32(2.0 ** (how.strength * float(height)))
    share = np.float32(np.clip((of.along - 0.35) / 0.3, 0, 1))
    bright = _mixed(of, share) * gain
    bright[..., :3] += np.float32(FLASH_WHITE) * (gain - 1)
    return bright


def wiped(of: Crossing, how: Transition) -> Floats:
    """An edge travels across the picture, the next one behind it."""
    x, y = _places(of.out.shape)
    angle = np.radians(how.angle)
    across = x * np.cos(angle) - y * np.sin(angle)
    return _mixed(of, _behind_edge(across, of.along, how.softness))


def circled(of: Crossing, how: Transition) -> Floats:
    """The next picture in a circle that grows."""
    x, y = _places(of.out.shape)
    return _mixed(of, _behind_edge(np.hypot(x, y), of.along, how.softness))


def pushed(of: Crossing, how: Transition) -> Floats:
    """The next picture pushes the one before out of the frame; along the nearer of the axes."""
    height, width = of.out.shape[:2]
    angle = np.radians(how.angle)
    if abs(np.cos(angle)) >= abs(np.sin(angle)):
        step = (np.sign(np.cos(angle)) * width, 0.0)
    else:
        step = (0.0, -np.sign(np.sin(angle)) * height)
    moved = [
        cv2.warpAffine(
            picture,
            np.array([[1, 0, step[0] * share], [0, 1, step[1] * share]], np.float32),
            (width, height),
            flags=cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT,
        ).reshape(picture.shape)
        for picture, share in ((of.out, of.along), (of.into, of.along - 1))
    ]
    result: Floats = (moved[0] + moved[1]).astype(np.float32)
    return result


def through_letters(of: Crossing, how: Transition) -> Floats:
    """The next picture is seen through the letters of what was there, which grow until they fill the frame;
    where there are none, or a ground takes up the frame behind them, through a circle."""
    if of.coverage is None or of.coverage.max() < 0.5 or float(of.coverage.mean()) > GROUND:
        return circled(of, how)
    height, width = of.coverage.shape
    solid = of.coverage > 0.5
    # The place deepest within a letter: there it opens.
    inside = cv2.distanceTransform(solid.astype(np.uint8), cv2.DIST_L2, 3)
    row, column = np.unravel_index(int(inside.argmax()), inside.shape)
    # In the end that place alone fills the frame.
    scale = (np.hypot(width, height) / float(inside.max())) ** of.along
    matrix = np.array([[scale, 0, column * (1 - scale)], [0, scale, row * (1 - scale)]], np.float32)
    mask = cv2.warpAffine(of.coverage.astype(np.float32), matrix, (width, height), flags=cv2.INTER_LINEAR)
    rest = np.clip((of.along - LETTERS_FILL) / (1 - LETTERS_FILL), 0, 1)
    shown = np.minimum(of.along * 8, 1.0)
    return _mixed(of, (np.maximum(mask * shown, rest**2)).astype(np.float32)[..., None])


def _mixed(of: Crossing, share: Floats | np.float32) -> Floats:
    result: Floats = (of.out + share * (of.into - of.out)).astype(np.float32)
    return result


def _places(shape: tuple[int, ...]) -> tuple[Floats, Floats]:
    """Places of pixels from the middle, in heights of the picture, y down."""
    height, width = shape[:2]
    x = ((np.arange(width) + 0.5 - width / 2) / height).astype(np.float32)
    y = ((np.arange(height) + 0.5 - height / 2) / height).astype(np.float32)
    return np.broadcast_to(x[None], (height, width)), np.broadcast_to(y[:, None], (height, width))


def _behind_edge(place: Floats, along: float, softness: float) -> Floats:
    """How far behind an edge each place (height, width) is, 0..1, (height, width, 1): at the beginning none
    is, at the end all are."""
    low, high = float(place.min()), float(place.max())
    half = max(softness, 1e-3) / 2
    edge = low - half + along * (high - low + 2 * half)
    t = np.clip((edge + half - place) / (2 * half), 0, 1)
    soft: Floats = (t * t * (3 - 2 * t)).astype(np.float32)[..., None]
    return soft


TRANSITIONS: dict[str, Apply] = {
    "dissolve": dissolved,
    "dip": dipped,
    "flash": flashed,
    "wipe": wiped,
    "circle": circled,
    "push": pushed,
    "letters": through_letters,
    "camera": dissolved,
}
