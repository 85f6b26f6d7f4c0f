"""Light (height, width, channels) spread over a picture by wide, smooth kernels; radii in pixels."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..colour import luminance
from .images import brought_up, gaussian, halved

Floats = NDArray[np.float32]

# Widths of a spread, each twice the one before, so that together they fall off as in a real lens: about with
# the square of the distance (Spencer et al., Physically-based glare effects for digital images, 1995).
OCTAVES = 6
# Wide kernels are laid over smaller pictures: there they are at least so many pixels wide (standard
# deviation).
FINEST = 2.0


def blurred(light: Floats, sigma: float) -> Floats:
    """Light (height, width, n) under a Gaussian of ``sigma`` pixels; beyond the edges it is as there."""
    if sigma < 0.3:
        return light
    halvings = 0
    while sigma / 2 ** (halvings + 1) >= FINEST and min(light.shape[:2]) >> (halvings + 1) >= 2:
        halvings += 1
    if not halvings:
        return gaussian(light, sigma)
    small = light
    for _ in range(halvings):
        small = halved(small)
    # Each halving, and what lies straight between pixels, softens too.
    share = 2**halvings
    rest = max(0.05, sigma**2 - (share**2 - 1) / 3 - share**2 / 6)
    return brought_up(gaussian(small, float(np.sqrt(rest)) / share), share, light.shape[1], light.shape[0])


def octave_weights(falloff: float) -> NDArray[np.float64]:
    """Shares of the widths of a spread, narrowest first; they add up to 1."""
    weights = 2.0 ** (-falloff * np.arange(OCTAVES))
    shares: NDArray[np.float64] = weights / weights.sum()
    return shares


def octave_sigmas(radius: float, height: int) -> NDArray[np.float64]:
    """Standard deviations in pixels of the widths of a spread, narrowest first; half of the widest lies
    within ``radius`` shares of the height."""
    widest = radius * height / 1.1774
    return np.asarray(widest / 2.0 ** np.arange(OCTAVES - 1, -1, -1), np.float64)


def spread(light: Floats, radius: float, falloff: float) -> Floats:
    """Light under a kernel of all widths together; away from the edges as much of it as before.

    One pyramid for all: each width is laid over the picture that suits it, and they are added up from the
    widest on.
    """
    sigmas, shares = octave_sigmas(radius, light.shape[0]), octave_weights(falloff)
    levels: list[tuple[Floats, int]] = []
    small, halvings = light, 0
    for sigma in sigmas.tolist():
        while sigma / 2 ** (halvings + 1) >= FINEST and min(small.shape[:2]) >= 4:
            small, halvings = halved(small), halvings + 1
        scale = 2**halvings
        # What halving has done already; bringing up adds a little more.
        rest = sigma**2 - (scale**2 - 1) / 3 - scale**2 / 6
        soft = gaussian(small, float(np.sqrt(max(rest, 0.05))) / scale) if sigma >= 0.3 else light
        levels.append((soft, halvings))
    found, at = np.float32(shares[-1]) * levels[-1][0], levels[-1][1]
    for (soft, halvings), share in zip(levels[-2::-1], shares[-2::-1].tolist(), strict=True):
        if halvings < at:
            found = brought_up(found, 2 ** (at - halvings), soft.shape[1], soft.shape[0])
            at = halvings
        found += np.float32(share) * soft
    return brought_up(found, 2**at, light.shape[1], light.shape[0]) if at else found


def brighter(light: Floats, threshold: float, knee: float) -> Floats:
    """What of the light is brighter than a threshold, beginning softly: all of it at 0.

    By luminance, so that colours stay: nothing below ``threshold * (1 - knee)``, all that lies above
    ``threshold * (1 + knee)``, a parabola between.
    """
    if threshold <= 0:
        return light
    bright = luminance(light).astype(np.float32)
    soft = np.float32(max(threshold * knee, 1e-6))
    over = np.clip(bright - np.float32(threshold) + soft, 0, 2 * soft)
    kept = np.maximum(over * over / (4 * soft), bright - np.float32(threshold))
    kept /= np.maximum(bright, np.float32(1e-6))
    result: Floats = light * kept[..., None]
    return result
