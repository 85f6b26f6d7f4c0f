"""The optics over time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from ...document import Light, Optics
from ...motion import Motion
from ..viewing import camera_axes
from .baked import BakedLight

Floats = NDArray[np.float64]
# A sun stands so far away, in metres.
FAR = 1e4


def baked_optics(
    motion: Motion, position: Floats, aim: Floats, roll: Floats, angle: Floats, lights: dict[str, BakedLight]
) -> dict[str, Floats]:
    """Values (frames,) of the optics by pointer below them; nothing where none of them does anything.

    Rays that come from a light have its place in the picture (0 to 1 from the top left, strength 0 where it
    stands behind the camera).
    """
    optics = motion.shot.optics
    if not motion.keyed("/optics") and _idle(optics):
        return {}
    found = {name: motion.value(f"/optics/{name}") for name in numbers_below(optics)}
    light = lights.get(optics.rays.light)
    if light is not None:
        axes = camera_axes(position, aim, roll)
        away = light.position - position
        if isinstance(source := motion.shot.things.get(optics.rays.light), Light) and source.source == "sun":
            way = light.position - light.aim
            away = way / np.linalg.norm(way, axis=1, keepdims=True) * FAR
        right, up, ahead = np.einsum("fij,fj->if", axes, away)
        half = np.tan(np.radians(angle) / 2)
        before = ahead > 1e-3
        depth = np.where(before, ahead, 1.0) * half
        found["rays/x"] = np.where(before, 0.5 + right / depth / motion.shot.format.aspect / 2, 0.5)
        found["rays/y"] = np.where(before, 0.5 - up / depth / 2, 0.5)
        found["rays/amount"] = np.where(before, found["rays/amount"], 0.0)
    return found


def _idle(optics: Optics) -> bool:
    """Whether none of it does anything: effects have no amount, grade and frame are as new ones are."""
    plain = Optics()
    amounts = [getattr(getattr(optics, name), "amount", 0.0) for name in Optics.model_fields]
    return not any(amounts) and optics.grade == plain.grade and optics.letterbox == plain.letterbox


def numbers_below(section: BaseModel, at: str = "") -> list[str]:
    """Pointers of all numbers below a section."""
    names: list[str] = []
    for name in type(section).model_fields:
        value = getattr(section, name)
        if isinstance(value, BaseModel):
            names += numbers_below(value, f"{at}{name}/")
        elif isinstance(value, float | int):
            names.append(f"{at}{name}")
    return names
