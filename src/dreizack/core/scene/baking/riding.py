"""What rides on a strand: where that is on its line, frame by frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Pivot, Strand
from ...form.ornaments import line_of
from ...motion import Motion
from ..form import Form
from ..ornaments import ways_of
from .forms import cut_by
from .places import placed

Floats = NDArray[np.float64]


def ridden_space(motion: Motion, name: str) -> Floats | None:
    """Matrices (frames, 4, 4) from the space of a pivot that rides to that of its strand: x along the line
    where it turns with it, y as nearly upward as that leaves. None where there is no line to ride on."""
    pivot = motion.shot.things[name]
    assert isinstance(pivot, Pivot)
    strand = motion.shot.things.get(pivot.rides)
    if not isinstance(strand, Strand):
        return None
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
