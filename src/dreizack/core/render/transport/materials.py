"""A surface in the renderer's terms."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...colour import LUMINANCE
from ...finish import COLOURS, MASK, TERMS
from ..kernel.engine import engine

SMOOTHEST = 0.03
# Squared roughness of the renderer's coat at gloss 0 and 1 (Burley, Physically Based Shading at Disney,
# 2012).
DULL_COAT, CLEAR_COAT = 0.1, 0.001
# How often light is turned over the distance in which it takes its colour, where scatter is 1.
CLOUDY = 12.0
# Height of a bump of depth 1, as a share of its size.
BUMP_HEIGHT = 0.25

Floats = NDArray[np.float64]


def surface(terms: Floats, layers: tuple[str, ...], in_relief: bool) -> dict[str, float]:
    """Parameters of the principled surface from ``terms`` (TERMS,), with those of its ``layers`` alone."""
    of = dict(zip(TERMS, terms.tolist(), strict=True))
    rough = max(of["roughness"], SMOOTHEST)
    found = {"metallic.value": of["metallic"], "eta": max(of["ior"], 1.001)}
    if in_relief:
        for term in ("roughness", "anisotropic"):
            found |= {
                f"{term}.roughness": rough,
                f"{term}.anisotropy": of["anisotropy"] if "anisotropy" in layers else 0.0,
            }
    else:
        found["roughness.value"] = rough
        if "anisotropy" in layers:
            found["anisotropic.value"] = of["anisotropy"]
    if "clearcoat" in layers:
        found["clearcoat.value"] = of["clearcoat"]
        dull = (of["clearcoat_roughness"] ** 2 - CLEAR_COAT) / (DULL_COAT - CLEAR_COAT)
        found["clearcoat_gloss.gloss" if in_relief else "clearcoat_gloss.value"] = float(
            np.clip(1 - dull, 0, 1)
        )
    if "sheen" in layers:
        found["sheen.value"] = of["sheen"]
    if "transmission" in layers:
        found["spec_trans.value"] = of["transmission"]
    return found


def diffuse_worth(colours: Floats, terms: Floats, pictured: bool) -> float:
    """How often to try directions for what a surface scatters, as against what it mirrors: seldom where it is
    dark.

    Few different values, as each is a kernel of its own.
    """
    if pictured:
        return 1.0
    plain = float(colours[COLOURS.index("base_colour")] @ LUMINANCE) * (
        1 - float(terms[TERMS.index("metallic")])
    )
    return next(
        worth for most, worth in ((0.015, 0.05), (0.06, 0.2), (0.15, 0.5), (np.inf, 1.0)) if plain <= most
    )


# Terms that a relief too fine to be seen adds to.
WIDENED = {"roughness": "roughness", "anisotropic": "anisotropy", "clearcoat_gloss": "gloss"}
WRAPS = {"repeat": "repeat", "mirrored": "mirror", "once": "clamp"}


def texture(picture: NDArray[np.float32], repeat: str) -> dict[str, Any]:
    """A picture (rows, columns, n), top row first, for the renderer, which counts rows from v = 0 on."""
    return {
        "type": "bitmap",
        "bitmap": engine().Bitmap(np.ascontiguousarray(picture[::-1])),
        "raw": True,
        "wrap_mode": WRAPS[repeat],
    }


def made(layers: tuple[str, ...], in_relief: bool, pictures: dict[str, dict[str, Any]]) -> Any:
    """A new surface with these layers, with a relief or without; ``pictures`` are textures by the channel
    they set."""
    mi = engine()
    base: dict[str, Any] = pictures.get("base colour", {"type": "rgb", "value": [0.5, 0.5, 0.5]})
    # Layers that are not named when it is made are left out of the kernel.
    named = {term.partition(".")[0] for term in surface(np.full(len(TERMS), 0.5), layers, in_relief)} - {
        "eta"
    }
    terms: dict[str, Any] = dict.fromkeys(named, 0.5)
    rough = mi.load_dict(pictures["roughness"]) if "roughness" in pictures else None
    if rough is not None:
        terms["roughness"] = rough
    if in_relief:
        for term, gives in WIDENED.items():
            if term in terms:
                # Data of its own, whether from a picture or from letters.
                picture = {"picture": rough} if rough is not None and gives != "gloss" else {}
                terms[term] = {"type": "widened", "gives": gives, **picture}
    found: dict[str, Any] = {"type": "principled", "base_color": base, "eta": 1.5, **terms}
    if MASK in layers:
        found = {
            "type": "mask",
            "opacity": pictures.get("opacity", {"type": "rgb", "value": [0.5, 0.5, 0.5]}),
            "bsdf": found,
        }
    return mi.load_dict(found)


def addresses(layers: tuple[str, ...]) -> tuple[str, str]:
    """Where, below a mesh, the parameters of mask and the principled surface lie."""
    return "bsdf.", "bsdf.nested_bsdf." if MASK in layers else "bsdf."


def bump_scale(terms: Floats, size: float) -> float:
    """Height in metres of the relief of a surface with ``terms`` (TERMS,), its bumps ``size`` metres wide."""
    return float(terms[TERMS.index("bump_depth")]) * size * BUMP_HEIGHT


def emission(colours: Floats, terms: Floats) -> Floats:
    """Radiance (3,) that a surface sends by itself."""
    result: Floats = colours[COLOURS.index("emission_colour")] * terms[TERMS.index("emission")]
    return result


def scattering(terms: Floats) -> float:
    """How often a metre light is turned within a body (OpenPBR 1.1, 3.6: transmission scatter, grey and alike
    in all directions)."""
    return float(terms[TERMS.index("scatter")] * CLOUDY / terms[TERMS.index("attenuation_distance")])


def absorption(colours: Floats, terms: Floats) -> Floats:
    """Absorption (3,) per metre within a body (KHR_materials_volume: attenuation colour after attenuation
    distance)."""
    left = np.clip(colours[COLOURS.index("attenuation_colour")], 1e-4, 1)
    result: Floats = -np.log(left) / terms[TERMS.index("attenuation_distance")]
    return result
