"""The colour of a glowing body."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..colour import luminance
from ..finish import WAVELENGTHS, XYZ_TO_709, observer

Floats = NDArray[np.float64]

# hc / k, in nanometre kelvin (CODATA 2018).
SECOND_RADIATION = 1.438776877e7


def kelvin_tint(temperature: Floats) -> Floats:
    """Scene-linear colours (n, 3) of luminance 1 of black bodies of ``temperature`` (n,) in kelvin.

    Planck's law, seen by the CIE 1931 observer; what Rec.709 cannot show is moved to its border.

    >>> kelvin_tint(np.array([6500.0])).round(1).tolist()
    [[1.0, 1.0, 1.0]]
    """
    inverse, colours = _table()
    found: Floats = np.stack(
        [np.interp(1e6 / np.clip(temperature, 900, 21000), inverse, colours[:, k]) for k in range(3)], axis=1
    )
    return found


@lru_cache(maxsize=1)
def _table() -> tuple[Floats, Floats]:
    """Colours over reciprocal megakelvin, along which they change evenly."""
    mired = np.linspace(1e6 / 21000, 1e6 / 900, 400)
    sent = WAVELENGTHS[None] ** -5.0 / np.expm1(SECOND_RADIATION * mired[:, None] * 1e-6 / WAVELENGTHS[None])
    xyz = sent @ observer(WAVELENGTHS).T
    rgb = np.maximum((xyz / xyz[:, 1:2]) @ XYZ_TO_709.T, 0)
    rgb /= luminance(rgb)[:, None]
    return mired, rgb
