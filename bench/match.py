"""How well cameras that are known are found, how long it takes, and how well words sit in footage."""

from __future__ import annotations

import json
import tempfile
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from dreizack.core.clips import plate_greys
from dreizack.core.clips.plates import take_plate
from dreizack.core.library import shelve
from dreizack.core.match import Bundle, Solve, Tracks, solved
from dreizack.core.match.bundle import triangulated, unbent
from dreizack.core.scene.edits.plating import guessed_ground
from dreizack.demo.on_the_quay import SHIPPED
from tests.core.match.plates import Filming, dolly, footage, looking, orbit, pan, push_in

from .figure import Figure

Floats = NDArray[np.float64]
# A camera that goes straight ahead says little of its lens.
FOCAL = {"push-in": 0.5}


def clips() -> Iterator[tuple[str, Filming, dict[str, object], float]]:
    """Made-up footage: what it is, its camera, how it was recorded, and its slide in pixels, at most."""
    yield "dolly", dolly(120), {}, 0.1
    yield "orbit", orbit(120), {}, 0.1
    yield "push-in", push_in(120), {}, 0.1
    yield "pan", pan(120), {}, 0.1
    yield "noise, somebody walks by", dolly(120, 5), {"seed": 9, "noise": 4.0, "mover": True}, 0.15
    yield "noise, a lens that bends", replace(orbit(120), k1=-0.08), {"seed": 4, "noise": 3.0}, 0.15


def slide(camera: Filming, solve: Solve) -> float:
    """Pixels (root mean square) by which things placed at known points slide over the shot."""
    random, frames = np.random.default_rng(5), len(camera.centres)
    points = np.column_stack(
        [random.uniform(-2.5, 2.5, 40), random.uniform(0, 1.5, 40), random.uniform(-5, 1, 40)]
    )
    xy = np.stack([camera.seen(points, frame) for frame in range(frames)])
    frame, point = np.nonzero((xy > 0).all(axis=2) & (xy < np.array(camera.size)).all(axis=2))
    tracks = Tracks(point, frame, xy[frame, point])
    bundle = replace(solve.bundle, points=np.zeros((40, 3)))
    if solve.kind == "moving":
        bundle = replace(bundle, points=triangulated(bundle, tracks))
    else:
        bundle = replace(bundle, points=bundle.centres[0] + _directions(bundle, tracks))
    left = bundle.residuals(tracks)
    return float(np.sqrt((left**2).sum(axis=1).mean()))


def _directions(bundle: Bundle, tracks: Tracks) -> Floats:
    flat = unbent(bundle, tracks.xy)
    rays = np.concatenate([flat, np.ones((len(flat), 1))], axis=1)
    rays /= np.linalg.norm(rays, axis=1, keepdims=True)
    world = np.einsum("nki,nk->ni", bundle.rotations[tracks.frame], rays)
    return np.stack([np.bincount(tracks.track, world[:, k], 40) for k in range(3)], axis=1)


def measure() -> Iterator[Figure]:
    for name, camera, how, allowed in clips():
        frames = footage(camera, **how)  # type: ignore[arg-type]
        began = time.process_time()
        found = solved(frames)
        seconds = time.process_time() - began
        off = abs(100 * (found.bundle.focal / camera.focal - 1))
        yield Figure(f"{name}: a placed thing slides by", slide(camera, found), "px", allowed)
        yield Figure(f"{name}: focal length off by", off, "%", FOCAL.get(name, 0.2))
        yield Figure(f"{name}: 120 frames of 960×540, time of all cores", seconds, "s", 120)
    yield from _quay()


def _quay() -> Iterator[Figure]:
    truth = json.loads((SHIPPED / "quay.json").read_text())
    with tempfile.TemporaryDirectory() as folder:
        shelve(Path(folder))
        (Path(folder) / "plate-bench.clip").write_bytes(take_plate(str(SHIPPED / "quay.mp4")))
        found = solved(plate_greys("plate-bench.clip"))
    camera = looking(np.array(truth["places"]), np.array(truth["aims"]), truth["focal"])
    yield Figure("the quay, traced, with grain, compressed: slides by", slide(camera, found), "px", 0.15)
    ground = guessed_ground(found)
    # What was solved lies somewhere: where truth has it is told by how its cameras look.
    turn = np.einsum("nki,nkj->ij", camera.rotations, found.bundle.rotations)
    u, _, vt = np.linalg.svd(turn)
    up = (u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt).T @ np.array([0.0, 1.0, 0.0])
    guessed = ground.rotation.T @ np.array([0.0, 1.0, 0.0])
    yield Figure("the quay: ground off by", float(np.degrees(np.arccos(min(1.0, up @ guessed)))), "°", 0.1)
