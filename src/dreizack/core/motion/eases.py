"""Eased progress of every kind, from 0 at one key to 1 at the next."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document.keys import Ease
from .bezier import ease

Floats = NDArray[np.float64]


def eased(by: Ease, progress: Floats) -> Floats:
    """Eased progress for progress in 0..1, of any shape; that of "smooth" and "handles" depends on the keys
    around and is not found here."""
    if by.kind == "cubic-bezier":
        return ease(progress, by.x1, by.y1, by.x2, by.y2)
    if by.kind == "steps":
        return stepped(progress, by.count, by.jump)
    if by.kind == "spring":
        return spring(progress, by.stiffness, by.damping)
    if by.kind == "bounce":
        return bounce(progress, by.count, by.rebound)
    return np.zeros_like(progress) if by.kind == "hold" else progress


def stepped(progress: Floats, count: int, jump: str) -> Floats:
    """``count`` jumps (CSS Easing Functions Level 2, section 2.4): ``jump`` is "start", "end", "none" or
    "both".

    >>> stepped(np.array([0.0, 0.4, 0.5, 1.0]), 2, "end").tolist()
    [0.0, 0.0, 0.5, 1.0]
    """
    jumps = max(1, count + (jump == "both") - (jump == "none"))
    step = np.floor(progress * count) + (jump in ("start", "both"))
    found: Floats = np.clip(step, 0, jumps) / jumps
    return found


def spring(progress: Floats, stiffness: float, damping: float) -> Floats:
    """A damped spring of mass 1 let go at 0, drawn to 1: x'' = stiffness (1 - x) - damping x', x(0) = x'(0) =
    0.

    Solved in closed form (any text on mechanics: the damped harmonic oscillator), then what is left at
    progress 1 is added in with the cube of progress, so that the spring ends where the next key stands.
    """
    found = _displaced(np.asarray(progress, np.float64), stiffness, damping)
    left = 1 - _displaced(np.ones(1), stiffness, damping)[0]
    result: Floats = found + left * np.asarray(progress) ** 3
    return result


def _displaced(time: Floats, stiffness: float, damping: float) -> Floats:
    natural, half = np.sqrt(stiffness), damping / 2
    fades = np.exp(-half * time)
    if abs(half - natural) < 1e-6 * natural:
        result: Floats = 1 - fades * (1 + half * time)
    elif half < natural:
        swing = np.sqrt(stiffness - half**2)
        result = 1 - fades * (np.cos(swing * time) + half / swing * np.sin(swing * time))
    else:
        apart = np.sqrt(half**2 - stiffness)
        # Each exponential falls by itself, so that none grows beyond what can be told.
        slow, fast = np.exp((apart - half) * time), np.exp(-(apart + half) * time)
        result = 1 - 0.5 * (slow + fast + half / apart * (slow - fast))
    return result


def bounce(progress: Floats, count: int, rebound: float) -> Floats:
    """A body that falls from 0 onto 1 and comes up again ``count`` times, each time to ``rebound`` of the
    height before; all falls are of one gravity, the last ends at progress 1.

    >>> bounce(np.array([0.0, 0.5, 0.75, 1.0]), 1, 0.25).tolist()
    [0.0, 1.0, 0.75, 1.0]
    """
    heights = rebound ** np.arange(1, count + 1)
    # A fall from height h takes sqrt(h) of the first one, a leap twice that.
    ends = 1 + np.concatenate([[0.0], np.cumsum(2 * np.sqrt(heights))])
    time = np.clip(progress, 0, 1) * ends[-1]
    leap = np.minimum(np.searchsorted(ends, time, side="right"), count)
    begun = np.concatenate([[0.0], ends])[leap]
    half = np.concatenate([[1.0], np.sqrt(heights)])[leap]
    peak = np.where(leap == 0, 0.0, begun + half)
    result: Floats = np.where(
        time >= ends[-1], 1.0, 1 - np.concatenate([[1.0], heights])[leap] + (time - peak) ** 2
    )
    return result


def smooth_slopes(frames: Floats, values: Floats) -> Floats:
    """Slopes (keys,) at keys of a curve through them that never goes beyond them and is level at both ends
    (Steffen, A simple method for monotonic interpolation in one dimension, 1990)."""
    slopes = np.zeros(len(frames))
    if len(frames) < 3:
        return slopes
    apart, rise = np.diff(frames), np.diff(values) / np.diff(frames)
    before, after = rise[:-1], rise[1:]
    middle = (before * apart[1:] + after * apart[:-1]) / (apart[:-1] + apart[1:])
    least = np.minimum(np.minimum(np.abs(before), np.abs(after)), 0.5 * np.abs(middle))
    slopes[1:-1] = (np.sign(before) + np.sign(after)) * least
    return slopes


def hermite(progress: Floats, first: float, last: float, out: float, back: float, span: float) -> Floats:
    """Cubic from ``first`` to ``last`` that leaves with slope ``out`` and arrives with ``back`` (a unit of
    time), ``span`` apart."""
    u = progress
    result: Floats = (
        first * (1 + 2 * u) * (1 - u) ** 2
        + out * span * u * (1 - u) ** 2
        + last * u**2 * (3 - 2 * u)
        + back * span * u**2 * (u - 1)
    )
    return result
