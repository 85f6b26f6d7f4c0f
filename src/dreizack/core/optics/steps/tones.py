"""Curves drawn by hand, and tables of colours from elsewhere."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ...colour import from_acescct, from_display, luminance, to_acescct
from ..cube_file import library_table
from ..settings import Values
from ..view import CURVES, display_values

Floats = NDArray[np.float32]
Points = tuple[tuple[float, float], ...]

STRAIGHT: Points = ((0.0, 0.0), (1.0, 1.0))
LEVEL: Points = ((0.0, 0.5), (1.0, 0.5))
STEPS = 4096
# Lattices that stand for all of it have so many steps along a side.
SIDE = 33


@dataclass(frozen=True)
class Tones:
    """Curves through their points, and the ``table`` in the library with what it is made for."""

    all: Points = STRAIGHT
    red: Points = STRAIGHT
    green: Points = STRAIGHT
    blue: Points = STRAIGHT
    saturation: Points = LEVEL
    table: str = ""
    takes: str = "shown colours"

    @property
    def curved(self) -> bool:
        """Whether any curve does anything."""
        straight = (self.all, self.red, self.green, self.blue)
        return any(one != STRAIGHT for one in straight) or self.saturation != LEVEL


@lru_cache(maxsize=64)
def _table(points: Points) -> Floats:
    """A curve over STEPS codes from 0 to 1 that never overshoots its points, level beyond its ends."""
    return monotone(np.array(points, np.float64), np.linspace(0, 1, STEPS)).astype(np.float32)


def monotone(points: NDArray[np.float64], at: NDArray[np.float64]) -> NDArray[np.float64]:
    """A smooth curve through points (n, 2) at places (m,), monotone where they are (Fritsch & Butland, A
    Method for Constructing Local Monotone Piecewise Cubic Interpolants, 1984), straight through two.

    >>> monotone(np.array([[0.0, 0.0], [0.5, 0.8], [1.0, 1.0]]), np.array([0.0, 0.5, 1.0, 2.0])).tolist()
    [0.0, 0.8, 1.0, 1.0]
    """
    x, y = points.T
    wide = np.diff(x)
    rise = np.diff(y) / wide
    slope = np.zeros(len(x))
    a, b = rise[:-1], rise[1:]
    # The harmonic mean, weighted; none where a curve turns.
    before, after = wide[1:] * 2 + wide[:-1], wide[1:] + wide[:-1] * 2
    turns = a * b <= 0
    safe_a, safe_b = np.where(turns, 1.0, a), np.where(turns, 1.0, b)
    slope[1:-1] = np.where(turns, 0.0, (before + after) / (before / safe_a + after / safe_b))
    slope[0], slope[-1] = rise[0], rise[-1]
    held = np.clip(at, x[0], x[-1])
    left = np.clip(np.searchsorted(x, held, side="right") - 1, 0, len(x) - 2)
    t, step = (held - x[left]) / wide[left], wide[left]
    # Cubic Hermite (Farin, Curves and Surfaces for CAGD, 2002, 7.5).
    made: NDArray[np.float64] = (
        (2 * t**3 - 3 * t**2 + 1) * y[left]
        + (t**3 - 2 * t**2 + t) * step * slope[left]
        + (3 * t**2 - 2 * t**3) * y[left + 1]
        + (t**3 - t**2) * step * slope[left + 1]
    )
    return made


def _along(codes: Floats, points: Points) -> Floats:
    """Codes through a curve; what lies beyond 0 and 1 keeps its distance to the end."""
    if points == STRAIGHT:
        return codes
    held = np.clip(codes, 0, 1)
    at = held * np.float32(STEPS - 1)
    before = np.minimum(at.astype(np.int32), STEPS - 2)
    table = _table(points)
    a, b = table[before], table[before + 1]
    made: Floats = a + (b - a) * (at - before) + (codes - held)
    return made


def hues(colours: Floats) -> Floats:
    """Hues (...) of colours (..., 3), 0 to 1 from red through green and blue (Smith, Color Gamut Transform
    Pairs, 1978, the hexcone)."""
    high, low = colours.max(axis=-1), colours.min(axis=-1)
    span = np.maximum(high - low, 1e-9)
    r, g, b = (colours[..., k] for k in range(3))
    sixth = np.where(
        high == r, ((g - b) / span) % 6, np.where(high == g, (b - r) / span + 2, (r - g) / span + 4)
    )
    result: Floats = (sixth / 6).astype(np.float32)
    return result


def curved(light: Floats, tones: Tones) -> Floats:
    """Light (..., 3) through the curves: over codes of a logarithm, all channels, then each, then saturation
    by hue about its luminance."""
    codes = to_acescct(np.maximum(light, 0))
    codes = _along(codes, tones.all)
    own = (tones.red, tones.green, tones.blue)
    if any(one != STRAIGHT for one in own):
        codes = np.stack([_along(codes[..., k], own[k]) for k in range(3)], axis=-1)
    made = from_acescct(codes)
    if tones.saturation != LEVEL:
        grey = luminance(made).astype(np.float32)[..., None]
        factor = 2 * _along(hues(made), tones.saturation)[..., None]
        made = np.maximum(grey + factor * (made - grey), 0).astype(np.float32)
    return made


def looked_up(light: Floats, tones: Tones, view: str) -> Floats:
    """Light (..., 3) through the table, in what it is made for; as it was where there is none."""
    table = library_table(tones.table) if tones.table else None
    if table is None:
        return light
    if tones.takes == "log light":
        return from_acescct(table(to_acescct(np.maximum(light, 0))))
    # Where a view transform has no inverse here, the shoulder stands for it.
    through = view if view in CURVES else "shoulder"
    shown = table(display_values(np.maximum(light, 0).astype(np.float32), through))
    return from_display(np.clip(shown, 0, 1).astype(np.float32), through)


def toned(light: Floats, of: Values, tones: Tones | None, view: str) -> Floats:
    """Curves, then the table, each as strong as it is told."""
    if tones is None:
        return light
    strength = np.float32(of.get("curves/strength", 0.0))
    if tones.curved and strength > 0:
        light = light + strength * (curved(light, tones) - light)
    strength = np.float32(of.get("table/strength", 0.0))
    if tones.table and strength > 0:
        light = light + strength * (looked_up(light, tones, view) - light)
    return light


@lru_cache(maxsize=8)
def tone_lattices(tones: Tones, view: str) -> tuple[Floats | None, Floats | None]:
    """Curves and table as lattices (SIDE, SIDE, SIDE, 3) from codes of the logarithm to codes, for whoever
    draws with them; None for what does nothing."""
    steps = np.linspace(0, 1, SIDE, dtype=np.float32)
    light = from_acescct(np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1))
    return (
        to_acescct(curved(light, tones)) if tones.curved else None,
        to_acescct(looked_up(light, tones, view)) if library_table(tones.table) else None,
    )
