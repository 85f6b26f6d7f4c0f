"""Letters to bodies: speed against plain extrusion, and proof that all of them are closed."""

from __future__ import annotations

import math
import statistics
import time
from collections.abc import Iterator
from functools import partial

import mapbox_earcut
import numpy as np

from dreizack.core.document import Setting
from dreizack.core.form import PROFILES, build_bodies, examine, flatten, profile
from dreizack.core.lettering import glyph_outline, set_words, typefaces

from .figure import Figure, median_ms, ratio

WORDS = "SLACKWATERFIRSTLIGHTFLOD"
TOLERANCE = 6e-4
REACH = 0.018
EIGHT_STEPS = 1 - math.cos(math.pi / 4 / 8)


def measure() -> Iterator[Figure]:
    for name in ("anton", "zilla-slab", "playfair-display"):
        outlines, em = letters(name)
        yield Figure(
            f"24 letters of {name}, 8-step roundover front and back",
            median_ms(partial(body, outlines, em)),
            "ms",
            60,
        )
        yield Figure(f"one letter of {name}", median_ms(partial(body, outlines[:1], em)), "ms", 5)
    yield from over_all()
    yield from closed()


def over_all() -> Iterator[Figure]:
    """The time of 24 letters over plain extrusion, for every typeface on offer."""
    over = {face.name: over_extrusion(face.name) for face in typefaces()}
    worst = max(over, key=over.__getitem__)
    told = ", ".join(f"{name} {value:.3g}" for name, value in sorted(over.items(), key=lambda one: one[1]))
    yield Figure(
        f"24 letters over plain triangulate-and-extrude, median of {len(over)} typefaces",
        statistics.median(over.values()),
        "×",
        4,
        note=told,
    )
    yield Figure(f"the same, the slowest of all: {worst}", over[worst], "×", 12)


def letters(name: str) -> tuple[list, float]:  # type: ignore[type-arg]
    """The outlines of 24 letters of a typeface, and the em they are set at in metres."""
    layout = set_words(WORDS, Setting(typeface=name, tracking=0))
    return [glyph_outline(g) for g in layout.glyphs], layout.em


def body(outlines: list, em: float) -> None:  # type: ignore[type-arg]
    edge = profile("roundover", REACH, REACH, REACH * EIGHT_STEPS)
    build_bodies(outlines, em=em, depth=0.18, front=edge, back=edge, tolerance=em * TOLERANCE)


def over_extrusion(name: str) -> float:
    outlines, em = letters(name)
    return ratio(partial(body, outlines, em), partial(extrude, outlines, em))


def extrude(outlines: list, em: float) -> None:  # type: ignore[type-arg]
    """The plain way: flatten, triangulate once, walls with flat normals; nothing else."""
    contours = flatten(outlines, em, em * TOLERANCE)
    for letter in range(len(outlines)):
        span = contours.letter_slice(letter)
        points, contour = contours.points[span], contours.contour[span]
        ends = np.append(np.flatnonzero(np.diff(contour)) + 1, len(points)).astype(np.uint32)
        caps = mapbox_earcut.triangulate_float64(points, ends)
        front = np.column_stack([points, np.full(len(points), 0.09)])
        back = np.column_stack([points, np.full(len(points), -0.09)])
        following = contours.following[span] - span.start
        a = np.arange(len(points))
        walls = np.stack([a, following, following + len(a), a, following + len(a), a + len(a)], axis=1)
        edge = points[following] - points
        normal = (
            np.column_stack([edge[:, 1], -edge[:, 0]])
            / np.maximum(np.linalg.norm(edge, axis=1), 1e-12)[:, None]
        )
        (
            np.concatenate([front, back]).astype(np.float32),
            np.tile(normal, (2, 1)),
            np.concatenate([caps, walls.ravel()]),
        )


# Basic Latin, Latin-1, Greek and Cyrillic.
BLOCKS = ((0x21, 0x7F), (0xA1, 0x100), (0x370, 0x400), (0x400, 0x500))


def closed() -> Iterator[Figure]:
    """Every glyph of four blocks of every shipped typeface, five reaches far beyond the stroke, all
    profiles."""
    bodies = opened = folded = flat = 0
    times = []
    for face in typefaces():
        text = "".join(chr(c) for low, high in BLOCKS for c in range(low, high) if face.has(chr(c)))
        layout = set_words(text, Setting(typeface=face.name))
        glyphs = [glyph_outline(g) for g in dict.fromkeys(layout.glyphs)]
        edge = profile("roundover", REACH, REACH, REACH * EIGHT_STEPS)
        begun = time.perf_counter()
        build_bodies(glyphs, layout.em, 0.18, edge, edge, layout.em * TOLERANCE)
        times.append((time.perf_counter() - begun) * 1000 / len(glyphs))
        for kind in PROFILES[1:]:
            for reach in (0.004, 0.012, 0.03, 0.1, 0.6):
                edge = profile(kind, reach, 0.04, 0.002)
                for body in build_bodies(glyphs, layout.em, 0.2, edge, edge, layout.em * TOLERANCE):
                    found = examine(body)
                    bodies, opened, folded, flat = (
                        bodies + 1,
                        opened + (not found.closed),
                        folded + (found.folded > 0),
                        flat + (found.degenerate > 0),
                    )
    yield Figure("a glyph on average over a typeface, the slowest of all", max(times), "ms", 5)
    yield Figure(f"bodies that are not closed, of {bodies}", opened, "", 0)
    yield Figure(f"bodies with a triangle against its own normals, of {bodies}", folded, "", 0)
    yield Figure(f"bodies with a triangle without area, of {bodies}", flat, "", 0)
