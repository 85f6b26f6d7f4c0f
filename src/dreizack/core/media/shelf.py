"""Traced pictures that are kept, and found again in whatever size they were made."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import cv2
import numpy as np
from numpy.typing import NDArray

from .order import Order

# Qualities whose frames are good enough to be looked at in their place.
LASTING = ("final", "good")


class FrameKeeper(Protocol):
    """Keeps traced pictures by the hash of what they were made from."""

    def get(self, key: str) -> NDArray[np.float32] | None: ...

    def has(self, key: str) -> bool: ...

    def put(self, key: str, rgba: NDArray[np.float32]) -> None: ...

    def note(self, frame: str, key: str, width: int) -> None: ...

    def of(self, frame: str) -> NDArray[np.float32] | None: ...


def fitted(rgba: NDArray[np.float32] | None, width: int, height: int) -> NDArray[np.float32] | None:
    """A traced picture averaged down to a size; None where it is smaller or of another shape."""
    if (
        rgba is None
        or rgba.shape[1] < width
        or abs(rgba.shape[1] * height - rgba.shape[0] * width) > max(rgba.shape[:2])
    ):
        return None
    # Pixels are boxes, and light is premultiplied: the mean over an area is what a smaller picture would have
    # had.
    small: NDArray[np.float32] = cv2.resize(rgba, (width, height), interpolation=cv2.INTER_AREA).astype(
        np.float32
    )
    return small


@dataclass(frozen=True)
class Shelf:
    """Pictures of an order that are kept, where somebody keeps them; ``names`` of its frames."""

    order: Order
    keeper: FrameKeeper | None
    names: list[str]

    def get(self, key: str, passed: str) -> NDArray[np.float32] | None:
        """A picture by its key, or by what was traced for it in another size that fits."""
        if self.keeper is None:
            return None
        kept = self.keeper.get(key)
        return (
            kept if kept is not None else fitted(self.keeper.of(passed), self.order.width, self.order.height)
        )

    def has(self, key: str) -> bool:
        return self.keeper is not None and self.keeper.has(key)

    def put(self, key: str, passed: str, named: str, rgba: NDArray[np.float32]) -> None:
        if self.keeper is not None:
            self.keeper.put(key, rgba)
            self.keeper.note(passed, key, self.order.width)
            self._note(named, key)

    def note(self, index: int, key: str) -> None:
        """What is a frame's picture, in qualities that last."""
        if self.keeper is not None:
            self._note(self.names[index], key)

    def _note(self, named: str, key: str) -> None:
        if self.keeper is not None and self.order.quality in LASTING:
            self.keeper.note(named, key, self.order.width)
