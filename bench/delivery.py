"""Deliveries against the bare renderer, and denoised against undenoised sampling at equal error."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from dreizack.core.media import Order, deliver
from dreizack.core.optics import develop
from dreizack.core.render import QUALITIES, Quality, Stage, denoise, trace
from dreizack.core.render.engine import engine
from dreizack.core.render.tracing import feature_integrator, path_integrator
from dreizack.core.scene import BodyStore, bake, frame_state
from dreizack.demo import demo_shots

from .figure import Figure

SIZE = (1280, 720)
FRAMES = 4


def measure() -> Iterator[Figure]:
    shot = demo_shots()["main-title"]
    samples = QUALITIES["good"].samples
    with tempfile.TemporaryDirectory() as folder:
        def whole(last: int) -> float:
            begun = time.perf_counter()
            deliver(shot, Order(60, 60 + last, *SIZE, "good"), Path(folder) / "clip.mp4")
            return time.perf_counter() - begun

        whole(0)
        # Several frames less one: what a frame costs, without the start.
        delivered = (whole(FRAMES) - whole(0)) / FRAMES
    path, denoised = bare(shot, samples)
    yield Figure("a delivered frame at 1280×720, good", delivered, "s")
    yield Figure("speed of a delivery over the bare renderer and denoiser, same samples", denoised / delivered, "×", 0.9, least=True)
    yield Figure("speed of a delivery over the bare renderer without denoising, same samples", path / delivered, "×")
    yield equal_error(shot)
    yield optics_only(shot)


def bare(shot: object, samples: int) -> tuple[float, float]:
    """Seconds a frame of the renderer alone, and with denoising: a fixed scene, nothing else done."""
    mi = engine()
    stage = Stage(BodyStore())
    baked = bake(shot, np.array([62.0]))  # type: ignore[arg-type]
    stage.show(frame_state(shot, baked, 0))  # type: ignore[arg-type]
    sensor = stage.sensor(*SIZE, 0, SIZE[1])
    each = samples if samples * SIZE[0] * SIZE[1] < 2.2e6 else 2
    times: list[tuple[float, float]] = []
    for turn in range(4):
        begun = time.perf_counter()
        total = np.zeros((SIZE[1], SIZE[0], 4), np.float32)
        for seed in range(samples // each):
            total += np.array(mi.render(stage.scene, sensor=sensor, integrator=path_integrator(), spp=each, seed=seed))
        traced = time.perf_counter()
        features = np.array(mi.render(stage.scene, sensor=sensor, integrator=feature_integrator(), spp=4, seed=1))[..., -6:]
        denoise(total / (samples // each), features[..., :3], features[..., 3:], QUALITIES["good"].denoiser)
        if turn:
            times.append((traced - begun, time.perf_counter() - begun))
    return float(np.median([t[0] for t in times])), float(np.median([t[1] for t in times]))


def equal_error(shot: object) -> Figure:
    """How many times longer undenoised sampling takes to reach the error of 16 denoised samples."""
    size = (480, 270)
    stage = Stage(BodyStore())
    baked = bake(shot, np.array([80.0]))  # type: ignore[arg-type]
    state = frame_state(shot, baked, 0)  # type: ignore[arg-type]
    stage.show(state)
    mi = engine()
    sensor = stage.sensor(*size, 0, size[1])

    def raw(samples: int, seed: int) -> np.ndarray:
        total = np.zeros((size[1], size[0], 4))
        for part in range(max(1, samples // 16)):
            total += np.array(mi.render(stage.scene, sensor=sensor, integrator=path_integrator(), spp=min(16, samples), seed=seed + part))
        return (total / max(1, samples // 16)).astype(np.float32)

    def shown(rgba: np.ndarray) -> np.ndarray:
        return develop(rgba, state.exposure, state.backdrop).astype(float)

    truth = shown(raw(4096, 10_000))
    trace(stage, *size, Quality(16, "balanced"))
    begun = time.perf_counter()
    clean = trace(stage, *size, Quality(16, "balanced")).rgba
    seconds = time.perf_counter() - begun
    target = float(np.mean((shown(clean) - truth) ** 2))
    samples, spent = 16, 0.0
    while samples < 4096:
        begun = time.perf_counter()
        noisy = shown(raw(samples, 500))
        spent = time.perf_counter() - begun
        if float(np.mean((noisy - truth) ** 2)) <= target:
            break
        samples *= 2
    return Figure("time of undenoised sampling over denoised 16 samples at equal error", spent / seconds, "×", 8, least=True, note=f"({samples} samples)")


class Kept(dict):  # type: ignore[type-arg]
    """Frames in memory."""

    def put(self, key: str, rgba: np.ndarray) -> None:
        self[key] = rgba


def optics_only(shot: object) -> Figure:
    """Frames traced again after a change of exposure: none should be."""
    kept, again = Kept(), []
    order = Order(60, 62, 160, 90, "draft")
    with tempfile.TemporaryDirectory() as folder:
        deliver(shot, order, Path(folder) / "a.mp4", kept)  # type: ignore[arg-type]
        changed = shot.model_copy(deep=True)  # type: ignore[attr-defined]
        changed.camera.exposure = 0.7
        deliver(changed, order, Path(folder) / "b.mp4", kept, lambda p, _: again.append(not p.kept))
    return Figure("frames traced again after a change in optics alone", sum(again), "", 0)
