"""How far what is seen is out of focus, for blur that is added to a sharp picture."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...optics import FocusBlur
from ...scene import FrameState, Lens
from ..transport.lens import Window
from .first_seen import SAMPLES, first_seen

Floats = NDArray[np.float32]


def focus_blur(state: FrameState, size: tuple[int, int], window: Window | None) -> FocusBlur | None:
    """What blurs a frame of a picture ``size`` (width, height), or a window of it; None where the lens has
    done so, or everything is in focus."""
    lens = state.focus_afterwards
    if lens is None or lens.radius <= 0:
        return None
    at = window or Window(0, 0, *size)
    seen = first_seen(state, size, at)
    catching = [state.titles[name.rsplit("_", 2)[0]].visibility[4] for name in seen.names]
    caught = np.array([False, *catching], bool)[seen.part]
    shape = at.rows, at.columns, SAMPLES
    circles = circles_of_confusion(seen.away, lens, state.pose.angle)
    there = np.isfinite(circles) & (seen.part > 0)
    return FocusBlur(
        np.where(there & ~caught, circles, np.inf).astype(np.float32).reshape(shape),
        np.where(there & caught, circles, np.inf).astype(np.float32).reshape(shape) if caught.any() else None,
        lens.blades,
        lens.turn,
    )


def circles_of_confusion(away: Floats, lens: Lens, angle: float) -> Floats:
    """Diameters of the circles that points so many metres ``away`` along the axis become, in heights of the
    picture, below 0 where they are nearer than what is in focus; infinite where nothing is.

    Thin lens (Potmesil & Chakravarty, A Lens and Aperture Camera Model, 1981): |1 - d / z| · r / (d tan(a/2))
    for an opening of radius r, focus at d, and a vertical angle of view a (degrees).
    """
    widest = lens.radius / (lens.focus * np.tan(np.radians(angle) / 2))
    found: Floats = (widest * (1 - lens.focus / np.maximum(away, 1e-4))).astype(np.float32)
    return np.where(np.isfinite(away), found, np.inf).astype(np.float32)
