"""A shot proofed by what is seen and heard of it: pictures made small, its mix, its footage."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from ..clips import plate_greys
from ..document import Shot
from ..optics import Finishing, Passes, as_filmed, finished
from ..proof import Finding, Shown, checked, footage_checked, pictures_checked, sound_checked
from ..scene import FrameState, plate_moments
from .finishing import finishing
from .frames import pictures
from .order import Order
from .shelf import FrameKeeper
from .sound import shot_sound

# Pictures are looked at so wide, every frame of them: what flashes does so from frame to frame.
WIDE = 288
# Frames that are looked at of one shot, at most.
MOST = 1500


def shot_proofed(
    shot: Shot,
    first: int = 0,
    last: int | None = None,
    keeper: FrameKeeper | None = None,
    stopped: Callable[[], bool] = lambda: False,
    seen: Callable[[Shown], None] = lambda _: None,
) -> list[Finding]:
    """Everything that is found in a shot, of its frames ``first`` to ``last``: by its arrays, its pictures
    (``seen`` gets each), its sound and its plate."""
    last = shot.format.frames - 1 if last is None else min(last, shot.format.frames - 1)
    last = min(last, first + MOST - 1)
    rate = shot.format.rate.per_second
    found = checked(shot, first, last)
    if any(one.kind == "files" for one in found):
        # There is nothing to be seen or heard as it will be.
        return found

    def looked() -> Iterator[Shown]:
        for shown in _shown(shot, first, last, keeper, stopped):
            seen(shown)
            yield shown

    found += pictures_checked(looked(), rate)
    samples = shot_sound(shot, first, last)
    if samples is not None:
        found += sound_checked(samples, first, rate)
    if shot.backdrop.kind == "plate" and shot.plate.clip:
        moments = plate_moments(shot, np.arange(first, last + 1, dtype=np.float64))
        for number, says in footage_checked(plate_greys(shot.plate.clip)):
            if moments.min() <= number <= moments.max():
                at = first + int(np.argmin(np.abs(moments - number)))
                found.append(Finding("footage", "warning", "", at, says))
    return found


def _shown(
    shot: Shot, first: int, last: int, keeper: FrameKeeper | None, stopped: Callable[[], bool]
) -> Iterator[Shown]:
    width = min(WIDE, shot.format.width)
    height = max(16, round(width / shot.format.aspect))
    order = Order(first, last, width, height, "draft")
    # What is open for a moment alone is judged, as is what is sharp: it takes a fraction of the time.
    shot = shot.model_copy(deep=True)
    shot.camera.shutter_angle, shot.camera.defocus = 0.0, False
    for frame, state, rgba, _ in pictures(shot, order, keeper, stopped):
        if rgba is None:
            continue
        yield _finished(frame, state, rgba, finishing(state, (width, height)))


def _finished(frame: int, state: FrameState, rgba: NDArray[np.float32], settings: Finishing) -> Shown:
    passes = Passes(rgba)
    coverage = as_filmed(passes, settings).coverage[..., 0]
    return Shown(frame, finished(passes, settings), coverage)
