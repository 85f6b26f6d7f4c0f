"""How much of a light is hidden by what stands before it, as the camera sees it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Lettered
from ...form import flatten
from .baked import BakedBody

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

# Places on the light that are looked at, and how far outlines may stray, in ems.
PLACES, STRAY = 24, 0.01
GOLDEN_ANGLE = np.pi * (3 - np.sqrt(5))


def seen_share(
    light: Floats,
    size: float,
    depth: Floats,
    bodies: dict[str, BakedBody],
    camera: Floats,
    axes: Floats,
    half: Floats,
) -> Floats:
    """Share (frames,) of a light that is not hidden by letters and marks. ``light`` (frames, 2) is where it
    is seen, in heights from the middle, y upward, its ``size`` in the same; ``depth`` (frames,) how far away
    along the camera's axis; ``axes`` (frames, 3, 3) and ``half`` (frames,), the tangent of half its angle.

    Places are spread evenly over its disc (Vogel, A better way to construct the sunflower head, 1979); each
    is inside a letter's front or back outline, or outside.
    """
    number = np.arange(PLACES)
    radius, angle = size * np.sqrt((number + 0.5) / PLACES), number * GOLDEN_ANGLE
    disc = np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=-1)
    places = light[:, None] + disc[None]
    hidden = np.zeros(places.shape[:2], np.bool_)
    for body in bodies.values():
        for index in np.unique(body.form).tolist():
            frames = np.flatnonzero((body.form == index) & body.there)
            thing = body.forms[index].thing
            if len(frames) and isinstance(thing, Lettered) and thing.visibility.camera:
                view = (camera[frames], axes[frames], half[frames])
                hidden[frames] |= _hidden(body, index, frames, places[frames], depth[frames], *view)
    left: Floats = 1 - hidden.mean(axis=1)
    return left


def _hidden(
    body: BakedBody,
    index: int,
    frames: NDArray[np.int64],
    places: Floats,
    depth: Floats,
    camera: Floats,
    axes: Floats,
    half: Floats,
) -> Bools:
    """Which places (frames, places) lie behind the pieces of one form."""
    form = body.forms[index]
    shape = form.shapes[0][0]
    found = np.zeros(places.shape[:2], np.bool_)
    poses = body.poses[frames if len(body.poses) > 1 else np.zeros(len(frames), np.int64)]
    for number, piece in enumerate(form.pieces.listed):
        lines = flatten([piece.outline], piece.em, STRAY * piece.em)
        if not len(lines.points):
            continue
        world = np.einsum("fij,fjk->fik", body.matrix[frames, :3, :3], poses[:, number, :3, :3])
        origin = np.einsum("fij,fj->fi", body.matrix[frames, :3, :3], poses[:, number, :3, 3])
        origin = origin + body.matrix[frames, :3, 3]
        for z in (shape.forward * shape.depth, (shape.forward - 1) * shape.depth):
            flat = np.column_stack([lines.points, np.full(len(lines.points), z)])
            points = np.einsum("fij,nj->fni", world, flat) + origin[:, None] - camera[:, None]
            x, y, away = np.moveaxis(np.einsum("fij,fnj->fni", axes, points), 2, 0)
            before = (away > 1e-3).all(axis=1) & (away.mean(axis=1) < depth)
            scale = 2 * half[:, None] * np.maximum(away, 1e-3)
            found |= _inside(x / scale, y / scale, lines.following, places) & before[:, None]
    return found


def _inside(x: Floats, y: Floats, following: NDArray[np.int64], places: Floats) -> Bools:
    """Whether places (frames, places, 2) lie within closed lines (frames, points), by the even-odd rule
    (Shimrat, Algorithm 112: Position of point relative to polygon, 1962)."""
    x2, y2 = x[:, following][:, None], y[:, following][:, None]
    x1, y1 = x[:, None], y[:, None]
    px, py = places[..., 0, None], places[..., 1, None]
    crosses = (y1 > py) != (y2 > py)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x1 + (py - y1) / (y2 - y1) * (x2 - x1)
    inside: Bools = ((crosses & (px < at)).sum(axis=2) % 2).astype(np.bool_)
    return inside
