"""The standard observer, and what it sees of spectra."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

WAVELENGTHS = np.arange(390.0, 781.0, 5.0)
# XYZ to linear Rec.709, D65 as white (IEC 61966-2-1).
XYZ_TO_709 = np.array([[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]])


def observer(nanometres: Floats) -> Floats:
    """Colour matching functions (3, n) of the CIE 1931 observer, as sums of lobes.

    Wyman, Sloan & Shirley, Simple Analytic Approximations to the CIE XYZ Color Matching Functions,
    JCGT 2(2), 2013, multi-lobe fit.
    """

    def lobe(height: float, middle: float, below: float, above: float) -> Floats:
        t = (nanometres - middle) * np.where(nanometres < middle, below, above)
        result: Floats = height * np.exp(-0.5 * t * t)
        return result

    x = (
        lobe(0.362, 442.0, 0.0624, 0.0374)
        + lobe(1.056, 599.8, 0.0264, 0.0323)
        - lobe(0.065, 501.1, 0.0490, 0.0382)
    )
    y = lobe(0.821, 568.8, 0.0213, 0.0247) + lobe(0.286, 530.9, 0.0613, 0.0322)
    z = lobe(1.217, 437.0, 0.0845, 0.0278) + lobe(0.681, 459.0, 0.0385, 0.0725)
    return np.stack([x, y, z])
