"""Measured metals: the colour that bare metal mirrors, from its optical constants.

The constants n and k are those of E. D. Palik (ed.), Handbook of Optical Constants of Solids, Academic
Press 1985, as tabulated by wavelength in the data files that come with the renderer. Those of titanium
(Johnson & Christy 1974) and brass (Querry 1985) lie beside this file, in ``constants``.
"""

from __future__ import annotations

from functools import lru_cache
from importlib.util import find_spec
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from .observer import WAVELENGTHS, observer

Floats = NDArray[np.float64]

CONSTANTS = Path(__file__).parent / "constants"

# Metals by the names of the renderer's data files.
METALS = {
    "aluminium": "Al",
    "chromium": "Cr",
    "copper": "Cu",
    "gold": "Au",
    "iridium": "Ir",
    "molybdenum": "Mo",
    "nickel": "Ni_palik",
    "rhodium": "Rh",
    "silver": "Ag",
    "tantalum": "Ta",
    "titanium nitride": "TiN",
    "tungsten": "W",
}

OWN = ("brass", "titanium")

# XYZ of equal energy to linear Rec.709 with equal energy as white: Bradford adaptation to D65, then IEC
# 61966-2-1.
_TO_709 = np.array([[3.1467, -1.6665, -0.4802], [-0.9955, 1.9558, 0.0398], [0.0636, -0.2146, 1.1510]])


@lru_cache(maxsize=32)
def metal_colour(name: str) -> tuple[float, float, float]:
    """Reflectance at normal incidence as scene-linear Rec.709, each channel 0..1. KeyError for what is no
    metal of ours.

    R = ((n - 1)² + k²) / ((n + 1)² + k²) (Fresnel's equations for a conductor in air, Born & Wolf,
    Principles of Optics, 14.2), seen by the CIE 1931 observer.

    >>> [round(c, 2) for c in metal_colour("gold")]
    [1.0, 0.79, 0.34]
    """
    n, k = (_table(METALS[name], kind) for kind in ("eta", "k")) if name in METALS else _own(name)
    reflectance = ((n - 1) ** 2 + k**2) / ((n + 1) ** 2 + k**2)
    seen = observer(WAVELENGTHS)
    xyz = seen @ reflectance / seen[1].sum()
    white = seen.sum(axis=1) / seen[1].sum()
    rgb = np.clip(_TO_709 @ (xyz / white), 0, 1)
    return float(rgb[0]), float(rgb[1]), float(rgb[2])


def _own(name: str) -> tuple[Floats, Floats]:
    if name not in OWN:
        raise KeyError(name)
    table = np.loadtxt(CONSTANTS / f"{name}.txt", comments="#")
    n, k = (np.asarray(np.interp(WAVELENGTHS, table[:, 0], table[:, c]), np.float64) for c in (1, 2))
    return n, k


def _table(symbol: str, kind: str) -> Floats:
    found = find_spec("mitsuba")
    assert found is not None and found.origin is not None, "the renderer is installed with the application"
    table = np.loadtxt(Path(found.origin).parent / "data" / "ior" / f"{symbol}.{kind}.spd", comments="#")
    return np.asarray(np.interp(WAVELENGTHS, table[:, 0], table[:, 1]), np.float64)
