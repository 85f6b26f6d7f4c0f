"""Finishes as materials of glTF 2.0 and its ratified extensions."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...finish import COLOURS, TERMS

Floats = NDArray[np.float64]


def material(name: str, colours: Floats, terms: Floats) -> tuple[dict[str, Any], set[str]]:
    """A material of one surface, its colours (COLOURS, 3) and terms (TERMS,) at a frame, and the extensions
    it uses (Khronos: KHR_materials_*)."""
    colour = dict(zip(COLOURS, colours.tolist(), strict=True))
    of = dict(zip(TERMS, terms.tolist(), strict=True))
    made: dict[str, Any] = {
        "name": name,
        "pbrMetallicRoughness": {
            "baseColorFactor": [*_unit(colour["base_colour"]), _share(of["opacity"])],
            "metallicFactor": _share(of["metallic"]),
            "roughnessFactor": _share(of["roughness"]),
        },
    }
    more: dict[str, Any] = {}
    if of["opacity"] < 1:
        made["alphaMode"] = "BLEND"
    if of["emission"] > 0:
        made["emissiveFactor"] = _unit(colour["emission_colour"])
        more["KHR_materials_emissive_strength"] = {"emissiveStrength": of["emission"]}
    if of["clearcoat"] > 0:
        more["KHR_materials_clearcoat"] = {
            "clearcoatFactor": _share(of["clearcoat"]),
            "clearcoatRoughnessFactor": _share(of["clearcoat_roughness"]),
        }
    if of["transmission"] > 0:
        more["KHR_materials_transmission"] = {"transmissionFactor": _share(of["transmission"])}
        if of["attenuation_distance"] > 0:
            more["KHR_materials_volume"] = {
                "thicknessFactor": of["attenuation_distance"],
                "attenuationDistance": of["attenuation_distance"],
                "attenuationColor": _unit(colour["attenuation_colour"]),
            }
    if of["sheen"] > 0:
        more["KHR_materials_sheen"] = {"sheenColorFactor": [_share(of["sheen"])] * 3}
    if abs(of["ior"] - 1.5) > 1e-3 and of["ior"] >= 1:
        more["KHR_materials_ior"] = {"ior": of["ior"]}
    if more:
        made["extensions"] = more
    return made, set(more)


def _share(value: float) -> float:
    return min(1.0, max(0.0, value))


def _unit(colour: list[float]) -> list[float]:
    return [_share(value) for value in colour]
