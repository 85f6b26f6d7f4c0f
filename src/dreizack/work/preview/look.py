"""One wish on its way to a picture."""

from __future__ import annotations

import time
from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from ...core.media.finishing import finishing
from ...core.optics import (
    Passes,
    channel_shown,
    clipped_share,
    clipping,
    false_colour,
    scene_light,
    to_display,
)
from ...core.render import CHANNELS, Progressive, Stage, Window, channel_picture
from ...core.scene import FrameState
from .messages import Picture, Wish

# Samples a pixel of the quick small picture, and how wide it is at most.
SMALL, SMALL_WIDTH = 4, 360
SHOWN = {"clipping": clipping, "false colour": false_colour}


class PreviewJob:
    """One wish on its way: a quick small picture first, then the full size in doublings."""

    def __init__(self, wish: Wish, state: FrameState, stage: Stage, key: str) -> None:
        self.wish, self.state, self.stage, self.key = wish, state, stage, key
        stage.show(state)
        # Of a region there is soon a picture of the full size.
        smaller = max(2, -(-wish.width // SMALL_WIDTH))
        self.small = (
            None
            if wish.region
            else Progressive(stage, max(16, wish.width // smaller), max(16, wish.height // smaller), SMALL)
        )
        self.large = Progressive(stage, wish.width, wish.height, wish.samples, wish.window)
        self.steps, self.told, self.channelled = 0, False, False
        self.since = time.monotonic()
        # Whether there was a picture of it yet.
        self.seen = False

    @property
    def done(self) -> bool:
        return self.channelled if self.wish.show in CHANNELS else self.small is None and self.large.done

    def step(self, stopped: Callable[[], bool]) -> Picture | None:
        """A short piece of work; a picture when there is a better one to show."""
        picture = self._step(stopped)
        self.seen = self.seen or picture is not None
        return picture

    def _step(self, stopped: Callable[[], bool]) -> Picture | None:
        self.steps += 1
        if self.stage.state is not self.state:
            self.stage.show(self.state)
        if self.wish.show in CHANNELS:
            self.channelled = True
            return self._channel()
        if self.small:
            self.small.step(stopped)
            if not self.small.done:
                return None
            picture = self._picture(self.small, stopped)
            self.small = None
            return picture
        self.large.step(stopped)
        if self.large.done or (self.large.first and not self.told):
            self.told = True
            return self._picture(self.large, stopped)
        return None

    def _channel(self) -> Picture:
        wish = self.wish
        size = (wish.width, wish.height)
        shown = channel_shown(
            wish.show,
            channel_picture(self.stage, self.stage.at_moment(0), size, Window(0, 0, *size), wish.show),
        )
        _, data = cv2.imencode(".png", shown[..., ::-1])
        return Picture(
            wish.viewer, wish.number, wish.frame, *size, wish.samples, wish.samples, data.tobytes()
        )

    def delivered(self, rgba: NDArray[np.float32]) -> Picture:
        """The clean picture from what was traced for a delivery."""
        return self._shown(rgba, self.wish.samples)

    def _picture(self, progressive: Progressive, stopped: Callable[[], bool]) -> Picture:
        traced = progressive.view("fast", stopped)
        return self._shown(
            traced.rgba,
            0
            if self.small
            else self.wish.samples
            if self.done
            else min(traced.samples, self.wish.samples - 1),
        )

    def _shown(self, rgba: NDArray[np.float32], samples: int) -> Picture:
        wish, passes = self.wish, Passes(rgba)
        # Of a region the backdrop is that of the whole picture there.
        settings = finishing(
            self.state, (wish.width, wish.height) if wish.region else passes.size, wish.window
        )
        linear = scene_light(passes, settings)
        picture = SHOWN.get(wish.show, to_display)(linear, settings.view)
        level = 94 if samples >= wish.samples else 86
        _, data = cv2.imencode(".jpg", picture[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, level])
        return Picture(
            wish.viewer,
            wish.number,
            wish.frame,
            *passes.size,
            samples,
            wish.samples,
            data.tobytes(),
            clipped_share(linear, settings.view),
        )
