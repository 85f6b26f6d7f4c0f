"""Pictures and gradients for surfaces."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..clips import clip_frame
from ..document import Stop, SurfacePicture
from .fills import library_picture

Floats = NDArray[np.float32]

STEPS = 512


def surface_picture(picture: SurfacePicture, frame: int = 0) -> Floats:
    """Scene-linear (rows, columns, 3), top row first: a picture, a ``frame`` of a video, or a gradient as
    one; grey where its file is not in the library.

    Linear gradients and those by depth run across one row, radial ones out from the middle to the edges.
    """
    if picture.fill == "picture":
        found = library_picture(picture.file)
        return found if found is not None else np.full((2, 2, 3), 0.18, np.float32)
    if picture.fill == "video":
        shown = clip_frame(picture.file, frame)
        return shown if shown is not None else np.full((2, 2, 3), 0.18, np.float32)
    if picture.gradient == "radial":
        across = (np.arange(STEPS) + 0.5) / STEPS * 2 - 1
        return gradient_colours(picture.stops, np.hypot(across[None, :], across[:, None]))
    return gradient_colours(picture.stops, (np.arange(STEPS) + 0.5)[None, :] / STEPS)


def gradient_colours(stops: Sequence[Stop], share: NDArray[np.float64]) -> Floats:
    """Scene-linear colours (..., 3) of places along a gradient (...), 0 to 1.

    >>> from dreizack.core.document import Colour
    >>> blue, red = Colour(r=0, g=0, b=1), Colour(r=1, g=0, b=0)
    >>> gradient_colours([Stop(at=0, colour=blue), Stop(at=1, colour=red)], np.array([0.25])).tolist()
    [[0.25, 0.0, 0.75]]
    """
    ordered = sorted(stops, key=lambda stop: stop.at)
    at = [stop.at for stop in ordered]
    channels = [np.interp(share, at, [getattr(stop.colour, c) for stop in ordered]) for c in "rgb"]
    return np.stack(channels, axis=-1).astype(np.float32)
