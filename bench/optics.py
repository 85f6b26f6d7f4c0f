"""What comes after tracing: each step alone, and all of them, at 1080p."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from dreizack.core.document import Optics, resolve
from dreizack.core.optics import STEPS, Finishing, Passes, Place, finished
from dreizack.core.scene.baking.optics import numbers_below

from .figure import Figure, median_ms

CHAIN = {
    "bloom/amount": 0.2,
    "streak/amount": 0.5,
    "aberration/amount": 0.004,
    "vignette/amount": 0.4,
    "grain/amount": 0.15,
    "grade/warmth": 0.2,
    "grade/saturation": 0.9,
}
OTHERS = {
    "distortion/amount": 0.05,
    "diffusion/amount": 0.2,
    "rays/amount": 0.4,
    "veil/amount": 0.05,
    "halation/amount": 0.3,
    "letterbox/aspect": 2.39,
    "flare/amount": 1.0,
    "blur/zoom": 0.05,
    "bend/shimmer": 0.004,
}


def measure() -> Iterator[Figure]:
    plain = Optics()
    values = {name: float(resolve(plain, f"/{name}")) for name in numbers_below(plain)}
    place = Place(1920, 1080)
    rng = np.random.default_rng(1)
    light = rng.random((1080, 1920, 3)).astype(np.float32) * 2
    passes = Passes(np.dstack([light, np.ones((1080, 1920), np.float32)]))

    def settings(on: dict[str, float]) -> Finishing:
        return Finishing(0.2, "shoulder", np.zeros(3), values | on, place)

    whole = settings(CHAIN | OTHERS)
    for step in STEPS:

        def one(apply: object = step.apply) -> None:
            apply(light, passes, whole)  # type: ignore[operator]

        yield Figure(f"1080p, {step.name} alone", median_ms(one), "ms")
    chain = settings(CHAIN)
    yield Figure(
        "1080p, bloom, streak, aberration, vignette, grain, grade, view",
        median_ms(lambda: finished(passes, chain)),
        "ms",
        250,
    )
    yield Figure("1080p, every step and the view transform", median_ms(lambda: finished(passes, whole)), "ms")
