"""Where in the picture a step is at work, and on what."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ..colour import luminance
from .settings import Place, Values

Floats = NDArray[np.float32]

# Narrower edges would be stairs.
SHARPEST = 1e-3
# Middle grey, and the least light that is told from none.
GREY, DARKEST = 0.18, 1e-7


def limits(of: Values, effect: str, place: Place, light: Floats, matte: Floats | None) -> Floats | None:
    """How much of an effect is at work (rows, columns, 1) on a window of ``light`` (rows, columns, 3), by
    where it is, how bright, and what is seen there (``matte``); None where all of it is, everywhere."""
    shares = [area_share(of, effect, place, light.shape[:2]), tone_share(of, effect, light), matte]
    told = [share for share in shares if share is not None]
    return np.prod(np.broadcast_arrays(*told), axis=0, dtype=np.float32) if told else None


def depth_share(of: Values, effect: str, away: Floats) -> Floats:
    """How much of an effect is at work on what is so many metres ``away`` (..., infinite: behind
    everything)."""
    depth = of.get(f"{effect}/area/depth", 0.0)
    if depth == 0:
        return np.ones_like(away)
    near, soft = of[f"{effect}/area/near"], of[f"{effect}/area/depth_softness"]
    t = np.clip((near - np.minimum(away, 1e9)) / soft + 0.5, 0, 1)
    closer = t * t * (3 - 2 * t)
    share: Floats = (1 - depth * (1 - closer) if depth > 0 else 1 + depth * closer).astype(np.float32)
    return share


def tone_share(of: Values, effect: str, light: Floats) -> Floats | None:
    """How much of an effect is at work (rows, columns, 1) by the luminance of ``light`` (rows, columns, 3),
    in stops from middle grey; None where it does not go by that."""
    tone = of.get(f"{effect}/area/tone", 0.0)
    if tone == 0:
        return None
    stops = np.log2(np.maximum(luminance(light), DARKEST) / GREY)
    t = np.clip((stops - of[f"{effect}/area/level"]) / of[f"{effect}/area/tone_softness"] + 0.5, 0, 1)
    bright = t * t * (3 - 2 * t)
    share = 1 - tone * (1 - bright) if tone > 0 else 1 + tone * bright
    found: Floats = share[..., None].astype(np.float32)
    return found


def area_share(of: Values, effect: str, place: Place, size: tuple[int, int]) -> Floats | None:
    """How much of an effect is at work (rows, columns, 1) in a window of ``size`` (rows, columns); None where
    all of it is, everywhere.

    A pixel lies at r = 1 on the edge of the area: max(|u|, |v|) for a box, √(u² + v²) for an ellipse, u and v
    counted along its axes in halves of its size.
    """

    def value(name: str) -> float:
        return of.get(f"{effect}/area/{name}", 0.0)

    limited = value("limited")
    if limited == 0:
        return None
    rows, columns = size
    x = (np.arange(columns) + 0.5 + place.left - value("x") * place.width) / place.height
    y = (value("y") * place.height - (np.arange(rows) + 0.5 + place.top)) / place.height
    c, s = np.cos(np.radians(value("angle"))), np.sin(np.radians(value("angle")))
    u = np.abs(x[None] * c + y[:, None] * s) * 2 / max(value("width"), SHARPEST)
    v = np.abs(y[:, None] * c - x[None] * s) * 2 / max(value("height"), SHARPEST)
    box, ellipse = np.maximum(u, v), np.hypot(u, v)
    away = box + value("roundness") * (ellipse - box)
    soft = max(value("softness"), SHARPEST)
    t = np.clip((1 + soft / 2 - away) / soft, 0, 1)
    inside = t * t * (3 - 2 * t)
    share = 1 - limited * (1 - inside) if limited > 0 else 1 + limited * inside
    found: Floats = share[..., None].astype(np.float32)
    return found


def within(
    effect: str, apply: Callable[[Floats, Values, Place], Floats]
) -> Callable[[Floats, Values, Place, Floats | None], Floats]:
    """A step of the optics that is at work in its area alone; the last is the matte of what is seen there."""

    def step(light: Floats, of: Values, place: Place, matte: Floats | None = None) -> Floats:
        made = apply(light, of, place)
        share = None if made is light else limits(of, effect, place, light, matte)
        if share is None:
            return made
        result: Floats = light + share * (made - light)
        return result

    return step
