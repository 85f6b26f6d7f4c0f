"""A finished frame, in whatever depth a file wants it."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..optics import Alone, Finishing, Passes, alone, display_values, scene_light, to_display
from ..scene import FrameState

Floats = NDArray[np.float32]


class FramePicture:
    """Frame ``number`` of a delivery: ``light`` and ``alone`` are made when a file asks for them, each once;
    ``kept`` says that nothing was traced for it. ``passes`` and ``settings`` are there where it is a frame of
    one shot."""

    passes: Passes | None = None
    settings: Finishing | None = None
    state: FrameState | None = None
    # Why it could not be rendered, where it only stands for a frame.
    fault: str = ""

    def __init__(
        self, number: int, light: Callable[[], Floats], by_itself: Callable[[], Alone], view: str, kept: bool
    ) -> None:
        self.number, self.view, self.kept = number, view, kept
        self._light, self._alone = light, by_itself

    @cached_property
    def light(self) -> Floats:
        """Scene light (height, width, 3) after all steps."""
        return self._light()

    @cached_property
    def alone(self) -> Alone:
        """Titles without what is behind them."""
        return self._alone()

    @cached_property
    def eight(self) -> NDArray[np.uint8]:
        """The finished picture (height, width, 3), R'G'B' of 8 bits."""
        return to_display(self.light, self.view)

    @cached_property
    def deep(self) -> NDArray[np.uint16]:
        """The same of 16 bits."""
        return sixteen(display_values(self.light, self.view))

    @cached_property
    def straight(self) -> NDArray[np.uint16]:
        """Titles alone (height, width, 4): R'G'B' and straight alpha of 16 bits."""
        return sixteen(self.alone.straight(self.view))


def shot_picture(state: FrameState, rgba: Floats, settings: Finishing, kept: bool) -> FramePicture:
    """A frame of a shot, traced, with what it is to be finished by."""
    passes = Passes(rgba)
    made = FramePicture(
        state.number,
        lambda: scene_light(passes, settings),
        lambda: alone(passes, settings),
        settings.view,
        kept,
    )
    made.passes, made.settings, made.state = passes, settings, state
    return made


def sixteen(values: Floats) -> NDArray[np.uint16]:
    """16-bit codes of values 0..1."""
    codes: NDArray[np.uint16] = np.rint(np.clip(values, 0, 1) * 65535).astype(np.uint16)
    return codes
