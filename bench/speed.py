"""How quick this machine is right now: fixed work against what it takes in a quick hour."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

# Seconds in a quick hour of the machine the bars were set on: a bare loop, an array job, a trace.
QUICK = {"loop": 0.074, "arrays": 0.027, "trace": 0.084}


@dataclass(frozen=True)
class Speed:
    """``index`` is 1.0 in a quick hour and less in a slow one; ``seconds`` what each job took."""

    index: float
    seconds: dict[str, float]

    def line(self) -> str:
        jobs = ", ".join(f"{name} {taken:.3g} s" for name, taken in self.seconds.items())
        return (
            f"speed index: {self.index:.2f}  ({jobs}; 1.0 in a quick hour, bars in seconds are judged as "
            "seconds × index)"
        )


def measure_speed() -> Speed:
    """The best of three of each job, so that one interruption says nothing."""
    jobs: dict[str, Callable[[], object]] = {"loop": _loop, "arrays": _arrays, "trace": _tracer()}
    seconds = {name: min(_taken(job) for _ in range(3)) for name, job in jobs.items()}
    ratios = [QUICK[name] / taken for name, taken in seconds.items()]
    return Speed(float(np.exp(np.mean(np.log(ratios)))), seconds)


def _taken(job: Callable[[], object]) -> float:
    begun = time.perf_counter()
    job()
    return time.perf_counter() - begun


def _loop() -> int:
    total = 0
    for number in range(2_000_000):
        total += number & 7
    return total


def _arrays() -> float:
    values = np.random.default_rng(1).normal(size=(600, 600))
    for _ in range(4):
        values = np.sort(np.tanh(values @ values.T / 600), axis=1)
    return float(values.sum())


def _tracer() -> Callable[[], object]:
    """A plain scene by the bare renderer; its kernel is compiled before."""
    from dreizack.core.render.kernel.engine import engine

    mi = engine()
    scene = mi.load_dict(
        {
            "type": "scene",
            "integrator": {"type": "path", "max_depth": 4},
            "emitter": {"type": "constant"},
            "sensor": {
                "type": "perspective",
                "to_world": mi.ScalarTransform4f().look_at([0, 1, 4], [0, 0, 0], [0, 1, 0]),
                "film": {"type": "hdrfilm", "width": 320, "height": 180, "rfilter": {"type": "box"}},
            },
            "ball": {"type": "sphere", "bsdf": {"type": "roughconductor", "alpha": 0.2}},
            "floor": {
                "type": "rectangle",
                "to_world": mi.ScalarTransform4f().translate([0, -1, 0]).rotate([1, 0, 0], -90).scale(8),
            },
        }
    )

    def trace() -> float:
        return float(np.asarray(mi.render(scene, spp=16, seed=1)).sum())

    trace()
    return trace
