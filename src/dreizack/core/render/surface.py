"""A surface in the renderer's terms."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..finish import COLOURS, MASK, SPAN, TERMS, bump_heights
from .engine import engine

SMOOTHEST = 0.03
# Squared roughness of the renderer's coat at gloss 0 and 1 (Burley, Physically Based Shading at Disney, 2012).
DULL_COAT, CLEAR_COAT = 0.1, 0.001
# Height of a bump of depth 1, as a share of its size.
BUMP_HEIGHT = 0.25
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])

Floats = NDArray[np.float64]


def surface(terms: Floats, layers: tuple[str, ...]) -> dict[str, float]:
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
    if "transmission" in layers:
        found["spec_trans.value"] = of["transmission"]
    return found


def diffuse_worth(colours: Floats, terms: Floats, pictured: bool) -> float:
    """How often to try directions for what a surface scatters, as against what it mirrors: seldom where it is dark.

    Few different values, as each is a kernel of its own.
    """
    if pictured:
        return 1.0
    plain = float(colours[COLOURS.index("base_colour")] @ LUMINANCE) * (1 - float(terms[TERMS.index("metallic")]))
    return next(worth for most, worth in ((0.015, 0.05), (0.06, 0.2), (0.15, 0.5), (np.inf, 1.0)) if plain <= most)


WRAPS = {"repeat": "repeat", "mirrored": "mirror", "once": "clamp"}


def texture(picture: NDArray[np.float32], repeat: str) -> dict[str, Any]:
    """A picture (rows, columns, n), top row first, for the renderer, which counts rows from v = 0 on."""
    return {"type": "bitmap", "bitmap": engine().Bitmap(np.ascontiguousarray(picture[::-1])), "raw": True, "wrap_mode": WRAPS[repeat]}


def made(layers: tuple[str, ...], bump: tuple[str, float], pictures: dict[str, dict[str, Any]]) -> Any:
    """A new surface with these layers and this bump (kind and size); ``pictures`` are textures by the channel they set."""
    mi = engine()
    base: dict[str, Any] = pictures.get("base colour", {"type": "rgb", "value": [0.5, 0.5, 0.5]})
    # Layers that are not named when it is made are left out of the kernel.
    terms: dict[str, Any] = {term.removesuffix(".value"): 0.5 for term in surface(np.full(len(TERMS), 0.5), layers) if term != "eta"}
    if "roughness" in pictures:
        terms["roughness"] = pictures["roughness"]
    found: dict[str, Any] = {"type": "principled", "base_color": base, "eta": 1.5, **terms}
    kind, size = bump
    if kind != "none":
        heights = mi.Bitmap(bump_picture(kind, 1.0))
        scale = 1 / (size * SPAN)
        found = {
            "type": "bumpmap", "scale": 1.0, "bsdf": found,
            "relief": {"type": "bitmap", "bitmap": heights, "raw": True, "to_uv": mi.ScalarTransform4f().scale([scale, scale, 1])},
        }
    if MASK in layers:
        found = {"type": "mask", "opacity": pictures.get("opacity", {"type": "rgb", "value": [0.5, 0.5, 0.5]}), "bsdf": found}
    return mi.load_dict(found)


def addresses(layers: tuple[str, ...], bump: tuple[str, float]) -> tuple[str, str, str]:
    """Where, below a mesh, the parameters of mask, bump and the principled surface lie."""
    mask = "bsdf."
    bumped = mask + ("nested_bsdf." if MASK in layers else "")
    return mask, bumped, bumped + ("nested_bsdf." if bump[0] != "none" else "")


def bump_picture(kind: str, height: float) -> NDArray[np.float32]:
    """Heights in metres (rows, columns, 1), as the renderer counts rows."""
    result: NDArray[np.float32] = np.ascontiguousarray(bump_heights(kind)[::-1, :, None] * np.float32(height))
    return result


def bump_scale(terms: Floats, size: float) -> float:
    return float(terms[TERMS.index("bump_depth")]) * size * BUMP_HEIGHT


def emission(colours: Floats, terms: Floats) -> Floats:
    """Radiance (3,) that a surface sends by itself."""
    result: Floats = colours[COLOURS.index("emission_colour")] * terms[TERMS.index("emission")]
    return result


def absorption(colours: Floats, terms: Floats) -> Floats:
    """Absorption (3,) per metre within a body (KHR_materials_volume: attenuation colour after attenuation distance)."""
    left = np.clip(colours[COLOURS.index("attenuation_colour")], 1e-4, 1)
    result: Floats = -np.log(left) / terms[TERMS.index("attenuation_distance")]
    return result
