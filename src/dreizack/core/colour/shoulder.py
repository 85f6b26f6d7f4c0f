"""Our own view transform: straight to a shoulder, then towards white; and back."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .srgb import linear_to_srgb, srgb_to_linear

SHOULDER_START = 0.6


def view_curve(linear: NDArray[np.float32]) -> NDArray[np.float32]:
    """Display value 0..1 of a scene-linear value, exactly.

    Below 0.6 nothing changes but the encoding; above, 1 is approached exponentially with a
    continuous slope. Encoding: IEC 61966-2-1 (sRGB), section 5.2.
    """
    rest = 1 - SHOULDER_START
    x = np.maximum(linear, 0)
    bent = np.where(x <= SHOULDER_START, x, 1 - rest * np.exp(-(x - SHOULDER_START) / rest))
    return linear_to_srgb(bent).astype(np.float32)


def as_display(linear: NDArray[np.float32], view: str = "shoulder") -> NDArray[np.float32]:
    """Display values 0..1 of scene-linear colours (..., 3): :func:`from_display` backwards, plain encodings
    included that stand for transforms which mix channels."""
    if view == "shoulder":
        return view_curve(linear)
    held = np.clip(linear, 0, 1)
    shown: NDArray[np.float32] = (
        held ** np.float32(1 / 2.4) if view == "plain Rec.709" else linear_to_srgb(held)
    )
    return shown


def from_display(values: NDArray[np.float32], view: str = "shoulder") -> NDArray[np.float32]:
    """Scene-linear colours (..., 3) that the view transform shows as these display values, 0..1.

    What a shoulder shows as white could be anything: it counts as what is half a code below. The film-like
    transform mixes channels and has no inverse here; it is taken as a plain encoding.

    >>> shown = np.array([[0.1, 0.5, 0.9]], np.float32)
    >>> view_curve(from_display(shown)).round(5).tolist() == shown.round(5).tolist()
    True
    """
    if view == "plain Rec.709":
        # Rec. ITU-R BT.1886: a gamma of 2.4.
        result: NDArray[np.float32] = np.maximum(values, 0) ** np.float32(2.4)
        return result
    linear = srgb_to_linear(np.asarray(values, np.float32))
    if view != "shoulder":
        return linear
    rest = 1 - SHOULDER_START
    least = 1 - srgb_to_linear(np.array([1 - 0.5 / 255], np.float32))[0]
    bent = SHOULDER_START - rest * np.log(np.maximum(1 - linear, least) / rest)
    return np.where(linear <= SHOULDER_START, linear, bent).astype(np.float32)
