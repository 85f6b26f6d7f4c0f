"""The terms of a finish that are one number each, and which of them the renderer has to count with."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

TERMS = ("metallic", "roughness", "ior", "anisotropy", "clearcoat", "clearcoat_roughness", "sheen")
# Terms that do nothing at 0; a surface without them is drawn with less work.
LAYERS = ("anisotropy", "clearcoat", "sheen")


def layers(terms: NDArray[np.float64]) -> tuple[str, ...]:
    """Which of :data:`LAYERS` finishes (..., TERMS) ever have."""
    some = terms.reshape(-1, len(TERMS)).max(axis=0) > 0
    return tuple(name for name in LAYERS if some[TERMS.index(name)])
