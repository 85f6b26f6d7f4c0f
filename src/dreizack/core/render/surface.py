"""A finish in the renderer's terms."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..finish import TERMS

SMOOTHEST = 0.03
# Squared roughness of the renderer's coat at gloss 0 and 1 (Burley, Physically Based Shading at Disney, 2012).
DULL_COAT, CLEAR_COAT = 0.1, 0.001


def surface(terms: NDArray[np.float64], layers: tuple[str, ...]) -> dict[str, float]:
    """Parameters of the principled surface from ``terms`` (TERMS,), with those of its ``layers`` alone."""
    of = dict(zip(TERMS, terms.tolist(), strict=True))
    found = {"metallic.value": of["metallic"], "roughness.value": max(of["roughness"], SMOOTHEST), "eta": max(of["ior"], 1.001)}
    if "anisotropy" in layers:
        found["anisotropic.value"] = of["anisotropy"]
    if "clearcoat" in layers:
        found["clearcoat.value"] = of["clearcoat"]
        dull = (of["clearcoat_roughness"] ** 2 - CLEAR_COAT) / (DULL_COAT - CLEAR_COAT)
        found["clearcoat_gloss.value"] = float(np.clip(1 - dull, 0, 1))
    if "sheen" in layers:
        found["sheen.value"] = of["sheen"]
    return found
