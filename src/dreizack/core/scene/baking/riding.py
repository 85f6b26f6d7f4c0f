"""What rides on a strand or a surface: where that is on it, frame by frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Lettered, Mesh, Pivot, Strand
from ...form.ornaments import line_of
from ...motion import Motion
from ..form import Form
from ..ornaments import ways_of
from .forms import cut_by
from .on_surface import spot_on
from .places import placed

Floats = NDArray[np.float64]


def ridden_space(motion: Motion, name: str) -> Floats | None:
    """Matrices (frames, 4, 4) from the space of a pivot that rides to that of what it rides on: where it
    turns with that, x along the line, or z out of the surface, and y as nearly upward as that leaves. None
    where there is nothing to ride on."""
    pivot = motion.shot.things[name]
    assert isinstance(pivot, Pivot)
    on = motion.shot.things.get(pivot.rides)
    if isinstance(on, Strand):
        return _on_line(motion, name, pivot, on)
    found = spot_on(on, pivot.spot) if isinstance(on, Lettered | Mesh) else None
    if found is None:
        return None
    space = np.eye(4)
    space[:3, 3] = found[0]
    if pivot.turned:
        space[:3, :3] = _facing(found[1])
    return np.tile(space, (len(motion.frames), 1, 1))


def _facing(normal: Floats) -> Floats:
    """The rotation (3, 3) whose z is a direction and whose y is as near to upward as that leaves."""
    up = np.array([0.0, 0.0, -1.0]) if abs(normal[1]) > 0.999 else np.array([0.0, 1.0, 0.0])
    x = np.cross(up, normal)
    x /= np.linalg.norm(x)
    return np.stack([x, np.cross(normal, x), normal], axis=1)


def _on_line(motion: Motion, name: str, pivot: Pivot, strand: Strand) -> Floats | None:
    form = Form(strand)
    if strand.rule == "outline":
        form = Form(strand, cut=cut_by(motion, strand, placed(motion, pivot.rides)))
    line = line_of(strand, ways_of(form))
    if len(line) < 2:
        return None
    share = np.clip(motion.value(f"/things/{name}/share"), 0, 1)
    found = np.tile(np.eye(4), (len(share), 1, 1))
    found[:, :3, 3] = _at(line, share, strand.closed)
    if pivot.turned:
        # On a line that closes, what rides looks outward, whichever way that runs.
        way = -1 if strand.closed and _runs_left(line) else 1
        step = 0.5 / (len(line) - 1)
        after, before = (_at(line, share + off, strand.closed) for off in (step, -step))
        found[:, :3, :3] = _turned(way * (after - before))
    return found


def _at(line: Floats, share: Floats, closed: bool) -> Floats:
    """Places (n, 3) at shares (n,) of the length of a line (points, 3)."""
    share = np.mod(share, 1.0) if closed else np.clip(share, 0, 1)
    evenly = np.linspace(0, 1, len(line))
    found: Floats = np.column_stack([np.interp(share, evenly, axis) for axis in line.T])
    return found


def _runs_left(line: Floats) -> bool:
    """Whether a closed line (n, 3) runs counterclockwise as it is seen from the front."""
    return float((line[:-1, 0] * line[1:, 1] - line[1:, 0] * line[:-1, 1]).sum()) > 0


def _turned(ahead: Floats) -> Floats:
    """Rotations (n, 3, 3) whose x points along directions (n, 3) and whose y is as near to upward as that
    leaves; along upward lines, as near to z."""
    x = ahead / np.maximum(np.linalg.norm(ahead, axis=1, keepdims=True), 1e-12)
    up = np.where(abs(x[:, 1:2]) > 0.999, np.array([[0.0, 0.0, 1.0]]), np.array([[0.0, 1.0, 0.0]]))
    flat = abs(x[:, 2:3]) < 1e-6
    # Of a line that lies in one plane facing us, that plane stays: letters on it turn in it alone.
    z = np.where(flat, np.array([[0.0, 0.0, 1.0]]), np.cross(x, up))
    z /= np.maximum(np.linalg.norm(z, axis=1, keepdims=True), 1e-12)
    result: Floats = np.stack([x, np.cross(z, x), z], axis=2)
    return result
