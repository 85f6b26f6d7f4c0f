"""View transforms of OpenColorIO: plain encodings, and the film-like one of the Academy (ACES 1.0 SDR video).

Each is baked into a cube behind a logarithm, which OpenColorIO interpolates tetrahedrally; exactly, a frame
would take ten times as long.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
import PyOpenColorIO
from numpy.typing import NDArray

Floats = NDArray[np.float32]

CONFIG = "cg-config-v2.2.0_aces-v1.3_ocio-v2.4"
LINEAR = "Linear Rec.709 (sRGB)"
# Display and view of the configuration by our names.
TRANSFORMS = {
    "plain sRGB": ("sRGB - Display", "Un-tone-mapped"),
    "plain Rec.709": ("Rec.1886 Rec.709 - Display", "Un-tone-mapped"),
    "film": ("sRGB - Display", "ACES 1.0 - SDR Video"),
}
# The logarithm: (log2(x + 2^-LOW) + LOW) / SPAN runs from 0 for black to 1 for 2^(SPAN - LOW).
LOW, SPAN = 8.0, 14.0
SIDE = 65


@cache
def exactly(name: str) -> Any:
    """OpenColorIO's own processor. KeyError for what is no transform of :data:`TRANSFORMS`."""
    display, view = TRANSFORMS[name]
    config = PyOpenColorIO.Config.CreateFromBuiltinConfig(CONFIG)
    return config.getProcessor(
        PyOpenColorIO.DisplayViewTransform(src=LINEAR, display=display, view=view)
    ).getDefaultCPUProcessor()


@cache
def cube(name: str, side: int) -> Floats:
    """Display values (side, side, side, 3) of a transform, by red, green and blue behind the logarithm; not
    clipped, so that there is no corner between the steps."""
    steps = np.arange(side) / (side - 1)
    light = np.exp2(steps * SPAN - LOW) - np.exp2(-LOW)
    grid = (
        np.stack(np.meshgrid(light, light, light, indexing="ij"), axis=-1)
        .astype(np.float32)
        .reshape(1, -1, 3)
    )
    grid = np.ascontiguousarray(grid)
    exactly(name).applyRGB(grid)
    made: Floats = grid.reshape(side, side, side, 3)
    return made


@cache
def _quickly(name: str) -> Any:
    slope, offset, black = [1 / SPAN] * 3, [LOW / SPAN] * 3, [2.0**-LOW] * 3
    curve = PyOpenColorIO.LogAffineTransform(
        logSideSlope=slope, logSideOffset=offset, linSideSlope=[1.0] * 3, linSideOffset=black
    )
    lattice = PyOpenColorIO.Lut3DTransform(gridSize=SIDE)
    # Blue runs fastest, as in the array.
    lattice.setData(cube(name, SIDE).ravel())
    lattice.setInterpolation(PyOpenColorIO.INTERP_TETRAHEDRAL)
    group = PyOpenColorIO.GroupTransform([curve, lattice])
    return PyOpenColorIO.Config.CreateRaw().getProcessor(group).getDefaultCPUProcessor()


def transformed(linear: Floats, name: str) -> Floats:
    """Display values 0..1 (..., 3) of scene-linear colours by one of :data:`TRANSFORMS`."""
    held = np.ascontiguousarray(np.maximum(linear, 0), np.float32).reshape(1, -1, 3).copy()
    _quickly(name).applyRGB(held)
    shown: Floats = np.clip(held, 0, 1).reshape(linear.shape)
    return shown
