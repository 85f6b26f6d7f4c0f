"""Deliveries against the bare renderer, and denoised against undenoised sampling at equal error."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from dreizack.core.document import Shot
from dreizack.core.media import Order, deliver
from dreizack.core.optics import Finishing, Passes, finished
from dreizack.core.render import QUALITIES, Quality, Stage, backdrop_picture, denoise, trace
from dreizack.core.render.kernel.engine import engine
from dreizack.core.render.staging.scene_tables import DEPTH
from dreizack.core.scene import BodyStore, FrameState, bake, frame_state
from dreizack.demo import demo_shots

from .figure import Figure
from .tiles import SIZE, tiles

FRAMES, ROUNDS = 4, 2


def measure() -> Iterator[Figure]:
    shot = demo_shots()["main-title"]
    # Its sound is not in the library here.
    for sound in shot.sounds.values():
        sound.on = False
    # The renderer alone knows neither an open shutter nor relief that is filtered.
    shot.camera.shutter_angle = 0
    for thing in shot.bodied.values():
        for surface in [thing.finish, *thing.finish.parts.values()]:
            surface.bump = "none"
    times = np.array(side_by_side(shot))
    delivered = float(np.median(times[:, 0]))
    ratios = np.median(times[:, 1:] / times[:, :1], axis=0)
    yield Figure("a delivered frame at 1280×720, good", delivered, "s")
    yield Figure(
        "speed of a delivery over the bare renderer and denoiser, same samples",
        ratios[1],
        "×",
        0.9,
        least=True,
    )
    yield Figure("speed of a delivery over the bare renderer without denoising, same samples", ratios[0], "×")
    yield optics_only(shot)
    yield equal_error(shot)


def side_by_side(shot: Shot) -> list[tuple[float, float, float]]:
    """Seconds a frame, in turn: delivered, traced bare, traced and denoised bare."""
    quality = QUALITIES["good"]
    stage = Stage(BodyStore())
    baked = bake(shot)
    found = []
    for _ in range(ROUNDS):
        delivered = delivering(shot)
        times = []
        for frame in range(60, 60 + FRAMES):
            stage.show(frame_state(shot, baked, frame))
            times.append(bare(stage, quality))
        found.append((delivered, *np.mean(times, axis=0).tolist()))
    return found


def delivering(shot: Shot) -> float:
    """Seconds from one frame of a delivery to the next, once it is under way."""
    done = []
    with tempfile.TemporaryDirectory() as folder:
        # One frame to get under way, and two at the end that nothing else is traced beside.
        order = Order(59, 61 + FRAMES, *SIZE, "good")
        deliver(
            shot, order, Path(folder) / "clip.mp4", None, lambda progress, _: done.append(progress.seconds)
        )
    return (done[FRAMES] - done[0]) / FRAMES


def bare_sensor(
    state: FrameState, width: int, height: int, sampler: str, crop: tuple[slice, slice] = (slice(0), slice(0))
) -> Any:
    """The renderer's own camera, where ours stands; ``crop`` are rows and columns it sees, all where they are
    empty."""
    mi = engine()
    _, up, forward = state.pose.axes
    half = np.tan(np.radians(state.pose.angle / 2)) * width / height
    return mi.load_dict(
        {
            "type": "thinlens" if state.lens.radius > 0 else "perspective",
            "near_clip": 0.01,
            "far_clip": 10000.0,
            **(
                {"aperture_radius": state.lens.radius, "focus_distance": state.lens.focus}
                if state.lens.radius > 0
                else {}
            ),
            "fov": float(np.degrees(2 * np.arctan(half))),
            "fov_axis": "x",
            "sampler": {"type": sampler},
            "to_world": mi.ScalarTransform4f().look_at(
                origin=state.pose.position.tolist(),
                target=(state.pose.position + forward).tolist(),
                up=up.tolist(),
            ),
            "film": {
                "type": "hdrfilm",
                "width": width,
                "height": height,
                "rfilter": {"type": "box"},
                "pixel_format": "rgba",
                **_cropped(*crop),
            },
        }
    )


def _cropped(rows: slice, columns: slice) -> dict[str, int]:
    if not rows.stop:
        return {}
    return {
        "crop_offset_x": columns.start,
        "crop_offset_y": rows.start,
        "crop_width": columns.stop - columns.start,
        "crop_height": rows.stop - rows.start,
    }


def carry_strength(stage: Stage, strength: float) -> None:
    """The renderer's own path tracer wants the strength of the surroundings in the scene; ours keeps it
    beside."""
    params = engine().traverse(stage.scene)
    params["surroundings.scale"] = strength
    params.update()


def bare_path() -> Any:
    """The renderer's own path tracer, as deep as ours."""
    return engine().load_dict({"type": "path", "max_depth": DEPTH, "rr_depth": 99, "hide_emitters": True})


def bare(stage: Stage, quality: Quality) -> tuple[float, float]:
    """Seconds of the renderer alone on what is on stage, and with denoising; nothing else done."""
    mi = engine()
    assert stage.state is not None
    width, height = SIZE
    sensor, features = (
        bare_sensor(stage.state, width, height, "multijitter"),
        mi.load_dict({"type": "aov", "aovs": "albedo:albedo,normal:sh_normal"}),
    )
    carry_strength(stage, stage.state.surroundings_strength)
    begun = time.perf_counter()
    total = np.zeros((height, width, 4), np.float32)
    for part in range(quality.samples // 4):
        total += np.array(mi.render(stage.scene, sensor=sensor, integrator=bare_path(), spp=4, seed=part)) / (
            quality.samples // 4
        )
    traced = time.perf_counter()
    guides = np.array(mi.render(stage.scene, sensor=sensor, integrator=features, spp=9))[..., -6:]
    denoise(total, guides[..., :3], guides[..., 3:], quality.denoiser)
    return traced - begun, time.perf_counter() - begun


def equal_error(shot: Shot) -> Figure:
    """How many times longer undenoised sampling takes to reach the error of 16 denoised samples, in a
    sixteenth of the picture."""
    stage = Stage(BodyStore())
    state = frame_state(shot, bake(shot, np.array([80.0])), 0)
    stage.show(state)
    behind = backdrop_picture(state, *SIZE)
    trace(stage, *SIZE, QUALITIES["good"])
    begun = time.perf_counter()
    clean = trace(stage, *SIZE, QUALITIES["good"]).rgba
    seconds = time.perf_counter() - begun

    mi = engine()
    carry_strength(stage, state.surroundings_strength)
    # Plain sampling, as a renderer does it: independent samples.
    whole = bare_sensor(state, *SIZE, "independent")
    begun = time.perf_counter()
    for part in range(4):
        np.array(mi.render(stage.scene, sensor=whole, integrator=bare_path(), spp=4, seed=part))
    a_sample = (time.perf_counter() - begun) / 16
    sensors = [bare_sensor(state, *SIZE, "independent", tile) for tile in tiles()]

    def raw(samples: int, seed: int) -> np.ndarray:
        total = np.zeros((SIZE[1], SIZE[0], 4), np.float32)
        for number, (tile, sensor) in enumerate(zip(tiles(), sensors, strict=True)):
            total[tile] = np.array(
                mi.render(stage.scene, sensor=sensor, integrator=bare_path(), spp=samples, seed=seed + number)
            )
        return total

    def shown(rgba: np.ndarray) -> np.ndarray:
        picture = finished(Passes(rgba), Finishing(state.exposure, state.view, behind))
        return np.concatenate([picture[tile].reshape(-1, 3) for tile in tiles()]).astype(float)

    def off(rgba: np.ndarray) -> float:
        return float(np.mean((shown(rgba) - truth) ** 2))

    truth = shown(np.mean([raw(256, 10_000 + 100 * part) for part in range(8)], axis=0))
    target = off(clean)
    # Samples that bring the same error, between the powers of two that bring more and less.
    samples, errors = [16], [off(raw(16, 500))]
    while errors[-1] > target and samples[-1] < 1024:
        samples.append(samples[-1] * 2)
        errors.append(off(raw(samples[-1], 500 + 100 * len(samples))))
    equal = float(np.exp2(np.interp(-np.log(target), -np.log(errors), np.log2(samples))))
    times = equal * a_sample / seconds
    return Figure(
        "time of undenoised sampling over denoised 16 samples at equal error",
        times,
        "×",
        8,
        least=True,
        note=f"({equal:.0f} samples)",
    )


class Kept(dict):  # type: ignore[type-arg]
    """Frames in memory."""

    def put(self, key: str, rgba: np.ndarray) -> None:
        self[key] = rgba

    def note(self, frame: str, key: str, width: int) -> None:
        """Only pictures of the very size are asked for."""

    def of(self, frame: str) -> None:
        return None


def optics_only(shot: Shot) -> Figure:
    """Frames traced again after a change of exposure: none should be."""
    kept, again = Kept(), []
    order = Order(60, 62, 160, 90, "draft")
    with tempfile.TemporaryDirectory() as folder:
        deliver(shot, order, Path(folder) / "a.mp4", kept)
        changed = shot.model_copy(deep=True)
        changed.camera.exposure = 0.7
        deliver(changed, order, Path(folder) / "b.mp4", kept, lambda p, _: again.append(not p.kept))
    return Figure("frames traced again after a change in optics alone", sum(again), "", 0)
