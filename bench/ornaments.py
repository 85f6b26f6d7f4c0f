"""Strands and swarms: how long a moment of them takes."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from dreizack.core.document import Strand, Swarm
from dreizack.core.form.ornaments import grain_body, places_of_grains, shown_lines, tube_body

from .figure import Figure, median_ms


def measure() -> Iterator[Figure]:
    swarm = Swarm(count=20_000, twinkle=0.4, rise=0.1, gather=0.5)
    target = np.random.default_rng(1).random((20_000, 3))
    yield Figure(
        "20,000 grains between cloud and words, evaluated",
        median_ms(lambda: places_of_grains(swarm, 1.7, target)),
        "ms",
        8,
    )
    places, size = places_of_grains(swarm, 1.7, target)
    yield Figure("20,000 grains as one body", median_ms(lambda: grain_body(swarm, places, size)), "ms")
    order = [0.4, 9.1, 2.2, 0.4, 2.2, 9.1]
    found: dict[float, np.ndarray] = {}
    apart = 0.0
    for seconds in order:
        now = places_of_grains(swarm, seconds, target)[0]
        apart = max(apart, float(np.abs(now - found.setdefault(seconds, now)).max()))
    yield Figure("the same moment in any order, apart by", apart, "m", 0)
    strand = Strand(rule="walk", count=40, length=3, wander=0.1, flow=0.4, end=0.7)
    yield Figure("40 strands as one body", median_ms(lambda: tube_body(shown_lines(strand, 1.7))), "ms")
