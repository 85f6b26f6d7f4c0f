"""Turns that travel as an orientation: from key to key by the shortest way."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from ..affine import angles_of, rotation, rotations_of, vectors_of
from ..document.keys import Channel, Ease
from .eases import eased
from .sample import sample

Floats = NDArray[np.float64]
LINEAR = Ease(kind="linear")


def shortest_way(channels: list[Channel | None], own: Floats, at: Floats) -> Floats:
    """Degrees (n, 3) by x, y, z at times ``at`` (n,) in rising order, of a turn whose three values have the
    given channels, or stay at ``own`` (3,).

    A key of any of the three is a key of the orientation. Between two of them it turns about one axis by at
    most half a turn (Shoemake, Animating rotation with quaternion curves, 1985, section 3.3), eased as the
    first of the three that has a key there. Keys that are ``smooth`` or have handles are passed in one curve
    (Kim, Kim and Shin, A general construction scheme for unit quaternion curves with simple high order
    derivatives, 1995, section 4). The degrees told are those nearest to the values as they are keyed.
    """
    frames = np.unique([key.frame for channel in channels if channel for key in channel.keys])
    keyed = rotation(_each(channels, own, frames))
    eases = [_ease_from(channels, float(frame)) for frame in frames]
    turned = np.empty((len(at), 3, 3))
    cuts = np.searchsorted(at, frames).tolist()
    turned[: cuts[0]], turned[cuts[-1] :] = keyed[0], keyed[-1]
    speeds = _speeds(frames, keyed)
    for number, (low, high) in enumerate(itertools.pairwise(cuts)):
        if low == high:
            continue
        first, last, apart = keyed[number], keyed[number + 1], float(frames[number + 1] - frames[number])
        progress = (at[low:high] - frames[number]) / apart
        ease = eases[number]
        if ease.kind in ("smooth", "handles"):
            turned[low:high] = _through(first, last, speeds[number], speeds[number + 1], apart, progress)
        else:
            way = vectors_of((first.T @ last)[None])[0]
            turned[low:high] = first @ rotations_of(eased(ease, progress)[:, None] * way)
    return nearest_angles(turned, _each(channels, own, at))


def nearest_angles(matrices: Floats, near: Floats) -> Floats:
    """Degrees (n, 3) of rotations (n, 3, 3): of all ways to tell them that nearest to ``near`` (n, 3).

    >>> turned = rotation(np.array([[0.0, 130.0, 0.0]]))
    >>> nearest_angles(turned, np.array([[0.0, 400.0, 0.0]])).round(9).tolist()
    [[0.0, 490.0, 0.0]]
    """
    one = angles_of(matrices)
    other = np.stack([one[:, 0] + 180, 180 - one[:, 1], one[:, 2] + 180], axis=1)
    ways = np.stack([one, other])
    ways += 360 * np.round((near - ways) / 360)
    chosen = np.abs(ways - near).sum(axis=2).argmin(axis=0)
    found: Floats = ways[chosen, np.arange(len(near))]
    return found


def _each(channels: list[Channel | None], own: Floats, at: Floats) -> Floats:
    return np.stack(
        [
            sample(channel, at) if channel else np.full(at.shape, value)
            for channel, value in zip(channels, own, strict=True)
        ],
        axis=1,
    )


def _ease_from(channels: list[Channel | None], frame: float) -> Ease:
    """The ease with which the orientation leaves a frame."""
    keys = (key for channel in channels if channel for key in channel.keys if key.frame == frame)
    return next((key.ease for key in keys), LINEAR)


def _speeds(frames: Floats, keyed: Floats) -> Floats:
    """Rotation vectors a frame (keys, 3), each in the space of its key: the mean of before and after,
    weighed towards the nearer key; none at both ends."""
    speeds = np.zeros((len(frames), 3))
    if len(frames) < 3:
        return speeds
    apart = np.diff(frames)
    rates = vectors_of(np.swapaxes(keyed[:-1], 1, 2) @ keyed[1:]) / apart[:, None]
    # A rotation vector is the same in the spaces of both of its ends.
    share = (apart[1:] / (apart[:-1] + apart[1:]))[:, None]
    speeds[1:-1] = share * rates[:-1] + (1 - share) * rates[1:]
    return speeds


def _through(first: Floats, last: Floats, out: Floats, back: Floats, apart: float, u: Floats) -> Floats:
    """A cubic curve of orientations (n, 3, 3) with given speeds at its ends: cumulative Bernstein form."""
    begin, end = out * apart / 3, back * apart / 3
    third = rotations_of(np.stack([begin, -end]))
    middle = vectors_of(((first @ third[0]).T @ (last @ third[1]))[None])[0]
    u = u[:, None]
    shares = (1 - (1 - u) ** 3, u**2 * (3 - 2 * u), u**3)
    turned = first
    for share, way in zip(shares, (begin, middle, end), strict=True):
        turned = turned @ rotations_of(share * way)
    return turned
