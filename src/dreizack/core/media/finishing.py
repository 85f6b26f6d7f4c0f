"""What a frame's picture is finished with: the same for deliveries, stills and whoever looks."""

from __future__ import annotations

import numpy as np

from ..colour import from_display, linear_to_srgb
from ..optics import Finishing, Place, PlateGrain, Tones
from ..render import Window, area_mattes, backdrop_picture, cover_matte, focus_blur
from ..scene import FrameState


def finishing(state: FrameState, size: tuple[int, int], window: Window | None = None) -> Finishing:
    """Settings of the steps for a picture of a frame of a ``size`` (width, height), or for a window of it."""
    width, height = size
    behind = backdrop_picture(state, width, height)
    if window is not None and behind.ndim == 3:
        behind = np.broadcast_to(behind, (height, width, 3))[window.slices]
    left, top = (window.left, window.top) if window is not None else (0, 0)
    place = Place(width, height, left, top, state.number)
    grain = PlateGrain(*state.plate_grain) if state.plate_grain is not None else None
    hidden = cover_matte(state, width, height)
    if window is not None and hidden is not None:
        hidden = hidden[window.slices]
    return Finishing(
        state.exposure,
        state.view,
        behind,
        state.optics,
        place,
        state.shadow_tone,
        state.bending,
        grain,
        hidden,
        Tones(*state.tones) if state.tones is not None else None,
        state.graded,
        *_filmed(state),
        area_mattes(state, size, window),
        state.displaced_by,
        focus_blur(state, size, window),
    )


def _filmed(state: FrameState) -> tuple[float, tuple[float, float, float]]:
    """Softness in heights of the picture, and the light that comes out as black as the plate is."""
    if state.filmed is None:
        return 0.0, (0.0, 0.0, 0.0)
    softness, black = state.filmed
    shown = linear_to_srgb(np.array(black, np.float32))
    r, g, b = (from_display(shown, state.view) * np.float32(2.0**-state.exposure)).tolist()
    return softness, (r, g, b)
