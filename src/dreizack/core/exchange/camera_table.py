"""The camera over time, and the points of a plate, as plain tables (CSV, RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

import numpy as np

from ..affine import angles_of
from ..document import Shot
from ..match import library_solve
from ..scene import alignment_of, bake
from ..scene.viewing import camera_axes

CAMERA = ("frame", "x", "y", "z", "pitch", "yaw", "roll", "vertical angle")
POINTS = ("point", "x", "y", "z")


def camera_table(shot: Shot) -> str:
    """A row a frame: place in metres (right-handed, y up), turn in degrees (x, then y, then z about the fixed
    axes, of a camera that looks along -z), vertical angle of view in degrees."""
    baked = bake(shot)
    right, up, forward = np.moveaxis(
        camera_axes(baked.camera_position, baked.camera_aim, baked.camera_roll), 1, 0
    )
    turn = angles_of(np.stack([right, up, -forward], axis=2))
    rows = np.column_stack([baked.camera_position, turn, baked.camera_angle]).round(6).tolist()
    return _table(CAMERA, ([frame, *row] for frame, row in enumerate(rows)))


def points_table(shot: Shot) -> str:
    """A row a point of the plate's solve: its place in metres. ValueError where there is no solve."""
    solve = library_solve(shot.plate.solve)
    if solve is None:
        raise ValueError("the plate is not solved yet")
    places = alignment_of(shot.plate).placed(solve.bundle.points).round(6).tolist()
    return _table(POINTS, ([number, *place] for number, place in enumerate(places)))


def _table(names: Sequence[str], rows: Iterable[Sequence[float]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(names)
    writer.writerows(rows)
    return out.getvalue()
