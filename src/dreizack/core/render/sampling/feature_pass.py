"""Guides of the denoiser, traced where something is seen."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from ...finish import MASK
from ..kernel.cancellation import heeding
from ..staging.stage import Stage
from ..transport.lens import Numbers
from .launch import feature_samples

Floats = NDArray[np.float32]
Mask = NDArray[np.bool_]

# Samples of every pixel, and of those that lie where guides change from one pixel to the next: for a frame,
# and to look at.
SAMPLES, AT_EDGES, LOOKED_AT = 4, 24, 16
# So often they are doubled at outlines, whose coverage shows most.
DOUBLINGS = 2
# Difference between neighbours from which on there is an edge: of albedo and normal, which in ripples is
# noise that a denoiser would take for grain, and of the share of a pixel that is taken up.
EDGE = np.array([0.12] * 6 + [0.1] * 2, np.float32)
# Moments of the open shutter that guides know away from edges.
MOMENTS = 4
# A pixel and its neighbours.
AROUND = np.ones((3, 3), np.uint8)


class FeaturePass:
    """What guides the denoiser, step by step, of a picture ``size`` (width, height) large; steps have
    ``rays`` rays at most.

    Few samples do where a surface goes on; at edges the denoiser takes every error of its guides for a
    feature, and pictures in a row flicker.
    """

    def __init__(self, stage: Stage, size: tuple[int, int], rays: int, at_edges: int = AT_EDGES) -> None:
        self.stage, self.size, self.rays, self.at_edges = stage, size, rays, at_edges
        self._sum = np.zeros((size[0] * size[1], 8), np.float32)
        self._count = np.zeros(size[0] * size[1], np.int32)
        # Moment, pixels, samples and the first of them; a stack.
        self._left: list[tuple[int, Numbers, int, int]] = []
        self._layouts = 0
        # Where guides change from one pixel to the next, known when ready, and where more and more rays go.
        self.edges: Mask = np.zeros((size[1], size[0]), np.bool_)
        self._outlines: Mask = self.edges

    @property
    def ready(self) -> bool:
        """Whether every pixel has guides."""
        return self._layouts > 1 or (self._layouts == 1 and not self._left)

    @property
    def done(self) -> bool:
        """Whether edges and outlines have theirs too."""
        return self._layouts == (2 + DOUBLINGS if self.tell_coverage else 2) and not self._left

    @property
    def tell_coverage(self) -> bool:
        """Whether they know which share of a pixel is taken up: only light knows what comes through glass and
        what is not opaque or laid over others, and how much of a catcher is seen through air."""
        assert self.stage.state is not None
        state = self.stage.state
        if state.air is not None and state.air.over and state.catches:
            return False
        return all(
            title.blend == "normal" and {"transmission", MASK}.isdisjoint(layers)
            for title in state.titles.values()
            for layers in title.layers
        )

    @property
    def picture(self) -> Floats:
        """Albedo, normal, the share that is taken up, and that of catchers, so far (height, width, 8)."""
        mean: Floats = self._sum / np.maximum(self._count, 1).astype(np.float32)[:, None]
        return mean.reshape(self.size[1], self.size[0], 8)

    @property
    def counted(self) -> NDArray[np.int32]:
        """How many rays each pixel has had (height, width)."""
        return self._count.reshape(self.size[1], self.size[0])

    def covered(self, alpha: Floats, samples: NDArray[np.int32], share: int = 6) -> Floats:
        """Coverage (height, width) that is better known at edges than ``alpha``, which so many ``samples`` of
        light told; of all there is, or by catchers (``share`` 7).

        A clean picture over a noisy coverage has dark and bright dots along its edges.
        """
        count, sums = self.counted, self._sum[:, share].reshape(alpha.shape)
        # All rays that there are: where light has many, they say most.
        return np.where(
            count > SAMPLES, (sums + alpha * samples) / np.maximum(count + samples, 1), alpha
        ).astype(np.float32)

    def step(self, alpha: Floats, stopped: Callable[[], bool] | None) -> None:
        """One piece of work. Guides are traced where ``alpha`` (height, width), known when it begins, says
        that something is or may be. Raises Stopped when called off."""
        if self._left:
            number, pixels, samples, first = self._left[-1]
            moment = self.stage.at_moment(number)
            with heeding(stopped):
                found = feature_samples(self.stage, moment, self.size, pixels, samples, first)
            self._sum[pixels] += found * np.float32(samples)
            self._count[pixels] += samples
            self._left.pop()
            if self._layouts == 1 and not self._left:
                self.edges = self._outlines = _edges(self.picture, EDGE)
        elif not self.done:
            self._layouts += 1
            if self._layouts == 1:
                self._lay_out(_near(alpha > 0), SAMPLES, 0, min(max(self.stage.moments // 2, 1), MOMENTS))
            elif self._layouts == 2:
                self._lay_out(self.edges, self.at_edges - SAMPLES, SAMPLES, self.stage.moments)
            else:
                had = self.at_edges << (self._layouts - 3)
                share: Floats = self._sum[:, 6:] / np.maximum(self._count, 1).astype(np.float32)[:, None]
                self._outlines = self._outlines & _edges(share.reshape(*self.edges.shape, 2), EDGE[6:])
                self._lay_out(self._outlines, had, had, self.stage.moments)

    def _lay_out(self, where: Mask, samples: int, first: int, moments: int) -> None:
        """Put down work on pixels, moment by moment in pieces."""
        pixels, each = np.flatnonzero(where).astype(np.uint32), max(1, samples // moments)
        if len(pixels):
            pieces = np.array_split(pixels, -(-len(pixels) * each // self.rays))
            every = self.stage.moments // moments
            self._left = [
                (number * every, piece, each, first + number * each)
                for number in range(moments)
                for piece in pieces
            ]


def _near(where: NDArray[np.bool_]) -> Mask:
    """Pixels and their neighbours."""
    return cv2.dilate(where.astype(np.uint8), AROUND).astype(np.bool_)


def _edges(guides: Floats, limits: Floats) -> Mask:
    """Pixels in whose neighbourhood guides (height, width, n) differ by more than ``limits`` (n,)."""
    found: Mask = np.zeros(guides.shape[:2], np.bool_)
    for channel, edge in zip(np.moveaxis(guides, -1, 0), limits, strict=True):
        found |= cv2.morphologyEx(channel, cv2.MORPH_GRADIENT, AROUND) > edge
    return found
