"""What a delivery takes its frames from: a shot, or shots on a line."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from fractions import Fraction
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ..document import Shot, lost_sounds
from .failing import Failing, FilesLost
from .finishing import finishing
from .frames import pictures
from .order import Order
from .picture import FramePicture, shot_picture
from .sharing import Sharing
from .shelf import FrameKeeper
from .sound import shot_sound


class Reel(Protocol):
    """Finished frames in order, and what is heard with them."""

    order: Order
    failing: Failing

    @property
    def rate(self) -> Fraction: ...

    def pictures(self, stopped: Callable[[], bool]) -> Iterator[FramePicture]: ...

    def sound(self) -> NDArray[np.float32] | None:
        """What is heard; FilesLost where something of it is not there."""
        ...


class ShotReel:
    """The frames of one shot."""

    def __init__(
        self,
        shot: Shot,
        order: Order,
        keeper: FrameKeeper | None = None,
        shares: Callable[[], Sharing] | None = None,
    ) -> None:
        self.shot, self.order, self.keeper, self.shares = shot, order, keeper, shares
        self.failing = Failing()

    @property
    def rate(self) -> Fraction:
        return Fraction(self.shot.format.rate.num, self.shot.format.rate.den)

    def pictures(self, stopped: Callable[[], bool]) -> Iterator[FramePicture]:
        size = self.order.width, self.order.height
        sharing = self.shares() if self.shares is not None else None
        for frame, state, rgba, kept in pictures(
            self.shot, self.order, self.keeper, stopped, sharing=sharing, failing=self.failing
        ):
            if rgba is None:
                continue
            self.failing.fine()
            made = shot_picture(state, rgba, finishing(state, size), kept)
            made.number = frame
            yield made

    def sound(self) -> NDArray[np.float32] | None:
        lost = lost_sounds(self.shot.sounds)
        if lost:
            raise FilesLost(lost)
        return shot_sound(self.shot, self.order.first, self.order.last)
