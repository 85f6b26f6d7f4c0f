"""How cameras write light into footage: logarithmic and linear encodings, by the names of the open colour
configurations that come with OpenColorIO."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]

CONFIG = "studio-config-v2.2.0_aces-v1.3_ocio-v2.4"
LINEAR = "Linear Rec.709 (sRGB)"
KINDS = ("log", "scene-linear")
# Footage that no camera encoded: it is as it is to be seen.
AS_SEEN = "as seen"


@cache
def _config() -> Any:
    # Only whoever has such footage waits for it.
    import PyOpenColorIO

    return PyOpenColorIO.Config.CreateFromBuiltinConfig(CONFIG)


@cache
def encodings() -> tuple[str, ...]:
    """Names of all encodings of scene light, logarithmic ones first.

    >>> "ACEScct" in encodings()
    True
    """
    spaces = list(_config().getColorSpaces())
    return tuple(
        space.getName()
        for kind in KINDS
        for space in spaces
        if space.getEncoding() == kind and space.getReferenceSpaceType().name.endswith("SCENE")
    )


@cache
def _processor(source: str, target: str) -> Any:
    return _config().getProcessor(source, target).getDefaultCPUProcessor()


def decoded_light(values: Floats, encoding: str) -> Floats:
    """Scene-linear light (..., 3), Rec.709 primaries, of footage ``values`` (..., 3) from 0 to 1 in an
    encoding of :func:`encodings`; what lies outside of Rec.709 comes out below 0."""
    return _converted(values, encoding, LINEAR)


def encoded_values(light: Floats, encoding: str) -> Floats:
    """Footage values (..., 3) in an encoding, of scene-linear light (..., 3); decoding backwards.

    >>> encoded_values(np.full((1, 3), 0.18, np.float32), "ACEScct").astype(float).round(3).tolist()
    [[0.414, 0.414, 0.414]]
    """
    return _converted(light, LINEAR, encoding)


def _converted(values: Floats, source: str, target: str) -> Floats:
    held = np.array(values, np.float32, order="C", copy=True)
    _processor(source, target).applyRGB(held.reshape(1, -1, 3))
    return held
