"""The picture drawn out, and moved in its gate."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ..settings import Place, Values

Floats = NDArray[np.float32]

# A picture is drawn out by doubling: two to the power of this many lie along each way.
DOUBLINGS = 6


def drawn_out(light: Floats, of: Values, place: Place) -> Floats:
    """Even means along a line, towards a place and around it, each centred: box filters along their ways, by
    doubling (mean of a picture and itself moved on, again and again)."""
    made = light
    if of["blur/length"] > 0:
        angle = np.radians(of["blur/angle"])
        step = of["blur/length"] * place.height / 2**DOUBLINGS
        ahead = np.array([np.cos(angle), -np.sin(angle)]) * step
        made = _doubled(made, lambda share: _moved(*(ahead * share)))
    x = of["blur/x"] * place.width - place.left - 0.5
    y = of["blur/y"] * place.height - place.top - 0.5
    if of["blur/zoom"] > 0:
        each = np.log1p(of["blur/zoom"]) / 2**DOUBLINGS
        made = _doubled(made, lambda share: _about(x, y, np.exp(each * share), 0.0))
    if of["blur/spin"] > 0:
        each = np.radians(of["blur/spin"]) / 2**DOUBLINGS
        made = _doubled(made, lambda share: _about(x, y, 1.0, each * share))
    return made


def _doubled(light: Floats, way) -> Floats:  # type: ignore[no-untyped-def]
    # So that the mean of all is where the picture was.
    made = _warped(light, way(-(2**DOUBLINGS - 1) / 2))
    for doubling in range(DOUBLINGS):
        made = (made + _warped(made, way(2.0**doubling))) * np.float32(0.5)
    return made


def _moved(x: float, y: float) -> Floats:
    return np.array([[1, 0, x], [0, 1, y]], np.float32)


def _about(x: float, y: float, scale: float, angle: float) -> Floats:
    """The matrix that scales and turns about a place, in pixels."""
    c, s = scale * np.cos(angle), scale * np.sin(angle)
    return np.array([[c, s, x - c * x - s * y], [-s, c, y + s * x - c * y]], np.float32)


def _warped(light: Floats, matrix: Floats) -> Floats:
    size = light.shape[1], light.shape[0]
    made = cv2.warpAffine(light, matrix, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(made, np.float32).reshape(light.shape)


def woven(light: Floats, of: Values, place: Place) -> Floats:
    """The picture where film in its gate has it: moved, turned and enlarged about its middle."""
    across, down = of.get("weave/x", 0.0), of.get("weave/y", 0.0)
    angle, larger = of.get("weave/angle", 0.0), of.get("weave/zoom", 0.0)
    if not (across or down or angle or larger):
        return light
    x, y = place.width / 2 - place.left - 0.5, place.height / 2 - place.top - 0.5
    matrix = _about(x, y, 1 + larger, np.radians(angle))
    matrix[:, 2] += np.array([across, down], np.float32) * place.height
    return _warped(light, matrix)
