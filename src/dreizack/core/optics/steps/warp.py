"""The picture drawn out, and bent."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ..images import brought_up, taken_from
from ..settings import Place, Values

Floats = NDArray[np.float32]

# A picture is drawn out by doubling: two to the power of this many lie along each way.
DOUBLINGS = 6
# Pixels of the shortest wave between which it is straight.
FINE = 16
# Waves of shimmer: direction (radians), length against the shortest, and how fast each runs.
SHIMMER = ((0.3, 1.0, 1.0), (1.9, 1.37, -0.8), (2.8, 1.83, 0.6), (4.4, 2.6, -1.1))


def drawn_out(light: Floats, of: Values, place: Place) -> Floats:
    """Even means along a line, towards a place and around it, each centred: box filters along their ways, by
    doubling (mean of a picture and itself moved on, again and again)."""
    made = light
    if of["blur/length"] > 0:
        angle = np.radians(of["blur/angle"])
        step = of["blur/length"] * place.height / 2**DOUBLINGS
        ahead = np.array([np.cos(angle), -np.sin(angle)]) * step
        made = _doubled(made, lambda share: _moved(*(ahead * share)))
    x = of["blur/x"] * place.width - place.left - 0.5
    y = of["blur/y"] * place.height - place.top - 0.5
    if of["blur/zoom"] > 0:
        each = np.log1p(of["blur/zoom"]) / 2**DOUBLINGS
        made = _doubled(made, lambda share: _about(x, y, np.exp(each * share), 0.0))
    if of["blur/spin"] > 0:
        each = np.radians(of["blur/spin"]) / 2**DOUBLINGS
        made = _doubled(made, lambda share: _about(x, y, 1.0, each * share))
    return made


def _doubled(light: Floats, way) -> Floats:  # type: ignore[no-untyped-def]
    # So that the mean of all is where the picture was.
    made = _warped(light, way(-(2**DOUBLINGS - 1) / 2))
    for doubling in range(DOUBLINGS):
        made = (made + _warped(made, way(2.0**doubling))) * np.float32(0.5)
    return made


def _moved(x: float, y: float) -> Floats:
    return np.array([[1, 0, x], [0, 1, y]], np.float32)


def _about(x: float, y: float, scale: float, angle: float) -> Floats:
    """The matrix that scales and turns about a place, in pixels."""
    c, s = scale * np.cos(angle), scale * np.sin(angle)
    return np.array([[c, s, x - c * x - s * y], [-s, c, y + s * x - c * y]], np.float32)


def _warped(light: Floats, matrix: Floats) -> Floats:
    size = light.shape[1], light.shape[0]
    made = cv2.warpAffine(light, matrix, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(made, np.float32).reshape(light.shape)


def woven(light: Floats, of: Values, place: Place) -> Floats:
    """The picture where film in its gate has it: moved, turned and enlarged about its middle."""
    across, down = of.get("weave/x", 0.0), of.get("weave/y", 0.0)
    angle, larger = of.get("weave/angle", 0.0), of.get("weave/zoom", 0.0)
    if not (across or down or angle or larger):
        return light
    x, y = place.width / 2 - place.left - 0.5, place.height / 2 - place.top - 0.5
    matrix = _about(x, y, 1 + larger, np.radians(angle))
    matrix[:, 2] += np.array([across, down], np.float32) * place.height
    return _warped(light, matrix)


def bent(light: Floats, of: Values, place: Place) -> Floats:
    """Pixels from elsewhere: bulge and twirl about a place, rings around it, and shimmer."""
    if not any(of[f"bend/{name}"] for name in ("bulge", "twirl", "ripple", "shimmer")):
        return light
    rows, columns = light.shape[:2]
    # Where pixels come from is smooth: it is told of every few, and lies straight between them.
    each = int(np.clip(of["bend/finest"] * place.height / FINE, 1, 4))
    x = (np.arange(0, columns + each, each) + 0.5 + place.left - of["bend/x"] * place.width) / place.height
    y = (np.arange(0, rows + each, each) + 0.5 + place.top - of["bend/y"] * place.height) / place.height
    px, py = np.broadcast_arrays(x[None].astype(np.float32), y[:, None].astype(np.float32))
    fx, fy = bent_from(px, py, of)
    across = fx * place.height + of["bend/x"] * place.width - 0.5 - place.left
    down = fy * place.height + of["bend/y"] * place.height - 0.5 - place.top
    told = np.stack([across, down], axis=-1).astype(np.float32)
    every = brought_up(told, each, columns, rows)
    return taken_from(light, np.ascontiguousarray(every[..., 0]), np.ascontiguousarray(every[..., 1]))


def bent_from(x: Floats, y: Floats, of: Values) -> tuple[Floats, Floats]:
    """Where what is seen at (x, y) comes from, both in heights from the place, y down."""
    away = np.hypot(x, y)
    inside = np.clip(1 - away / np.float32(of["bend/reach"]), 0, 1)
    fade = inside * inside * (3 - 2 * inside)
    turn = np.radians(of["bend/twirl"]) * fade
    scale = 1 - np.float32(0.75 * of["bend/bulge"]) * fade
    c, s = np.cos(turn) * scale, np.sin(turn) * scale
    fx, fy = c * x - s * y, s * x + c * y
    wave, phase = of["bend/finest"], 2 * np.pi * of["bend/flow"]
    if of["bend/ripple"]:
        # Rings that run outward, and are gone where they would have no direction.
        lift = of["bend/ripple"] * np.sin(2 * np.pi * away / wave - phase) * np.minimum(away / wave, 1)
        fx, fy = fx + lift * x / np.maximum(away, 1e-6), fy + lift * y / np.maximum(away, 1e-6)
    if of["bend/shimmer"]:
        for angle, longer, pace in SHIMMER:
            along = (x * np.cos(angle) + y * np.sin(angle)) * (2 * np.pi / (wave * longer))
            lift = of["bend/shimmer"] / len(SHIMMER) * np.sin(along + phase * pace + 7 * angle)
            fx, fy = fx + lift * np.cos(3 * angle), fy + lift * np.sin(3 * angle + 1)
    return fx.astype(np.float32), fy.astype(np.float32)
