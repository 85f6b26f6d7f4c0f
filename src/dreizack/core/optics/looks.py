"""Ready-made looks: what lens, film and grade make of a picture, named by how it looks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..document import Optics, Shot, without_movers

Values = Mapping[str, Mapping[str, float]]


@dataclass(frozen=True)
class PictureLook:
    """Values of the optics that are not as they are in a new shot, by section and name."""

    name: str
    label: str
    tells: str
    values: Values


def looked(shot: Shot, look: PictureLook) -> list[dict[str, Any]]:
    """The edit that gives a shot a look in place of all it had, and of what moved it; only bars stay."""
    optics = Optics.model_validate(look.values)
    patch = []
    for section in Optics.model_fields:
        if section != "letterbox":
            patch += without_movers(shot, f"/optics/{section}/")
            value = getattr(optics, section).model_dump(mode="json")
            patch.append({"op": "replace", "path": f"/optics/{section}", "value": value})
    return patch


_ALL = (
    PictureLook("plain", "as traced", "Lens, film and grade do nothing", {}),
    PictureLook(
        "quiet",
        "quiet lens",
        "What every lens does, hardly seen",
        {
            "bloom": {"amount": 0.06},
            "aberration": {"amount": 0.0006},
            "vignette": {"amount": 0.25},
            "grain": {"amount": 0.03},
        },
    ),
    PictureLook(
        "sunrise",
        "low sun",
        "Warm, rays through the words, light that spreads",
        {
            "rays": {"amount": 0.45, "y": 0.2, "length": 0.55, "threshold": 0.5},
            "bloom": {"amount": 0.16},
            "veil": {"amount": 0.02},
            "grade": {"warmth": 0.22, "contrast": 1.05},
            "grain": {"amount": 0.03},
        },
    ),
    PictureLook(
        "fog",
        "lamp in fog",
        "Shadows lifted, wide and even halos",
        {
            "bloom": {"amount": 0.34, "radius": 0.3, "falloff": 0.5},
            "veil": {"amount": 0.12},
            "diffusion": {"amount": 0.2, "radius": 0.03},
            "grade": {"saturation": 0.85, "contrast": 0.95},
        },
    ),
    PictureLook(
        "morning",
        "cold morning",
        "Cool and pale, a soft picture over the sharp one",
        {
            "diffusion": {"amount": 0.25},
            "veil": {"amount": 0.04},
            "vignette": {"amount": 0.2},
            "grade": {"warmth": -0.3, "saturation": 0.75, "offset_b": 0.004},
        },
    ),
    PictureLook(
        "night",
        "wide at night",
        "Blue lines of light through what is bright, dark corners",
        {
            "streak": {"amount": 0.7, "length": 0.7},
            "bloom": {"amount": 0.12},
            "aberration": {"amount": 0.0016},
            "distortion": {"amount": 0.03},
            "vignette": {"amount": 0.4},
            "grade": {"warmth": -0.12, "contrast": 1.12},
        },
    ),
    PictureLook(
        "veiled",
        "soft filter",
        "Sharp, with a soft picture over it",
        {
            "diffusion": {"amount": 0.55, "radius": 0.03},
            "bloom": {"amount": 0.1},
            "grade": {"contrast": 0.95, "saturation": 1.05},
        },
    ),
    PictureLook(
        "warm",
        "warm print",
        "Film with a red rim around highlights, warm lights, fine grain",
        {
            "halation": {"amount": 0.4},
            "bloom": {"amount": 0.06},
            "grain": {"amount": 0.08},
            "vignette": {"amount": 0.2},
            "grade": {"slope_r": 1.06, "slope_b": 0.9, "offset_b": 0.006, "saturation": 0.92},
        },
    ),
    PictureLook(
        "old",
        "old projector",
        "Coarse grain, bent lines, faded and warm",
        {
            "grain": {"amount": 0.24, "size": 2.6, "colour": 0.2},
            "halation": {"amount": 0.35},
            "distortion": {"amount": 0.05},
            "aberration": {"amount": 0.002},
            "vignette": {"amount": 0.6, "reach": 0.45},
            "grade": {"saturation": 0.7, "warmth": 0.25, "contrast": 0.92},
        },
    ),
    PictureLook(
        "dusk",
        "two lights of dusk",
        "Blue shadows, amber lights",
        {
            "bloom": {"amount": 0.08},
            "vignette": {"amount": 0.25},
            "grade": {
                "slope_r": 1.12,
                "slope_b": 0.88,
                "power_r": 1.12,
                "power_b": 0.96,
                "offset_b": 0.003,
                "contrast": 1.08,
            },
        },
    ),
    PictureLook(
        "steel",
        "steel",
        "Hard, nearly without colour",
        {
            "grade": {"saturation": 0.4, "contrast": 1.35, "warmth": -0.08},
            "vignette": {"amount": 0.3},
            "grain": {"amount": 0.09},
        },
    ),
    PictureLook(
        "silver",
        "silver",
        "Black and white, with the grain of fast film",
        {
            "grade": {"saturation": 0.0, "contrast": 1.22},
            "bloom": {"amount": 0.07},
            "grain": {"amount": 0.15, "size": 2.0, "colour": 0.0},
            "vignette": {"amount": 0.3},
        },
    ),
    PictureLook(
        "noon",
        "hard noon",
        "Full of contrast and colour, nothing soft",
        {"grade": {"contrast": 1.28, "saturation": 1.2, "warmth": 0.05}},
    ),
)
LOOKS: dict[str, PictureLook] = {look.name: look for look in _ALL}
