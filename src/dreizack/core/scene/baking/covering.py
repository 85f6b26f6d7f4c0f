"""Covers and flat areas of a plate over time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...document import Cover, FlatPatch, Shot
from ...match import Followed, drawn_at, library_followed, rounded
from ...motion import Motion
from .matched import plate_moments

Floats = NDArray[np.float64]

# Moments of the time in which the shutter is open, at which outlines are known.
OPEN = 5


@dataclass(frozen=True)
class BakedCover:
    """An outline (frames, moments, points, 2) in shares of the plate while the shutter is open, and how far
    it is grown, how soft it is (heights of the picture), and how much it hides (frames,)."""

    outlines: Floats
    grow: Floats
    softness: Floats
    opacity: Floats


@dataclass(frozen=True)
class BakedPatch:
    """A flat area that shows something else: its outline (frames, points, 2) in shares of the plate,
    homographies (frames, 3, 3) from what it ``shows`` to the plate, opacity and softness (frames,). It shows
    frame ``still`` of the plate, or a ``picture``, whose corners lie at 0 and 1; ``lit``: in the light that
    is there."""

    outlines: Floats
    homographies: Floats
    opacity: Floats
    softness: Floats
    still: int
    picture: str
    lit: bool


def followed_of(patch: FlatPatch) -> Followed | None:
    """Where a flat area is over the frames of the plate; None before it was followed."""
    return library_followed(patch.track) if patch.track else None


def baked_covers(motion: Motion) -> tuple[BakedCover, ...]:
    """Covers of the plate that hide something."""
    shot = motion.shot
    if shot.backdrop.kind != "plate":
        return ()
    patches = {patch.name: patch for patch in shot.plate.patches}
    return tuple(
        _cover(motion, cover, f"/plate/covers/{k}", patches.get(cover.carried_by))
        for k, cover in enumerate(shot.plate.covers)
        if cover.on and cover.shapes
    )


def _cover(motion: Motion, cover: Cover, at: str, patch: FlatPatch | None) -> BakedCover:
    span = motion.shot.camera.shutter_angle / 360
    open_at = motion.frames[:, None] + (np.linspace(-0.5, 0.5, OPEN) * span if span else np.zeros(1))
    outlines = cover_outline(motion.shot, cover, patch, open_at.ravel())
    roundness = np.repeat(motion.value(f"{at}/roundness"), open_at.shape[1])
    smooth = rounded(outlines, roundness)
    return BakedCover(
        smooth.reshape(*open_at.shape, -1, 2),
        motion.value(f"{at}/grow"),
        motion.value(f"{at}/softness"),
        motion.value(f"{at}/opacity"),
    )


def plate_outlines(shot: Shot, count: int) -> list[Floats]:
    """Outlines of all covers, each (count, points, 2) in shares of the plate, at its frames from 0 on."""
    plate = shot.plate
    patches = {patch.name: patch for patch in plate.patches}
    # Which frame of the shot shows a frame of the plate.
    own = np.arange(shot.format.frames, dtype=np.float64)
    moments = plate_moments(shot, own)
    order = np.argsort(moments, kind="stable")
    at = np.interp(np.arange(count, dtype=np.float64), moments[order], own[order])
    motion = Motion(shot, at)
    return [
        rounded(
            cover_outline(shot, cover, patches.get(cover.carried_by), at),
            motion.value(f"/plate/covers/{k}/roundness"),
        )
        for k, cover in enumerate(plate.covers)
        if cover.shapes
    ]


def cover_outline(shot: Shot, cover: Cover, patch: FlatPatch | None, frames: Floats) -> Floats:
    """The points of a cover (n, points, 2) at frames (n,) of the shot, in shares of the plate: as drawn, or
    carried by a flat area."""
    shapes = np.array([shape.points for shape in cover.shapes], np.float64)
    at = np.array([shape.frame for shape in cover.shapes], np.float64)
    followed = followed_of(patch) if patch is not None else None
    if followed is None:
        return drawn_at(shapes, at, frames)
    # What is drawn is brought to one frame, so that between two of them only what differs moves.
    start = np.array([float(followed.reference)])
    back = [
        followed.carried(shape, float(moment), start)[0]
        for shape, moment in zip(shapes, plate_moments(shot, at), strict=True)
    ]
    drawn = drawn_at(np.array(back), at, frames)
    ways = followed.at(plate_moments(shot, frames))
    made = np.concatenate([drawn, np.ones((*drawn.shape[:2], 1))], axis=2) @ np.swapaxes(ways, 1, 2)
    result: Floats = made[..., :2] / made[..., 2:]
    return result


def baked_patches(motion: Motion) -> tuple[BakedPatch, ...]:
    """Flat areas that show something else than was filmed."""
    shot = motion.shot
    if shot.backdrop.kind != "plate":
        return ()
    found = []
    for k, patch in enumerate(shot.plate.patches):
        followed = followed_of(patch)
        shows = patch.shows == "one of its frames" or (patch.shows == "a picture" and patch.picture)
        if followed is None or patch.shape is None or not shows:
            continue
        frames = motion.frames
        moments = plate_moments(shot, frames)
        drawn, still = plate_moments(shot, np.array([patch.shape.frame, patch.still], np.float64))
        shape = np.array(patch.shape.points, np.float64)
        outlines = followed.carried(shape, float(drawn), moments)
        if patch.shows == "a picture":
            # A picture lies in the area's box where it has not four corners.
            corners = shape if len(shape) == 4 else box_of(shape)
            start = followed.carried(corners, float(drawn), np.array([float(followed.reference)]))[0]
            ways = followed.at(moments) @ square_to(start)
        else:
            ways = followed.at(moments) @ np.linalg.inv(followed.at(np.array([still]))[0])
        found.append(
            BakedPatch(
                outlines,
                ways,
                motion.value(f"/plate/patches/{k}/opacity"),
                motion.value(f"/plate/patches/{k}/softness"),
                int(still + 0.5),
                patch.picture if patch.shows == "a picture" else "",
                patch.lit,
            )
        )
    return tuple(found)


def box_of(shape: Floats) -> Floats:
    """The corners (4, 2) of the box around an outline, from the top left on."""
    (left, top), (right, bottom) = shape.min(axis=0), shape.max(axis=0)
    return np.array([[left, top], [right, top], [right, bottom], [left, bottom]])


def square_to(corners: Floats) -> Floats:
    """The homography (3, 3) from the unit square, corners in order from the top left, to four corners (4, 2)
    (Heckbert, Fundamentals of Texture Mapping, 1989, 2.2.3).

    >>> made = square_to(np.array([[0.0, 0], [2, 0], [2, 1], [0, 1]]))
    >>> np.allclose(made, np.diag([2, 1, 1]))
    True
    """
    unit = np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
    rows = []
    for (u, v), (x, y) in zip(unit, corners, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -x * u, -x * v], [0, 0, 0, u, v, 1, -y * u, -y * v]]
    solved = np.linalg.lstsq(np.array(rows), corners.ravel(), rcond=None)[0]
    return np.append(solved, 1.0).reshape(3, 3)
