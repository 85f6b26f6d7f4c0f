"""Keys to values over all frames and letters."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from dreizack.core.document import Channel, Ease, Key
from dreizack.core.motion import sample

from .figure import Figure, median_ms


def measure() -> Iterator[Figure]:
    rng = np.random.default_rng(5)
    frames = np.arange(300.0)
    channels = [
        Channel(keys=[Key(frame=f, value=float(rng.normal()), ease=Ease(kind=k)) for f, k in
                      zip((0, 60, 120, 200, 299), ("cubic-bezier", "linear", "cubic-bezier", "hold", "linear"), strict=True)])  # type: ignore[arg-type]
        for _ in range(12)
    ]
    # A letter sees every channel a stagger later.
    delays = np.arange(100.0)[:, None] * 0.8
    times = frames[None, :] - delays

    def bake() -> None:
        for channel in channels:
            sample(channel, times)

    yield Figure("300 frames × 100 letters × 12 values baked", median_ms(bake), "ms", 30)
