"""Places that stand still in the room, from the ways along which a moving camera sees them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Seen from directions that differ by less than this, as the sine of their spread, nothing tells how far away
# something is.
SPREAD = 0.012
# How far a place that stands still may be seen off the way to it, root of the mean square, in halves of the
# picture's height.
OFF = 0.004


def standing_places(eyes: Floats, ways: Floats, half: Floats) -> Floats | None:
    """Where places (points, 3) stand that are seen from ``eyes`` (frames, 3) along unit ``ways`` (frames,
    points, 3): nearest to all of them (Hartley and Sturm, Triangulation, 1997, section 2; in space). ``half``
    (frames,) is the tangent of half the vertical angle of view. None where they do not stand still, or are
    seen from so nearly one direction that nothing tells how far away they are.

    >>> eyes, places = np.array([[-1.0, 0, 0], [1, 0, 0], [0, 1, 0]]), np.array([[0.0, 0, -4], [1, 1, -5]])
    >>> ways = places[None] - eyes[:, None]
    >>> ways /= np.linalg.norm(ways, axis=2, keepdims=True)
    >>> standing_places(eyes, ways, np.full(3, 0.3)).round(6).tolist()
    [[0.0, 0.0, -4.0], [1.0, 1.0, -5.0]]
    """
    across = np.eye(3) - ways[..., :, None] * ways[..., None, :]
    normal = across.mean(axis=0)
    if float(np.linalg.eigvalsh(normal)[:, 0].min()) < SPREAD**2:
        return None
    aimed = np.einsum("fpij,fj->pi", across, eyes) / len(eyes)
    places: Floats = np.linalg.solve(normal, aimed[..., None])[..., 0]
    there = places[None] - eyes[:, None]
    along = np.einsum("fpi,fpi->fp", there, ways)
    if (along <= 0).any():
        return None
    off = np.linalg.norm(np.einsum("fpij,fpj->fpi", across, there), axis=2) / along / half[:, None]
    return places if float(np.sqrt((off**2).mean())) < OFF else None
