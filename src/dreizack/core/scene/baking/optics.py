"""The optics over time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from ...document import Drift, Light, Optics
from ...document.optics import Weave
from ...motion import Motion
from ...motion.drift import drift
from ..viewing import camera_axes
from .baked import BakedBody, BakedLight
from .hiding import seen_share

Floats = NDArray[np.float64]
# A sun stands so far away, in metres.
FAR = 1e4


def baked_optics(
    motion: Motion,
    position: Floats,
    aim: Floats,
    roll: Floats,
    angle: Floats,
    lights: dict[str, BakedLight],
    bodies: dict[str, BakedBody],
) -> dict[str, Floats]:
    """Values (frames,) of the optics by pointer below them; nothing where none of them does anything.

    Rays and flares of a light have its place in the picture (0 to 1 from the top left, strength 0 where it
    stands behind the camera); a flare is as strong as much of its light is seen. What flows has how far it
    has come by then, in turns; strips have how often they have jumped.
    """
    optics = motion.shot.optics
    if not motion.keyed("/optics") and _idle(optics):
        return {}
    found = {name: motion.value(f"/optics/{name}") for name in numbers_below(optics)}
    axes, half = camera_axes(position, aim, roll), np.tan(np.radians(angle) / 2)
    aspect = motion.shot.format.aspect
    for effect, named in (("rays", optics.rays.light), ("flare", optics.flare.light)):
        light = lights.get(named)
        if light is None:
            continue
        away = light.position - position
        if isinstance(source := motion.shot.things.get(named), Light) and source.source == "sun":
            way = light.position - light.aim
            away = way / np.linalg.norm(way, axis=1, keepdims=True) * FAR
        right, up, ahead = np.einsum("fij,fj->if", axes, away)
        before = (ahead > 1e-3) & light.there
        depth = np.where(before, ahead, 1.0) * half
        found[f"{effect}/x"] = np.where(before, 0.5 + right / depth / aspect / 2, 0.5)
        found[f"{effect}/y"] = np.where(before, 0.5 - up / depth / 2, 0.5)
        found[f"{effect}/amount"] = np.where(before, found[f"{effect}/amount"], 0.0)
        if effect == "flare":
            seen = np.stack([right / depth / 2, up / depth / 2], axis=-1)
            size = float(found["flare/size"].max())
            share = seen_share(seen, size, np.where(before, ahead, 0.0), bodies, position, axes, half)
            found["flare/amount"] = found["flare/amount"] * share * _within(seen, aspect)
    found |= _weave(optics.weave, found, motion)
    seconds = motion.frames / motion.shot.format.rate.per_second
    found["bend/jump"] = np.floor(optics.bend.jumps * seconds + 1e-6)
    found["bend/flow"] = found["bend/flow"] * seconds
    return found


def _weave(weave: Weave, found: dict[str, Floats], motion: Motion) -> dict[str, Floats]:
    """How far the picture is off (heights of it), turned (degrees) and larger by then (frames,)."""
    if not (motion.keyed("/optics/weave") or weave.amount or weave.turn or weave.breathing):
        return {}
    rate = motion.shot.format.rate.per_second

    def wanders(name: str, pace: float) -> Floats:
        by = Drift(amplitude=1.0, frequency=min(pace, 25.0), seed=weave.seed)
        return drift(by, f"/weave/{name}", motion.frames, rate)

    return {
        "weave/x": found["weave/amount"] * wanders("x", weave.pace),
        "weave/y": found["weave/amount"] * wanders("y", weave.pace),
        "weave/angle": found["weave/turn"] * wanders("angle", weave.pace),
        "weave/zoom": found["weave/breathing"] * wanders("zoom", weave.pace / 4),
    }


def _within(seen: Floats, aspect: float) -> Floats:
    """How much of a light's flare is left (frames,) as it leaves the picture: nothing a quarter of its height
    beyond the edge."""
    beyond = np.maximum(np.abs(seen) - np.array([aspect / 2, 0.5]), 0).max(axis=1)
    left: Floats = np.clip(1 - beyond / 0.25, 0, 1)
    return left


def _idle(optics: Optics) -> bool:
    """Whether none of it does anything: effects have no amount, grade and frame are as new ones are."""
    plain = Optics()
    amounts = [getattr(getattr(optics, name), "amount", 0.0) for name in Optics.model_fields]
    others = ("grade", "letterbox", "blur", "bend", "curves", "table", "weave")
    return not any(amounts) and all(getattr(optics, name) == getattr(plain, name) for name in others)


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
