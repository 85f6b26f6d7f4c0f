"""Logos traced and drawings read, each in its confined process, as the interface does it."""

from __future__ import annotations

import math
import time
from collections.abc import Iterator

import cv2
import numpy as np

from dreizack.core.artwork.svg import read_svg
from dreizack.core.artwork.trace import TraceWish, load_picture, trace

from .figure import Figure


def measure() -> Iterator[Figure]:
    picture = load_picture(logo())
    begun = time.perf_counter()
    found = trace(picture, TraceWish())
    yield Figure(
        f"a 2000 × 2000 logo traced to {found['points']} points", time.perf_counter() - begun, "s", 1.5
    )
    data = drawing()
    begun = time.perf_counter()
    read = read_svg(data)
    yield Figure(
        f"a drawing of {len(data) / 1e6:.1f} MB read, {read.points} points in 40 groups",
        time.perf_counter() - begun,
        "s",
        3,
    )


def logo() -> bytes:
    """Rings, bars and words, black on white."""
    image = np.full((2000, 2000, 3), 255, np.uint8)
    for radius, colour in ((900, 0), (760, 255), (620, 0), (330, 255)):
        cv2.circle(image, (1000, 1000), radius, (colour,) * 3, -1, cv2.LINE_AA)
    for i in range(12):
        a = i * math.pi / 6
        cv2.line(
            image,
            (1000, 1000),
            (int(1000 + 900 * math.cos(a)), int(1000 + 900 * math.sin(a))),
            (0, 0, 0),
            26,
            cv2.LINE_AA,
        )
    cv2.putText(image, "MARROW LIGHT", (330, 1030), cv2.FONT_HERSHEY_TRIPLEX, 5, (0, 0, 0), 16, cv2.LINE_AA)
    return cv2.imencode(".png", image)[1].tobytes()


def drawing() -> bytes:
    """Five megabytes of wavy lines that do not cross, in forty groups."""
    rng = np.random.default_rng(4)
    groups = []
    for g in range(40):
        paths = []
        for p in range(6):
            x = np.linspace(0, 2000, 400)
            y = g * 80 + p * 11 + 2 * np.sin(x / 30 + rng.uniform(0, 6))
            curve = "".join(
                f"C{a + 1.6:.4f} {b:.4f} {a + 3.2:.4f} {c:.4f} {a + 4.7619:.4f} {c:.4f}"
                for a, b, c in zip(x, y, [*y[1:].tolist(), y[-1]], strict=True)
            )
            paths.append(f'<path d="M0 {y[0]:.4f}{curve}V{y[-1] + 5:.4f}H0Z"/>')
        groups.append(f'<g fill="#{g * 6:02x}6680">{"".join(paths)}</g>')
    return f'<svg xmlns="http://www.w3.org/2000/svg">{"".join(groups)}</svg>'.encode()
