"""Keys to values over all frames and letters."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from dreizack.core.document import Channel, Ease, Key
from dreizack.core.motion import Instants, sample

from .figure import Figure, median_ms


def measure() -> Iterator[Figure]:
    rng = np.random.default_rng(5)
    frames = np.arange(300.0)
    channels = [
        Channel(
            keys=[
                Key(frame=f, value=float(rng.normal()), ease=Ease(kind=k))
                for f, k in zip(
                    (0, 60, 120, 200, 299),
                    ("cubic-bezier", "linear", "cubic-bezier", "hold", "linear"),
                    strict=True,
                )
            ]
        )  # type: ignore[arg-type]
        for _ in range(12)
    ]
    # A letter sees every channel a stagger later.
    # an even one, as most are, and the worst case: no two letters ever at the same moment.
    for name, delays in (
        ("even stagger", np.arange(100.0) * 0.8),
        ("random stagger", rng.uniform(0, 80, 100)),
    ):
        times = frames[None, :] - delays[:, None]

        def bake(times: np.ndarray = times) -> None:
            instants = Instants(times)
            for channel in channels:
                sample(channel, instants)

        yield Figure(f"300 frames × 100 letters × 12 values baked, {name}", median_ms(bake), "ms", 30)
