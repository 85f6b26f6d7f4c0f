"""The same light in another unit: an edit that leaves the picture as it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document import Ease, Key, Light, Shot
from ..document.pointer import escaped
from ..motion import Motion
from .sources import DARK, stops_of

Floats = NDArray[np.float64]
UNITS = ("stops", "candela", "lumen", "lux")
MOST = 1e8


def amount_of(source: str, unit: str, stops: Floats, cone: Floats, penumbra: Floats) -> Floats:
    """Candela, lumen or lux (n,) of light in stops (n,): the inverse of :func:`.sources.stops_of`; nothing
    where it is dark.

    >>> amount_of("point", "candela", np.array([1.0, -16.0]), np.zeros(2), np.zeros(2)).round(6).tolist()
    [18000.0, 0.0]
    """
    one = stops_of(source, unit, np.ones(len(stops)), cone, penumbra)
    amount: Floats = np.where(stops <= DARK, 0.0, np.exp2(stops - one))
    return np.clip(amount, 0, MOST)


def measured_in(shot: Shot, name: str, unit: str) -> list[dict[str, Any]]:
    """The patch that measures the light called ``name`` in another unit, its keys too; empty where it is in
    that unit already.

    Between keys a value in stops changes by factors, one in other units by amounts: there the light is
    another one. KeyError where there is no such light.
    """
    light = shot.things[name]
    if not isinstance(light, Light):
        raise KeyError(name)
    if light.measured_in == unit:
        return []
    at = f"/things/{escaped(name)}"
    before, after = ("intensity" if one == "stops" else "amount" for one in (light.measured_in, unit))
    convert = _converter(shot, name, light, unit)
    patch: list[dict[str, Any]] = [{"op": "replace", "path": f"{at}/measured_in", "value": unit}]
    value = convert(np.array([float(getattr(light, before))]), np.zeros(1))[0]
    patch.append({"op": "replace", "path": f"{at}/{after}", "value": value})
    old, new = f"{at}/{before}", f"{at}/{after}"
    channel = shot.channels.get(f"/things/{name}/{before}")
    if f"/things/{name}/{after}" in shot.channels and old != new:
        patch.append({"op": "remove", "path": f"/channels/{escaped(new)}"})
    if channel is not None:
        frames = np.array([float(key.frame) for key in channel.keys])
        values = convert(np.array([key.value for key in channel.keys]), frames)
        eases = _converted_handles(channel.keys, values, lambda numbers: convert(numbers, frames))
        keys = [
            key.model_dump(mode="json") | {"value": v, "ease": ease.model_dump(mode="json")}
            for key, v, ease in zip(channel.keys, values, eases, strict=True)
        ]
        if old != new:
            patch.append({"op": "remove", "path": f"/channels/{escaped(old)}"})
        patch.append({"op": "add", "path": f"/channels/{escaped(new)}", "value": {"keys": keys}})
    return patch


def _converted_handles(
    keys: list[Key], values: list[float], convert: Callable[[Floats], list[float]]
) -> list[Ease]:
    """Eases of keys whose values became ``values``, their handles converted as those were."""
    last = [*keys[1:], keys[-1]]
    outs = convert(np.array([key.value + key.ease.out for key in keys]))
    backs = convert(np.array([after.value + key.ease.back for key, after in zip(keys, last, strict=True)]))
    ends = [*values[1:], values[-1]]
    return [
        key.ease.model_copy(update={"out": out - value, "back": back - end})
        for key, value, out, back, end in zip(keys, values, outs, backs, ends, strict=True)
    ]


def _converter(shot: Shot, name: str, light: Light, unit: str) -> Callable[[Floats, Floats], list[float]]:
    """Values in the light's unit, at frames, to the same light in another one."""

    def convert(values: Floats, frames: Floats) -> list[float]:
        motion = Motion(shot, frames)
        cone, penumbra = motion.value(f"/things/{name}/cone"), motion.value(f"/things/{name}/penumbra")
        stops = (
            values
            if light.measured_in == "stops"
            else stops_of(light.source, light.measured_in, values, cone, penumbra)
        )
        made = (
            np.clip(stops, DARK, 12.0)
            if unit == "stops"
            else amount_of(light.source, unit, stops, cone, penumbra)
        )
        return [float(f"{value:.6g}") for value in made]

    return convert
