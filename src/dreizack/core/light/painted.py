"""Factors of lights as values of the document."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..motion import Motion
from .kelvin import kelvin_tint
from .painting import NONE
from .sources import DARK

Floats = NDArray[np.float64]
# A tint differs by so much before it is one.
TINTED = 0.01


@dataclass(frozen=True)
class PaintedLight:
    """A light that changes: by how many ``stops``, whether its tint does, and the values and choices by
    pointer that make it so."""

    light: str
    stops: float
    tinted: bool
    values: dict[str, float] = field(default_factory=dict)
    choices: dict[str, str] = field(default_factory=dict)


def paintable(shot: Shot) -> list[str]:
    """Names of the lights that can be told how bright they are, the surroundings first: those whose
    brightness follows another value go by that."""
    led = [f"/things/{name}/{part}" for name in shot.lights for part in ("intensity", "amount")]
    bound = {pointer.split("/")[2] for pointer in led if pointer in shot.couplings}
    free = [name for name in shot.lit if name not in bound]
    return free if "/surroundings/strength" in shot.couplings else ["surroundings", *free]


def painted_lights(shot: Shot, frame: int, names: list[str], factors: Floats) -> list[PaintedLight]:
    """What lights called ``names`` become by factors (lights, 3) at a frame; those that stay are left out.
    The surroundings have their strength alone."""
    motion = Motion(shot, np.array([float(frame)]))
    found = []
    for name, factor in zip(names, factors, strict=True):
        if name == "surroundings":
            stops = float(np.log2(factor.mean()))
            now = float(motion.value("/surroundings/strength")[0])
            if abs(stops) >= NONE and now > DARK:
                strength = round(float(np.clip(now + stops, DARK, 8)), 4)
                found.append(PaintedLight(name, stops, False, {"/surroundings/strength": strength}))
            continue
        light, at = shot.lights[name], f"/things/{name}"
        tint = (
            motion.vector(f"{at}/tint", "rgb")[0]
            if light.colour_by == "tint"
            else np.asarray(kelvin_tint(motion.value(f"{at}/kelvin")), np.float64).reshape(3)
        )
        colour = tint * factor
        stops = float(np.log2(max(colour.max(), 1e-9) / max(tint.max(), 1e-9)))
        fresh = colour / colour.max() * tint.max()
        tinted = float(np.abs(fresh - tint).max()) > TINTED
        if abs(stops) < NONE and not tinted:
            continue
        values: dict[str, float] = {}
        if light.measured_in == "stops":
            now = float(motion.value(f"{at}/intensity")[0])
            values[f"{at}/intensity"] = round(float(np.clip(now + stops, DARK, 12)), 4)
        else:
            values[f"{at}/amount"] = round(float(motion.value(f"{at}/amount")[0]) * 2.0**stops, 6)
        choices = {}
        if tinted:
            if light.colour_by != "tint":
                choices[f"{at}/colour_by"] = "tint"
            values |= {
                f"{at}/tint/{c}": round(float(v), 5) for c, v in zip("rgb", np.clip(fresh, 0, 1), strict=True)
            }
        found.append(PaintedLight(name, stops, tinted, values, choices))
    return found
